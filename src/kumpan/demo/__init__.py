"""The made-up sample."""
