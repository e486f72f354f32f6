"""Queries. Every one that reaches a pool names the account it must belong to."""

from typing import TypeVar

from kumpan.core.errors import NotFound

T = TypeVar("T")


def existing(row: T | None, what: str) -> T:
    """The row, or NotFound of what it would have been."""
    if row is None:
        raise NotFound(what.replace("_", " "))
    return row
