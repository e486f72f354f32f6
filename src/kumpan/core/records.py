"""Records of typed fields: what may be known of a thing, in which units, within which limits. Used by
equipment and the log.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Literal
from uuid import UUID

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.units import G_PER_LB, G_PER_OZ, L_PER_GAL, M_PER_FT, c_to_f, parse_number

Value = float | str
PSI_KPA = 6.894757293168  # kPa in a psi: NIST SP 811, from memory
# What a number counts, in which units it may be typed: unit -> (label, factor to the first one). Celsius and
# Fahrenheit shift too.
UNITS: dict[str, dict[str, tuple[str, float]]] = {
    "output": {"g_day": ("g a day", 1.0), "lb_day": ("lb a day", G_PER_LB), "oz_day": ("oz a day", G_PER_OZ)},
    "ppm": {"ppm": ("ppm", 1.0)},
    "hours": {"h": ("h", 1.0)},
    "current": {"a": ("A", 1.0)},
    "count": {"": ("", 1.0)},
    "percent": {"%": ("%", 1.0)},
    "temp": {"c": ("°C", 1.0), "f": ("°F", 1.0)},
    "area": {"m2": ("m²", 1.0), "ft2": ("sq ft", M_PER_FT**2)},
    "pressure": {"kpa": ("kPa", 1.0), "psi": ("psi", PSI_KPA), "bar": ("bar", 100.0)},
    "volume": {"l": ("L", 1.0), "gal": ("gal", L_PER_GAL)},
    "bath": {"l": ("L", 1.0), "qt": ("qt", L_PER_GAL / 4), "gal": ("gal", L_PER_GAL)},
    "rain": {"mm": ("mm", 1.0), "in": ("in", 25.4)},
    "minutes": {"min": ("min", 1.0)},
    "flow": {
        "l_h": ("L an hour", 1.0),
        "m3_h": ("m³ an hour", 1000.0),
        "gpm": ("gal a minute", 60 * L_PER_GAL),
    },
}


_US = frozenset({"psi", "gal", "qt", "in", "f", "gpm", "ft2", "lb_day", "oz_day"})


def units_in(quantity: str, system: str) -> tuple[tuple[str, str], ...]:
    """Units of a quantity as (id, label), those of a person's system first; none for none.

    >>> units_in("pressure", "us")[0]
    ('psi', 'psi')
    """
    known = [(id, label) for id, (label, _) in UNITS.get(quantity, {}).items()]
    return tuple(sorted(known, key=lambda unit: (unit[0] in _US) != (system == "us")))


@dataclass(frozen=True)
class Field:
    """One thing worth knowing.

    kind: choice (of ``choices``), number (of ``quantity``, canonical limits), date, text (at most ``most``
    characters) or id.
    missing: what cannot be said while it is unknown. past: a date that cannot lie ahead.
    """

    id: str
    label: str
    kind: Literal["choice", "number", "date", "text", "id"]
    missing: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    quantity: str = ""
    least: float = 0.0
    most: float = 0.0
    past: bool = True


def choice(id: str, label: str, missing: str = "", **choices: str) -> Field:
    """A field answered by one of ``choices``."""
    return Field(id, label, "choice", missing, tuple(choices.items()))


def number(id: str, label: str, quantity: str, within: tuple[float, float], missing: str = "") -> Field:
    """A field answered by a number; within: its canonical limits."""
    return Field(id, label, "number", missing, quantity=quantity, least=within[0], most=within[1])


def text(id: str, label: str, longest: int, missing: str = "") -> Field:
    """A field answered in the person's words, up to so many characters."""
    return Field(id, label, "text", missing, most=longest)


def identifier(id: str, label: str, missing: str = "") -> Field:
    """A field that names something else by its id (a UUID)."""
    return Field(id, label, "id", missing)


@dataclass(frozen=True)
class TypedField:
    """A field as typed: text (of a choice its id, of a date YYYY-MM-DD), and the unit of a number."""

    text: str
    unit: str = ""


def checked_fields(
    fields: tuple[Field, ...], what: str, entered: Mapping[str, TypedField], today: date, path: str
) -> tuple[dict[str, Value], list[FieldProblem]]:
    """Canonical values of what was typed, and what is wrong at ``{path}.{field}``. What is empty is unknown
    and left out.

    what: the thing in words, lower case. Canonical: the first unit of each quantity, choices by id, dates as
    ISO text.
    """
    known = {f.id: f for f in fields}
    values: dict[str, Value] = {}
    problems: list[FieldProblem] = []
    for name, typed in entered.items():
        if not typed.text.strip():
            continue
        if name not in known:
            problems.append(
                FieldProblem(f"{path}.{name}", "unknown_field", f"Of {what} there is no such field.")
            )
            continue
        try:
            values[name] = _value(known[name], typed, today, f"{path}.{name}")
        except InvalidInput as error:
            problems += error.fields
    return values, problems


def checked_record(
    fields: tuple[Field, ...], details: Mapping[str, Value], typed: Mapping[str, Mapping[str, str]]
) -> None:
    """Whether stored values and texts are of the kinds their fields are of; limits are not looked at again,
    as they may have changed since.

    Raises InvalidInput at ``details.<field>`` or ``typed.<field>``.
    """
    known = {f.id: f for f in fields}
    for path, entered in (("details", details), ("typed", typed)):
        for name in entered:
            if name not in known:
                raise InvalidInput(FieldProblem(f"{path}.{name}", "unknown_field", "There is no such field."))
    for name, value in details.items():
        if isinstance(value, str) != (known[name].kind != "number") or not _holds(known[name], value):
            raise InvalidInput(
                FieldProblem(f"details.{name}", "wrong_kind", "This value is not of its field's kind.")
            )
    for name, text in typed.items():
        field = known[name]
        fits = set(text) == {"text", "unit"} and (field.kind == "number" or _holds(field, text["text"]))
        if not fits or (field.kind == "number" and text["unit"] not in UNITS[field.quantity]):
            raise InvalidInput(
                FieldProblem(f"typed.{name}", "wrong_kind", "This text is not of its field's kind.")
            )


def _holds(field: Field, value: Value) -> bool:
    if field.kind == "choice":
        return value in dict(field.choices)
    if field.kind == "number":
        return isinstance(value, float | int) and math.isfinite(value)
    if field.kind == "text":
        return isinstance(value, str) and len(value) <= field.most
    try:
        _ = UUID(str(value)) if field.kind == "id" else date.fromisoformat(str(value).strip())
    except ValueError:
        return False
    return True


def _value(field: Field, typed: TypedField, today: date, path: str) -> Value:
    text = typed.text.strip()
    if field.kind == "choice":
        if text not in dict(field.choices):
            raise InvalidInput(
                FieldProblem(path, "unknown_choice", "Choose one of the answers, or leave it unknown.")
            )
        return text
    if field.kind == "date":
        return checked_date(text, today, path, past=field.past).isoformat()
    if field.kind == "text":
        if len(text) > field.most:
            raise InvalidInput(FieldProblem(path, "too_long", f"At most {field.most:g} characters."))
        return text
    if field.kind == "id":
        return _id(text, path)
    units = UNITS[field.quantity]
    if typed.unit not in units:
        raise InvalidInput(FieldProblem(path, "unknown_unit", "Choose the unit."))
    number = parse_number(text, path)
    label, factor = units[typed.unit]
    fahrenheit = field.quantity == "temp" and typed.unit == "f"
    value = (number - 32) / 1.8 if fahrenheit else number * factor
    if not field.least - 1e-9 <= value <= field.most + 1e-9:
        low, high = (c_to_f(v) if fahrenheit else v / factor for v in (field.least, field.most))
        raise InvalidInput(
            FieldProblem(
                path,
                "out_of_range",
                f"Between {_plain(low)} and {_plain(high)} {label}".rstrip() + ". Is the unit right?",
            )
        )
    return value


def _id(text: str, path: str) -> str:
    try:
        return str(UUID(text))
    except ValueError:
        raise InvalidInput(FieldProblem(path, "not_an_id", "This is not an id.")) from None


def _plain(value: float) -> str:
    return f"{value:,.0f}" if abs(value) >= 10 else f"{value:.2g}"


def checked_date(text: str, today: date, path: str, past: bool) -> date:
    """A date typed as YYYY-MM-DD. past: it cannot lie ahead. Raises InvalidInput at ``path``."""
    try:
        day = date.fromisoformat(text.strip())
    except ValueError:
        raise InvalidInput(FieldProblem(path, "not_a_date", "Type a date.")) from None
    if past and day > today:
        raise InvalidInput(FieldProblem(path, "in_future", "That is in the future. Check the date."))
    if not 1950 <= day.year <= 2100:
        raise InvalidInput(
            FieldProblem(path, "too_old" if day.year < 1950 else "too_late", "Check the year.")
        )
    return day
