"""The log as aligned graphs: readings with whiskers, the estimate between them, doses and events as marks;
thinned for long spans.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise
from uuid import UUID

from sqlalchemy.orm import Session

from kumpan.actions.context import Context
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.forecast.ahead import MOST_DAYS
from kumpan.core.forecast.answers import times_ahead
from kumpan.core.guidance.targets import Band, bands_for
from kumpan.core.log.kinds import KINDS, phrase_of
from kumpan.core.units import c_to_f
from kumpan.core.water.estimate.present import Present
from kumpan.core.water.estimate.walk import along
from kumpan.core.water.measures import IN_STATE, MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.store import queries
from kumpan.store.forecasts import way_ahead
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.pools import Pool
from kumpan.store.water import LOOK_BACK, begun, filter_of, observed, traits_of

_MOST_READINGS = 400  # of one measure; more are thinned, never one out of its band
_SAMPLES = 220
# Over longer spans only readings are drawn: an estimate between them would be a line's width.
_ESTIMATED_DAYS = 400.0
# An estimate is drawn until its reading is so old, or twice as old as it may be carried: a winter without a
# test says nothing (our own).
_DRAWN_DAYS = 21.0


@dataclass(frozen=True)
class Point:
    """A reading: value and whisker in the person's unit; level: fine or act (out of its band)."""

    at: datetime
    value: float
    low: float
    high: float
    level: str
    method: str


@dataclass(frozen=True)
class Sample:
    """The estimate at an instant, with its 80 % span."""

    at: datetime
    value: float
    low: float
    high: float


Runs = tuple[tuple[Sample, ...], ...]


@dataclass(frozen=True)
class Stretch:
    """A stretch of time in which the estimate lies out of its band."""

    start: datetime
    end: datetime


@dataclass(frozen=True)
class Series:
    """One measure through time, on its own scale; the band as it is today. tested, tested_out: how often it
    was read, and read out of its band. estimate: in runs, as it is not drawn through a winter without a test;
    ahead: what is foretold from now on, if nothing is done.
    """

    measure: str
    label: str
    unit: str
    decimals: int
    scale_low: float
    scale_high: float
    band_low: float | None
    band_high: float | None
    tested: int
    tested_out: int
    readings: tuple[Point, ...]
    estimate: tuple[tuple[Sample, ...], ...]
    ahead: tuple[Sample, ...]
    out: tuple[Stretch, ...]


@dataclass(frozen=True)
class Mark:
    """A dose or event at its instant."""

    at: datetime
    kind: str
    title: str


@dataclass(frozen=True)
class Graph:
    """The window, now, the log's first instant, one series a measure, marks. thinned: readings were left out,
    none out of its band.
    """

    start: datetime
    end: datetime
    now: datetime
    first: datetime | None
    series: tuple[Series, ...]
    marks: tuple[Mark, ...]
    thinned: bool


def graph(context: Context, pool_id: UUID, start: datetime, end: datetime) -> Graph:
    """The pool's log between two instants. Raises InvalidInput where they are the wrong way round or too far
    apart.
    """
    _check_span(start, end)
    pool = queries.pool(context.session, context.account.id, pool_id)
    rows = queries.readings_between(context.session, pool.id, start, end)
    path = (
        _path(context.session, pool, start, min(end, context.now))
        if end - start <= timedelta(days=_ESTIMATED_DAYS)
        else []
    )
    coming = _ahead(context, pool, start, end)
    newest = next((value for measure, _, value, _ in reversed(rows) if measure == "cya"), None)
    bands = bands_for(traits_of(pool), newest)
    series, thinned = [], False
    for m in IN_STATE:
        scale = _Scale(m, bands.get(m), context.account)
        drawn = [scale.point(at, value, method) for measure, at, value, method in rows if measure == m]
        kept = _thinned(drawn)
        thinned |= len(kept) < len(drawn)
        runs, ahead = scale.runs(path), scale.runs(coming)
        if drawn or runs:
            counted = len(drawn), sum(p.level == "act" for p in drawn)
            series.append(scale.series(kept, counted, (runs, ahead[-1] if ahead else ())))
    kinds = tuple(k.id for k in KINDS.values() if k.id not in ("water_test", "plan"))
    marks = tuple(
        Mark(e.at, e.kind, phrase_of(e).mark)
        for e in queries.marks_between(context.session, pool.id, start, end, kinds)
    )
    first = queries.first_event_at(context.session, pool.id)
    return Graph(start, end, context.now, first, tuple(series), marks, thinned)


def _ahead(context: Context, pool: Pool, start: datetime, end: datetime) -> list[Present]:
    """The water to come, where the window reaches past now."""
    now = context.now
    until = min(end, now + timedelta(days=MOST_DAYS))
    if not start < now < until:
        return []
    times = [t for t in times_ahead(now, MOST_DAYS, a_day=3) if t < until]
    return way_ahead(context.session, pool, filter_of(context.session, pool, now), [*times, until])[0]


def _check_span(start: datetime, end: datetime) -> None:
    if end <= start:
        raise InvalidInput(FieldProblem("end", "out_of_range", "The end must lie after the start."))
    if end - start > timedelta(days=366 * 60):
        raise InvalidInput(FieldProblem("end", "out_of_range", "At most sixty years."))


def _path(session: Session, pool: Pool, start: datetime, end: datetime) -> list[Present]:
    """The estimate at even instants and just before and after each entry, so that its steps stand upright."""
    traits = traits_of(pool)
    events = observed(session, pool, traits, start - LOOK_BACK, end)
    if not events or end <= start:
        return []
    began = max(start, events[0].at)
    times = {began + (end - began) * i / _SAMPLES for i in range(_SAMPLES + 1)}
    steps = [e.at for e in events if began < e.at < end and not e.id.startswith("weather")]
    if len(steps) <= _SAMPLES:  # more would be nearer one another than a pixel
        times |= {at for step in steps for at in (step - timedelta(seconds=1), step)}
    return along(begun(session, pool, traits, start - LOOK_BACK), events, sorted(times))


@dataclass(frozen=True)
class _Scale:
    """A measure drawn in the person's unit, against its band."""

    measure: str
    band: Band | None
    account: Account

    @property
    def fahrenheit(self) -> bool:
        return self.measure == "temp" and self.account.unit_system == "us"

    @property
    def ends(self) -> tuple[float | None, float | None]:
        """The band's, as shown."""
        band = self.band or Band(self.measure, None, None, None, "")
        return self.optional(band.low), self.optional(band.high)

    def optional(self, value: float | None) -> float | None:
        return None if value is None else self.shown(value)

    def shown(self, value: float) -> float:
        return round(c_to_f(value) if self.fahrenheit else value, 3)

    def point(self, at: datetime, value: float, method: str) -> Point:
        by = METHODS.get(method)
        off = by.u95(self.measure, value) if by else 0.0
        here, low, high = (self.shown(v) for v in (value, max(0.0, value - off), value + off))
        band = self.band
        out = band is not None and _beyond(value, (band.low, band.high))
        return Point(at, here, low, high, "act" if out else "fine", by.label.lower() if by else method)

    def runs(self, path: list[Present]) -> tuple[tuple[Sample, ...], ...]:
        """The estimate along a path, broken where its reading is too old."""
        oldest = max(_DRAWN_DAYS, 2 * MEASURES[self.measure].carry_days)
        runs: list[list[Sample]] = [[]]
        for present in path:
            estimate = present.measures.get(self.measure)
            if estimate is not None and estimate.age_days <= oldest:
                low, high = estimate.span_80
                runs[-1].append(
                    Sample(present.at, self.shown(estimate.value), self.shown(low), self.shown(high))
                )
            elif runs[-1]:
                runs.append([])
        return tuple(tuple(run) for run in runs if run)

    def series(
        self, points: list[Point], counted: tuple[int, int], drawn: tuple[Runs, tuple[Sample, ...]]
    ) -> Series:
        """Its points and samples with room around them, and where the estimate is out of the band. drawn: the
        estimate in runs, and what is foretold.
        """
        runs, ahead = drawn
        measure, (band_low, band_high) = MEASURES[self.measure], self.ends
        whiskers = [v for p in points for v in (p.low, p.high)]
        spans = [v for run in (*runs, ahead) for s in run for v in (s.low, s.high)]
        values = whiskers + spans + [v for v in self.ends if v is not None]
        low, high = min(values), max(values)
        room = max((high - low) * 0.08, 0.1 if self.measure == "ph" else 0.5)
        floor = low - room if self.measure in ("ph", "temp") else max(0.0, low - room)
        return Series(
            measure=self.measure,
            label=measure.label,
            unit="°F" if self.fahrenheit else measure.unit,
            decimals=measure.decimals,
            scale_low=floor,
            scale_high=high + room,
            band_low=band_low,
            band_high=band_high,
            tested=counted[0],
            tested_out=counted[1],
            readings=tuple(points),
            estimate=runs,
            ahead=ahead,
            out=tuple(stretch for run in runs for stretch in _stretches(run, self.ends)),
        )


def _stretches(samples: tuple[Sample, ...], ends: tuple[float | None, float | None]) -> tuple[Stretch, ...]:
    """Where the estimate lies beyond an end, what follows on joined."""
    drawn: list[Stretch] = []
    for begin, end in pairwise(samples):
        if not _beyond(begin.value, ends):
            continue
        if drawn and drawn[-1].end >= begin.at:
            drawn[-1] = Stretch(drawn[-1].start, end.at)
        else:
            drawn.append(Stretch(begin.at, end.at))
    return tuple(drawn)


def _thinned(points: list[Point]) -> list[Point]:
    """At most so many points: every one out of its band, and of the rest the lowest and highest of each equal
    stretch of the list.
    """
    if len(points) <= _MOST_READINGS:
        return points
    size = -(-2 * len(points) // _MOST_READINGS)
    keep = {i for i, p in enumerate(points) if p.level == "act"}
    for begin in range(0, len(points), size):
        stretch = range(begin, min(begin + size, len(points)))
        keep |= {min(stretch, key=lambda i: points[i].value), max(stretch, key=lambda i: points[i].value)}
    return [p for i, p in enumerate(points) if i in keep]


def _beyond(value: float, ends: tuple[float | None, float | None]) -> bool:
    low, high = ends
    return (low is not None and value < low) or (high is not None and value > high)
