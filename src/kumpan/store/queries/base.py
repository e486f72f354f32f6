"""Queries. Every one that reaches a pool names the account it must belong to."""

from typing import TypeVar

from kumpan.core.errors import NotFound

T = TypeVar("T")
# For a row that is locked: as it is now, not as this transaction read it before it waited for the lock.
AS_IT_IS_NOW = {"populate_existing": True}


def existing(row: T | None, what: str) -> T:
    """The row, or NotFound of what it would have been."""
    if row is None:
        raise NotFound(what.replace("_", " "))
    return row
