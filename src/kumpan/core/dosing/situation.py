"""What a plan is decided on: the request, judged once."""

import math
from dataclasses import replace
from functools import cached_property

from kumpan.core.dosing.findings import (
    diagnose,
    dilution_goal,
    dilution_share,
    is_high,
    is_low,
    must_dilute,
    saturation_of,
)
from kumpan.core.dosing.request import PlanRequest
from kumpan.core.dosing.supply import Supply, supply_for
from kumpan.core.dosing.uncertainty import Doubts
from kumpan.core.guidance.conditions import stops_work, tells_of_growth
from kumpan.core.guidance.schools import CYA_FLOOR_PPM, DAILY_DEMAND_PPM, FC_CAP
from kumpan.core.guidance.targets import INDEX_HIGH, Band, bands_of, health_minimum_ppm, shock_level_ppm
from kumpan.core.pool.traits import SMALL_L
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.implausible import PH_WORK, doubtful_readings
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import value_of
from kumpan.core.water.untested import allowing_for

# A stabilizer reading that may be off by more than this says nothing of the chlorine it asks for: the aim is
# then that of 30 ppm (our own; a strip is off by 25).
_CYA_COARSE_PPM = 20.0
# Above this much stabilizer no shock level is held: dilute first (common practice; 0.3 ppm HOCl asks for 30).
MOST_SHOCK_PPM = 30.0
# Less than this is not worth a visit of calcium (our own).
_CALCIUM_WISH_PPM = 10.0
_NONE_PPM = 0.05  # chlorine that reads none: what the finest test can show
STRIP = "strip"


class Situation:
    """The water, the pool and the person, as the decisions of a plan ask for them."""

    def __init__(self, request: PlanRequest) -> None:
        self.only_total = request.water.fc_ppm is None and request.tc_ppm is not None
        if self.only_total:
            # Total chlorine only: sized as if it were free (our own); it never opens swimming.
            u95 = request.u95 | {"fc": request.u95.get("tc", 0.0)}
            request = replace(request, water=replace(request.water, fc_ppm=request.tc_ppm), u95=u95)
        self.request = request = replace(request, water=allowing_for(request.water))
        self.water, self.traits, self.seen = request.water, request.traits, request.seen
        scaled = self.water
        if request.u95.get("cya", 0.0) > _CYA_COARSE_PPM and (scaled.cya_ppm or 0.0) <= 90:
            scaled = replace(scaled, cya_ppm=CYA_FLOOR_PPM)
        self.bands: dict[str, Band] = {**bands_of(self.traits, scaled)}
        self.findings = diagnose(self.water, self.traits, request.u95, request.methods)
        self.conflict = conflict_of(self.water) if self.water.has_ph_chemistry else None
        self.doubtful = doubtful_readings(self.water, request.read, request.expected)
        held = frozenset().union(*(d.holds_back for d in self.doubtful), PH_WORK if self.conflict else ())
        self.growth = tells_of_growth(request.seen)
        self.stopped = stops_work(request.seen)
        self.held = held | ({"raise_cya"} if self.growth else frozenset())
        self.technician = request.stay_min is not None
        self.calcium_wish_ppm = _calcium_wish_ppm(self)
        if request.raise_calcium and self.calcium_wish_ppm is not None:
            self.bands["ch"] = replace(self.bands["ch"], low=self.calcium_wish_ppm)

    @cached_property
    def supply(self) -> Supply:
        """The product for each role."""
        low = frozenset(m for m in ("cya", "ch") if self.low(m) and f"raise_{m}" not in self.held)
        return supply_for(self.traits, self.water, self.request.choices, self.request.at_hand, low)

    @cached_property
    def doubts(self) -> Doubts:
        """The waters these readings may stand for."""
        return Doubts(self.water, self.request.u95, self.traits.volume_95, self.request.strength_95)

    def u95(self, measure: str) -> float:
        """95 % error of a reading in its canonical unit; 0 where it is exact."""
        return self.request.u95.get(measure, 0.0)

    def value(self, measure: str) -> float | None:
        """What the water holds of a measure."""
        return value_of(self.water, measure)

    def low(self, measure: str) -> bool:
        """Whether a measure is under its band, as far as its reading can tell."""
        value = self.value(measure)
        return value is not None and is_low(value, self.bands[measure], self.u95(measure))

    def high(self, measure: str) -> bool:
        """Whether a measure is over its band, as far as its reading can tell."""
        value = self.value(measure)
        return value is not None and is_high(value, self.bands[measure], self.u95(measure))

    def within(self, hours: float, *groups: str) -> bool:
        """Whether a product of any of these groups went in less than so many hours ago."""
        return any(self.request.poured_h.get(group, math.inf) < hours for group in groups)

    def by_strip(self, measure: str) -> bool:
        """Whether a measure was read by a strip."""
        return self.request.methods.get(measure) == STRIP

    def old(self, measure: str, days: float) -> bool:
        """Whether a measure stands in from the log for longer than this."""
        return self.request.age_days.get(measure, 0.0) > days

    @property
    def under_health_minimum(self) -> bool:
        """Whether chlorine reads less than people may swim in."""
        fc = self.water.fc_ppm
        return fc is not None and fc < health_minimum_ppm(self.water.cya_ppm) - MEASURES["fc"].tolerance

    @property
    def too_much_chlorine(self) -> bool:
        """Whether chlorine is so high that nothing is poured and nothing else is read (over 10, no run)."""
        return (self.water.fc_ppm or 0.0) > FC_CAP and not self.growth

    @property
    def demand_ppm(self) -> float:
        """Free chlorine an ordinary day uses, ppm: by this pool's log at its aim, 2 until that tells (common
        practice); 0.2 to 6, beyond which something else is wrong (our own).
        """
        fit = self.request.fit
        if fit is None or not fit.enough:
            return DAILY_DEMAND_PPM
        return min(6.0, max(0.2, fit.demand(self.bands["fc"].aim).ppm_day))

    @property
    def demand_told(self) -> bool:
        """Whether that is this pool's own."""
        return self.request.fit is not None and self.request.fit.enough

    @property
    def chlorine_in_doubt(self) -> bool:
        """Whether chlorine reads none where something feeds it: a bleached dye reads so too (common
        practice).
        """
        fc, method = self.water.fc_ppm, self.request.methods.get("fc", "")
        if fc is None or fc > _NONE_PPM or self.growth or self.traits.chlorine_source == "unknown":
            return False
        return method in METHODS and (METHODS[method].flashes or method == STRIP)

    @property
    def shock_ppm(self) -> float:
        """The level of free chlorine that kills what grows here; combined chlorine asks for a raise."""
        fc, cc = self.water.fc_ppm or 0.0, self.water.cc_ppm or 0.0
        raised = fc + min(20.0, 10 * cc) if cc >= 0.5 else 0.0
        return max(raised, shock_level_ppm(self.traits, self.water.cya_ppm, cc, self.water.temp_c))

    @cached_property
    def drain_share(self) -> float:
        """Share of the water to replace now, before all else; 0 for none. As much as is off, within what may
        go at once (``drain_limit``).
        """
        if self.request.drain_later or self.stopped:
            return 0.0
        wanted = max(
            (self.share_to(m.id) for m in MEASURES.values() if m.dilutes and self.must_dilute(m.id)),
            default=0.0,
        )
        if self.growth and self.shock_ppm > MOST_SHOCK_PPM:
            wanted = max(wanted, 1 - MOST_SHOCK_PPM / self.shock_ppm)
        if self.traits.is_small_soft and wanted:
            return 1.0  # emptied and filled anew (our own)
        return min(wanted, drain_limit(self)) if wanted > 0 else 0.0

    def must_dilute(self, measure: str) -> bool:
        """Whether a measure is so high that water is to go this week, as far as its reading can tell."""
        value = self.value(measure)
        return value is not None and must_dilute(value, self.bands[measure], self.u95(measure))

    def share_to(self, measure: str) -> float:
        """Share of the water to replace so that a measure falls to the top of its band; 0 where it need not
        or the fill water cannot.
        """
        value, band = self.value(measure), self.bands[measure]
        fill = value_of(self.traits.fill, measure) or 0.0
        goal = dilution_goal(band, fill)
        if value is None or goal is None or value <= goal:
            return 0.0
        return dilution_share(value, goal, fill)


# Shares of the water that may go in one go (common practice and our own): a shell floats, a liner wrinkles.
_THIRD, _HALF = 1 / 3, 0.5


def _calcium_wish_ppm(s: Situation) -> float | None:
    """What calcium (ppm) may be raised to by wish: the aim inside its band, where its test can tell the two
    apart and the index stays in its band. None where it is not to be had.
    """
    ch, aim = s.value("ch"), s.bands["ch"].aim
    if not ch or aim is None or s.low("ch") or "raise_ch" in s.held:
        return None
    index = saturation_of(s.water)
    after = -math.inf if index is None else max(index.index) + math.log10(aim / ch)
    distinct = aim - ch > max(s.u95("ch"), _CALCIUM_WISH_PPM)
    return aim if distinct and after <= INDEX_HIGH else None


def drain_limit(s: Situation) -> float:
    """Share of the water that may go in one go: a third, half of a plaster or tiled pool whose ground water
    is known to stand low; a small soft-sided pool may be emptied.

    Common practice and our own.
    """
    if s.traits.is_small_soft:
        return 1.0
    return _HALF if s.traits.surface in ("plaster", "tile") and s.traits.low_ground_water else _THIRD


def by_overflow(s: Situation) -> bool:
    """Whether water is exchanged through a full pool, the level never falling: where the ground water, or how
    deep a liner's water may fall, is not known.

    Our own.
    """
    return not s.traits.is_small_soft and not s.traits.low_ground_water


def is_small(s: Situation) -> bool:
    """Whether waits are longer for its size (common practice).

    Under 5,000 gal: our own.
    """
    return s.traits.volume_l < SMALL_L
