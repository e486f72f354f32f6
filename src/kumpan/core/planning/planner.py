"""From readings to the right next actions, in order, with waits: water + additions -> water."""

from dataclasses import replace
from datetime import datetime, timedelta

from kumpan.core.amounts import Form, System, describe, rounded_down, tool_for
from kumpan.core.guidance.bands import FC_CAP, Band, PoolTraits, bands_for, chlorine_band
from kumpan.core.planning import needs as n
from kumpan.core.planning import words
from kumpan.core.planning.diagnosis import diagnose, dilution_share, is_low, must_dilute, swim_status
from kumpan.core.planning.model import Choice, Finding, Move, Plan, PlanRequest, Step, Swim, value_of
from kumpan.core.planning.schedule import AERATE_MIN, DAY_MIN, QUIET_FROM, QUIET_TO, Task, place
from kumpan.core.products.catalogue import PRODUCTS, Product
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.state import Change, WaterState, aerated, amount_to_ph, apply, carbonate_of, diluted
from kumpan.core.water.uncertain import allowing_for

# pH in a single addition: moved by at most, and never predicted under (practice section 6: our own rule; common practice).
SINGLE_PH, LEAST_PH = 0.4, 7.2
# Air takes pH to the top of its band at most; what additions still to come ask for beyond that waits until they are in.
_MOST_AERATED_PH = 7.8
_MOST_PORTIONS, _MOST_ROUNDS = 60, 60
# Smaller moves than these are not worth a line beside a step.
_WORTH_SHOWING = {"fc": 0.05, "ph": 0.02, "ta": 0.5, "ch": 0.5, "cya": 0.5, "salt": 5.0}
_RETESTS = {"raise_ta": "ta", "lower_ph": "ph", "raise_ph": "ph", "lower_ta": "ta", "raise_cya": "cya",
            "raise_fc": "fc", "raise_ch": "ch", "raise_salt": "salt"}  # fmt: skip


def make_plan(request: PlanRequest) -> Plan:
    """Diagnose this water and plan what to add, in the trade's order with its waits.

    Exact readings: applying every step and planning again asks for nothing beyond rounding. A measure
    that is unknown is never guessed: what needs it is left out and named in ``needs_test``.
    """
    request = replace(request, water=allowing_for(request.water))
    water, traits = request.water, request.traits
    choices = n.choices_with_defaults(traits, request.choices)
    findings = diagnose(water, traits)
    conflict = conflict_of(water) if water.has_ph_chemistry else None
    bands = bands_for(traits, water.cya_ppm)
    fc_urgent = water.fc_ppm is not None and is_low(water.fc_ppm, bands["fc"])
    share = _dilution(water, bands)
    if share:
        tasks = _first_aid(water, traits, choices) if fc_urgent else []
    else:
        tasks = _tasks(water, traits, choices, request, conflict is not None)
    local_min = request.now.hour * 60 + request.now.minute
    placed = place(tasks, fc_urgent, local_min)
    steps, now, spent = _walk(water, placed, request)
    if share:
        step, now, spent = _dilution_step(steps, now, spent, share, findings, local_min)
        steps = [*steps, step]
    steps = _with_retests(steps, placed, local_min)
    needs_test = words.needs_test(water, conflict, steps)
    return Plan(
        headline=words.headline(findings, steps, needs_test, water),
        findings=findings,
        steps=tuple(steps),
        left_alone=words.left_alone(findings, traits, share, tuple(steps), ta_far_too_high(water, traits)),
        needs_test=needs_test,
        swim=_swim(water, traits, steps, request.now),
        before=water,
        now=now,
        spent=spent,
        choices=choices,
    )


def form_of(product: Product) -> Form:
    """The measuring form of a product: bags for salt, else its own form."""
    return "salt_bag" if product.sold_as == "salt_bag" else product.form


def _dilution(water: WaterState, bands: dict[str, Band]) -> float:
    """Share to replace so that everything only dilution lowers is back in its band; 0 for none."""
    share = 0.0
    for measure in ("cya", "ch", "salt"):
        value, band = value_of(water, measure), bands[measure]
        if value is not None and band.high is not None and must_dilute(value, band):
            share = max(share, dilution_share(value, band.high))
    return share


def _first_aid(water: WaterState, traits: PoolTraits, choices: dict[str, Choice]) -> list[Task]:
    """Chlorine to the present minimum only: most of the water is about to be replaced."""
    w = n.Wanted(water, traits, choices)
    low = min(FC_CAP, chlorine_band(water.cya_ppm, traits).low or 0.0)
    w.put("raise_fc", (low - (water.fc_ppm or 0.0)) / w.per_unit("raise_fc", "fc_ppm"))
    return [Task(need, need.amount, (1, 1)) for need in w.needs.values() if need.amount > 0]


def _tasks(
    water: WaterState, traits: PoolTraits, choices: dict[str, Choice], request: PlanRequest, conflict: bool
) -> list[Task]:
    w = n.Wanted(water, traits, choices)
    ta_first = not conflict and ta_far_too_high(water, traits)
    n.chlorine_and_stabilizer(w, stabilizer_waits=ta_first)
    if not ta_first:
        n.simple_rises(w)
    for role, need in list(w.needs.items()):  # acid and base are sized on what will really be poured
        if need.amount > 0:
            w.put(role, sum(t.amount for t in _portions(need, w.after, traits, request)))
    if not ta_first and not conflict:
        n.balance(w)
    tasks: list[Task] = []
    for need in w.needs.values():
        if need.product is None:
            tasks.append(Task(need, 0.0, (1, 1)))
        elif need.amount > 0:
            tasks += _portions(need, w.after, traits, request)
    return tasks + _ta_rounds(w, request.system) if ta_first else tasks


def _portions(need: n.Need, reference: WaterState, traits: PoolTraits, request: PlanRequest) -> list[Task]:
    """Split a need into additions that each stay within the largest single one, in whole tool steps."""
    assert need.product is not None
    most = _most_at_once(need, reference, traits, request)
    count = max(1, -(-need.amount // most)) if most < need.amount else 1
    form = form_of(need.product)
    tool = tool_for(need.amount / count, form, request.system, traits.volume_l)
    total = round(rounded_down(need.amount, tool) / tool.step)
    room = max(1, int(most / tool.step + 1e-6))
    pieces = min(_MOST_PORTIONS, -(-total // room))
    tasks = []
    for i in range(pieces):
        whole = total * (i + 1) // pieces - total * i // pieces
        tasks.append(Task(need, whole * tool.step, (i + 1, pieces)))
    return tasks


def _most_at_once(need: n.Need, reference: WaterState, traits: PoolTraits, request: PlanRequest) -> float:
    """Largest single addition of a product here, in g or mL: the product's own and the mixed water's."""
    product = need.product
    assert product is not None
    most = min(need.amount, n.most_at_once(product, need.strength, traits.volume_l))
    if reference.ph is None or product.group not in ("acid", "carbonate", "borate", "chlorine"):
        return most
    # pH moves most per gram at one end of the way or the other: judged from the water before and after all additions.
    per_unit = need.change(1.0, traits.volume_l).spent
    for edge, way in ((request.water, per_unit), (reference, per_unit * -1.0)):
        for far in (-SINGLE_PH, SINGLE_PH):
            if edge.ph is not None and edge.has_ph_chemistry:
                most = min(most, amount_to_ph(edge, way, edge.ph + far) or most)
    return most


def ta_far_too_high(water: WaterState, traits: PoolTraits) -> bool:
    """Whether alkalinity is beyond leaving alone. It is then set before all but chlorine, as the trade's order has it."""
    limit = bands_for(traits, water.cya_ppm)["ta"].act_above
    return limit is not None and water.has_ph_chemistry and (water.ta_ppm or 0.0) > limit


def _ta_rounds(w: n.Wanted, system: System) -> list[Task]:
    """Acid down, air back up, for alkalinity beyond leaving alone (practice section 6)."""
    band = bands_for(w.traits, w.water.cya_ppm)["ta"]
    water = w.after
    assert band.act_above is not None
    choice = w.choices["lower_ph"]
    acid = n.Need("lower_ta", PRODUCTS[choice.product_id], choice.strength, 1e9)
    assert acid.product is not None
    volume_l = w.traits.volume_l
    limit = n.most_at_once(acid.product, acid.strength, volume_l)
    air = n.Need("lower_ta", None, None, to_ph=n.AERATE_BACK_PH)
    tasks: list[Task] = []
    while (water.ta_ppm or 0) > band.act_above - 1 and len(tasks) < 2 * _MOST_ROUNDS:
        if (water.ph or 0) < LEAST_PH + 0.2:
            tasks.append(Task(air, 0.0, (len(tasks) + 1, 0)))
            water = aerated(water, n.AERATE_BACK_PH)
        base = water
        goal = max(LEAST_PH, (base.ph or 0.0) - SINGLE_PH)
        dose = min(limit, amount_to_ph(base, acid.change(1.0, volume_l), goal) or 0.0)
        tool = tool_for(dose, form_of(acid.product), system, volume_l)
        dose = rounded_down(dose, tool)
        if dose <= 0:
            break
        tasks.append(Task(acid, dose, (len(tasks) + 1, 0)))
        water = apply(water, acid.change(dose, volume_l))
    if (water.ph or 8) < LEAST_PH + 0.2:
        tasks.append(Task(air, 0.0, (len(tasks) + 1, 0)))
    return [Task(t.need, t.amount, (t.portion[0], len(tasks))) for t in tasks]


def _moves(before: WaterState, after: WaterState) -> tuple[Move, ...]:
    found = []
    for measure, least in _WORTH_SHOWING.items():
        a, b = value_of(before, measure), value_of(after, measure)
        if a is not None and b is not None and abs(b - a) >= least:
            found.append(Move(measure, a, b))
    return tuple(found)


def _seen(now: WaterState, spent: WaterState) -> WaterState:
    """What a step is told by: chlorine as it stands, pH and alkalinity as they settle once the added chlorine is spent."""
    return replace(now, ph=spent.ph, ta_ppm=spent.ta_ppm)


def _walk(water: WaterState, placed: list[Task], request: PlanRequest) -> tuple[list[Step], WaterState, WaterState]:
    """Pour the placed tasks one after another and describe each; the water after all, now and once its chlorine is spent."""
    steps: list[Step] = []
    traits, volume_l = request.traits, request.traits.volume_l
    now = spent = water
    later_carbon = 0.0
    for index, task in enumerate(placed):
        need = task.need
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
            steps.append(words.aerate_step(index, task.start_min, seen, _moves(was, seen), AERATE_MIN))
        else:
            change = need.change(task.amount, volume_l)
            now, spent = apply(now, change), apply(spent, change.spent)
            form = form_of(need.product)
            tool = tool_for(task.amount, form, request.system, volume_l)
            amount = describe(task.amount, tool, form, need.amount if task.portion == (1, 1) else None)
            moves = _moves(was, _seen(now, spent))
            steps.append(words.add_step(index, task.start_min, need, task.portion, amount, moves, traits, water.cya_ppm))
        steps[-1] = replace(steps[-1], water=now, spent=spent)
    if later_carbon:  # more air than pH could take at once: the rest when all else is in
        was = _seen(now, spent)
        air = Change(carbon=later_carbon)
        now, spent = apply(now, air), apply(spent, air)
        start = _awake(max(s.start_min + s.wait_min for s in steps), request.now.hour * 60 + request.now.minute)
        seen = _seen(now, spent)
        step = words.aerate_step(len(steps), start, seen, _moves(was, seen), AERATE_MIN)
        steps.append(replace(step, water=now, spent=spent))
    return steps, now, spent


def _dilution_step(
    steps: list[Step], now: WaterState, spent: WaterState, share: float, findings: tuple[Finding, ...], local_min: int
) -> tuple[Step, WaterState, WaterState]:
    start = max((s.start_min + s.wait_min for s in steps), default=0)
    start = _awake(start, local_min)
    after, after_spent = diluted(now, share), diluted(spent, share)
    step = words.dilute_step(len(steps), start, share, _moves(_seen(now, spent), after), findings)
    return replace(step, water=after, spent=after_spent), after, after_spent


def _awake(start: int, local_min: int) -> int:
    clock = (local_min + start) % DAY_MIN
    if start > 0 and (clock >= QUIET_FROM or clock < QUIET_TO):
        return start + (QUIET_TO - clock) % DAY_MIN
    return start


def _with_retests(steps: list[Step], placed: list[Task], local_min: int) -> list[Step]:
    """Add re-test rows: pH between acid or base portions, every moved measure once its wait is over."""
    due: dict[int, list[str]] = {}
    for index, task in enumerate(placed):
        product, role = task.need.product, task.need.role
        measure = _RETESTS.get(role)
        if product is None or measure is None:
            continue
        if role == "lower_ta" and index + 1 < len(placed):  # the air row after it re-tests pH
            continue
        last = not any(t.need.role == role for t in placed[index + 1 :])
        if last or (measure == "ph" and product.again_min > product.retest_min):
            at = _awake(task.start_min + product.retest_min, local_min)
            due.setdefault(at, []).append(measure)
    for step in steps:
        if step.kind == "aerate":
            due.setdefault(_awake(step.start_min + step.wait_min, local_min), []).append("ph")
        if step.kind == "dilute":
            due.setdefault(_awake(step.start_min + step.wait_min, local_min), []).extend(
                ["fc", "ph", "ta", "ch", "cya", "salt"]
            )
    merged: list[tuple[int, list[str]]] = []
    starts = [s.start_min for s in steps]
    for at in sorted(due):
        between = merged and any(merged[-1][0] <= s < at for s in starts)
        if merged and not between and at - merged[-1][0] <= 60:
            merged[-1] = (at, [*merged[-1][1], *due[at]])
        else:
            merged.append((at, due[at]))
    rows = list(steps)
    for number, (at, measures) in enumerate(merged):
        poured = [s for s in steps if s.start_min < at]
        known = {m.measure: (m.after, m.after) for s in poured for m in s.moves}
        newest = max(poured, key=lambda s: s.start_min) if poured else None
        if "ph" in known and newest and newest.water and newest.spent and newest.water.ph and newest.spent.ph:
            known["ph"] = (newest.spent.ph, newest.water.ph)  # lower as its chlorine is spent
        rows.append(words.retest_step(number, at, tuple(dict.fromkeys(measures)), known))
    return sorted(rows, key=lambda s: (s.start_min, s.kind != "retest"))


def _swim(water: WaterState, traits: PoolTraits, steps: list[Step], now: datetime) -> Swim:
    """Swim status now, and when the plan's additions of the next hours have mixed (practice section 7)."""
    status = swim_status(water, traits)
    soon = [s for s in steps if s.kind in ("add", "aerate") and s.start_min <= 12 * 60]
    if status.allowed is None or not soon or any(s.kind == "dilute" for s in steps):
        return status
    state = water
    opens = None
    for step in sorted(soon, key=lambda s: s.start_min):
        for move in step.moves if step.role != "raise_cya" else ():  # it dissolves over days
            state = words.moved(state, move)
        if opens is None and swim_status(state, traits).allowed:
            opens = step.start_min + step.wait_min
        elif opens is not None and step.kind == "add" and step.start_min < opens + 60:
            opens = max(opens, step.start_min + step.wait_min)
    if opens is None:
        return status
    low = chlorine_band(state.cya_ppm, traits).low or 0.0
    clock = words.clock(now, now + timedelta(minutes=opens))
    return Swim(False, opens, words.swim_from(clock, low), status.reasons or ("additions are mixing",), low)
