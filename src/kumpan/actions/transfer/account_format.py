"""The open format of a whole account: its tables and their fields, the same in one JSON document and in a
folder of CSV files.

Version 2. ``docs/formats.md`` tells it in words, ``docs/account.schema.json`` as JSON Schema. Canonical
values are litres, grams, millilitres, ppm, Celsius; instants are UTC. A change that old files would not
survive gets a new version.
"""

from datetime import date, datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import (
    AfterValidator,
    AwareDatetime,
    BaseModel,
    ConfigDict,
    Field,
    GetCoreSchemaHandler,
    StringConstraints,
    ValidationError,
    model_validator,
)
from pydantic_core import CoreSchema, core_schema

from kumpan.actions.transfer.account_structures import (
    Follows,
    Inputs,
    OneOf,
    OwnMeasures,
    Settings,
    ShelfTyped,
    VolumeGiven,
)
from kumpan.core import records
from kumpan.core.care.rules import BY_ID
from kumpan.core.clock import is_time_zone
from kumpan.core.errors import InvalidInput
from kumpan.core.guidance.schools import SCHOOLS
from kumpan.core.log.kinds import KINDS
from kumpan.core.pool import equipment
from kumpan.core.pool.traits import POOL_CHOICES
from kumpan.core.pool.volume import LARGEST_L, SMALLEST_L
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.supplies import SUPPLIES
from kumpan.core.records import checked_record
from kumpan.core.units import UNIT_LABELS
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.store.care import check_task
from kumpan.store.stored_sheet import FORM, read_act

FORMAT = "kumpan-account"
VERSION = 3


def _sane(at: datetime | date) -> datetime | date:
    if not 1950 <= at.year <= 2200:
        raise ValueError("the year should be between 1950 and 2200")
    return at


def _zone(name: str) -> str:
    if not is_time_zone(name):
        raise ValueError("this is no time zone of the IANA database")
    return name


Instant = Annotated[AwareDatetime, AfterValidator(_sane)]
Day = Annotated[date, AfterValidator(_sane)]
Number = Annotated[float, Field(allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
Fraction = Annotated[float, Field(gt=0, le=1)]
Count = Annotated[int, Field(ge=0, le=2**31 - 1)]
Revision = Annotated[int, Field(ge=1, le=2**31 - 1)]
S10 = Annotated[str, StringConstraints(max_length=10)]
S20 = Annotated[str, StringConstraints(max_length=20)]
S40 = Annotated[str, StringConstraints(max_length=40)]
Name = Annotated[str, StringConstraints(max_length=80)]
Line = Annotated[str, StringConstraints(max_length=400)]
Words = Annotated[str, StringConstraints(max_length=16_000)]
Product = Annotated[str, OneOf(tuple(PRODUCTS))]
Typed = dict[str, dict[str, str]]


class Record(BaseModel):
    """A row of a table. Every field is given; an unknown one is refused."""

    model_config = ConfigDict(extra="forbid")


class PoolRecord(Record):
    """A pool. volume_input: how its volume was given, and proofs taken from its log; settings: targets, fill
    water, surroundings.
    """

    id: UUID
    name: Annotated[str, StringConstraints(max_length=80, min_length=1)]
    place: Annotated[str, StringConstraints(max_length=120)]
    latitude: Annotated[float, Field(ge=-90, le=90)] | None
    longitude: Annotated[float, Field(ge=-180, le=180)] | None
    time_zone: Annotated[str, StringConstraints(max_length=64), AfterValidator(_zone)]
    volume_l: Annotated[float, Field(ge=SMALLEST_L / 2, le=LARGEST_L * 2)]
    volume_input: VolumeGiven
    surface: Annotated[str, OneOf(tuple(c.id for c in POOL_CHOICES["surface"]))]
    chlorine_source: Annotated[str, OneOf(tuple(c.id for c in POOL_CHOICES["chlorine_source"]))]
    installation: Annotated[str, OneOf(tuple(c.id for c in POOL_CHOICES["installation"]))]
    sanitizer: Annotated[str, OneOf(tuple(c.id for c in POOL_CHOICES["sanitizer"] if not c.refused))]
    school: Annotated[str, OneOf(tuple(SCHOOLS))]
    settings: Settings | None
    revision: Revision
    created_at: Instant
    archived_at: Instant | None


class EquipmentRecord(Record):
    """A piece of equipment. details: canonical values by field; typed: as typed."""

    id: UUID
    pool_id: UUID
    kind: Annotated[str, OneOf(tuple(equipment.KINDS))]
    make_model: Annotated[str, StringConstraints(max_length=120)]
    details: dict[str, float | str]
    typed: Typed
    bought: Day | None
    warranty_until: Day | None
    note: Line
    revision: Revision
    created_at: Instant
    removed_at: Instant | None


class ShelfRecord(Record):
    """A product or a supply that stands ready. stock, pack, minimum: g, or mL of liquids, or how many; rate:
    per 10,000 gal; price_minor: cents of one package.
    """

    id: UUID
    product_id: Annotated[str, OneOf((*PRODUCTS, *SUPPLIES))]
    strength: Fraction | None
    stock: Annotated[float, Field(ge=0, allow_inf_nan=False)] | None
    counted_at: Instant | None
    pack: Positive | None
    price_minor: Count | None
    minimum: Annotated[float, Field(ge=0, allow_inf_nan=False)] | None
    bought: Day | None
    kept_c: Number | None
    rate: Positive | None
    typed: ShelfTyped
    revision: Revision
    created_at: Instant
    removed_at: Instant | None


class TaskRecord(Record):
    """A standing duty of a pool. rule_id: where it comes from; anchor, rrule (RFC 5545), days, params: how it
    comes round; season: MM-DD/MM-DD, empty all year; own: whether the person set that.
    """

    id: UUID
    pool_id: UUID
    subject: S20
    rule_id: Annotated[str, OneOf(tuple(BY_ID))]
    anchor: Literal["calendar", "completion", "once", "adaptive"]
    rrule: Annotated[str, StringConstraints(max_length=200)]
    days: Count
    params: dict[str, Any]
    season: Annotated[str, StringConstraints(max_length=11)]
    since: Day
    own: bool
    revision: Revision
    created_at: Instant
    off_at: Instant | None
    ended_at: Instant | None

    @model_validator(mode="after")
    def _comes_round(self) -> "TaskRecord":
        try:
            check_task(self.anchor, self.rrule, self.days, self.params, self.season)
        except InvalidInput as error:
            raise ValueError(error.message) from None
        return self


class _KnownKind:
    """A kind of entry that this Kumpan knows, looked up when a record is read."""

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(_known_kind, core_schema.str_schema())

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: Any) -> dict[str, Any]:
        return {"type": "string", "enum": list(KINDS)}


def _known_kind(kind: str) -> str:
    if kind not in KINDS:
        raise ValueError("Kumpan does not know this kind of entry")
    return kind


class EventRecord(Record):
    """Something that happened to a pool; what, stands in the table of its kind. performed_by: who did it;
    sampling_point: where a test's sample was taken.
    """

    id: UUID
    pool_id: UUID
    at: Instant
    kind: Annotated[str, _KnownKind()]
    performed_by: Name
    sampling_point: S40 = ""
    revision: Revision
    created_at: Instant
    deleted_at: Instant | None


class ReadingRecord(Record):
    """A reading of a test. value: canonical; text and unit: as typed."""

    event_id: UUID
    measure: Annotated[str, OneOf(tuple(MEASURES))]
    position: Count
    value: Number
    text: S40
    unit: S10
    method: Annotated[str, OneOf(tuple(METHODS))]
    drop_count: Count | None

    @model_validator(mode="after")
    def _within_limits(self) -> "ReadingRecord":
        measure = MEASURES[self.measure]
        if not measure.least - 1e-6 <= self.value <= measure.most + 1e-6:
            raise ValueError(f"{measure.label} reads {measure.least:g} to {measure.most:g}")
        return self


class SheetRecord(Record):
    """A sheet as it was begun: an accepted dose plan, with the test it followed from, or a guide."""

    event_id: UUID
    subject: S20 = "dose"
    test_event_id: UUID | None
    rule_version: S20
    headline: Line
    swim: Line
    form: Annotated[int, Field(ge=1, le=FORM)]
    inputs: Inputs
    follows: Follows | None = None


class SheetStepRecord(Record):
    """A step of a sheet. event_id, key: of which sheet, and its name there; shown: as it was shown, in its
    sheet's form, and under ``act`` what a rule needs of it (amounts in g, or mL of liquids).
    """

    event_id: UUID
    key: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    position: Count
    due_at: Instant
    shown: dict[str, Any]

    @model_validator(mode="after")
    def _fits_together(self) -> "SheetStepRecord":
        try:
            act = read_act(self.shown)
        except ValidationError as error:
            first = error.errors()[0]
            raise ValueError(f"shown.act: {'.'.join(map(str, first['loc']))}: {first['msg']}") from None
        if act.product_id is not None and act.product_id not in PRODUCTS:
            raise ValueError("Kumpan does not know this product")
        if act.amount is not None and self.shown.get("amount") is None:
            raise ValueError("shown holds no amount")
        return self


class TickRecord(Record):
    """An entry written for a step: the entry, the sheet, and the step's key."""

    event_id: UUID
    sheet_id: UUID
    key: Annotated[str, StringConstraints(max_length=60)]


class DoseRecord(Record):
    """What was poured. amount: g, or mL of liquids; text and unit: as typed."""

    event_id: UUID
    product_id: Product
    strength: Fraction | None
    amount: Positive
    text: S40
    unit: Annotated[str, OneOf(tuple(UNIT_LABELS))]


class StepDoneRecord(Record):
    """A step done that is no dose: fresh water (fraction), aeration (to_ph) or a wait."""

    event_id: UUID
    what: S20
    fraction: Fraction | None
    to_ph: Annotated[float, Field(ge=5, le=10)] | None
    note: Words | None


class EntryRecord(Record):
    """What else happened. details: canonical values by field; typed: as typed."""

    event_id: UUID
    details: dict[str, float | str]
    typed: Typed
    note: Words


class CorrectionRecord(Record):
    """What an entry said before it was corrected."""

    id: UUID
    event_id: UUID
    at: Instant
    actor: Name
    was_at: Instant
    was: Words
    before: dict[str, Any]


class PhotoRecord(Record):
    """A photo of an entry or of equipment. picture: JPEG, base64 in JSON, beside the CSV files a path in the
    folder.
    """

    id: UUID
    event_id: UUID | None
    equipment_id: UUID | None
    created_at: Instant
    removed_at: Instant | None
    picture: str


class PaperRecord(Record):
    """A manual, receipt or warranty of equipment. content: base64 in JSON, beside the CSV files a path in the
    folder.
    """

    id: UUID
    equipment_id: UUID
    name: Annotated[str, StringConstraints(max_length=200)]
    media_type: Annotated[str, StringConstraints(max_length=80)]
    created_at: Instant
    removed_at: Instant | None
    content: str


class AccountRecord(Record):
    """The account."""

    name: Annotated[str, StringConstraints(max_length=120)]
    unit_system: Literal["us", "metric"]
    currency: Annotated[str, StringConstraints(pattern="^[A-Z]{3}$")]
    own_measures: Annotated[list[OwnMeasures], Field(max_length=12)] | None = None


class Head(BaseModel):
    """What a file says of itself."""

    format: Literal["kumpan-account"]
    version: Literal[3]
    exported_at: AwareDatetime
    account: AccountRecord


def check_details(fields: tuple[records.Field, ...], details: dict[str, float | str], typed: Typed) -> None:
    """Raise InvalidInput at ``details.<field>`` or ``typed.<field>`` for what such a record cannot hold."""
    checked_record(fields, details, typed)
