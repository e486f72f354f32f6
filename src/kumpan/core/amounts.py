"""Amounts in measures a hand can use, rounded down to the tool so that a limit is never passed."""

import math
from dataclasses import dataclass
from typing import Literal

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.units import G_PER_UNIT, L_PER_GAL, ML_PER_UNIT, UNIT_LABELS, parse_number

System = Literal["us", "metric"]
Form = Literal["liquid", "dry", "tablet", "salt_bag"]
EPS = 1e-9
# Small pools get 1-inch tablets (common practice), as do doses under one large tablet.
SMALL_POOL_L = 10_000 * L_PER_GAL


@dataclass(frozen=True)
class Part:
    """One number and its unit, as in the 2 lb of ``2 lb 5 oz``."""

    number: str
    unit: str


@dataclass(frozen=True)
class Amount:
    """An amount a person pours. canonical: g or mL; value is in ``unit``; exact: the same unrounded."""

    value: float
    unit: str
    text: str
    parts: tuple[Part, ...]
    canonical: float
    exact: str


@dataclass(frozen=True)
class Tool:
    """A measuring step: amounts are whole multiples of ``step`` (g or mL) written in ``unit``."""

    unit: str
    step: float


@dataclass(frozen=True)
class OwnMeasure:
    """A jug, scoop, bucket or bag a person counts in. liquid: what it is for; holds: g, or mL of liquids."""

    name: str
    liquid: bool
    holds: float


# An own measure is counted in where a quarter of it is this share of the amount at most, and whole ones are
# no more than so many (our own).
_OWN_GRAIN, _OWN_MOST = 0.125, 20


def tool_for(
    amount: float, form: Form, system: System, volume_l: float, own: tuple[OwnMeasure, ...] = ()
) -> Tool:
    """The tool for an amount (g or mL) of a product form: coarser for more; quarters of the person's own jug,
    scoop or bag where one fits, the largest first.

    Steps are our own: what people count in. Liquids in fluid ounces, from half a gallon on in eighths, then
    quarters of a jug; dry products in ounces, from 16 on in pounds and parts of one; salt in half bags. Never
    cups of a dry product, nor grams in US measures.
    """
    fits = [m.holds for m in own if _counts_in(m, amount, form)]
    if fits:
        fine = {("liquid", "us"): "fl_oz", ("liquid", "metric"): "ml", ("dry", "us"): "oz"}
        return Tool(fine.get(("liquid" if form == "liquid" else "dry", system), "g"), max(fits) / 4)
    return _usual_tool(amount, form, system, volume_l)


def _usual_tool(amount: float, form: Form, system: System, volume_l: float) -> Tool:
    g, ml = G_PER_UNIT, ML_PER_UNIT
    if form == "tablet":
        large = volume_l >= SMALL_POOL_L and amount >= g["tablet_3in"]
        unit = "tablet_3in" if large else "tablet_1in"
        return Tool(unit, g[unit])
    if form == "salt_bag":
        unit = "bag_40lb" if system == "us" else "bag_20kg"
        if amount >= g[unit] / 2:
            return Tool(unit, g[unit] / 2)
    if system == "metric":
        small = "ml" if form == "liquid" else "g"
        return _pick(amount, small, 1, (100, 5), (1000, 25), (10_000, 100), (math.inf, 500))
    if form == "liquid":
        if amount < 64 * ml["fl_oz"]:
            return _pick(amount, "fl_oz", ml["fl_oz"], (2, 0.25), (4, 0.5), (16, 1), (32, 2), (64, 4))
        return _pick(amount, "gal", ml["gal"], (2, 0.125), (math.inf, 0.25))
    if amount < 16 * g["oz"]:
        return _pick(amount, "oz", g["oz"], (4, 0.25), (16, 0.5))
    return _pick(amount, "lb", g["lb"], (3, 0.125), (10, 0.25), (50, 0.5), (math.inf, 1))


def _counts_in(measure: OwnMeasure, amount: float, form: Form) -> bool:
    """Whether an amount is counted in an own measure."""
    of_it = measure.liquid == (form == "liquid") and form != "tablet"
    return of_it and measure.holds / 4 <= _OWN_GRAIN * amount and amount <= _OWN_MOST * measure.holds


def _pick(amount: float, unit: str, size: float, *ranges: tuple[float, float]) -> Tool:
    step = next((s for most, s in ranges if amount < most * size), ranges[-1][1])
    return Tool(unit, step * size)


def rounded_near(amount: float, tool: Tool, most: float) -> float:
    """The whole multiple of the tool's step nearest to ``amount``, of those at or under ``most`` (g or mL).

    >>> rounded_near(1000, Tool("g", 300), 1100), rounded_near(1100, Tool("g", 300), 1300)
    (900.0, 1200.0)
    """
    near = math.floor(amount / tool.step + 0.5) * tool.step
    return float(near if near <= most * (1 + 1e-6) else rounded_down(min(amount, most), tool))


def rounded_down(amount: float, tool: Tool) -> float:
    """The largest whole multiple of the tool's step at or under ``amount`` (g or mL).

    >>> rounded_down(1000, Tool("g", 300))
    900
    """
    return math.floor(amount / tool.step + 1e-6) * tool.step


def about(
    amount: float, form: Form, system: System, volume_l: float, own: tuple[OwnMeasure, ...] = ()
) -> Amount:
    """An amount (g or mL) to the nearest step of its tool, at least one: to be told, not to be poured."""
    tool = tool_for(amount, form, system, volume_l, own)
    return describe(max(tool.step, rounded_down(amount + tool.step / 2, tool)), tool, form)


def describe(canonical: float, tool: Tool, form: Form, exact: float | None = None) -> Amount:
    """An amount of whole tool steps with its words: ``2 lb 4 oz``, ``1 ¾ gal``, ``7 ½ bags of 40 lb``.

    exact: what was worked out before rounding, told beside it where it differs by more than 2 %.
    """
    per = G_PER_UNIT | ML_PER_UNIT
    value = canonical / per[tool.unit]
    parts = _parts(value, tool.unit)
    other = _other_system(canonical, tool.unit, form)
    if exact is not None and abs(exact - canonical) > 0.02 * max(canonical, EPS):
        unit = {"gal": "fl_oz", "bag_40lb": "lb", "bag_20kg": "kg"}.get(tool.unit, tool.unit)
        other += f"; computed {_trim(exact / per[unit], 1)} {UNIT_LABELS[unit]}"
    return Amount(
        round(value, 4), tool.unit, " ".join(f"{p.number} {p.unit}" for p in parts), parts, canonical, other
    )


def _other_system(canonical: float, unit: str, form: Form) -> str:
    """The amount in the other system's measures."""
    liquid = form == "liquid"
    if unit in ("g", "kg", "ml", "l", "bag_20kg"):
        if liquid:
            return f"{canonical / ML_PER_UNIT['fl_oz']:,.1f} fl oz"
        pounds = canonical >= G_PER_UNIT["lb"]
        return (
            f"{canonical / G_PER_UNIT['lb']:,.2f} lb" if pounds else f"{canonical / G_PER_UNIT['oz']:,.1f} oz"
        )
    if canonical >= 1000:
        return f"{canonical / 1000:,.2f} {'L' if liquid else 'kg'}"
    return f"{canonical:,.0f} {'mL' if liquid else 'g'}"


_BAGS = {"bag_40lb": "40 lb", "bag_20kg": "20 kg"}
_TABLETS = {"tablet_3in": "3-inch", "tablet_1in": "1-inch"}
_BIG = {"g": "kg", "ml": "L"}


def _parts(value: float, unit: str) -> tuple[Part, ...]:
    one = value <= 1 + EPS
    if unit in ("oz", "lb"):
        return _split(value * (16 if unit == "lb" else 1), 16, "lb", "oz")
    if unit == "fl_oz" and value >= 128:
        return _split(value, 128, "gal", "fl oz")
    if unit == "gal" and abs(value * 8 - round(value * 8)) < 1e-6:
        return _jugs(value)
    if unit in _BAGS:
        return (Part(quarters(value), f"{'bag' if one else 'bags'} of {_BAGS[unit]}"),)
    if unit in _TABLETS:
        return (Part(f"{value:.0f}", f"{_TABLETS[unit]} tablet{'' if one else 's'}"),)
    if unit in _BIG and value >= 1000:
        return (Part(_trim(value / 1000, 2), _BIG[unit]),)
    return (Part(_trim(value, 2), UNIT_LABELS[unit]),)


def _jugs(value: float) -> tuple[Part, ...]:
    """Gallons in quarters of a jug, an eighth as 16 fl oz."""
    whole = math.floor(value * 4 + EPS) / 4
    rest = (Part("16", "fl oz"),) if value - whole > 0.1 else ()
    return (*((Part(quarters(whole), "gal"),) if whole else ()), *rest)


def _split(value: float, size: int, big: str, small: str) -> tuple[Part, ...]:
    whole = int(value // size + EPS)
    rest = value - whole * size
    if whole == 0:
        return (Part(_trim(rest, 2), small),)
    if rest < 0.05:
        return (Part(f"{whole:,}", big),)
    return (Part(f"{whole:,}", big), Part(_trim(rest, 1), small))


def quarters(value: float) -> str:
    """A number in whole and quarters: ``2 ½``."""
    whole, quarter = divmod(round(value * 4), 4)
    fraction = ("", "¼", "½", "¾")[quarter]
    return f"{whole}{' ' if fraction and whole else ''}{fraction}" if whole or not fraction else fraction


def _trim(value: float, decimals: int) -> str:
    text = f"{value:,.{decimals}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def in_own(canonical: float, form: Form, own: tuple[OwnMeasure, ...]) -> Part | None:
    """An amount (g or mL) in quarters of the own measure it was rounded to; None where it was to none.

    >>> in_own(681, "dry", (OwnMeasure("scoop", False, 227), OwnMeasure("jug", True, 3785)))
    Part(number='3', unit='× scoop')
    """
    usable = [m for m in own if _counts_in(m, canonical * (1 + _OWN_GRAIN), form)]
    for measure in sorted(usable, key=lambda m: -m.holds):
        fourths = 4 * canonical / measure.holds
        if abs(fourths - round(fourths)) < 0.01:
            return Part(quarters(fourths / 4), f"× {measure.name}")
    return None


def checked_measure(name: str, liquid: bool, text: str, unit: str, field: str) -> OwnMeasure:
    """An own measure as typed. Raises InvalidInput at ``{field}.name``, ``.amount`` or ``.unit``."""
    if not name.strip():
        raise InvalidInput(FieldProblem(f"{field}.name", "empty", "Call it something: scoop, jug, bucket."))
    try:
        holds = parse_amount(text, unit, "liquid" if liquid else "dry", "amount")
    except InvalidInput as error:
        at = {"amount": "amount", "amount_unit": "unit"}
        raise InvalidInput(
            *(FieldProblem(f"{field}.{at.get(p.field, p.field)}", p.code, p.message) for p in error.fields)
        ) from None
    return OwnMeasure(name.strip(), liquid, holds)


def units_for(form: Form, system: System) -> tuple[str, ...]:
    """Units offered when a person logs what they poured. Cups for liquids only."""
    if form == "liquid":
        return ("fl_oz", "cup", "qt", "gal", "ml", "l") if system == "us" else ("ml", "l", "fl_oz", "gal")
    if form == "tablet":
        return ("tablet_3in", "tablet_1in", "oz", "g")
    bags = ("bag_40lb", "bag_20kg") if form == "salt_bag" else ()
    return (*bags, "oz", "lb", "g", "kg") if system == "us" else (*reversed(bags), "g", "kg", "oz", "lb")


def parse_amount(text: str, unit: str, form: Form, field: str = "amount") -> float:
    """What a person says they poured, in g or mL. Raises InvalidInput at ``{field}`` or ``{field}_unit``.

    >>> round(parse_amount("2", "cup", "liquid"))
    473
    """
    table = ML_PER_UNIT if form == "liquid" else G_PER_UNIT
    if unit not in table:
        kind = "liquid" if form == "liquid" else "dry product"
        raise InvalidInput(
            FieldProblem(
                f"{field}_unit",
                "wrong_unit",
                f"This is a {kind}: it cannot be measured in {UNIT_LABELS.get(unit, 'that')}.",
            )
        )
    amount = parse_number(text, field) * table[unit]
    if not 0 < amount <= 20_000_000:
        raise InvalidInput(
            FieldProblem(
                field, "out_of_range", "Type the amount poured: more than zero, less than a truckload."
            )
        )
    return amount
