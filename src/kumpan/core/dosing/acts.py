"""What one visit may do, each act by itself: the product, and how much of it.

Each act is one pour (or air) that goes as far as the reading can tell and its limits let it; the test after
it decides the rest. Only what was read is corrected: what chlorine, stabilizer or air will do to pH later is
tested for, never dosed against.
"""

import math
from dataclasses import dataclass

from kumpan.core.amounts import rounded_down, rounded_near, tool_for
from kumpan.core.chemistry import constants as k
from kumpan.core.dosing.situation import Situation
from kumpan.core.guidance.schools import FC_CAP
from kumpan.core.guidance.targets import swim_limit_ppm
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.products.product import Product
from kumpan.core.units import gal_to_l
from kumpan.core.water.implausible import PH_WORK
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import Change, WaterState, amount_to_ph, apply, value_of

AERATE = "aerate"
# pH in a single addition: moved by at most, and never predicted under (common practice and our own rule).
SINGLE_PH, LEAST_PH = 0.4, 7.2
# Acid goes to here; toward the second before a kill, which works better low; from the third on, with
# alkalinity low, it goes only to the fourth and alkalinity is raised tomorrow (common practice and our own).
ACID_TO_PH, KILL_PH, HIGH_PH, FIRST_TO_PH = 7.6, 7.4, 8.0, 7.8
FAECAL_PH, FAECAL_FC_PPM = 7.5, 2.0  # CDC incident response, from memory
BASE_UNDER_PH = 7.2  # base only under a pH read lower than this (our own)
AERATE_TO_PH = 7.6
# Where a strip or a month-old alkalinity is all there is, half the acid; of base on a strip three quarters.
_HALF, _BASE_SHARE, _TA_OLD_DAYS = 0.5, 0.75, 30.0
# What a correction goes past the near edge of its band where the reading is exact: what a drop test can tell.
_PAST_EDGE = {"ta": 10.0, "ch": 10.0, "cya": 5.0, "ph": 0.2}
# Stabilizer in one go, and where it is less because it takes pH down with it (common practice and our own).
CYA_AT_ONCE_PPM, CYA_LESS_PPM, _CYA_LESS_TA, _CYA_LESS_PH = 30.0, 20.0, 80.0, 7.4
COLD_C = 15.5  # under 60 F stabilizer waits for the full test (our own)
# Less than this under the aim is not worth pouring, ppm (our own: what a drop test can tell).
FC_WORTH_PPM = 0.5
# Acid and carbonate or borax never share a day; nor carbonate and calcium; stabilizer is read after a week
# before more goes in; calcium comes an hour after acid at the earliest (common practice and our own). Hours.
DAY_H, _STABILIZER_H, _CALCIUM_AFTER_ACID_H = 23.5, 7 * 24.0 - 1, 1.0
# Salt to 90 % of the sum, then a test (common practice).
SALT_SHARE = 0.9
# Under this a pool was never salted: then 1,000 ppm is no limit to one session (our own; tap water and
# chlorine leave less).
_NEVER_SALTED_PPM = 1000.0


@dataclass(frozen=True)
class Act:
    """A product for a role and its amount (g or mL), or air until pH reads ``to_ph``.

    wanted: the amount before limits, doubt and rounding. note: a reason for this amount, in words.
    """

    role: str
    product: Product | None = None
    strength: float | None = None
    amount: float = 0.0
    wanted: float = 0.0
    to_ph: float | None = None
    note: str = ""

    def change(self, volume_l: float, amount: float | None = None) -> Change:
        """What it brings to each litre, or what another amount of it would."""
        assert self.product is not None
        return self.product.change_per_unit(volume_l, self.strength) * (
            self.amount if amount is None else amount
        )


class Pour:
    """One role's product in this pool: what a unit of it does, and how much may go in at once."""

    def __init__(self, s: Situation, role: str) -> None:
        self.s, self.role = s, role
        choice = s.supply.choices[role]
        self.product, self.strength = PRODUCTS[choice.product_id], choice.strength
        self.per = self.product.change_per_unit(s.traits.volume_l, choice.strength)

    def rise(self, measure: str) -> float:
        """ppm of a measure that 1 g or mL adds."""
        zero = WaterState(fc_ppm=0, ta_ppm=1000, ch_ppm=0, cya_ppm=0, salt_ppm=0)
        return (value_of(apply(zero, self.per), measure) or 0.0) - (1000 if measure == "ta" else 0)

    @property
    def most(self) -> float:
        """Largest single addition: the product's own, and what the mixed water may move by."""
        most = math.inf
        if self.product.max_single is not None:
            weaker = 1.0 if self.strength is None else self.product.strength / self.strength
            most = self.product.max_single * weaker * self.s.traits.volume_l / gal_to_l(10_000)
        for measure in MEASURES.values():
            if measure.single_move is not None and (rise := self.rise(measure.id)) > 0:
                most = min(most, measure.single_move / rise)
        return most

    def act(self, wanted: float, most: float = math.inf, note: str = "", near: float = 0.0) -> Act | None:
        """The act of ``wanted`` units, no more than ``most``, rounded to the tool; None where that is
        nothing.

        near: up to where it may be rounded up instead of down.
        """
        traits, form = self.s.traits, form_of(self.product)
        amount = min(wanted, most)
        tool = tool_for(amount, form, self.s.request.system, traits.volume_l, self.s.request.own_measures)
        poured = rounded_near(amount, tool, near) if near else rounded_down(amount, tool)
        if poured <= 0:
            return None
        return Act(self.role, self.product, self.strength, poured, wanted, note=note)


def _goal(s: Situation, measure: str) -> float:
    """How far up a correction goes: past the near edge of its band by what its test can tell, at most to its
    aim. To the aim itself where the person set it.
    """
    band = s.bands[measure]
    low = band.low or 0.0
    past = low + max(s.u95(measure), _PAST_EDGE[measure])
    if band.aim is None:
        return past
    return max(low, band.aim) if band.own is not None else min(past, max(low, band.aim))


def acid_or_base(s: Situation) -> Act | None:
    """The one act on pH or alkalinity that this visit may have; None where neither asks for one.

    Common practice for the order of alkalinity and pH; from which pH on acid goes first is our own.
    """
    ph, ta = s.water.ph, s.water.ta_ppm
    if s.held & PH_WORK:
        return None
    return kept_apart(s, _acid_or_base(s, ph, ta))


def kept_apart(s: Situation, act: Act | None) -> Act | None:
    """The act, unless something that went in lately must be kept apart from it.

    Hours by common practice and our own.
    """
    group = act.product.group if act is not None and act.product is not None else ""
    if group == "acid" and s.within(DAY_H, "carbonate", "borate"):
        return None
    if group in ("carbonate", "borate") and s.within(DAY_H, "acid", "calcium"):
        return None
    if group == "calcium" and (
        s.within(DAY_H, "carbonate", "calcium") or s.within(_CALCIUM_AFTER_ACID_H, "acid")
    ):
        return None
    return act


def _acid_or_base(s: Situation, ph: float | None, ta: float | None) -> Act | None:
    """What pH and alkalinity ask for, whatever else went in today."""
    ta_low = s.low("ta") and "raise_ta" not in s.held
    if ph is None:
        return bicarbonate(s) if ta_low else None
    high = s.high("ph")
    if high and ta_low:
        return acid(s, FIRST_TO_PH) if ph >= HIGH_PH - 1e-9 else bicarbonate(s)
    goal = _acid_goal(s, ph, high)
    if goal is not None:
        return acid(s, goal)
    if ta_low:
        return bicarbonate(s)
    if s.low("ph"):
        return _raise_ph(s, ta)
    return None


def _acid_goal(s: Situation, ph: float, high: bool) -> float | None:
    """The pH acid is to reach; None for no acid."""
    if s.growth and ph > ACID_TO_PH:
        return KILL_PH
    if "faecal" in s.seen and ph > FAECAL_PH:
        return FAECAL_PH
    return min(ACID_TO_PH, s.bands["ph"].high or ACID_TO_PH) if high else None


def _raise_ph(s: Situation, ta: float | None) -> Act | None:
    """Base, or air where alkalinity has no room for it."""
    ph = s.water.ph
    top = s.bands["ta"].high
    if ta is not None and top is not None and ta > top:
        return Act(AERATE, to_ph=AERATE_TO_PH)
    if ph is None or ph >= BASE_UNDER_PH - 1e-9 or not s.water.has_ph_chemistry:
        return None
    pour = Pour(s, "raise_ph")
    high = s.bands["ph"].high or 7.8
    goal = _goal(s, "ph")
    most = pour.most
    step = amount_to_ph(s.water, pour.per.spent, min(goal, ph + SINGLE_PH))
    wanted = amount_to_ph(s.water, pour.per.spent, goal) or most
    most = min(most, step or most)
    if not s.doubts.exact:
        most = min(most, s.doubts.most_to_ph(Change(), pour.per.spent, high))
    share = _BASE_SHARE if s.by_strip("ph") or s.by_strip("ta") else 1.0
    weak = " It raises alkalinity more than pH." if pour.product.id == "baking-soda" else ""
    return pour.act(wanted * share, most * share, weak.strip())


def bicarbonate(s: Situation) -> Act | None:
    """Alkalinity to the near edge of its band and what the test can tell, 40 ppm at most.

    Amount in g. The limit: common practice.
    """
    ta, band = s.water.ta_ppm, s.bands["ta"]
    assert ta is not None and band.low is not None
    pour = Pour(s, "raise_ta")
    rise = pour.rise("ta")
    wanted = (_goal(s, "ta") - ta) / rise
    most = pour.most
    if not s.doubts.exact and band.high is not None:
        most = min(most, s.doubts.most_to_level("ta", ta, rise, max(band.high, ta)))
    share = _BASE_SHARE if s.by_strip("ta") else 1.0
    return pour.act(wanted * share, most)


def acid(s: Situation, goal_ph: float) -> Act | None:
    """Acid toward a pH under its caps: by volume, 0.4 pH, never to a pH under 7.2. Half of it where
    alkalinity is known by a strip or is a month old.

    Amount in mL, or g of dry acid. Caps: common practice and our own.
    """
    water, ph = s.water, s.water.ph
    if ph is None or not water.has_ph_chemistry:
        return None
    pour = Pour(s, "lower_ph")
    wanted = amount_to_ph(water, pour.per, goal_ph)
    if wanted is None:
        return None
    most = min(pour.most, amount_to_ph(water, pour.per, max(LEAST_PH, ph - SINGLE_PH)) or pour.most)
    if not s.doubts.exact:
        most = min(most, s.doubts.most_to_ph(Change(), pour.per, LEAST_PH))
    half = s.by_strip("ta") or s.old("ta", _TA_OLD_DAYS)
    note = "Half first: alkalinity is known too roughly for the whole." if half else ""
    return pour.act(wanted, min(most, wanted * _HALF) if half else most, note)


def chlorine(s: Situation) -> Act | None:
    """Chlorine to its aim, to what lasts until the next visit, or to what kills algae; None where the level
    holds or another reading must come first.

    Amount in g or mL. Levels: the school's (``guidance.targets``).
    """
    fc = s.water.fc_ppm
    if fc is None or s.chlorine_in_doubt or s.too_much_chlorine:
        return None
    goal = chlorine_goal_ppm(s)
    under = s.low("fc") or s.under_health_minimum or ("faecal" in s.seen and fc < FAECAL_FC_PPM)
    fed = s.traits.chlorine_source in ("chlorinator", "tablets") and not (s.growth or s.request.hold_days)
    if not under and (fed or goal - fc <= max(FC_WORTH_PPM, s.u95("fc"))):
        return None
    pour = Pour(s, "raise_fc")
    rise = pour.rise("fc")
    if s.growth:
        return pour.act((goal - fc) / rise, near=(goal - fc) / rise * 1.2)
    most, top = (goal - fc) / rise, s.bands["fc"].high
    if not s.doubts.exact and top is not None:
        most = min(most, s.doubts.most_to_level("fc", fc, rise, max(top, goal)))
    limit = max(swim_limit_ppm(s.traits), goal) + MEASURES["fc"].tolerance
    return pour.act(most, near=max(most, (limit - fc) / rise))


def chlorine_goal_ppm(s: Situation) -> float:
    """Free chlorine that this visit steers to.

    ppm as Cl2. Common practice; the swim limit from labels and the code.
    """
    aim = s.bands["fc"].aim or 0.0
    if s.growth:
        return s.shock_ppm
    if s.request.hold_days:
        most = FC_CAP if s.request.closed_pool else swim_limit_ppm(s.traits)
        return min(most, aim + s.demand_ppm * s.request.hold_days)
    return aim


def neutraliser(s: Situation) -> Act | None:
    """Neutraliser for chlorine over its band, down to the band's top: by full oxidation, the least it can
    take.

    In practice more may be needed (4 FC a mole down to 0.5): the re-test tells. By wish only.

    Amount in g. Stoichiometry of full oxidation.
    """
    fc, top = s.water.fc_ppm, s.bands["fc"].high
    if fc is None or top is None or fc <= top or "lower_fc" not in s.request.choices:
        return None
    pour = Pour(s, "lower_fc")
    return pour.act((fc - top) / -pour.per.cl2 / 1000 / k.CL2)


def stabilizer(s: Situation, with_chlorine: Act | None) -> Act | None:
    """Stabilizer to the near edge of its band and what the test can tell; less than 30 ppm in one go, and no
    more than a reading off the end of its tube allows. What chlorine brings of it counts.

    Amount in g. Common practice: it dissolves over days, and only dilution takes it out.
    """
    cya, band = s.water.cya_ppm, s.bands["cya"]
    if cya is None or band.low is None or not s.low("cya") or "raise_cya" in s.held:
        return None
    if s.within(_STABILIZER_H, "stabilizer"):
        return None
    if s.water.temp_c is not None and s.water.temp_c < COLD_C:
        return None
    pour = Pour(s, "raise_cya")
    rise, brought = pour.rise("cya"), 0.0
    if with_chlorine is not None:
        brought = with_chlorine.change(s.traits.volume_l).cya * 1000 * k.CYANURIC
    gap = _goal(s, "cya") - cya - brought
    if gap < max(s.u95("cya"), 1.0):
        return None
    return pour.act(gap / rise, _most_stabilizer(s, cya, brought, rise))


def _most_stabilizer(s: Situation, cya: float, brought: float, rise: float) -> float:
    """Units of stabilizer in one go: 30 ppm, less where it would take pH down too far, and no more than the
    reading allows.
    """
    less = (s.water.ta_ppm or 100.0) < _CYA_LESS_TA or (s.water.ph or 7.5) < _CYA_LESS_PH
    most, top = (CYA_LESS_PPM if less else CYA_AT_ONCE_PPM) / rise, s.bands["cya"].high
    if s.doubts.exact or top is None:
        return most
    floor = _tube_floor(s, cya)
    if floor:
        return min(most, s.doubts.most_from_none(floor, rise, top - brought))
    return min(most, s.doubts.most_to_level("cya", cya + brought, rise, top))


def _tube_floor(s: Situation, cya: float) -> float:
    """The least a stabilizer tube can tell, where a reading lies under it: from none to that, all alike."""
    method = s.request.methods.get("cya")
    worth = METHODS[method].reads.get("cya") if method in METHODS else None
    return worth.scale[0] if worth is not None and worth.scale is not None and cya < worth.scale[0] else 0.0


def salt(s: Situation) -> Act | None:
    """Salt to the cell's aim: 90 % of the sum in one session, the rest on a test after 24 h.

    Amount in g. Common practice.
    """
    value, band = s.water.salt_ppm, s.bands["salt"]
    if value is None or band.aim is None or not s.low("salt") or "raise_salt" in s.held:
        return None
    pour = Pour(s, "raise_salt")
    wanted = (band.aim - value) / pour.rise("salt")
    most = wanted * SALT_SHARE if value < _NEVER_SALTED_PPM else min(wanted * SALT_SHARE, pour.most)
    return pour.act(wanted, most, "Nine tenths of the sum; the rest on tomorrow's test.")


def calcium(s: Situation) -> Act | None:
    """Calcium to the near edge of its band and what the test can tell, 60 ppm at most: only dilution cures
    too much.

    Amount in g. Common practice.
    """
    ch, band = s.water.ch_ppm, s.bands["ch"]
    if ch is None or band.low is None or not s.low("ch") or "raise_ch" in s.held:
        return None
    pour = Pour(s, "raise_ch")
    rise = pour.rise("ch")
    most = pour.most
    if not s.doubts.exact and band.high is not None:
        most = min(most, s.doubts.most_to_level("ch", ch, rise, band.high))
    return kept_apart(s, pour.act((_goal(s, "ch") - ch) / rise, most))
