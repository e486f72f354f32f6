"""What a form needs to know of a record's fields."""

from typing import Literal

from pydantic import BaseModel

from kumpan.core.records import UNITS, Field

# The unit a form starts with: US, metric.
_USUAL = {
    "output": ("g_day", "g_day"),
    "temp": ("f", "c"),
    "area": ("ft2", "m2"),
    "pressure": ("psi", "kpa"),
    "flow": ("gpm", "m3_h"),
    "volume": ("gal", "l"),
    "rain": ("in", "mm"),
}


class OptionMeta(BaseModel):
    """One answer, or one unit."""

    id: str
    label: str


class FieldMeta(BaseModel):
    """One thing worth knowing. units: of a number, the usual one first."""

    id: str
    label: str
    kind: Literal["choice", "number", "date"]
    choices: list[OptionMeta]
    units: list[OptionMeta]


class KindMeta(BaseModel):
    """A kind of record and its fields."""

    id: str
    label: str
    fields: list[FieldMeta]


def kind_meta(id: str, label: str, fields: tuple[Field, ...], metric: bool) -> KindMeta:
    """A kind as a form takes it, in the person's measures."""

    def units(quantity: str) -> list[OptionMeta]:
        first = _USUAL.get(quantity, ("", ""))[metric]
        return [
            OptionMeta(id=u, label=label)
            for u, (label, _) in sorted(UNITS.get(quantity, {}).items(), key=lambda kv: kv[0] != first)
        ]

    shown = [
        FieldMeta(
            id=f.id,
            label=f.label,
            kind=f.kind,
            choices=[OptionMeta(id=i, label=text) for i, text in f.choices],
            units=units(f.quantity),
        )
        for f in fields
        if f.kind in ("choice", "number", "date")  # what names something else is not asked
    ]
    return KindMeta(id=id, label=label, fields=shown)
