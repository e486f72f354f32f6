"""The seasons of a pool: when to open and close it, and the plans for that, for winter and for a drain."""
