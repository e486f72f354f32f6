"""Request bodies. Numbers that people type come as text, so that nothing typed is lost or reshaped."""

from collections.abc import Iterator
from datetime import datetime
from typing import Annotated

from pydantic import (
    AfterValidator,
    AwareDatetime,
    BaseModel,
    ConfigDict,
    Field,
    StringConstraints,
    field_validator,
)
from pydantic_core import PydanticCustomError

from kumpan.core.plain import can_be_seen, is_plain
from kumpan.core.water.readings import TypedReadings

Text = Annotated[str, StringConstraints(max_length=60)]
Name = Annotated[str, StringConstraints(max_length=80)]
Id = Annotated[str, StringConstraints(max_length=40)]
Local = Annotated[str, StringConstraints(max_length=25)]
Revision = Annotated[int, Field(ge=1, le=2**31 - 1)]
Person = Annotated[str, StringConstraints(max_length=80, min_length=1)]
Point = Annotated[str, StringConstraints(max_length=40)]


def _in_calendar(at: datetime) -> datetime:
    # At the calendar's ends another zone's time is no time at all.
    if not 1950 <= at.year <= 2200:
        raise PydanticCustomError("out_of_range", "Check the year: it lies between 1950 and 2200.")
    return at


Instant = Annotated[AwareDatetime, AfterValidator(_in_calendar)]


class Body(BaseModel):
    """A strict body."""

    model_config = ConfigDict(extra="forbid")

    @field_validator("*")
    @classmethod
    def check_text(cls, value: object) -> object:
        """Refuse characters that nobody types and no screen shows."""
        if not all(is_plain(text) and (can_be_seen(text) or not text.strip()) for text in _texts(value)):
            raise PydanticCustomError(
                "not_plain", "This holds characters that cannot be seen. Type it anew, without them."
            )
        return value


def _texts(value: object) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for part in (*value, *value.values()):
            yield from _texts(part)
    elif isinstance(value, list):
        for part in value:
            yield from _texts(part)


class TypedReading(Body):
    """One reading as typed."""

    measure: Id
    text: Text
    unit: Annotated[str, StringConstraints(max_length=10)] = ""
    method: Id = "drops"
    drop_count: Annotated[int, Field(ge=0, le=1000)] | None = None


class RecordField(Body):
    """One field of a record as typed."""

    text: Text
    unit: Id = ""


Readings = Annotated[list[TypedReading], Field(max_length=20)]


def typed(readings: list[TypedReading]) -> TypedReadings:
    """Readings as the use cases take them."""
    return [(r.measure, r.text, r.unit, r.method, r.drop_count) for r in readings]
