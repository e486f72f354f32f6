"""How forecasts came out: each stored one against what was read, never one made afterwards."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.core.chemistry import constants as k
from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.forecast.ahead import Assumed, Forecast
from kumpan.core.water.estimate.present import SIGMAS_80, Observation
from kumpan.core.water.estimate.tracks import chlorine_of

# A reading is held against the newest forecast that foretold it so many days ahead: (from, to], for each of
# the days that are told (our own).
LEADS: dict[int, tuple[float, float]] = {1: (1.0, 2.0), 3: (3.0, 4.0), 7: (6.0, 7.0)}
# An act that moves a measure by more than this was not assumed (canonical units; our own: what a test could
# hardly tell).
_MOVES = {"fc": 0.3, "ph": 1.5, "ta": 3.0, "ch": 5.0, "cya": 2.0, "salt": 50.0}
_FED_BY_TABLETS = ("fc", "ph", "ta", "cya")
_EXCHANGED, _LOADS_OFF_PPM, _LOADS_OFF, _CELL_OFF = 0.01, 1.0, 0.35, 0.10
# The score begins as if so many readings had come out as foretold; one counts as three sigmas at most; an
# interval is made three times as wide at most (our own).
_TRUSTED, _WORST, _WIDEST = 10.0, 9.0, 3.0


@dataclass(frozen=True)
class Read:
    """A reading: of what, when, its value and 95 % error (canonical unit)."""

    measure: str
    at: datetime
    value: float
    u95: float


@dataclass(frozen=True)
class Scored:
    """A forecast held against a reading. days: how far ahead it was made, as told; hit: whether the reading
    lay in its interval, its own error allowed for; squares: how far off, in sigmas that no score had widened,
    squared; void: which assumed act did not happen, or which other did; empty where it counts.
    """

    measure: str
    days: int
    made_at: datetime
    read_at: datetime
    mean: float
    low: float
    high: float
    read: float
    hit: bool
    squares: float
    void: str


@dataclass(frozen=True)
class Score:
    """A measure's score: of how many that count how many came out, how many were void, and by how much
    intervals are to be wider.
    """

    counted: int
    hits: int
    void: int
    widened: float

    @property
    def share(self) -> float | None:
        """The hit rate; None where none counts yet."""
        return self.hits / self.counted if self.counted else None

    @property
    def void_share(self) -> float | None:
        """Of all that came due, how many were void."""
        due = self.counted + self.void
        return self.void / due if due else None


def scored(stored: Iterable[Forecast], readings: Sequence[Read], log: Sequence[Observation]) -> list[Scored]:
    """Each reading against the newest stored forecast of each lead. log: what happened between, as the
    estimate takes it.
    """
    made: dict[str, dict[datetime, list[Forecast]]] = {}
    for one in stored:
        made.setdefault(one.measure, {}).setdefault(one.made_at, []).append(one)
    found = []
    for read in readings:
        for days, (least, most) in LEADS.items():
            among = made.get(read.measure, {})
            fits = [at for at in among if _within(read.at - at, least, most)]
            told = _at(among[max(fits)], read.at) if fits else None
            if told is not None:
                found.append(_one(told, read, days, log))
    return found


def _within(ahead: timedelta, least: float, most: float) -> bool:
    days = ahead.total_seconds() / 86400
    return least <= days < most if least < 6 else least < days <= most


def _at(rows: list[Forecast], at: datetime) -> Forecast | None:
    """One making's forecast for an instant, between the two stored that lie round it."""
    rows = sorted(rows, key=lambda f: f.for_at)
    before = next((f for f in reversed(rows) if f.for_at <= at), None)
    after = next((f for f in rows if f.for_at >= at), None)
    if before is None or after is None:
        return None
    whole = (after.for_at - before.for_at).total_seconds()
    share = 0.0 if whole == 0 else (at - before.for_at).total_seconds() / whole

    def between(a: float, b: float) -> float:
        return a + share * (b - a)

    near = before if share < 0.5 else after
    return Forecast(
        before.measure,
        before.made_at,
        at,
        between(before.mean, after.mean),
        between(before.low80, after.low80),
        between(before.high80, after.high80),
        near.assumed,
        before.rule_version,
    )


def _one(told: Forecast, read: Read, days: int, log: Sequence[Observation]) -> Scored:
    sigma = (told.high80 - told.mean) / SIGMAS_80  # the lower end may be cut off at none
    of_kit = read.u95 / SIGMAS_95
    both = math.hypot(sigma, of_kit)
    low, high = told.mean - SIGMAS_80 * both, told.mean + SIGMAS_80 * both
    bare = math.hypot(sigma / told.assumed.widened, of_kit)
    off = read.value - told.mean
    squares = min(_WORST, (off / bare) ** 2) if bare > 0 else _WORST
    happened = [e for e in log if told.made_at < e.at < read.at]
    void = void_by(told.measure, told.assumed, happened)
    return Scored(
        told.measure, days, told.made_at, read.at, told.mean, max(0.0, low), high, read.value,
        low <= read.value <= high, squares, void,
    )  # fmt: skip


def void_by(measure: str, assumed: Assumed, happened: Sequence[Observation]) -> str:
    """Why a forecast of a measure does not count: what was done and not assumed, or assumed and not done;
    empty where it counts. Weather and bathers are no acts: a forecast that missed them missed.
    """
    poured = sum((_moves(measure, e) for e in happened), start=0.0)
    if abs(poured) > _MOVES[measure]:
        return "poured"
    if sum(e.replaced for e in happened) > _EXCHANGED:
        return "exchanged"
    loads = sum(chlorine_of(e.feeds) for e in happened)
    fed_otherwise = abs(loads - assumed.loads_ppm) > max(_LOADS_OFF_PPM, _LOADS_OFF * assumed.loads_ppm)
    if fed_otherwise and measure in _FED_BY_TABLETS:
        return "tablets"
    if measure == "fc":
        for e in happened:
            if e.cell_set and not _same(e.cell_ppm_day, assumed.cell_ppm_day):
                return "cell"
            if e.covered is not None:
                return "cover"
    return ""


def _same(one: float | None, other: float | None) -> bool:
    if one is None or other is None:
        return one is other
    return abs(one - other) <= _CELL_OFF * max(one, other)


def _moves(measure: str, entry: Observation) -> float:
    """What a dose does to a measure (canonical unit), its chlorine spent but for chlorine itself; for pH what
    it does to alkalinity, as ppm.
    """
    change = entry.change
    if change is None:
        return 0.0
    if measure == "fc":
        return change.cl2 * 1000 * k.CL2
    spent = change.spent
    return {
        "ph": (abs(spent.alk) + abs(spent.carbon)) * k.TA_PPM_PER_EQ_L,
        "ta": spent.alk * k.TA_PPM_PER_EQ_L,
        "ch": spent.ca * k.CH_PPM_PER_MOL_L,
        "cya": spent.cya * 1000 * k.CYANURIC,
        "salt": spent.salt_ppm,
    }[measure]


def score(results: Iterable[Scored]) -> Score:
    """The score of forecasts of one measure. What they are widened by follows from how far off they were, a
    reading counting once however often it was foretold.
    """
    all_due = list(results)
    counted = [one for one in all_due if not one.void]
    by_reading: dict[datetime, list[float]] = {}
    for one in counted:
        by_reading.setdefault(one.read_at, []).append(one.squares)
    total = sum(sum(squares) / len(squares) for squares in by_reading.values())
    wider = math.sqrt((_TRUSTED + total) / (_TRUSTED + len(by_reading)))
    return Score(
        len(counted), sum(one.hit for one in counted), len(all_due) - len(counted),
        min(_WIDEST, max(1.0, wider)),
    )  # fmt: skip


def scores(results: Sequence[Scored]) -> dict[str, Score]:
    """The score of each measure that came due."""
    measures = dict.fromkeys(one.measure for one in results)
    return {m: score(one for one in results if one.measure == m) for m in measures}
