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


def tool_for(amount: float, form: Form, system: System, volume_l: float) -> Tool:
    """The tool for an amount (g or mL) of a product form: finer for less.

    Steps are our own: what kitchen-free jugs, scales and bags can show. Cups are never used for dry products.
    """
    oz, lb, fl = G_PER_UNIT["oz"], G_PER_UNIT["lb"], ML_PER_UNIT["fl_oz"]
    if form == "tablet":
        large = volume_l >= SMALL_POOL_L and amount >= G_PER_UNIT["tablet_3in"]
        unit = "tablet_3in" if large else "tablet_1in"
        return Tool(unit, G_PER_UNIT[unit])
    if form == "salt_bag":
        unit = "bag_40lb" if system == "us" else "bag_20kg"
        if amount >= G_PER_UNIT[unit]:
            return Tool(unit, G_PER_UNIT[unit] / 4)
    if form == "liquid":
        if system == "us" and amount >= 2 * fl:
            return _pick(amount, "fl_oz", fl, (16, 0.5), (128, 1), (math.inf, 4))
        return _pick(amount, "ml", 1, (60, 1), (500, 5), (2000, 20), (math.inf, 100))
    if system == "us" and amount >= oz:
        if amount < 16 * oz:
            return _pick(amount, "oz", oz, (4, 0.25), (math.inf, 0.5))
        return _pick(amount, "oz", oz, (160, 1), (800, 4)) if amount < 50 * lb else Tool("lb", lb)
    return _pick(amount, "g", 1, (30, 1), (250, 5), (2000, 10), (10_000, 50), (math.inf, 500))


def _pick(amount: float, unit: str, size: float, *ranges: tuple[float, float]) -> Tool:
    step = next((s for most, s in ranges if amount < most * size), ranges[-1][1])
    return Tool(unit, step * size)


def rounded_down(amount: float, tool: Tool) -> float:
    """The largest whole multiple of the tool's step at or under ``amount`` (g or mL).

    >>> rounded_down(1000, Tool("g", 300))
    900
    """
    return math.floor(amount / tool.step + 1e-6) * tool.step


def describe(canonical: float, tool: Tool, form: Form, exact: float | None = None) -> Amount:
    """An amount of whole tool steps with its words: ``2 lb 5 oz``, ``1 gal 24 fl oz``, ``7 ¼ bags
    of 40 lb``.
    """
    per = G_PER_UNIT | ML_PER_UNIT
    value = canonical / per[tool.unit]
    parts = _parts(value, tool.unit)
    metric = f"{canonical:,.0f} {'mL' if form == 'liquid' else 'g'}"
    if canonical >= 1000:
        metric = f"{canonical / 1000:,.2f} {'L' if form == 'liquid' else 'kg'}"
    in_metric = tool.unit in ("g", "kg", "ml", "l", "bag_20kg")
    other = metric
    if in_metric:
        other = (
            f"{canonical / per['fl_oz']:,.1f} fl oz"
            if form == "liquid"
            else f"{canonical / per['oz']:,.1f} oz"
        )
        if form != "liquid" and canonical >= per["lb"]:
            other = f"{canonical / per['lb']:,.2f} lb"
    if exact is not None and abs(exact - canonical) > 0.02 * max(canonical, EPS):
        other += f"; computed {_trim(exact / per[tool.unit], 2)} {UNIT_LABELS[tool.unit]}"
    return Amount(
        round(value, 4), tool.unit, " ".join(f"{p.number} {p.unit}" for p in parts), parts, canonical, other
    )


def _parts(value: float, unit: str) -> tuple[Part, ...]:
    if unit == "oz" and value >= 16:
        return _split(value, 16, "lb", "oz")
    if unit == "fl_oz" and value >= 128:
        return _split(value, 128, "gal", "fl oz")
    if unit in ("bag_40lb", "bag_20kg"):
        size = "40 lb" if unit == "bag_40lb" else "20 kg"
        return (Part(_quarters(value), f"{'bag' if value <= 1 + EPS else 'bags'} of {size}"),)
    if unit in ("tablet_3in", "tablet_1in"):
        size = "3-inch" if unit == "tablet_3in" else "1-inch"
        return (Part(f"{value:.0f}", f"{size} tablet{'' if value <= 1 + EPS else 's'}"),)
    if unit in ("g", "ml") and value >= 1000:
        return (Part(_trim(value / 1000, 2), "kg" if unit == "g" else "L"),)
    return (Part(_trim(value, 2), UNIT_LABELS[unit]),)


def _split(value: float, size: int, big: str, small: str) -> tuple[Part, ...]:
    whole = int(value // size + EPS)
    rest = value - whole * size
    if rest < 0.05:
        return (Part(f"{whole:,}", big),)
    return (Part(f"{whole:,}", big), Part(_trim(rest, 1), small))


def _quarters(value: float) -> str:
    whole, quarter = divmod(round(value * 4), 4)
    fraction = ("", "¼", "½", "¾")[quarter]
    return f"{whole}{' ' if fraction and whole else ''}{fraction}" if whole or not fraction else fraction


def _trim(value: float, decimals: int) -> str:
    text = f"{value:,.{decimals}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


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
