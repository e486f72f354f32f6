"""What the water will be, what to do about it, and how often it came out so."""
