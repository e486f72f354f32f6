"""Request bodies. Numbers that people type come as text, so that nothing typed is lost or reshaped."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints

from kumpan.actions.keep_equipment import EquipmentInput
from kumpan.actions.keep_happenings import HappeningInput
from kumpan.actions.keep_pools import PoolInput
from kumpan.actions.keep_shelf import ShelfInput
from kumpan.actions.keep_targets import SettingsInput, TargetInput
from kumpan.actions.plan_doses import Typed
from kumpan.actions.waters import Asked
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.conditions import SEEN
from kumpan.core.guidance.schools import SCHOOLS
from kumpan.core.pool.volume import VolumeInput
from kumpan.core.records import TypedField

Text = Annotated[str, StringConstraints(max_length=60)]
Name = Annotated[str, StringConstraints(max_length=80)]
Id = Annotated[str, StringConstraints(max_length=40)]
Local = Annotated[str, StringConstraints(max_length=25)]
Revision = Annotated[int, Field(ge=1, le=2**31 - 1)]
Who = Annotated[str, StringConstraints(max_length=80, min_length=1)]
Spot = Annotated[str, StringConstraints(max_length=40)]


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


class ProductChoice(Body):
    """A product for a role; strength as a fraction, None for its usual one."""

    product_id: Id
    strength: float | None = None


Readings = Annotated[list[TypedReading], Field(max_length=20)]
Products = Annotated[dict[Id, ProductChoice], Field(max_length=20)]


class AskedBody(Body):
    """What a plan is asked with beside readings and products. stay_min: minutes on site; None for
    all along.
    """

    school: Id | None = None
    seen: Annotated[list[Id], Field(max_length=10)] = []
    stay_min: Annotated[int, Field(ge=1, le=600)] | None = None

    def asked(self) -> Asked:
        """As the use cases take it. Raises InvalidInput for a school or condition Kumpan does not know."""
        if self.school is not None and self.school not in SCHOOLS:
            raise InvalidInput(FieldProblem("school", "unknown_choice", "Choose one of the schools."))
        unknown = [c for c in self.seen if c not in SEEN and c != "algae"]
        if unknown:
            raise InvalidInput(FieldProblem("seen", "unknown_choice", "Kumpan does not know this condition."))
        return Asked(self.school, frozenset(self.seen), self.stay_min)


class PreviewBody(AskedBody):
    """What is typed so far."""

    readings: Readings = []
    products: Products = {}


class TestBody(Body):
    """A test to log. id: a UUID version 7 made by the client, so that sending twice is safe."""

    __test__ = False
    id: UUID
    at: AwareDatetime
    who: Who = "you"
    spot: Spot = ""
    readings: Readings


class TestChange(Body):
    """A corrected test. local: date and time on the pool's own clock. who and spot stay as they are where not
    given.
    """

    __test__ = False
    local: Local
    readings: Readings
    who: Who | None = None
    spot: Spot | None = None
    revision: Revision


class PlanBody(AskedBody):
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
    local: Local = ""


class HappeningFields(Body):
    """What happened beside tests and doses. local: date and time on the pool's own clock; empty: now."""

    kind: Id
    details: Annotated[dict[Id, RecordField], Field(max_length=20)] = {}
    note: Annotated[str, StringConstraints(max_length=2000)] = ""
    local: Local = ""
    who: Who = "you"

    def given(self) -> HappeningInput:
        """As the use case takes it."""
        details = {name: TypedField(t.text, t.unit) for name, t in self.details.items()}
        return HappeningInput(self.kind, details, self.note, self.local, self.who)


class NewHappening(HappeningFields):
    """An entry to log. id: a UUID version 7 made by the client."""

    id: UUID


class HappeningChange(HappeningFields):
    """A corrected entry."""

    revision: Revision


class DoseChange(Body):
    """A corrected dose. local: date and time on the pool's own clock."""

    local: Local
    product_id: Id
    strength: float | None = None
    amount: Text
    unit: Id
    revision: Revision


class VolumeBody(Body):
    """The volume, however it is known; sizes as typed."""

    how: Literal["typed", "shape", "meter", "hose", "typical"]
    unit: Literal["gal", "l", "ft", "m", "ft3", "m3"] = "gal"
    amount: Text = ""
    sure: Literal["papers", "proved", "guess"] = "papers"
    plan: Literal["rectangle", "round", "oval", "kidney", "l", "free"] = "rectangle"
    bottom: Literal["level", "sloped", "hopper"] = "level"
    length: Text = ""
    width: Text = ""
    shallow: Text = ""
    deep: Text = ""
    typical: Id = ""
    width2: Text = ""
    leg_out: Text = ""
    leg_along: Text = ""
    widths: Annotated[str, StringConstraints(max_length=400)] = ""
    slope_from: Text = ""
    deep_from: Text = ""
    deep_to: Text = ""
    wall: Text = ""
    meter_from: Text = ""
    meter_to: Text = ""
    rate: Text = ""
    hours: Text = ""
    steps_along: Text = ""
    steps_out: Text = ""
    steps_high: Text = ""
    steps_count: Text = ""
    bench_along: Text = ""
    bench_out: Text = ""
    bench_high: Text = ""

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

    revision: Revision


class TargetBody(Body):
    """One target as typed; empty: the school's."""

    low: Text = ""
    aim: Text = ""
    high: Text = ""
    why: Annotated[str, StringConstraints(max_length=200)] = ""


class SettingsBody(Body):
    """A pool's school, targets and fill water as typed."""

    school: Id
    sun: Id = "part"
    borate_allowed: bool = True
    setting: Id = "unknown"
    climate: Id = "unknown"
    use: Id = "unknown"
    targets: Annotated[dict[Id, TargetBody], Field(max_length=12)] = {}
    fill: Annotated[dict[Id, Text], Field(max_length=12)] = {}
    hose: Text = ""
    hose_unit: Literal["gal", "l"] = "gal"

    def given(self) -> SettingsInput:
        """As the use case takes it."""
        targets = {m: TargetInput(**t.model_dump()) for m, t in self.targets.items()}
        return SettingsInput(
            self.school,
            self.sun,
            self.borate_allowed,
            self.setting,
            self.climate,
            self.use,
            targets,
            self.fill,
            self.hose,
            self.hose_unit,
        )


class SettingsChange(SettingsBody):
    """Changed settings."""

    revision: Revision


class ProofBody(Body):
    """A proof of the volume to take or leave out."""

    key: Annotated[str, StringConstraints(max_length=120)]
    revision: Revision


class EquipmentFields(Body):
    """A piece of equipment as typed."""

    kind: Id
    details: Annotated[dict[Id, RecordField], Field(max_length=20)] = {}
    make_model: Annotated[str, StringConstraints(max_length=120)] = ""
    bought: Text = ""
    warranty_until: Text = ""
    note: Annotated[str, StringConstraints(max_length=400)] = ""

    def given(self) -> EquipmentInput:
        """As the use case takes it."""
        details = {name: TypedField(t.text, t.unit) for name, t in self.details.items()}
        return EquipmentInput(
            self.kind, details, self.make_model, self.bought, self.warranty_until, self.note
        )


class NewEquipment(EquipmentFields):
    """A piece to add. id: a UUID version 7 made by the client."""

    id: UUID


class EquipmentChange(EquipmentFields):
    """A changed piece."""

    revision: Revision


class ShelfFields(Body):
    """A product that stands ready, as typed; see ``ShelfInput``."""

    product_id: Id
    strength: Text = ""
    stock: Text = ""
    stock_unit: Id = ""
    pack: Text = ""
    pack_unit: Id = ""
    price: Text = ""
    minimum: Text = ""
    minimum_unit: Id = ""
    bought: Text = ""
    kept: Text = ""
    kept_unit: Literal["f", "c"] = "f"
    rate: Text = ""
    rate_unit: Id = ""
    rate_per: Literal["gal", "l"] = "gal"

    def given(self) -> ShelfInput:
        """As the use case takes it."""
        return ShelfInput(**{name: getattr(self, name) for name in ShelfFields.model_fields})


class NewShelfItem(ShelfFields):
    """A product to put on the shelf. id: a UUID version 7 made by the client."""

    id: UUID


class ShelfItemChange(ShelfFields):
    """A changed one."""

    revision: Revision


class RestockBody(Body):
    """Packages just bought."""

    packs: Annotated[float, Field(gt=0, le=1000)] = 1
    revision: Revision


class AccountChange(Body):
    """The person's measures."""

    measures: Literal["us", "metric"]
    revision: Revision


def typed(readings: list[TypedReading]) -> Typed:
    """Readings as the use cases take them."""
    return [(r.measure, r.text, r.unit, r.method, r.drop_count) for r in readings]


def chosen(products: dict[str, ProductChoice]) -> dict[str, tuple[str, float | None]]:
    """Product choices as the use cases take them."""
    return {role: (c.product_id, c.strength) for role, c in products.items()}
