"""What of all that is off is done on this visit, in which order, and when the tests after it are due.

Priority chooses; pouring order is alkalinity and pH, salt or stabilizer, calcium, chlorine last. One act on
pH or alkalinity, one product of chlorine, stabilizer or salt besides; calcium has a visit of its own (common
practice and our own).
"""

import math
from dataclasses import dataclass, replace

from kumpan.core.dosing import acts as a
from kumpan.core.dosing.acts import AERATE, Act
from kumpan.core.dosing.index import index_act
from kumpan.core.dosing.situation import Situation, is_small
from kumpan.core.products.product import Product
from kumpan.core.units import DAY_MIN
from kumpan.core.water.measures import MEASURE_OF_ROLE, MEASURES

# Nobody pours or tests at night: what need not be today waits for the morning (our own). Local clock minutes.
QUIET_FROM, QUIET_TO = 22 * 60, 8 * 60
# Shocks go in when the sun is off the water: our own stand-in for sunset where the place is not known.
DUSK = 20 * 60
# A stop shorter than this holds one product (our own); acid and chlorine are apart by this much there, with
# jets seen running, and by half an hour in owners' plans and small pools (common practice and our own).
ONE_PRODUCT_MIN, APART_STOP_MIN = 20, 15
# A technician's other pours follow one another by this much: a sock is hung, a bag is brushed in (our own).
_HUNG_MIN = 5
# The day on which stabilizer has moved pH enough to read (our own: it dissolves over days).
PH_AFTER_STABILIZER_MIN = 2 * DAY_MIN
_KILL_READ_MIN = 60  # a kill's level is read an hour or two after the pour (common practice)
_FULL = ("fc", "cc", "ph", "ta", "ch", "cya", "salt")


@dataclass(frozen=True)
class Placed:
    """An act and the minute from now at which it starts."""

    act: Act
    start_min: int


@dataclass(frozen=True)
class Test:
    """Measures to read so many minutes from now."""

    at_min: int
    measures: tuple[str, ...]


def choose(s: Situation) -> list[Act]:
    """The acts of this visit in pouring order: none while a hazard stops work, where water is exchanged,
    where chlorine is over 10 ppm, or may be for all that its reading says.

    Priority and what shares a visit: common practice and our own.
    """
    if s.stopped or s.drain_share or s.chlorine_in_doubt:
        return []
    if s.too_much_chlorine:
        taken = a.neutraliser(s)
        return [taken] if taken else []
    picked = _together(s)
    if picked:
        return _that_fit(s, picked)
    alone = a.calcium(s) or index_act(s)
    return [alone] if alone else []


def _together(s: Situation) -> list[Act]:
    """What shares a visit: one act on pH or alkalinity (for the index, where neither is off), salt or
    stabilizer, chlorine.
    """
    balance, lift = a.acid_or_base(s), a.chlorine(s) or a.neutraliser(s)
    third = a.salt(s) or a.stabilizer(s, lift)
    picked = [act for act in (balance, third, lift) if act is not None]
    if picked and balance is None and (due := index_act(s)) is not None and due.role != "raise_ch":
        picked.insert(0, due)
    return picked


def _that_fit(s: Situation, picked: list[Act]) -> list[Act]:
    """What a stop has time for: where acid and chlorine do not both fit, chlorine if it is under its health
    minimum, else the other (common practice).
    """
    stay = s.request.stay_min
    if stay is None:
        return picked
    if not _fits(s, picked, stay):  # what is hung or brushed in can wait before what cannot
        picked = [act for act in picked if act.role not in ("raise_cya", "raise_salt")] or picked
    pours = [act for act in picked if act.role not in ("raise_cya", "raise_salt", AERATE)]
    if len(pours) < 2 or (stay >= ONE_PRODUCT_MIN and _fits(s, picked, stay)):
        return picked
    first = pours[-1] if s.under_health_minimum else pours[0]
    return [act for act in picked if act is first or act not in pours]


def _fits(s: Situation, picked: list[Act], stay: int) -> bool:
    """Whether all of it is begun before the stop ends."""
    return all(p.start_min <= stay for p in place(s, picked))


def place(s: Situation, chosen: list[Act]) -> list[Placed]:
    """Start times: one product after another, chlorine for a kill at dusk.

    Minutes from now.
    """
    placed: list[Placed] = []
    for act in chosen:
        start = max((p.start_min + apart_min(s, p.act, act) for p in placed), default=0)
        if s.growth and act.role == "raise_fc" and not s.technician:
            start = max(start, dusk_min(s))
        placed.append(Placed(act, start))
    return placed


def dusk_min(s: Situation) -> int:
    """Minutes from now until the sun is down today; under zero once it is. By the sun at the pool's place,
    else our own stand-in.
    """
    now = s.request.now
    if s.request.sunset is not None:
        return math.ceil((s.request.sunset - now).total_seconds() / 60)
    return DUSK - (now.hour * 60 + now.minute)


def apart_min(s: Situation, earlier: Act, later: Act) -> int:
    """Minutes from one act until another may follow: mixing, and longer where groups must be kept apart.

    Common practice; a quarter of an hour at a technician's stop is too.
    """
    one, other = earlier.product, later.product
    if one is None or other is None:
        return 0
    mixing = one.mix_min
    if s.technician and not is_small(s):
        mixing = APART_STOP_MIN if one.group in ("acid", "carbonate") else _HUNG_MIN
        if {one.group, other.group} == {"acid", "chlorine"}:
            return APART_STOP_MIN
    return max(mixing, _kept_apart(one, other))


def _kept_apart(one: Product, other: Product) -> int:
    return max(one.apart.get(other.group, 0), other.apart.get(one.group, 0))


def awake(s: Situation, minute: int) -> int:
    """The first minute from then on at which somebody tests: not at night, unless within three hours.

    Our own.
    """
    clock = (s.request.now.hour * 60 + s.request.now.minute + minute) % DAY_MIN
    if minute > 3 * 60 and (clock >= QUIET_FROM or clock < QUIET_TO):
        return minute + (QUIET_TO - clock) % DAY_MIN
    return minute


def deciding_min(act: Act) -> int:
    """Minutes from an act until the test that decides what follows it.

    Common practice (the products' rows).
    """
    if act.product is None:
        return DAY_MIN  # air: hours to days
    return PH_AFTER_STABILIZER_MIN if act.role == "raise_cya" else act.product.retest_min


def swim_reading_min(s: Situation, placed: list[Placed]) -> int:
    """Minutes from now of the reading that may open swimming.

    Common practice (the products' rows).
    """
    waits = [p.start_min + (p.act.product.swim_min if p.act.product else 0) for p in placed]
    return awake(s, max(waits, default=0))


def tests_after(s: Situation, placed: list[Placed]) -> list[Test]:
    """The readings that end this visit's plan: the one that may open swimming, and the one that decides the
    rest.

    Readings less than an hour apart are taken at once. What is read after more than two days (stabilizer)
    comes with what follows.

    Waits: common practice; an hour and two days are our own.
    """
    if s.stopped or not placed:
        return []
    kill = next((p for p in placed if s.growth and p.act.role == "raise_fc"), None)
    if kill is not None:
        return [Test(kill.start_min + _KILL_READ_MIN, ("fc",))]
    due = _swim_test(s, placed)
    due += [
        Test(awake(s, p.start_min + deciding_min(p.act)), _decided_by(s, p.act))
        for p in placed
        if p.act.role != "raise_fc"  # the swim reading tells
    ]
    return _merged([t for t in due if t.at_min <= DAY_MIN + QUIET_TO] or due)


def _swim_test(s: Situation, placed: list[Placed]) -> list[Test]:
    """The reading that may open swimming, where something was poured and nothing seen forbids it."""
    if s.growth or not any(p.act.product for p in placed):
        return []
    return [Test(swim_reading_min(s, placed), ("fc", "ph") if s.water.ph is not None else ("fc",))]


def _decided_by(s: Situation, act: Act) -> tuple[str, ...]:
    if act.role in ("raise_cya", AERATE):
        return ("ph",)
    if act.role == "raise_ta":
        return ("ph", "ta") if s.water.ph is not None else ("ta",)
    return (MEASURE_OF_ROLE[act.role],)


def _merged(tests: list[Test]) -> list[Test]:
    """Tests in order, those within an hour of the next taken with it."""
    merged: list[Test] = []
    for test in sorted(tests, key=lambda t: t.at_min):
        if merged and test.at_min - merged[-1].at_min <= 60:
            both = {*merged[-1].measures, *test.measures}
            test = replace(test, measures=tuple(m for m in MEASURES if m in both))
            merged.pop()
        merged.append(test)
    return merged


def full_test(s: Situation) -> tuple[str, ...]:
    """The measures of a full test here."""
    return tuple(m for m in _FULL if m != "salt" or s.traits.has_chlorinator)
