"""The catalogue of products."""
