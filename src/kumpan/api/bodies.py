"""Request bodies. Numbers that people type come as text, so that nothing typed is lost or reshaped."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from kumpan.core.water.readings import TypedReadings

Text = Annotated[str, StringConstraints(max_length=60)]
Name = Annotated[str, StringConstraints(max_length=80)]
Id = Annotated[str, StringConstraints(max_length=40)]
Local = Annotated[str, StringConstraints(max_length=25)]
Revision = Annotated[int, Field(ge=1, le=2**31 - 1)]
Person = Annotated[str, StringConstraints(max_length=80, min_length=1)]
Point = Annotated[str, StringConstraints(max_length=40)]


class Body(BaseModel):
    """A strict body."""

    model_config = ConfigDict(extra="forbid")


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
