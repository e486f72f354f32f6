"""Use cases: one story each: load, decide in the core, save."""
