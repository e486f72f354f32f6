"""Targets, choices and reasons as data."""
