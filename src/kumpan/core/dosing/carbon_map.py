"""Why the pH and alkalinity steps are what they are, as a picture: alkalinity over total carbonate (Deffeyes
1965).

Contours of pH are near-straight lines, the target is the region between two of them, and each step is a
vector. Total carbonate is drawn in the same measure as alkalinity (ppm as CaCO3, 50 ppm a mmol/L), so that
bicarbonate runs at one for one.
"""

from dataclasses import dataclass

import numpy

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.solution import alkalinity_at, at_ph, equilibrate
from kumpan.core.dosing.acts import AERATE
from kumpan.core.dosing.request import DosePlan
from kumpan.core.guidance.targets import bands_for
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.state import WaterState, carbonate_of, totals_of

_PPM = k.TA_PPM_PER_EQ_L
PH_ROLES = ("raise_ta", "lower_ph", "raise_ph", AERATE)
_CONTOURS = (6.8, 7.0, 7.2, 7.4, 7.6, 7.8, 8.0, 8.2)
_LEAST_SPAN_PPM = 40.0
_WORTH_DRAWING_PPM = 0.7


@dataclass(frozen=True)
class Point:
    """carbonate_ppm: total carbonate; ta_ppm: alkalinity; both as CaCO3."""

    carbonate_ppm: float
    ta_ppm: float


@dataclass(frozen=True)
class Contour:
    """All waters of one pH, everything else as in the water at the end of the plan."""

    ph: float
    points: tuple[Point, ...]


@dataclass(frozen=True)
class Leg:
    """What one step does, from where to where. text: the product and its amount; balances: a step for pH or
    alkalinity.
    """

    key: str
    text: str
    balances: bool
    start: Point
    end: Point


@dataclass(frozen=True)
class Direction:
    """Which way a product takes the water, as a step of 1 in the larger part."""

    text: str
    carbonate: float
    alkalinity: float


@dataclass(frozen=True)
class CarbonMap:
    """Everything the picture draws. note: what to read with care."""

    carbonate_low: float
    carbonate_high: float
    ta_low: float
    ta_high: float
    contours: tuple[Contour, ...]
    target: tuple[Point, ...]
    target_text: str
    start: Point
    start_text: str
    legs: tuple[Leg, ...]
    end: Point
    end_text: str
    directions: tuple[Direction, ...]
    note: str


def carbon_map(plan: DosePlan, traits: PoolTraits) -> CarbonMap | None:
    """The map of a plan that moves pH or alkalinity; None where it does not, or the chemistry cannot be had.

    Waters are those once the plan's chlorine is spent: chlorine's passing rise is not drawn.

    Axes in ppm as CaCO3. Deffeyes (1965).
    """
    end = plan.spent
    before = plan.before
    if not any(s.role in PH_ROLES for s in plan.steps) or not (
        before.has_ph_chemistry and end.has_ph_chemistry
    ):
        return None
    legs = _legs(plan)
    if not legs:
        return None
    start, last = _point(before), _point(end)
    bands = bands_for(traits, end.cya_ppm)
    ta, ph = bands["ta"], bands["ph"]
    assert ta.low and ta.high and ph.low and ph.high
    way = [start, last, *(p for leg in legs for p in (leg.start, leg.end))]
    # As much of the target as lies beside the way: the whole of it would leave the arrows too small to read.
    tas = [p.ta_ppm for p in way]
    beside = tuple(min(max(t, ta.low), ta.high) for t in (min(tas) - 10, max(tas) + 10))
    sides = (ph.low, ph.low, ph.high, ph.high)
    ends = _points(end, (ta.low, ta.high, ta.high, ta.low, *beside, *beside), sides * 2)
    corners, seen = ends[:4], [*way, *ends[4:]]
    x_low, x_high = _span([p.carbonate_ppm for p in seen])
    y_low, y_high = _span([p.ta_ppm for p in seen])
    read = ph_on_map(end, start)
    moved = abs(read - (before.ph or 0.0)) > 0.05
    return CarbonMap(
        carbonate_low=x_low,
        carbonate_high=x_high,
        ta_low=y_low,
        ta_high=y_high,
        contours=_contours(end, x_low, x_high),
        target=corners,
        target_text=f"pH {ph.low:g} to {ph.high:g}, alkalinity {ta.low:g} to {ta.high:g}",
        start=start,
        start_text=f"as tested: pH {before.ph:.1f}, {before.ta_ppm:.0f} ppm",
        legs=legs,
        end=last,
        end_text=f"after it: pH {end.ph:.1f}, {end.ta_ppm:.0f} ppm",
        directions=_directions(plan),
        note=(
            "The lines of equal pH are those of the water at the end: what the plan adds besides (stabilizer,"
            " borax or dilution) has moved them."
            if moved
            else ""
        ),
    )


def ph_on_map(background: WaterState, point: Point) -> float:
    """The pH that this point of the map would have in the background water.

    Axes in ppm as CaCO3; pH by the equilibria.
    """
    totals = totals_of(background)._replace(alk=point.ta_ppm / _PPM, ct=max(0.0, point.carbonate_ppm / _PPM))
    return float(equilibrate(totals, background.ph or 7.5).ph)


def _point(water: WaterState) -> Point:
    return Point(carbonate_of(water) * _PPM, water.ta_ppm or 0.0)


def _points(background: WaterState, tas: tuple[float, ...], phs: tuple[float, ...]) -> tuple[Point, ...]:
    """Where waters of these alkalinities and pHs lie, the rest as in the background."""
    totals = totals_of(background)._replace(alk=numpy.array(tas) / _PPM)
    carbonate = at_ph(totals, numpy.array(phs)).ct * _PPM
    return tuple(Point(float(c), t) for c, t in zip(carbonate, tas, strict=True))


def _contours(background: WaterState, x_low: float, x_high: float) -> tuple[Contour, ...]:
    """Each pH at both ends and the middle of the view: near-straight, so three points draw it."""
    xs = [max(1.0, x_low), max(2.0, (x_low + x_high) / 2), x_high]
    totals = totals_of(background)
    ph = numpy.repeat(numpy.array(_CONTOURS), len(xs))
    ct = numpy.tile(numpy.array(xs) / _PPM, len(_CONTOURS))
    alk = alkalinity_at(totals._replace(ct=ct, alk=totals.alk + 0.0 * ct), ph) * _PPM
    return tuple(
        Contour(value, tuple(Point(x, float(alk[i * len(xs) + j])) for j, x in enumerate(xs)))
        for i, value in enumerate(_CONTOURS)
    )


def _legs(plan: DosePlan) -> tuple[Leg, ...]:
    legs, at = [], _point(plan.before)
    for step in plan.steps:
        if step.spent is None or not step.spent.has_ph_chemistry:
            continue
        there = _point(step.spent)
        if abs(there.ta_ppm - at.ta_ppm) + abs(there.carbonate_ppm - at.carbonate_ppm) >= _WORTH_DRAWING_PPM:
            text = (
                f"{step.amount.text} {PRODUCTS[step.product_id].short}"
                if step.amount and step.product_id
                else "air"
            )
            legs.append(Leg(step.key, text, step.role in PH_ROLES, at, there))
        at = there
    return tuple(legs)


def _directions(plan: DosePlan) -> tuple[Direction, ...]:
    """The way of each product chosen for pH and alkalinity, and of air."""
    directions = []
    for role in ("raise_ta", "raise_ph", "lower_ph"):
        product = PRODUCTS[plan.choices[role].product_id]
        active = product.active
        assert active is not None
        size = max(abs(active.alk), abs(active.carbon))
        directions.append(Direction(product.short, active.carbon / size, active.alk / size))
    return (*directions, Direction("air", -1.0, 0.0))


def _span(values: list[float]) -> tuple[float, float]:
    low, high = min(values), max(values)
    room = max(_LEAST_SPAN_PPM, high - low) * 0.15
    return max(0.0, low - room), high + room
