"""What the core says in words, one module a noun."""
