"""The water in the days to come, from where the estimate stands: the same filter, walked on over the
outlook's weather and what goes on by itself.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise
from statistics import mean

from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.kept import ESTIMATE_VERSION
from kumpan.core.water.estimate.present import SIGMAS_80, Observation, Present
from kumpan.core.water.estimate.tracks import chlorine_of
from kumpan.core.water.measures import MEASURES

# Of the rules by which forecasts are made of the estimate; another where they give other figures.
FORECAST_VERSION = "2026-11-27.1"
RULE_VERSION = f"{ESTIMATE_VERSION}/{FORECAST_VERSION}"

# Which days ahead are foretold and stored, by measure: what moves fast daily, the rest at both ends.
_FAST, _SLOW = (1, 2, 3, 5, 7), (3, 7)
DAYS_AHEAD: Mapping[str, tuple[int, ...]] = {
    "fc": _FAST, "ph": _FAST, "ta": _SLOW, "ch": _SLOW, "cya": _SLOW, "salt": _SLOW,
}  # fmt: skip
MOST_DAYS = 7
# What was not read for so long, or twice as long as it may be carried, is not foretold (our own).
_UNREAD_DAYS = 21.0
# Tablets count as a habit after so many loads within so many days, none later than half a gap; bathers after
# as many entries within so many days (our own).
_LOADS, _LOADS_DAYS, _LATE = 3, 35.0, 1.5
_BATHED_DAYS = 14.0


@dataclass(frozen=True)
class Assumed:
    """What a forecast takes for granted. loads: tablets that go in as they used to, until the instant
    foretold, as the chlorine they hold (ppm); cell_ppm_day: what the cell is set to make, None where that is
    not known or there is none; weather: whether an outlook was known; widened: by how much the pool's own
    score made its interval wider. Nothing else is poured, drained or set.
    """

    loads_ppm: float = 0.0
    cell_ppm_day: float | None = None
    weather: bool = False
    widened: float = 1.0


@dataclass(frozen=True)
class Forecast:
    """A measure foretold: when, for when, its mean and 80 % interval, what is assumed, by which rules."""

    measure: str
    made_at: datetime
    for_at: datetime
    mean: float
    low80: float
    high80: float
    assumed: Assumed
    rule_version: str


def path_ahead(stands: Filter, outlook: Iterable[Observation], times: Sequence[datetime]) -> list[Present]:
    """The water at these instants (ascending), from where a filter stands, which stays there. outlook: the
    weather to come, and what is put in by habit.
    """
    walk, coming, i, path = stands.copy(), sorted(outlook, key=lambda e: (e.at, e.id)), 0, []
    for at in times:
        while i < len(coming) and coming[i].at <= at:
            walk.take(coming[i])
            i += 1
        path.append(walk.go_on_to(at))
    return path


def habits(log: Sequence[Observation], now: datetime) -> list[Observation]:
    """What will go on as it did, up to a week ahead: bathers, and tablets by the mean load at the mean gap,
    where three went in within five weeks and the last is not long ago.
    """
    return _bathers(log, now) + _loads(log, now)


def _loads(log: Sequence[Observation], now: datetime) -> list[Observation]:
    since = now - timedelta(days=_LOADS_DAYS)
    loads = sorted((e for e in log if e.feeds is not None and since <= e.at <= now), key=lambda e: e.at)
    if len(loads) < _LOADS:
        return []
    gap = timedelta(seconds=mean((b.at - a.at).total_seconds() for a, b in pairwise(loads)))
    if gap < timedelta(hours=12) or now - loads[-1].at > _LATE * gap:
        return []
    fed = [one.feeds for one in loads if one.feeds is not None]
    usual = sum(fed[1:], start=fed[0]) * (1 / len(fed))
    first = max(loads[-1].at + gap, now + timedelta(hours=1))
    last, coming = now + timedelta(days=MOST_DAYS), list[Observation]()
    while first <= last:
        coming.append(Observation(first, f"habit {len(coming)}", feeds=usual))
        first += gap
    return coming


def _bathers(log: Sequence[Observation], now: datetime) -> list[Observation]:
    """Bathers who come as they came: as many a day as were written down of late, where some were on several
    days.
    """
    since = now - timedelta(days=_BATHED_DAYS)
    heads = [e.bathers for e in log if e.bathers and since <= e.at <= now]
    if len(heads) < _LOADS:
        return []
    a_day = sum(heads) / _BATHED_DAYS
    first = now + timedelta(hours=12)
    days = (first + timedelta(days=i) for i in range(MOST_DAYS))
    return [Observation(at, f"habit of bathers {at}", bathers=a_day) for at in days]


def foretold_measures(stands: Filter, now: datetime) -> tuple[str, ...]:
    """Which measures can be foretold: those read of late."""
    known = stands.at(now).measures
    return tuple(
        m
        for m in DAYS_AHEAD
        if m in known and known[m].age_days <= max(_UNREAD_DAYS, 2.0 * MEASURES[m].carry_days)
    )


def make(
    stands: Filter,
    outlook: Sequence[Observation],
    log: Sequence[Observation],
    made_at: datetime,
    widened: Mapping[str, float],
) -> list[Forecast]:
    """What is foretold at an instant, from where the filter stands then: nothing later is seen. outlook: the
    weather to come; log: of the last weeks, for habits; widened: by measure, from the score.
    """
    measures = foretold_measures(stands, made_at)
    fed = habits(log, made_at)
    days = sorted({d for m in measures for d in DAYS_AHEAD[m]})
    path = path_ahead(stands, [*outlook, *fed], [made_at + timedelta(days=d) for d in days])
    found = []
    for day, present in zip(days, path, strict=True):
        loads = sum(chlorine_of(e.feeds) for e in fed if e.at <= present.at)
        for m in measures:
            if day in DAYS_AHEAD[m]:
                wider = widened.get(m, 1.0)
                given = Assumed(loads, stands.around.cell_ppm_day, bool(outlook), wider)
                one = present.measures[m]
                low, high = span(one.value, one.sigma * wider)
                found.append(Forecast(m, made_at, present.at, one.value, low, high, given, RULE_VERSION))
    return found


def span(value: float, sigma: float) -> tuple[float, float]:
    """Four in five round a value; nothing is under zero."""
    return max(0.0, value - SIGMAS_80 * sigma), value + SIGMAS_80 * sigma
