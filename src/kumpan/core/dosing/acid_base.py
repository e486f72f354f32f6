"""The fastest way to a region of alkalinity and pH: acid, bases and air as vectors over alkalinity and total
carbonate.

Deffeyes (1965), Limnol. Oceanogr. 10, 412: each product moves the water along its own straight line there
(acid down, soda ash up two for one, bicarbonate one for one, borax up, air sideways), so that any target
inside the cone of two vectors is reached by both without overshoot. pH is that of the full equilibria
(``water.state``), not read off the map.
"""

import math
from dataclasses import dataclass, replace
from itertools import combinations

from kumpan.core.chemistry import constants as k
from kumpan.core.water.air import hours_of_air
from kumpan.core.water.state import (
    Change,
    WaterState,
    aerated,
    amount_to_ph,
    apply,
    carbonate_of,
    largest_amount,
)

# Kept from the edges of a region, so that rounding to a tool does not cross them (our own).
PH_MARGIN, TA_MARGIN_PPM = 0.05, 3.0
# A way faster by less than this is not worth one more product (our own).
_NOT_WORTH_MIN = 60.0
# Largest single move of pH (common practice): more takes another portion.
_PH_AT_ONCE = 0.4


@dataclass(frozen=True)
class Region:
    """Where alkalinity (ppm as CaCO3) and pH should end, and the point in it to aim at."""

    ta_low: float
    ta_aim: float
    ta_high: float
    ph_low: float
    ph_aim: float
    ph_high: float

    def holds(self, water: WaterState, slack_ph: float = 1e-3, slack_ta: float = 0.1) -> bool:
        """Whether the water lies in the region, within a slack for the solver's last digits."""
        ph, ta = water.ph, water.ta_ppm
        if ph is None or ta is None:
            return False
        return (
            self.ph_low - slack_ph <= ph <= self.ph_high + slack_ph
            and self.ta_low - slack_ta <= ta <= self.ta_high + slack_ta
        )

    def off(self, water: WaterState) -> float:
        """How far the water is from the aims, in half-widths of the bands."""
        ph, ta = water.ph or 0.0, water.ta_ppm or 0.0
        return math.hypot(
            2 * (ph - self.ph_aim) / (self.ph_high - self.ph_low),
            2 * (ta - self.ta_aim) / (self.ta_high - self.ta_low),
        )


@dataclass(frozen=True)
class Vector:
    """One way to move the water. per_unit: what one unit brings, its chlorine spent; for air one mol/L of CO2
    out.

    at_once: units in one portion at most; mix_min: until something else may follow; again_min: until more of
    the same.
    """

    id: str
    per_unit: Change
    at_once: float = math.inf
    mix_min: float = 30.0
    again_min: float = 60.0

    @property
    def is_air(self) -> bool:
        """Whether this is aeration."""
        return self.per_unit.alk == 0 and self.per_unit.carbon < 0


AIR = Vector("aerate", Change(carbon=-1.0))


@dataclass(frozen=True)
class Way:
    """Amounts per vector id (units; mol/L of CO2 for air), how long they take (0 where it misses the region),
    and the water after them.
    """

    amounts: dict[str, float]
    minutes: float
    water: WaterState


def reach(
    water: WaterState, region: Region, vectors: list[Vector], air_rate_per_h: float = k.AERATION_RATE_PER_H
) -> Way | None:
    """The fastest non-negative combination of at most two vectors that brings the water into the region.

    Two suffice in a plane. Fewer products win over a way that saves less than an hour, a landing nearer the
    aims over one further off. Where none gets there, the one without air that ends nearest; None where
    nothing helps. Needs ``has_ph_chemistry`` and readings that do not conflict.
    """
    if region.holds(water):
        return Way({}, 0.0, water)
    ways = [w for v in vectors for w in _alone(water, region, v, air_rate_per_h)]
    quickest = min((w.minutes for w in ways if region.holds(w.water)), default=math.inf)
    for pair in combinations(vectors, 2):
        if quickest > sum(v.mix_min for v in pair) + _NOT_WORTH_MIN:  # else no pair can beat the one
            ways += _both(water, region, pair, air_rate_per_h)
    there = [w for w in ways if math.isfinite(w.minutes) and region.holds(w.water)]
    return _best(there, region) if there else _nearest(water, ways, region)


def _best(there: list[Way], region: Region) -> Way:
    fastest = min(w.minutes for w in there)
    near = [w for w in there if w.minutes <= fastest + _NOT_WORTH_MIN]
    return min(near, key=lambda w: (len(w.amounts), region.off(w.water), w.minutes))


def _nearest(water: WaterState, ways: list[Way], region: Region) -> Way | None:
    """The one without air that ends nearest to the region, if nearer than now."""
    poured = [w for w in ways if AIR.id not in w.amounts]
    nearest = min(poured, key=lambda w: region.off(w.water), default=None)
    return nearest if nearest and region.off(nearest.water) < region.off(water) else None


def _way(
    water: WaterState, amounts: list[tuple[Vector, float]], region: Region, air_rate_per_h: float
) -> Way:
    """The combination poured one vector after the other; timed only where it ends in the region."""
    waters = [water]
    for vector, amount in amounts:
        waters.append(apply(waters[-1], vector.per_unit * amount))
    told = {v.id: a for v, a in amounts}
    if not region.holds(waters[-1]):
        return Way(told, 0.0, waters[-1])
    minutes = 0.0
    for (vector, amount), was, now in zip(amounts, waters, waters[1:], strict=False):
        if vector.is_air:
            minutes += 60 * hours_of_air(was, now.ph or 0.0, air_rate_per_h)
        else:
            steps = max(amount / vector.at_once, abs((now.ph or 0.0) - (was.ph or 0.0)) / _PH_AT_ONCE)
            minutes += vector.mix_min + (max(1, math.ceil(steps - 1e-6)) - 1) * vector.again_min
    return Way(told, minutes, waters[-1])


def _alone(water: WaterState, region: Region, vector: Vector, air_rate_per_h: float) -> list[Way]:
    """One vector: to the pH aim, to the alkalinity aim, and to the edge of whichever band the water is out
    of.
    """
    found: list[float | None] = []
    ph, ta = water.ph or 0.0, water.ta_ppm or 0.0
    goals_ph = [region.ph_aim]
    if not region.ph_low <= ph <= region.ph_high:
        goals_ph.append(region.ph_low + PH_MARGIN if ph < region.ph_low else region.ph_high - PH_MARGIN)
    for goal in goals_ph:
        found.append(
            _carbon_out(water, goal) if vector.is_air else amount_to_ph(water, vector.per_unit, goal)
        )
    if vector.per_unit.alk:
        per = vector.per_unit.alk * k.TA_PPM_PER_EQ_L
        edges = (
            (region.ta_low + TA_MARGIN_PPM, region.ta_low)
            if per > 0
            else (region.ta_high - TA_MARGIN_PPM, region.ta_high)
        )
        found += [(goal - ta) / per for goal in (region.ta_aim, *edges)]
    most = largest_amount(vector.per_unit)
    return [
        _way(water, [(vector, a)], region, air_rate_per_h)
        for a in dict.fromkeys(found)
        if a is not None and 0 < a < most
    ]


def _carbon_out(water: WaterState, ph: float) -> float:
    """CO2 (mol/L) to lose until pH reads ``ph``, alkalinity unchanged; negative where it would have to gain
    some.
    """
    return carbonate_of(water) - carbonate_of(aerated(water, ph))


def _both(water: WaterState, region: Region, pair: tuple[Vector, Vector], air_rate_per_h: float) -> list[Way]:
    """Two vectors to the pH aim, at the aimed alkalinity or just inside either end of its band."""
    ways = []
    tas = (region.ta_aim, region.ta_low + TA_MARGIN_PPM, region.ta_high - TA_MARGIN_PPM)
    for ta in dict.fromkeys(tas):
        amounts = _meet(water, pair, ta, region.ph_aim)
        if amounts is not None:
            ways.append(_way(water, list(zip(pair, amounts, strict=True)), region, air_rate_per_h))
    return ways


def _meet(
    water: WaterState, pair: tuple[Vector, Vector], ta_ppm: float, ph: float
) -> tuple[float, float] | None:
    """Amounts of both that end at this alkalinity and pH; None unless both are above zero.

    Straight lines meet in one step; borax brings boron, which shifts the pH contours, so the step is taken
    again on the water it leaves.
    """
    a, b = (v.per_unit for v in pair)
    det = a.alk * b.carbon - b.alk * a.carbon
    if abs(det) < 1e-6 * math.hypot(a.alk, a.carbon) * math.hypot(b.alk, b.carbon):  # along one line
        return None
    ct, background = carbonate_of(water), water
    x = y = 0.0
    for _ in range(4 if a.b or b.b else 1):
        rise = (ta_ppm - (water.ta_ppm or 0.0)) / k.TA_PPM_PER_EQ_L
        gain = carbonate_of(replace(background, ta_ppm=ta_ppm, ph=ph)) - ct
        x, y = (rise * b.carbon - b.alk * gain) / det, (a.alk * gain - rise * a.carbon) / det
        if x <= 0 or y <= 0 or ct + a.carbon * x + b.carbon * y <= 0:
            return None
        background = replace(water, borate_ppm=water.borate_ppm + (a.b * x + b.b * y) * 1000 * k.BORON)
    return x, y
