"""Pour a visit's acts one after another: what each row says, the water after it, what its tests should read,
and when people may swim.
"""

import math
from dataclasses import replace
from datetime import timedelta

from kumpan.core.amounts import describe, tool_for
from kumpan.core.dosing.request import Move, Step, Swim
from kumpan.core.dosing.situation import Situation, by_overflow
from kumpan.core.dosing.visit import Placed, Test, full_test, swim_reading_min
from kumpan.core.guidance.swimming import closed_by, swim_limits, swim_status, unfit
from kumpan.core.guidance.targets import swim_limit_ppm
from kumpan.core.phrasing import rows, terms
from kumpan.core.products.catalogue import form_of
from kumpan.core.units import DAY_MIN
from kumpan.core.water.air import aerated_for, surface_rate
from kumpan.core.water.measures import IN_STATE, MEASURE_OF_ROLE, MEASURES
from kumpan.core.water.state import (
    Change,
    WaterState,
    aerated,
    apply,
    carbonate_of,
    chlorine_spent,
    mixed,
    value_of,
)

# Hours of sun in which chlorine halves through a pool's depth: without stabilizer, and with it (chemistry:
# common practice, the middle of 35 to 60 min and of 6 to 10 h). Hours of strong sun in a day: our own.
_HALF_LIFE_BARE_H, _HALF_LIFE_H, _SUN_H = 0.8, 8.0, 8.0
_PH_TOLD = 0.05
# From here on an expected reading counts what air and use do meanwhile, hours (our own).
_LONG_H = 12.0
# The stabilizer test is repeated, thinned, this long before the water goes, minutes (our own).
DRAIN_AFTER_MIN = 60


def _moves(before: WaterState, after: WaterState) -> tuple[Move, ...]:
    moved = []
    for measure in IN_STATE:
        was, now = value_of(before, measure), value_of(after, measure)
        dosed = MEASURES[measure].roles
        if dosed and was is not None and now is not None and abs(now - was) >= MEASURES[measure].shown_from:
            moved.append(Move(measure, was, now))
    return tuple(moved)


def _seen(now: WaterState, spent: WaterState) -> WaterState:
    """What a step is told by: chlorine as it stands, pH and alkalinity as they settle once the added chlorine
    is spent.
    """
    return replace(now, ph=spent.ph, ta_ppm=spent.ta_ppm)


def _aired(now: WaterState, spent: WaterState, to_ph: float) -> tuple[WaterState, WaterState]:
    """Both waters once air has brought the spent one to a pH: they lose the same carbon dioxide."""
    after = aerated(spent, to_ph)
    if not spent.has_ph_chemistry:
        return aerated(now, to_ph), after
    return apply(now, Change(carbon=carbonate_of(after) - carbonate_of(spent))), after


def within_hours(s: Situation, placed: list[Placed]) -> tuple[WaterState, WaterState]:
    """The water a few hours after the acts, now and once its chlorine is spent: stabilizer, which dissolves
    over days, not yet in it; air's work not yet done.

    Closed water but for what was added.
    """
    now = spent = s.water
    for p in placed:
        if p.act.product is not None and p.act.role != "raise_cya":
            change = p.act.change(s.traits.volume_l)
            now, spent = apply(now, change), apply(spent, change.spent)
    return now, spent


def pour(s: Situation, placed: list[Placed]) -> tuple[list[Step], WaterState, WaterState]:
    """Pour the placed acts one after another and describe each; the water after all, now and once its
    chlorine is spent.
    """
    steps: list[Step] = []
    volume_l = s.traits.volume_l
    now = spent = s.water
    for index, p in enumerate(placed):
        act, was = p.act, _seen(now, spent)
        if act.product is None:
            to_ph = act.to_ph or 0.0
            now, spent = _aired(now, spent, to_ph)
            moves = _moves(was, _seen(now, spent))
            steps.append(rows.aerate_step(index, p.start_min, to_ph, moves, DAY_MIN))
        else:
            change = act.change(volume_l)
            now, spent = apply(now, change), apply(spent, change.spent)
            form = form_of(act.product)
            tool = tool_for(act.amount, form, s.request.system, volume_l, s.request.own_measures)
            amount = describe(act.amount, tool, form, act.wanted)
            step = rows.add_step(act, p.start_min, amount, _moves(was, _seen(now, spent)), s)
            if act.role != "lower_fc":  # why: the target that it steers to
                step = replace(step, reason_id=s.bands[MEASURE_OF_ROLE[act.role]].reason_id)
            steps.append(step)
        steps[-1] = replace(steps[-1], water=now, spent=spent)
    return steps, now, spent


def test_steps(tests: list[Test], placed: list[Placed], steps: list[Step], s: Situation) -> list[Step]:
    """The rows of the tests, each with what to expect by then."""
    listed, rate = [], surface_rate(s.water, s.request.ph_rise_a_day)
    for number, test in enumerate(tests):
        before = [i for i, p in enumerate(placed) if p.start_min <= test.at_min]
        since_h = (test.at_min - max((placed[i].start_min for i in before), default=0)) / 60
        now, spent = within_hours(s, [placed[i] for i in before])
        if before and since_h >= _LONG_H:
            now, spent = steps[before[-1]].water or now, steps[before[-1]].spent or spent
        then = expected(now, spent, since_h, s.demand_ppm, rate)
        listed.append(rows.retest_step(number, test.at_min, test.measures, then))
    return listed


def expected(
    now: WaterState, spent: WaterState, hours: float, demand_ppm: float, rate_per_h: float
) -> dict[str, tuple[float, float]]:
    """What each measure should read so many hours after the last pour, from and to.

    For hours: pH lies between that of the water now and that once its chlorine is spent. From half a day on
    carbon dioxide leaves toward the air (``surface_rate``) and chlorine is used up by the daily demand.

    Canonical units; demand in ppm as Cl2 a day; rate of gas exchange in 1/h.
    """
    late = now
    if hours >= _LONG_H:
        used = min(now.fc_ppm or 0.0, demand_ppm * hours / 24)
        late = chlorine_spent(now, used) if used else now
        if late.has_ph_chemistry:
            late = aerated_for(late, hours, rate_per_h)
    moved = {}
    for measure in IN_STATE:
        value = value_of(late, measure)
        if value is not None:
            moved[measure] = (value, value)
    if hours < _LONG_H and now.ph is not None and spent.ph is not None:
        moved["ph"] = (min(spent.ph, now.ph), max(spent.ph, now.ph))
    return moved


def drain(s: Situation) -> tuple[list[Step], WaterState]:
    """The rows of an exchange of water: stabilizer read again thinned where it asks for it, the share, the
    full test of the new water. And the water after it.

    Mass balance. Shares: ``situation.drain_limit``.
    """
    again = (s.water.cya_ppm or 0.0) > 90 and s.request.methods.get("cya", "") != ""
    doubt = f"A tube cannot tell {s.water.cya_ppm or 0.0:.0f}: read it again before water is let go for it."
    listed = [rows.thinned_step("cya", doubt)] if again else []
    start = DRAIN_AFTER_MIN if again else 0
    share, fill = s.drain_share, s.traits.fill
    # What tap water carries next to none of counts as none; pH, alkalinity and calcium untested stay unknown.
    temp_c = s.water.temp_c if fill.temp_c is None else fill.temp_c
    cya, salt = fill.cya_ppm or 0.0, fill.salt_ppm or 0.0
    tap = replace(fill, fc_ppm=0.0, cc_ppm=0.0, cya_ppm=cya, salt_ppm=salt, temp_c=temp_c)
    after = tap if share >= 1 else mixed(s.water, tap, share)
    step = rows.dilute_step(start, share, _moves(s.water, after), s, by_overflow(s))
    listed.append(replace(step, water=after, spent=after))
    then = expected(after, after, 24.0, s.demand_ppm, surface_rate(after, s.request.ph_rise_a_day))
    listed.append(rows.retest_step(len(listed), start + step.wait_min, full_test(s), then))
    return listed, after


def wait_step(s: Situation) -> Step:
    """The row for chlorine too high to add to or swim in: how long sun takes, and the other way.

    Half-lives in sun: common practice, the middle of what is named.
    """
    fc, to = s.water.fc_ppm or 0.0, swim_limit_ppm(s.traits)
    half_life = _HALF_LIFE_H if (s.water.cya_ppm or 0.0) >= 20 else _HALF_LIFE_BARE_H
    sun_h = half_life * math.log2(fc / to)
    return rows.wait_step(fc, to, sun_h, math.ceil(sun_h / _SUN_H) * DAY_MIN, s.traits)


def swim(s: Situation, placed: list[Placed]) -> Swim:
    """Swim status now, and the reading after this visit's acts that may change it.

    Never opened by the plan while something seen or algae close the pool, while water is exchanged, or where
    the water foretold is outside the limits itself; nor by total chlorine alone.

    Minutes from now. Waits: common practice; limits: CDC Model Aquatic Health Code, from memory, and
    labels.
    """
    seen = s.seen
    # Total chlorine alone never opens swimming.
    status = swim_status(replace(s.water, fc_ppm=None) if s.only_total else s.water, s.traits, seen)
    if s.growth:
        reasons = tuple(closed_by(seen))
        return Swim(False, None, f"No swimming: {' and '.join(reasons)}.", reasons)
    if s.drain_share:
        text = "No swimming until it is full again and read."
        return Swim(False, None, text, (*status.reasons, "water is being exchanged"))
    pours = [p for p in placed if p.act.product is not None and p.act.role != "raise_cya"]
    if seen or s.only_total or s.water.ph is None or not pours:
        return status
    return _after_acts(s, placed, status)


def _after_acts(s: Situation, placed: list[Placed], status: Swim) -> Swim:
    """Swim status once this visit's acts have mixed: the reading that may open, if what is foretold may read
    right.
    """
    # Stabilizer that goes in now counts by then, though it dissolves over days.
    cya = None if any(p.act.role == "raise_cya" for p in placed) else s.water.cya_ppm
    least, most = swim_limits(s.traits, cya)
    now, spent = within_hours(s, placed)
    if not any(_opens(w, s) for w in (now, replace(now, ph=spent.ph))):
        reasons = tuple(unfit(now, s.traits)) or status.reasons
        return Swim(False, None, f"No swimming: {' and '.join(reasons)}.", reasons)
    opens = swim_reading_min(s, placed)
    clock = terms.clock(s.request.now, s.request.now + timedelta(minutes=opens))
    reasons = status.reasons or ("additions are mixing",)
    return Swim(False, opens, terms.swim_from(clock, least, most), reasons, least, most)


def _opens(water: WaterState, s: Situation) -> bool:
    """Whether the water foretold may read right: within half a tenth of pH, which no test tells apart."""
    if water.fc_ppm is None or water.ph is None:
        return False
    return any(not unfit(replace(water, ph=water.ph + off), s.traits) for off in (0.0, _PH_TOLD, -_PH_TOLD))
