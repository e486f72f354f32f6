"""Pour the placed additions one after another: what each row says, the water after it, re-tests, waits, and
when people may swim.
"""

import math
from dataclasses import replace
from datetime import timedelta

from kumpan.core.amounts import describe, tool_for
from kumpan.core.dosing.request import Finding, Move, PlanRequest, Step, Swim
from kumpan.core.dosing.schedule import AERATE_MIN, DAY_MIN, Portion, Stay
from kumpan.core.guidance.swimming import swim_status
from kumpan.core.guidance.targets import bands_for, chlorine_band, swim_limits
from kumpan.core.phrasing import rows, terms
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.catalogue import form_of
from kumpan.core.water.measures import IN_STATE, MEASURE_OF_ROLE, MEASURES
from kumpan.core.water.state import (
    Change,
    WaterState,
    aerated,
    apply,
    carbonate_of,
    mixed,
    value_of,
    with_measures,
)

# Air takes pH to the top of its band at most; what additions still to come ask for beyond that waits until
# they are in.
_MOST_AERATED_PH = 7.8
# Hours of sun in which chlorine halves through a pool's depth: without stabilizer, and with it (chemistry:
# common practice, the middle of 35 to 60 min and of 6 to 10 h). Hours of strong sun in a day: our own.
_HALF_LIFE_BARE_H, _HALF_LIFE_H, _SUN_H = 0.8, 8.0, 8.0


def _moves(before: WaterState, after: WaterState) -> tuple[Move, ...]:
    found = []
    for measure in IN_STATE:
        a, b = value_of(before, measure), value_of(after, measure)
        dosed = MEASURES[measure].roles
        if dosed and a is not None and b is not None and abs(b - a) >= MEASURES[measure].shown_from:
            found.append(Move(measure, a, b))
    return tuple(found)


def _seen(now: WaterState, spent: WaterState) -> WaterState:
    """What a step is told by: chlorine as it stands, pH and alkalinity as they settle once the added chlorine
    is spent.
    """
    return replace(now, ph=spent.ph, ta_ppm=spent.ta_ppm)


def pour(
    water: WaterState, placed: list[Portion], request: PlanRequest, stay: Stay
) -> tuple[list[Step], WaterState, WaterState]:
    """Pour the placed portions one after another and describe each; the water after all, now and once its
    chlorine is spent.
    """
    steps: list[Step] = []
    volume_l = request.traits.volume_l
    now = spent = water
    later_carbon = 0.0
    for index, portion in enumerate(placed):
        need = portion.need
        was = _seen(now, spent)
        if need.product is None:
            aired = aerated(spent, need.to_ph or _MOST_AERATED_PH)
            if need.to_ph is None:
                less = apply(spent, Change(carbon=need.carbon))
                if less.ph is not None and less.ph <= _MOST_AERATED_PH:
                    aired = less
                else:
                    later_carbon = need.carbon - (carbonate_of(aired) - carbonate_of(spent))
            now, spent = apply(now, Change(carbon=carbonate_of(aired) - carbonate_of(spent))), aired
            seen = _seen(now, spent)
            steps.append(rows.aerate_step(index, portion.start_min, seen, _moves(was, seen), AERATE_MIN))
        else:
            change = need.change(portion.amount, volume_l)
            now, spent = apply(now, change), apply(spent, change.spent)
            form = form_of(need.product)
            tool = tool_for(portion.amount, form, request.system, volume_l)
            amount = describe(portion.amount, tool, form, need.amount if portion.part == (1, 1) else None)
            moves = _moves(was, _seen(now, spent))
            step = rows.add_step(index, portion.start_min, need, portion.part, amount, moves)
            if need.role not in ("lower_ta", "lower_fc"):  # why: the target that it steers to
                step = replace(
                    step,
                    reason_id=bands_for(request.traits, spent.cya_ppm)[MEASURE_OF_ROLE[need.role]].reason_id,
                )
            steps.append(step)
        steps[-1] = replace(steps[-1], water=now, spent=spent)
    if later_carbon:  # more air than pH could take at once: the rest when all else is in
        was = _seen(now, spent)
        air = Change(carbon=later_carbon)
        now, spent = apply(now, air), apply(spent, air)
        start = stay.awake(max(s.start_min + s.wait_min for s in steps))
        seen = _seen(now, spent)
        step = rows.aerate_step(len(steps), start, seen, _moves(was, seen), AERATE_MIN)
        steps.append(replace(step, water=now, spent=spent))
    return steps, now, spent


def dilution_step(
    steps: list[Step],
    now: WaterState,
    spent: WaterState,
    share: float,
    findings: tuple[Finding, ...],
    request: PlanRequest,
    stay: Stay,
) -> tuple[Step, WaterState, WaterState]:
    """The row for replacing water by fill water, and the water after it."""
    start = stay.awake(max((s.start_min + s.wait_min for s in steps), default=0))
    fill = request.traits.fill
    # What tap water carries next to none of counts as none; pH, alkalinity and calcium untested stay unknown.
    temp_c = now.temp_c if fill.temp_c is None else fill.temp_c
    tap = replace(
        fill,
        fc_ppm=0.0,
        cc_ppm=0.0,
        cya_ppm=fill.cya_ppm or 0.0,
        salt_ppm=fill.salt_ppm or 0.0,
        temp_c=temp_c,
    )
    after, after_spent = mixed(now, tap, share), mixed(spent, tap, share)
    moves = _moves(_seen(now, spent), after)
    step = rows.dilute_step(len(steps), start, share, moves, findings, request)
    return replace(step, water=after, spent=after_spent), after, after_spent


def wait_step(fc_ppm: float, water: WaterState, traits: PoolTraits) -> Step:
    """The row for chlorine too high to add to or swim in: how long sun takes, and the other way."""
    to = swim_limits(traits, water.cya_ppm)[1]
    half_life = _HALF_LIFE_H if (water.cya_ppm or 0.0) >= 20 else _HALF_LIFE_BARE_H
    sun_h = half_life * math.log2(fc_ppm / to)
    return rows.wait_step(fc_ppm, to, sun_h, math.ceil(sun_h / _SUN_H) * DAY_MIN, traits)


def with_retests(steps: list[Step], placed: list[Portion], rests: dict[str, str], stay: Stay) -> list[Step]:
    """Add re-test rows: pH between acid or base portions, every moved measure once its wait is over."""
    due: dict[int, list[str]] = {}
    for index, portion in enumerate(placed):
        product, role = portion.need.product, portion.need.role
        measure = MEASURE_OF_ROLE.get(role)
        if product is None or measure is None:
            continue
        if role == "lower_ta" and index + 1 < len(placed):  # the air row after it re-tests pH
            continue
        last = not any(t.need.role == role for t in placed[index + 1 :])
        if last or (measure == "ph" and product.again_min > product.retest_min):
            at = stay.awake(portion.start_min + product.retest_min)
            due.setdefault(at, []).append(measure)
    for step in steps:
        if step.kind == "wait":
            due.setdefault(stay.awake(step.start_min + step.wait_min), []).extend(["fc", "ph", "ta"])
        if step.kind == "aerate":
            due.setdefault(stay.awake(step.start_min + step.wait_min), []).append("ph")
        if step.kind == "dilute":
            due.setdefault(stay.awake(step.start_min + step.wait_min), []).extend(
                [m.id for m in MEASURES.values() if m.roles]
            )
    merged: list[tuple[int, list[str]]] = []
    starts = [s.start_min for s in steps]
    for at in sorted(due):
        between = merged and any(merged[-1][0] <= s < at for s in starts)
        if merged and not between and at - merged[-1][0] <= 60:
            merged[-1] = (at, [*merged[-1][1], *due[at]])
        else:
            merged.append((at, due[at]))
    listed = list(steps)
    for number, (at, measures) in enumerate(merged):
        # Fresh water takes a day or more: what is read before it is through is the water without it.
        poured = [
            s for s in steps if s.start_min < at and (s.kind != "dilute" or s.start_min + s.wait_min <= at)
        ]
        known = {m.measure: (m.after, m.after) for s in poured for m in s.moves}
        newest = max(poured, key=lambda s: s.start_min) if poured else None
        if "ph" in known and newest and newest.water and newest.spent and newest.water.ph and newest.spent.ph:
            known["ph"] = (newest.spent.ph, newest.water.ph)  # lower as its chlorine is spent
        asked = [
            m
            for m in dict.fromkeys(measures)
            if m in rests and not any(m in later for _, later in merged[number + 1 :])
        ]
        listed.append(
            rows.retest_step(
                number, at, tuple(dict.fromkeys(measures)), known, " ".join(rests[m] for m in asked)
            )
        )
    listed = [replace(s, next_visit=True) if stay.is_next(s.start_min) else s for s in listed]
    return sorted(listed, key=lambda s: (s.start_min, s.kind != "retest"))


def swim(water: WaterState, traits: PoolTraits, steps: list[Step], request: PlanRequest) -> Swim:
    """Swim status now, and when the plan's additions of the next hours have mixed (common practice)."""
    status = swim_status(water, traits, request.seen)
    waits = next((s for s in steps if s.kind == "wait"), None)
    least, most = swim_limits(traits, water.cya_ppm)
    if waits is not None and not request.seen:
        clock = terms.clock(request.now, request.now + timedelta(minutes=waits.wait_min))
        return Swim(
            False, waits.wait_min, terms.swim_from(f"about {clock}", least, most), status.reasons, least, most
        )
    soon = [s for s in steps if s.kind in ("add", "aerate") and s.start_min <= 12 * 60]
    if request.seen or status.allowed is None or not soon or any(s.kind == "dilute" for s in steps):
        return status
    state = water
    opens = None
    for step in sorted(soon, key=lambda s: s.start_min):
        for move in step.moves if step.role != "raise_cya" else ():  # it dissolves over days
            state = moved(state, move)
        if opens is None and swim_status(state, traits).allowed:
            opens = step.start_min + step.wait_min
        elif opens is not None and step.kind == "add" and step.start_min < opens + 60:
            opens = max(opens, step.start_min + step.wait_min)
    if opens is None:
        return status
    low = chlorine_band(state.cya_ppm, traits).low or 0.0
    clock = terms.clock(request.now, request.now + timedelta(minutes=opens))
    return Swim(
        False,
        opens,
        terms.swim_from(clock, low, most),
        status.reasons or ("additions are mixing",),
        low,
        most,
    )


def moved(water: WaterState, move: Move) -> WaterState:
    """The water with one measure at the value a step leaves it at."""
    return with_measures(water, {move.measure: move.after})
