"""Simulated outside services, each a process of its own on loopback. What they tell is labelled simulated."""
