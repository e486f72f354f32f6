"""HTTP: parse, call, answer. No rule of the trade."""
