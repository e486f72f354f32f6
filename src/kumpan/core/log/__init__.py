"""The log: what kinds of entry there are, and what a run of them says of the water."""
