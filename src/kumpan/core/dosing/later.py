"""What is likely to follow this visit: measure by measure, with the test that decides it, and what the whole
way takes. Nothing here is to be done now.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from kumpan.core.amounts import Amount, describe, rounded_down, tool_for
from kumpan.core.dosing.acts import AERATE, Act, Pour
from kumpan.core.dosing.request import AtHand, Later, PlanRequest, Total
from kumpan.core.dosing.situation import Situation
from kumpan.core.dosing.supply import feeder_forbids, lacking
from kumpan.core.dosing.uncertainty import Doubts
from kumpan.core.dosing.visit import PH_AFTER_STABILIZER_MIN, choose, deciding_min
from kumpan.core.machines.output import advise, cell_ppm_day, dial_for, tablets_a_week
from kumpan.core.phrasing import following
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.units import DAY_MIN, G_PER_UNIT
from kumpan.core.water.measures import MEASURE_OF_ROLE, MEASURES
from kumpan.core.water.state import WaterState, aerated, apply, value_of

WEEK_MIN = 7 * DAY_MIN
_MOST_ROUNDS = 8
_SMALL = 0.25
# An act cut short by more than this share of it is said to have a rest: less is rounding.
_CUT = 0.25
_MEASURE_OF = MEASURE_OF_ROLE | {AERATE: "ph"}


@dataclass
class _Due:
    """What rounds to come ask for of one role: so much in all, the first at so many minutes from now. more:
    the rest of an act of this visit that a limit or doubt cut short.
    """

    act: Act
    at_min: int
    amount: float = 0.0
    more: bool = False


def what_follows(s: Situation, chosen: list[Act], after: WaterState, decided_min: int) -> tuple[Later, ...]:
    """What is likely once this visit's tests are read, if they read what is foretold.

    after: the water this visit leaves, its chlorine held. decided_min: minutes from now of its last test.

    Minutes from now; amounts g or mL. The same rules as today's, and our own for the span.
    """
    if s.stopped or s.too_much_chlorine or s.growth:
        return tuple(_fresh_water(s))
    now = {act.role: act for act in chosen}
    follows = [_later(s, due, now.get(role)) for role, due in _rounds(s, now, after, decided_min).items()]
    roles = {one.role for one in follows}
    for role, act in now.items():  # enough, if the readings are right; or cut short by a limit
        cut = act.wanted - act.amount
        rest = cut if cut > _CUT * act.amount and role not in ("raise_fc", "lower_fc") else 0.0
        if role not in roles and (rest or role in ("raise_cya", "raise_salt", "raise_ch")):
            at_min = _visit_from(s, WEEK_MIN if role == "raise_cya" else deciding_min(act))
            follows.append(_later(s, _Due(act, at_min, rest, more=True), act))
    order, season = list(MEASURES), list(_fresh_water(s))
    follows = sorted([*follows, *_daily(s)], key=lambda one: (one.at_min, order.index(one.measure)))
    return (*follows, *season)


def _rounds(s: Situation, now: dict[str, Act], after: WaterState, decided_min: int) -> dict[str, _Due]:
    """The acts of the visits to come, each on the water the last one leaves, readings taken as right. What
    this visit keeps apart from them puts them off.
    """
    due: dict[str, _Due] = {}
    water, at_min = after, _first_visit_min(s, now, decided_min)
    went_in = {act.product.group: 0 for act in now.values() if act.product is not None}
    for _ in range(_MOST_ROUNDS):
        acts = [act for act in _chosen_then(s, water, at_min, went_in) if _follows(s, now, act)]
        if not acts:
            later = _put_off_to(s, now, water, at_min, went_in)
            if later is None:
                return due
            at_min = later
            continue
        for act in acts:
            due.setdefault(act.role, _Due(act, max(at_min, _not_before(now, act)))).amount += act.amount
            water = _with(water, act, s)
            if act.product is not None:
                went_in[act.product.group] = at_min
        at_min = _visit_from(s, at_min + max(deciding_min(act) for act in acts))
    return due


def _visit_from(s: Situation, at_min: int) -> int:
    """Minutes from now of the first visit from then on: a technician comes on the days that are known and
    in their rhythm after those, an owner is there.

    >>> from types import SimpleNamespace as Of
    >>> twice_a_week = Of(request=Of(stay_min=20, visits_min=(3 * DAY_MIN, 7 * DAY_MIN)))
    >>> [_visit_from(twice_a_week, days * DAY_MIN) / DAY_MIN for days in (1, 3, 4, 8, 14)]
    [3.0, 3.0, 7.0, 10.0, 14.0]
    """
    if s.request.stay_min is None:
        return at_min
    visits = s.request.visits_min
    period = visits[-1]
    begun = (at_min - 1) // period * period
    return begun + next(visit for visit in visits if begun + visit >= at_min)


def _put_off_to(
    s: Situation, now: dict[str, Act], water: WaterState, at_min: int, went_in: dict[str, int]
) -> int | None:
    """Minutes from now to look again, where only what went in lately holds something back; None where nothing
    is left to do.
    """
    soon = next((at for at in (DAY_MIN, PH_AFTER_STABILIZER_MIN, WEEK_MIN) if at > at_min), None)
    if soon is None or not went_in:
        return None
    later = _visit_from(s, soon)
    free = _chosen_then(s, water, at_min + 2 * WEEK_MIN, went_in)
    return later if any(_follows(s, now, act) for act in free) else None


def _first_visit_min(s: Situation, now: dict[str, Act], decided_min: int) -> int:
    """Minutes from now of the next visit: after the test that decides, a technician's own, and not before
    what stabilizer does to pH is read, where nothing else moved it.
    """
    after_stabilizer = "raise_cya" in now and set(now) <= {"raise_cya", "raise_fc"}
    return _visit_from(s, max(1, decided_min, PH_AFTER_STABILIZER_MIN if after_stabilizer else 0))


def _chosen_then(s: Situation, water: WaterState, at_min: int, went_in: dict[str, int]) -> list[Act]:
    """What a visit so many minutes from now would do to this water, its readings taken as right."""
    hours = s.request.poured_h | {group: (at_min - start) / 60 for group, start in went_in.items()}
    request = replace(s.request, water=water, tc_ppm=None, stay_min=None, hold_days=0.0, poured_h=hours)
    # Chlorine that reads none is read again by then.
    request = replace(request, methods={m: by for m, by in request.methods.items() if m != "fc"})
    then = Situation(replace(request, drain_later=True, expected={}))
    then.doubts = Doubts(water, {}, 0.0, 0.0)
    return choose(then)


def _not_before(now: dict[str, Act], act: Act) -> int:
    """Minutes from now before which an act never follows: calcium has a visit of its own, and what stabilizer
    does to pH is read on the second day.
    """
    if act.role == "raise_ch" and now:
        return DAY_MIN
    return PH_AFTER_STABILIZER_MIN if act.role == "raise_ph" and "raise_cya" in now else 0


def _follows(s: Situation, now: dict[str, Act], act: Act) -> bool:
    """Whether an act of a later visit is worth saying: chlorine only where it was due and not poured, a
    neutraliser never, as it is by wish.
    """
    if act.role == "lower_fc":
        return False
    return act.role != "raise_fc" or ("raise_fc" not in now and (s.low("fc") or s.drain_share > 0))


def _with(water: WaterState, act: Act, s: Situation) -> WaterState:
    """The water an act leaves, its chlorine held and what it did to pH gone."""
    if act.product is None:
        return aerated(water, act.to_ph or 0.0)
    change = act.change(s.traits.volume_l)
    return replace(apply(water, change.spent), fc_ppm=apply(water, change).fc_ppm)


def _later(s: Situation, due: _Due, now: Act | None) -> Later:
    """One role's rest: as much as the rounds ask for, give or take what the reading, the volume and the
    product may be off by.
    """
    act, measure = due.act, _MEASURE_OF[due.act.role]
    test = (measure,) if act.role != "raise_ta" else ("ph", "ta")
    when = following.when(due.at_min)
    if act.product is None:
        return Later(measure, act.role, following.air(when, act.to_ph or 0.0), test, due.at_min)
    poured = 0.0 if now is None else now.amount
    whole = poured + due.amount
    off = whole * _relative_error(s, act, whole)
    least, most = _amount(s, act, max(0.0, due.amount - off)), _amount(s, act, due.amount + off)
    if due.amount == 0 or (least and most and least.canonical < _SMALL * most.canonical):
        least = None  # so wide a span is told by its end
    span = following.span(least, most)
    band = s.bands[measure]
    if due.more and due.amount:
        text = following.more(when, measure, span, act.product.short)
    else:
        text = following.dose(when, band, act.role, span, act.product.short)
    return Later(
        measure, act.role, text, test, due.at_min, act.product.id, act.strength, least, most, due.amount
    )


def _relative_error(s: Situation, act: Act, amount: float) -> float:
    """Share by which what the whole way takes may be off: the reading's error over what it is to move, volume
    and strength.
    """
    measure = MEASURE_OF_ROLE[act.role]
    assert act.product is not None
    value = value_of(s.water, measure) or 0.0
    if measure == "ph":
        moved = 0.4  # about what one act moves
    else:
        zero = WaterState(fc_ppm=0, ta_ppm=value, ch_ppm=0, cya_ppm=0, salt_ppm=0)
        base = value if measure == "ta" else 0.0
        moved = abs((value_of(apply(zero, act.change(s.traits.volume_l, amount)), measure) or 0.0) - base)
    reading = s.u95(measure) / moved if moved else 0.0
    return min(1.0, math.hypot(reading, s.traits.volume_95, s.request.strength_95))


def _amount(s: Situation, act: Act, canonical: float) -> Amount | None:
    """An amount in the person's measures; None where it is less than a tool can show."""
    assert act.product is not None
    form = form_of(act.product)
    tool = tool_for(canonical, form, s.request.system, s.traits.volume_l)
    rounded = rounded_down(canonical, tool)
    return describe(rounded, tool, form) if rounded > 0 else None


def _fresh_water(s: Situation) -> Iterator[Later]:
    """What only fresh water lowers and this visit does not, or not all the way."""
    for measure in (m.id for m in MEASURES.values() if m.dilutes):
        share = s.share_to(measure) if s.high(measure) else 0.0
        if not share:
            continue
        if s.drain_share and s.drain_share >= share - 0.01:
            continue
        text = (
            following.next_share(measure, share)
            if s.drain_share
            else following.exchange(measure, share, s.must_dilute(measure))
        )
        yield Later(measure, "dilute", text, (measure,), DAY_MIN if s.drain_share else WEEK_MIN)


def _daily(s: Situation) -> Iterator[Later]:
    """What keeps chlorine up between visits: so much a day, tablets a week, or the cell's setting."""
    if s.water.fc_ppm is None or s.drain_share:
        return
    source = s.traits.chlorine_source
    if source == "chlorinator":
        text = _cell_text(s)
        if text:
            yield Later("fc", "cell", text, ("fc",), DAY_MIN)
        return
    if source == "tablets":
        text = _tablet_text(s)
    else:
        pour = Pour(s, "raise_fc")
        amount = _amount(s, Act("raise_fc", pour.product, pour.strength), s.demand_ppm / pour.rise("fc"))
        text = following.a_day(amount, pour.product.short, s.demand_ppm, s.demand_told) if amount else ""
    if text:
        yield Later("fc", "hold", text, ("fc",), DAY_MIN)


def _tablet_text(s: Situation) -> str:
    """How many tablets a week hold the level, and when they stop."""
    cya, band = s.water.cya_ppm, s.bands["cya"]
    most = 50.0 if band.own is None or band.aim is None else band.aim
    if cya is not None and cya >= most:
        return following.change_over(cya)
    if (danger := feeder_forbids(s.traits)) != "":
        return danger
    large = s.traits.volume_l >= 37_854  # three-inch ones overwhelm a pool under 10,000 gal (common practice)
    unit = "tablet_3in" if large else "tablet_1in"
    if s.traits.is_small_soft:
        return ""
    per = PRODUCTS["trichlor-90"].change_per_unit(s.traits.volume_l)
    each = apply(WaterState(fc_ppm=0), per * G_PER_UNIT[unit]).fc_ppm or 1.0
    wanted, dial = s.demand_ppm, None
    if s.request.trichlor_g_day:
        fed = apply(WaterState(fc_ppm=0), per * s.request.trichlor_g_day).fc_ppm or 0.0
        wanted = max(0.5 * fed, fed + _missing_a_day(s))
        if s.traits.feeder_dial is not None:
            dial = s.traits.feeder_dial[0], dial_for(wanted, fed, *s.traits.feeder_dial)
    return following.tablets(tablets_a_week(wanted, each), large, wanted, dial)


def _missing_a_day(s: Situation) -> float:
    """By how much more a day, ppm, what feeds must feed: what is short of the aim or over it, within two days
    (our own).
    """
    aim = s.bands["fc"].aim
    return 0.0 if aim is None or s.water.fc_ppm is None else (aim - s.water.fc_ppm) / 2


def _cell_text(s: Situation) -> str:
    """What the cell is to run at where chlorine is under its aim; empty where it holds."""
    fc, band = s.water.fc_ppm or 0.0, s.bands["fc"]
    if band.aim is None or fc >= band.aim - 0.5:
        return ""
    if not s.traits.cell_feeds(s.water.salt_ppm, s.water.temp_c):
        return following.cell_off()
    rated, setting = s.traits.cell_g_day, s.traits.cell_setting
    if rated is None or setting is None:
        return following.cell_up()
    made = cell_ppm_day(rated, *setting, s.traits.volume_l)
    # It made less than was used: as much more as is missing, or the ordinary demand.
    wanted = max(made + _missing_a_day(s), s.demand_ppm)
    told = advise(wanted, rated, setting[1] or 8.0, s.traits.volume_l)
    return (
        following.cell_to(told.percent, told.hours, setting, wanted)
        if told.can
        else following.cell_cannot(wanted)
    )


def totals_of(
    request: PlanRequest, chosen: list[Act], later: tuple[Later, ...], at_hand: dict[str, AtHand]
) -> tuple[Total, ...]:
    """What to have ready for the whole way, a line a product."""
    now = {act.role: act for act in chosen if act.product is not None}
    rest = {one.role: one for one in later if one.product_id is not None}
    lines = (
        _total(request, now.get(role), rest.get(role), at_hand.get(role))
        for role in dict.fromkeys([*now, *rest])
    )
    return tuple(line for line in lines if line is not None)


def _total(request: PlanRequest, act: Act | None, one: Later | None, entry: AtHand | None) -> Total | None:
    """One line: what is poured now and what is likely later of the same; None where that is nothing."""
    product = act.product if act else PRODUCTS[one.product_id or ""] if one else None
    strength = act.strength if act else one.strength if one else None
    assert product is not None
    poured = act.amount if act else 0.0
    least, most = (poured + more for more in _more(one))
    if most <= 0:
        return None
    form = form_of(product)
    tool = tool_for(most, form, request.system, request.traits.volume_l)
    up = [math.ceil(v / tool.step - 1e-6) * tool.step for v in (least, most)]
    roles = [describe(v, tool, form) for v in up]
    return Total(product.id, strength, roles[0], roles[1], lacking(entry, product, most, request))


def _more(one: Later | None) -> tuple[float, float]:
    """Least and most of what is likely later, g or mL."""
    if one is None:
        return 0.0, 0.0
    return (one.least.canonical if one.least else 0.0, one.most.canonical if one.most else 0.0)
