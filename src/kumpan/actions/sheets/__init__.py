"""Ordered work under way: sheets as they stand, guides, ticks and marks."""
