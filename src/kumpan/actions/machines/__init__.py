"""A pool's machines: what to set, what it means, when to clean."""
