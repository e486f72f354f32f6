"""What an account's file would add, as it is told before it is written."""

from dataclasses import dataclass

from pydantic import TypeAdapter


@dataclass(frozen=True)
class TableCount:
    """Of a table: rows missing here, the same here, and otherwise here (they stay as they are here)."""

    name: str
    added: int
    same: int
    differ: int


@dataclass(frozen=True)
class AccountPreview:
    """What a file would add. name: the account's there; exported_at: the day it was written."""

    name: str
    exported_at: str
    tables: tuple[TableCount, ...]


PREVIEW: TypeAdapter[AccountPreview] = TypeAdapter(AccountPreview)
