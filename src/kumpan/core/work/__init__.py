"""Work under way: sheets, what became of them, and several in one order."""
