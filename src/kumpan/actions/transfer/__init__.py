"""Transfer."""
