"""Measures, methods and the water state."""
