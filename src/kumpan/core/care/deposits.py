"""When a cell's plates want a look: learned from the saturation index of its water and from what looks found.

Scale grows on a cell as its water would have it, and each pool in its own proportion. The proportion is
learned by Bayes' rule on a grid: what each look found says how much had grown since the plates were last
clean. The next look is set for when a film is to be expected: early enough for a hose and a stick, before
it needs acid.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.core.machines.output import warm_share
from kumpan.core.pool.traits import CELL_STOPS_C
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.state import WaterState, solution_of, with_measures

# The plates' index stands over the water's, as pH rises there (our own); under it nothing grows.
PLATES_OVER = 0.3
# What a cell with an index of +0.3 does in common practice: a film after two weeks, four where it cleans
# itself. The rest of the interval's schools (weekly, three months) lies within the spread.
_FILM_DAYS, _FILM_DAYS_SELF, _AT_INDEX, _SPREAD = 14.0, 28.0, 0.3, 0.9
# A film is 1; from so much on it is heavy, and a bath is due. How far a grade may be off (our own).
HEAVY, _GRADE_OFF = 4.0, 0.35
# The next look is for so much, and never sooner or later than so (our own).
_WANTED, LEAST_DAYS, MOST_DAYS = 0.8, 7, 182
_LEFT = 0.5  # of what the look is set for is there at most where one found bare metal (our own)
_INDEX_UNKNOWN = 0.1  # taken where nothing tells it: a little over balance, as cells push pH up (our own)
_GRID = [i / 10 for i in range(-35, 36)]
_REMEMBERED = 8  # looks that count: a pool's water changes its ways (our own)
_GRADES = {"fine": (0.0, 1.0), "light": (1.0, HEAVY), "deposits": (1.0, math.inf), "heavy": (HEAVY, math.inf)}
SCALED = ("light", "deposits", "heavy")


@dataclass(frozen=True)
class Look:
    """A look at the plates: when, and its grade: fine, light, heavy; deposits where nobody said how much."""

    at: datetime
    grade: str


@dataclass(frozen=True)
class CellLog:
    """What the log knows of a cell. looks: oldest first; cleaned: when its plates were cleaned besides.
    index: of the water at each test, oldest first; ph, ch_ppm: their means of late; self_cleaning: whether it
    reverses.
    """

    looks: tuple[Look, ...] = ()
    cleaned: tuple[datetime, ...] = ()
    index: tuple[tuple[datetime, float, float], ...] = ()
    ph: float | None = None
    ch_ppm: float | None = None
    self_cleaning: bool = False


@dataclass(frozen=True)
class Interval:
    """When the plates want a look: so many days after ``since``, when they were last looked at or cleaned,
    and why, in words. rate: films a day as learned.
    """

    days: int
    why: str
    rate: float
    since: datetime | None


def index_log(
    read: Sequence[tuple[datetime, str, float]],
) -> tuple[tuple[tuple[datetime, float, float], ...], float | None, float | None]:
    """The saturation index at each test of pH, slow measures carried from the tests before, with the share of
    its output that a cell makes in water so warm; and the means of the newest pH and calcium readings. read:
    (at, measure, value), oldest first.

    Where alkalinity or calcium was never read there is no index. Plummer & Busenberg (1982), through
    ``solution_of``.
    """
    held: dict[str, float] = {}
    index: list[tuple[datetime, float, float]] = []
    instants = sorted({at for at, _, _ in read})
    by_at: dict[datetime, dict[str, float]] = {at: {} for at in instants}
    for at, measure, value in read:
        by_at[at][measure] = value
    for at in instants[-_TESTS:]:
        held |= by_at[at]
        if "ph" in by_at[at] and {"ta", "ch"} <= held.keys():
            water = with_measures(_USUAL, held)
            if conflict_of(water) is None:
                share = warm_share(held.get("temp"), CELL_STOPS_C)
                index.append((at, float(solution_of(water).si_calcite), share))
    return tuple(index), _mean(read, "ph"), _mean(read, "ch")


# The newest tests that tell the index; what of the water was not read is taken so (our own; it moves the
# index by less than 0.1).
_TESTS, _MEANS_OF = 60, 6
_USUAL = WaterState(fc_ppm=2.0, cya_ppm=30.0, salt_ppm=3000.0, temp_c=26.0)


def _mean(read: Sequence[tuple[datetime, str, float]], measure: str) -> float | None:
    values = [value for _, m, value in read if m == measure][-_MEANS_OF:]
    return sum(values) / len(values) if values else None


def next_look(log: CellLog, now: datetime) -> Interval:
    """How long after it was last looked at or cleaned a cell wants a look.

    Looks that found nothing lengthen it, deposits shorten it, and so does an index that rose. Our own; the
    prior is common practice.
    """
    looks = log.looks[-_REMEMBERED:]
    told = [(_grown(log, begun, one.at), one.grade) for begun, one in _spans(log, looks)]
    pace = _learned([t for t in told if t[0] > 0 and t[1] in _GRADES], log.self_cleaning)
    rate = pace * _grown(log, now - timedelta(days=_NOW_DAYS), now) / _NOW_DAYS
    clean, seen = _last_clean(log), log.looks[-1].at if log.looks else None
    since = max(filter(None, (clean, seen)), default=now)
    there = 0.0
    if clean is not None and since > clean:
        # Found clean since: what has grown is less than a film, whatever was expected.
        there = min(_WANTED * _LEFT, pace * _grown(log, clean, since))
    there += pace * _grown(log, since, now)
    waited = (now - since).total_seconds() / 86400
    days = waited + (max(0.0, _WANTED - there) / rate if rate > 0 else MOST_DAYS)
    days = max(LEAST_DAYS, min(MOST_DAYS, round(days)))
    lately = now - timedelta(days=_LATELY)
    return Interval(days, _why(log, lately, now), rate, since if clean or seen else None)


_NOW_DAYS = 21  # whose index is taken to go on
_LATELY = 60  # days whose index drives what grows now


def _last_clean(log: CellLog) -> datetime | None:
    """When the plates were last known to be clean of deposits: cleaned, or found scaled, which is then
    cleaned; the first look where they never were.
    """
    cleaned = [*log.cleaned, *(one.at for one in log.looks if one.grade in SCALED)]
    return max(cleaned, default=log.looks[0].at if log.looks else None)


def _spans(log: CellLog, looks: Sequence[Look]) -> list[tuple[datetime, Look]]:
    """Each look with the instant from which on what it found had grown."""
    spans = []
    for one in looks:
        before = [at for at in log.cleaned if at < one.at]
        before += [other.at for other in log.looks if other.at < one.at and other.grade in SCALED]
        begun = max(before, default=log.looks[0].at)
        if begun < one.at:
            spans.append((begun, one))
    return spans


def _mean_index(log: CellLog, begun: datetime, until: datetime) -> float | None:
    """The mean of the index in a span; the newest before it where none was read in it."""
    inside = [value for at, value, _ in log.index if begun <= at <= until]
    if inside:
        return sum(inside) / len(inside)
    before = [value for at, value, _ in log.index if at < begun]
    return before[-1] if before else None


def _grown(log: CellLog, begun: datetime, until: datetime) -> float:
    """What a span grew, in days of an index of 1 at the plates: each reading holds until the next, and counts
    where it is over balance and the cell runs. A water that swings scales when it is high.
    """
    readings = [*((at, max(0.0, value + PLATES_OVER) * share) for at, value, share in log.index)]
    if not readings:
        return (_INDEX_UNKNOWN + PLATES_OVER) * (until - begun).total_seconds() / 86400
    total = 0.0
    for i, (at, drive) in enumerate(readings):
        first = begun if i == 0 else max(begun, at)
        last = min(until, readings[i + 1][0]) if i + 1 < len(readings) else until
        total += drive * max(0.0, (last - first).total_seconds() / 86400)
    return total


def _learned(told: Sequence[tuple[float, str]], self_cleaning: bool) -> float:
    """Films a day for an index of 1 at the plates: the mean of its logarithm, given what was found."""
    usual = _FILM_DAYS_SELF if self_cleaning else _FILM_DAYS
    prior = math.log(1 / usual / (_AT_INDEX + PLATES_OVER))
    weights = []
    for z in _GRID:
        chance = math.exp(-z * z / 2)
        for driven, grade in told:
            chance *= _likelihood(math.exp(prior + z * _SPREAD) * driven, grade)
        weights.append(chance)
    whole = sum(weights)
    mean = sum(z * w for z, w in zip(_GRID, weights, strict=True)) / whole if whole else 0.0
    return math.exp(prior + mean * _SPREAD)


def _likelihood(grown: float, grade: str) -> float:
    """How likely a grade is where so many films have grown; a little for everything: eyes err."""
    low, high = _GRADES[grade]

    def under(limit: float) -> float:
        if math.isinf(limit):
            return 1.0
        if limit <= 0 or grown <= 0:
            return 0.0 if limit <= 0 else 1.0
        return 0.5 * (1 + math.erf(math.log(limit / grown) / _GRADE_OFF / math.sqrt(2)))

    return 0.02 + 0.98 * max(0.0, under(high) - under(low))


_COLD_SHARE = 0.3  # of its output: what is said to hardly run (our own)
_HIGH_PH, _HIGH_CH = 7.8, 400.0  # the tops of the usual bands (targets: common practice)


def _why(log: CellLog, begun: datetime, now: datetime) -> str:
    """What sets the interval, in words: the index, what makes it high, and what was found of late."""
    parts = [_index_words(log, _mean_index(log, begun, now)), _found_words(log.looks[-3:])]
    if log.self_cleaning:
        parts.append("it cleans itself")
    shares = [share for at, _, share in log.index if at > now - timedelta(days=_NOW_DAYS)]
    if shares and sum(shares) / len(shares) < _COLD_SHARE:
        parts.append("it hardly runs in water so cold")
    return f"{', '.join(parts[:-1])} and {parts[-1]}"


def _index_words(log: CellLog, mean: float | None) -> str:
    if mean is None:
        return "the index is not known yet"
    high = [f"pH {log.ph:.1f}"] if log.ph is not None and log.ph > _HIGH_PH else []
    high += [f"calcium {log.ch_ppm:.0f}"] if log.ch_ppm is not None and log.ch_ppm > _HIGH_CH else []
    because = f" ({', '.join(high)})" if high and mean > 0 else ""
    return f"the index averaged {mean:+.1f}{because}"


def _found_words(looks: Sequence[Look]) -> str:
    if not looks:
        return "nobody has looked yet"
    scaled = sum(one.grade in SCALED for one in looks)
    last = "the last look" if len(looks) == 1 else f"the last {['', '', 'two', 'three'][len(looks)]} looks"
    if scaled == len(looks):
        return f"{last} found scale"
    if scaled == 0:
        return f"{last} found bare metal"
    return f"{scaled} of {last} found scale"
