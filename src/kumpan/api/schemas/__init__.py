"""Bodies as sent: strict, so that a misspelled reading cannot vanish."""
