"""The state of the water estimated from the log alone."""
