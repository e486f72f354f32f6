"""The saturation index as a target: whether it is off, and the least change that helps."""

import math
from dataclasses import dataclass, replace

from kumpan.core.dosing.acts import AERATE, AERATE_TO_PH, Act, Pour, acid, kept_apart
from kumpan.core.dosing.findings import saturation_of
from kumpan.core.dosing.situation import Situation
from kumpan.core.dosing.uncertainty import sure_margin
from kumpan.core.guidance.targets import INDEX_HIGH, INDEX_HIGH_PUBLIC, INDEX_LOW
from kumpan.core.water.implausible import PH_WORK
from kumpan.core.water.state import (
    WaterState,
    aerated,
    amount_to_ph,
    apply,
    value_of,
    with_measures,
)

# The pH that acid may steer to against scale, the highest first: inside the ideal 7.4 to 7.6 where that does.
_PH_STEPS = (7.7, 7.6, 7.5, 7.4)
# Calcium is raised against soft water to here at most: the top of what plaster is aimed at (common practice).
_CH_MOST_PPM = 300.0
# Soft water is lifted past the edge of the band by this much, as amounts are rounded down (our own).
_PAST_LOW = 0.05
# What evaporates in a warm month outdoors and is topped up, as a share of the water: a quarter of an inch a
# day off 1.4 m (common practice). Water under so many degrees is not topped up to speak of (our own).
_TOPPED_A_MONTH, _TOPPED_FROM_C = 0.13, 18.0
# What each may move by between the ends that people use: by their share of it changes are compared (our own).
_SPAN = {"ph": 0.6, "ta": 60.0, "ch": 200.0}


def indices_of(s: Situation, water: WaterState | None = None) -> list[float]:
    """The saturation index of the water as tested (or of another), at its temperature and at the coming
    season's where that is known; empty where a reading it needs is missing.

    Plummer & Busenberg (1982), through ``findings.saturation_of``.
    """
    water = s.water if water is None else water
    season = s.request.season_temp_c
    indices = [saturation_of(water), None if season is None else saturation_of(replace(water, temp_c=season))]
    return [sum(one.index) / 2 for one in indices if one is not None]


def off_index(s: Situation) -> float:
    """By how much the index lies over (positive) or under its band where it is a target, as far as the
    readings can tell; 0 where it does not or cannot be had.

    It waits while salt is being made up, and while calcium is under its band: that comes first. Where no
    water is right for both seasons, today's counts.

    Band: -0.3 to +0.3 by common practice, public to +0.5 by ANSI/APSP/ICC-11 2019, from memory.
    """
    indices = indices_of(s) if s.traits.minds_index and not s.low("salt") and not s.low("ch") else []
    if not indices:
        return 0.0
    ta, ch = s.water.ta_ppm or 1.0, s.water.ch_ppm or 1.0
    # The index follows pH one for one, and the logarithm of alkalinity and calcium (its definition).
    u95 = math.hypot(s.u95("ph"), s.u95("ta") / ta / math.log(10), s.u95("ch") / ch / math.log(10))
    slack = max(0.02, sure_margin(u95))
    if max(indices) > _high(s) + slack and min(indices) < INDEX_LOW - slack:
        indices = indices[:1]
    if max(indices) > _high(s) + slack:
        return max(indices) - _high(s)
    return min(indices) - INDEX_LOW if min(indices) < INDEX_LOW - slack else 0.0


def _high(s: Situation) -> float:
    return INDEX_HIGH_PUBLIC if s.traits.school == "public_code" else INDEX_HIGH


def index_act(s: Situation) -> Act | None:
    """The least change that brings the saturation index back toward its band, where surface, heater or cell
    make it a target: acid where it scales; alkalinity, calcium or air where it dissolves.

    Amounts g or mL. Common practice; the order is our own.
    """
    off = off_index(s)
    if off == 0.0 or s.held & PH_WORK:
        return None
    if off > 0:
        goal = _acid_goal(s)
        measurable = (s.water.ph or 0.0) - goal > max(s.u95("ph"), 0.05)
        return kept_apart(s, acid(s, goal)) if measurable else None
    return kept_apart(s, _against_soft_water(s, off))


def _acid_goal(s: Situation) -> float:
    """The highest pH, of those acid may steer to, at which the index is back in its band; the lowest where
    none is. The acid's own effect on alkalinity is counted.
    """
    pour = Pour(s, "lower_ph")
    for goal in _PH_STEPS:
        amount = amount_to_ph(s.water, pour.per, goal) if goal < (s.water.ph or 0.0) else None
        if amount is None:
            continue
        indices = indices_of(s, replace(apply(s.water, pour.per * amount), ph=goal))
        if indices and max(indices) <= _high(s):
            return goal
    return _PH_STEPS[-1]


@dataclass(frozen=True)
class _Means:
    """One way up: the act, and the share of its measure's usual span it moves."""

    act: Act
    share: float


def _against_soft_water(s: Situation, off: float) -> Act | None:
    """The least change of pH by air, of alkalinity or of calcium that lifts the index to its band, of those
    that can the one alone, what a month's topping up brings counted; no base with pH in band.
    """

    def lifted(water: WaterState) -> bool:
        return min(indices_of(s, _a_month_on(s, water)), default=0.0) >= INDEX_LOW - 0.01

    ways = [*_air(s), *_ways_up(s, off)]
    if not ways or lifted(s.water):
        return None
    enough = [way for way in ways if lifted(_after(s, way.act))]
    return min(enough or ways, key=lambda way: way.share).act


def _air(s: Situation) -> list[_Means]:
    """Air, to the pH at which aeration stops, where pH reads clearly under that: it brings nothing in."""
    ph, goal = s.water.ph, AERATE_TO_PH
    if ph is None or goal - ph <= max(s.u95("ph"), 0.1):
        return []
    return [_Means(Act(AERATE, to_ph=goal), (goal - ph) / _SPAN["ph"])]


def _ways_up(s: Situation, off: float) -> list[_Means]:
    """Alkalinity and calcium, each as far as the index asks by its definition and its own limits let it."""
    ways: list[_Means] = []
    for measure, value, top, measurable in (
        ("ta", s.water.ta_ppm, s.bands["ta"].aim, 5.0),
        ("ch", s.water.ch_ppm, _calcium_top(s), 10.0),
    ):
        if value is None or top is None:
            continue
        gap = min(top, value * 10 ** min(1.0, _PAST_LOW - off)) - value - topping_brings(s, measure)
        if gap > max(s.u95(measure), measurable):
            pour = Pour(s, f"raise_{measure}")
            act = pour.act(gap / pour.rise(measure), pour.most)
            ways += [_Means(act, gap / _SPAN[measure])] if act is not None else []
    return ways


def topping_brings(s: Situation, measure: str) -> float:
    """How much of a measure (ppm) a month's topping up with the fill water brings: what evaporates leaves it
    behind. 0 where the fill was not tested for it, indoors, and in cold water.

    Mass balance; the share is common practice.
    """
    fill, temp = value_of(s.traits.fill, measure), s.water.temp_c
    if fill is None or s.traits.sun == "indoor" or (temp or 0.0) < _TOPPED_FROM_C:
        return 0.0
    return _TOPPED_A_MONTH * fill


def _a_month_on(s: Situation, water: WaterState) -> WaterState:
    """The water once a month's evaporation was topped up, its pH as it is."""
    risen = {
        m: value + topping_brings(s, m) for m in ("ta", "ch") if (value := value_of(water, m)) is not None
    }
    return with_measures(water, risen)


def _calcium_top(s: Situation) -> float | None:
    """To where calcium may be raised for the index; None where the fill water brings as much by itself."""
    top = min(s.bands["ch"].high or _CH_MOST_PPM, _CH_MOST_PPM)
    return None if (s.traits.fill.ch_ppm or 0.0) >= top else top


def _after(s: Situation, act: Act) -> WaterState:
    """The water an act leaves."""
    if act.product is None:
        return aerated(s.water, act.to_ph or AERATE_TO_PH)
    return apply(s.water, act.change(s.traits.volume_l).spent)
