"""A chlorinator's panel: bound to a pool, asked, set."""
