"""Kumpan: works out what a pool's water needs, in what order and how much."""

__version__ = "0.1.0"
