"""Structures inside a record of the open format: what Kumpan reads of them is checked, what else they hold is
kept as it is.
"""

from dataclasses import dataclass, fields
from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, GetCoreSchemaHandler, TypeAdapter
from pydantic_core import CoreSchema, core_schema

from kumpan.actions.shelf.items import ShelfInput
from kumpan.core.amounts import checked_measure
from kumpan.core.errors import InvalidInput
from kumpan.core.pool.traits import SETTINGS
from kumpan.core.pool.volume import VolumeInput, volume_of
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import UNIT_LABELS
from kumpan.store.stored_run import read_foretold, read_run
from kumpan.store.stored_sheet import read_follows

_ANY_TIME = datetime(2000, 1, 1, tzinfo=UTC)


@dataclass(frozen=True)
class OneOf:
    """A text out of a known list."""

    known: tuple[str, ...]

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.literal_schema(list(self.known))


def _only(document: dict[str, Any], of: type) -> None:
    """Refuse names the dataclass does not have, and texts longer than a form takes."""
    unknown = set(document) - {f.name for f in fields(of)}
    if unknown:
        raise ValueError(f"there is no field {sorted(unknown)[0]!r}")
    if any(isinstance(v, str) and len(v) > 60 for v in document.values()):
        raise ValueError("a text is too long")


def _volume_given(document: dict[str, Any]) -> dict[str, Any]:
    known = {k: v for k, v in document.items() if k not in ("within", "proofs")}
    _only(known, VolumeInput)
    try:
        volume_of(_VOLUME.validate_python(known))
    except InvalidInput as error:
        raise ValueError(error.message) from None
    _WEIGHED.validate_python(document)
    return document


def _shelf_typed(typed: dict[str, Any]) -> dict[str, Any]:
    _only(typed, ShelfInput)
    if any(
        value and value not in UNIT_LABELS
        for name, value in typed.items()
        if name.endswith("_unit") and name != "kept_unit"
    ):
        raise ValueError("there is no such unit")
    _SHELF.validate_python({**typed, "product_id": "salt"})
    return typed


def _settings(settings: dict[str, Any]) -> dict[str, Any]:
    PoolSettings.model_validate(settings)
    for name, question in SETTINGS.items():
        if name in settings and not question.allows(settings[name]):
            raise ValueError(f"{name} has no answer {settings[name]!r}")
    return settings


def _follows(follows: dict[str, Any]) -> dict[str, Any]:
    read_follows(follows)
    return follows


def _measure(typed: dict[str, Any]) -> dict[str, Any]:
    known = _MEASURE.validate_python(typed)
    try:
        checked_measure(known.name, known.liquid, known.amount, known.unit, "")
    except InvalidInput as error:
        raise ValueError(error.message) from None
    return typed


def _inputs(inputs: dict[str, Any]) -> dict[str, Any]:
    PlanInputs.model_validate(inputs)
    if "run" in inputs:
        read_run(inputs, "", _ANY_TIME)
        read_foretold(inputs)
    return inputs


class _Open(BaseModel):
    """What Kumpan reads of a structure; what else it holds is kept as it is."""

    model_config = ConfigDict(extra="allow", strict=False)


class Proof(_Open):
    """A proof of the volume: litres, and how far off, as a fraction."""

    key: str
    text: str
    litres: Annotated[float, Field(gt=0, allow_inf_nan=False)]
    within: Annotated[float, Field(gt=0, lt=1)]


class _Weighed(_Open):
    within: Annotated[float, Field(gt=0, lt=1)] = 0.1
    proofs: list[Proof] = []


class Target(_Open):
    """A person's own target of a measure."""

    low: float | None = None
    aim: float | None = None
    high: float | None = None
    why: str = ""


class _Texts(_Open):
    fill: dict[str, str] = {}
    hose: str = ""
    hose_unit: Literal["gal", "l"] = "gal"
    targets: dict[str, dict[str, str]] = {}


class PoolSettings(_Open):
    """A pool's own targets and fill water; ``typed``: the same as typed. Beside them, where it stands."""

    label_fc_ppm: Annotated[float, Field(ge=1, le=10)] | None = None
    borate_allowed: bool = True
    targets: dict[str, Target] = {}
    fill: dict[str, float] = {}
    hose_l_h: Annotated[float, Field(gt=0)] | None = None
    typed: _Texts = _Texts()


class _Product(_Open):
    product_id: Annotated[str, OneOf(tuple(PRODUCTS))]
    strength: float | None


class PlanInputs(_Open):
    """What a plan followed from, as far as Kumpan reads it again."""

    products: dict[str, _Product] = {}
    swim_from_min: float | None = None
    swim_least_fc_ppm: float | None = None
    swim_most_fc_ppm: float | None = None


class _Measure(_Open):
    name: Annotated[str, Field(max_length=30)]
    liquid: bool
    amount: str
    unit: str


_MEASURE = TypeAdapter(_Measure)
_VOLUME = TypeAdapter(VolumeInput)
_WEIGHED = TypeAdapter(_Weighed)
_SHELF = TypeAdapter(ShelfInput)

VolumeGiven = Annotated[dict[str, Any], AfterValidator(_volume_given)]
Settings = Annotated[dict[str, Any], AfterValidator(_settings)]
Inputs = Annotated[dict[str, Any], AfterValidator(_inputs)]
OwnMeasures = Annotated[dict[str, Any], AfterValidator(_measure)]
Follows = Annotated[dict[str, Any], AfterValidator(_follows)]
ShelfTyped = Annotated[dict[str, str], AfterValidator(_shelf_typed)]
