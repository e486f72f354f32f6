"""What is foretold of a pool, and how often it came out so."""
