"""Request bodies. Numbers that people type come as text, so that nothing typed is lost or reshaped."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints

from kumpan.actions.keep_pools import PoolInput, VolumeInput
from kumpan.actions.plan_doses import Typed

Text = Annotated[str, StringConstraints(max_length=60)]
Name = Annotated[str, StringConstraints(max_length=80)]
Id = Annotated[str, StringConstraints(max_length=40)]
Local = Annotated[str, StringConstraints(max_length=25)]
Who = Annotated[str, StringConstraints(max_length=80, min_length=1)]


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


class ProductChoice(Body):
    """A product for a role; strength as a fraction, None for its usual one."""

    product_id: Id
    strength: float | None = None


Readings = Annotated[list[TypedReading], Field(max_length=20)]
Products = Annotated[dict[Id, ProductChoice], Field(max_length=20)]


class PreviewBody(Body):
    """What is typed so far."""

    readings: Readings = []
    products: Products = {}


class TestBody(Body):
    """A test to log. id: a UUID version 7 made by the client, so that sending twice is safe."""

    __test__ = False
    id: UUID
    at: AwareDatetime
    who: Who = "you"
    readings: Readings


class TestChange(Body):
    """A corrected test. local: date and time on the pool's own clock."""

    __test__ = False
    local: Local
    readings: Readings
    revision: Annotated[int, Field(ge=1, le=2**31 - 1)]


class PlanBody(Body):
    """Accept the plan that follows from this test."""

    id: UUID
    test: TestBody
    products: Products = {}


class TickBody(Body):
    """Tick a step off; amount and unit when what was poured differs."""

    id: UUID
    at: AwareDatetime
    who: Who = "you"
    amount: Text | None = None
    unit: Id | None = None


class DoseBody(Body):
    """A dose poured outside a plan."""

    id: UUID
    at: AwareDatetime
    who: Who = "you"
    product_id: Id
    strength: float | None = None
    amount: Text
    unit: Id


class DoseChange(Body):
    """A corrected dose. local: date and time on the pool's own clock."""

    local: Local
    product_id: Id
    strength: float | None = None
    amount: Text
    unit: Id
    revision: Annotated[int, Field(ge=1, le=2**31 - 1)]


class VolumeBody(Body):
    """The volume, however it is known."""

    how: Literal["typed", "shape", "typical"]
    unit: Literal["gal", "l", "ft", "m"] = "gal"
    amount: Text = ""
    plan: Literal["rectangle", "round", "oval"] = "rectangle"
    bottom: Literal["level", "sloped"] = "level"
    length: Text = ""
    width: Text = ""
    shallow: Text = ""
    deep: Text = ""
    typical: Id = ""

    def given(self) -> VolumeInput:
        """As the use case takes it."""
        return VolumeInput(**self.model_dump())


class PoolFields(Body):
    """A pool's description."""

    name: Name
    place: Annotated[str, StringConstraints(max_length=120)] = ""
    time_zone: Annotated[str, StringConstraints(max_length=64)]
    latitude: Annotated[float, Field(ge=-90, le=90)] | None = None
    longitude: Annotated[float, Field(ge=-180, le=180)] | None = None
    volume: VolumeBody
    surface: Id
    chlorine_source: Id
    installation: Id
    sanitizer: Id = "chlorine"

    def given(self) -> PoolInput:
        """As the use case takes it."""
        values = {name: getattr(self, name) for name in PoolFields.model_fields}
        return PoolInput(**{**values, "volume": self.volume.given()})


class NewPool(PoolFields):
    """A pool to add. id: a UUID version 7 made by the client."""

    id: UUID


class PoolChange(PoolFields):
    """A changed pool."""

    revision: Annotated[int, Field(ge=1, le=2**31 - 1)]


class AccountChange(Body):
    """The person's measures."""

    measures: Literal["us", "metric"]
    revision: Annotated[int, Field(ge=1, le=2**31 - 1)]


def typed(readings: list[TypedReading]) -> Typed:
    """Readings as the use cases take them."""
    return [(r.measure, r.text, r.unit, r.method, r.drop_count) for r in readings]


def chosen(products: dict[str, ProductChoice]) -> dict[str, tuple[str, float | None]]:
    """Product choices as the use cases take them."""
    return {role: (c.product_id, c.strength) for role, c in products.items()}
