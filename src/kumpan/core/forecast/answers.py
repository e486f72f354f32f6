"""What a forecast means for what people do: how long chlorine lasts, and when to test what."""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from itertools import pairwise

from kumpan.core.guidance.targets import Band
from kumpan.core.water.estimate.present import Present
from kumpan.core.water.measures import MEASURES

# A reading older than so says nothing of today's chlorine where nothing feeds it (our own).
_GUESS_DAYS, _JUST_DAYS = 10.0, 0.5
_EVENING = time(18)


@dataclass(frozen=True)
class Lasts:
    """How long chlorine stays at its minimum: expected until; sure (nine in ten) until. None: longer than is
    looked ahead. just_read: whether that leans on a reading of the last half day.
    """

    minimum_ppm: float
    until: datetime | None
    sure_until: datetime | None
    under_now: bool
    just_read: bool


@dataclass(frozen=True)
class NextTest:
    """When to test, and what: at most ``by``, the person's own day. because: ``chlorine``, ``ph``,
    ``cadence`` or ``old``, by what it was chosen.
    """

    on: date
    evening: bool
    measures: tuple[str, ...]
    because: str


def times_ahead(now: datetime, days: int, a_day: int = 1) -> list[datetime]:
    """The instants at which the way ahead is looked at: now, and so many times a day."""
    return [now + i * timedelta(days=1) / a_day for i in range(days * a_day + 1)]


def lasts(path: Sequence[Present], minimum_ppm: float) -> Lasts | None:
    """How long chlorine lasts along a path; None where it was never read."""
    levels = [(p.at, p.measures["fc"]) for p in path if "fc" in p.measures]
    if not levels:
        return None
    means = [(at, one.value) for at, one in levels]
    lows = [(at, one.span_80[0]) for at, one in levels]
    until = _falls_under(means, minimum_ppm)
    just_read = levels[0][1].age_days <= _JUST_DAYS
    return Lasts(minimum_ppm, until, _falls_under(lows, minimum_ppm), means[0][1] < minimum_ppm, just_read)


def leaves_band(path: Sequence[Present], measure: str, band: Band | None) -> tuple[datetime, float] | None:
    """When a measure that is in its band now is expected to leave it, and by which edge; None where not."""
    values = [(p.at, p.measures[measure].value) for p in path if measure in p.measures]
    if band is None or not values:
        return None
    for edge, sign in ((band.high, -1.0), (band.low, 1.0)):
        if edge is None or sign * values[0][1] < sign * edge:
            continue
        at = _falls_under([(when, sign * value) for when, value in values], sign * edge)
        if at is not None:
            return at, edge
    return None


def next_test(
    path: Sequence[Present], chlorine: Lasts | None, bands: Mapping[str, Band], by: date | None
) -> NextTest:
    """When to test next, on the pool's clock (that of the path): the last evening before chlorine may be
    under its minimum, or pH leaves its band; no later than the person's own day. Which: chlorine and pH,
    and what is by then too old or too unsure to dose on.
    """
    here = path[0]
    at, because = min(_asked(path, chlorine, bands, by), default=(path[-1].at, "cadence"))
    at = max(at, here.at)
    on, evening = at.date(), because in ("chlorine", "ph")
    if evening and at.time() < _EVENING:  # the last evening before it
        on, evening = (on - timedelta(days=1), True) if on > here.at.date() else (on, False)
    then = next((p for p in path if p.at >= at), path[-1])
    slow = (m for m in then.measures if m in bands and MEASURES[m].carry_days and m != "temp")
    return NextTest(on, evening, ("fc", "ph", *(m for m in slow if not then.measures[m].usable)), because)


def _asked(
    path: Sequence[Present], chlorine: Lasts | None, bands: Mapping[str, Band], by: date | None
) -> Iterator[tuple[datetime, str]]:
    """The instants at which something asks for a test, and what."""
    here = path[0]
    if chlorine is None or here.measures["fc"].age_days > _GUESS_DAYS:
        yield here.at, "old"
    elif chlorine.sure_until is not None:
        yield chlorine.sure_until, "chlorine"
    ph = leaves_band(path, "ph", bands.get("ph"))
    if ph is not None:
        yield ph[0], "ph"
    if by is not None:
        yield datetime.combine(by, _EVENING, here.at.tzinfo), "cadence"


def _falls_under(values: Sequence[tuple[datetime, float]], edge: float) -> datetime | None:
    """When a course first passes under an edge: between its instants by a share a day where it stays over
    none, as chlorine goes, else straight.
    """
    if values[0][1] < edge:
        return values[0][0]
    for (t0, v0), (t1, v1) in pairwise(values):
        if v1 < edge:
            falls = v1 > 0 and edge > 0
            share = math.log(v0 / edge) / math.log(v0 / v1) if falls else (v0 - edge) / (v0 - v1)
            return t0 + (t1 - t0) * share
    return None
