"""Cells of tables that go out to spreadsheets and come back: no text among them can act as a formula."""

import unicodedata

# A spreadsheet takes a cell that begins so for a formula (OWASP, CSV injection, from memory), some behind
# spaces and line ends too, or in full width: an apostrophe before it keeps it text.
_FORMULA = frozenset("=+-@")
_GUARDED = ("'", "\t", "\r", "\n")


def guarded(cell: object) -> object:
    """A cell that no spreadsheet takes for a formula: text that begins like one, or with an apostrophe, gets
    an apostrophe before it.

    >>> guarded("=1+1"), guarded("'s"), guarded(-4.5), unguarded("'=1+1"), unguarded("plain")
    ("'=1+1", "''s", -4.5, '=1+1', 'plain')
    >>> guarded(" =1+1"), guarded("\uff1d1"), guarded("\u200b@x"), guarded(" plain")
    ("' =1+1", "'\uff1d1", "'\u200b@x", ' plain')
    """
    return f"'{cell}" if isinstance(cell, str) and _acts(cell) else cell


def _acts(cell: str) -> bool:
    shown = next((c for c in cell if unicodedata.category(c)[0] not in "CZ"), "")
    return cell.startswith(_GUARDED) or unicodedata.normalize("NFKC", shown) in _FORMULA


def unguarded(cell: str) -> str:
    """The text before it was guarded."""
    return cell.removeprefix("'")
