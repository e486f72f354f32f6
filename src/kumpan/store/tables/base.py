"""The tables. One ``event`` row per thing that happened, with typed detail tables beside it.

Instants are UTC; canonical values are litres, grams, millilitres, ppm, Celsius; what was
typed is kept as typed beside them. Delete marks, undo unmarks.
"""

from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import JSON, Uuid
from sqlalchemy.dialects.mysql import DATETIME
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase
from sqlalchemy.types import TypeDecorator


class UtcInstant(TypeDecorator[datetime]):
    """An aware datetime stored as UTC with microseconds."""

    impl = DATETIME(fsp=6)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """To UTC, without its zone."""
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """UTC again."""
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    """What every table is."""

    type_annotation_map = {datetime: UtcInstant, UUID: Uuid, dict[str, Any]: JSON, list[Any]: JSON}
