"""Opening, closing, winter and drain: when, and the plans."""
