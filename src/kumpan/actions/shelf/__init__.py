"""Shelf."""
