"""Tables and queries. Nothing here commits: one session per request is committed once, by its owner."""
