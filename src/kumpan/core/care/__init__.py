"""Recurring work: what is due, when and why, and the walks that do it."""
