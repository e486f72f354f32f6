"""The routes, by noun."""
