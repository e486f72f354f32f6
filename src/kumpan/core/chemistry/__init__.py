"""Published formulas and their constants."""
