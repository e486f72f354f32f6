"""Cells of tables that go out to spreadsheets and come back: no text among them can act as a formula."""

# A spreadsheet takes a cell that begins so for a formula (OWASP, CSV injection, from memory): an apostrophe
# before it keeps it text.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def guarded(cell: object) -> object:
    """A cell that no spreadsheet takes for a formula: text that begins like one, or with an apostrophe, gets
    an apostrophe before it.

    >>> guarded("=1+1"), guarded("'s"), guarded(-4.5), unguarded("'=1+1"), unguarded("plain")
    ("'=1+1", "''s", -4.5, '=1+1', 'plain')
    """
    return f"'{cell}" if isinstance(cell, str) and cell.startswith((*_FORMULA, "'")) else cell


def unguarded(cell: str) -> str:
    """The text before it was guarded."""
    return cell.removeprefix("'")
