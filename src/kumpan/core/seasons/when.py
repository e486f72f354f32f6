"""When to open a pool and when to close it, from its water's warmth.

Open before the water passes 60 to 65 F, close once it stays under 60: common practice, no source. A place
where that never happens is not closed.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import groupby
from typing import Literal

from kumpan.core.seasons.warmth import Warm
from kumpan.core.units import f_to_c

GROWS_C, LATE_C, GREEN_C = f_to_c(60), f_to_c(65), f_to_c(70)
_WEEK = timedelta(days=7)
_YEAR_DAYS = 300  # of weather from which a year's cold is told (our own)
_COLD_DAYS = 21  # under 60 F for fewer days is no winter (our own)
_FREEZES_C = 0.0

State = Literal["open", "closed", "unknown"]
Kind = Literal["opening", "closing"]
Means = Literal["grows", "early", "in_time", "late", "green", "frost", "cold"]


@dataclass(frozen=True)
class Asked:
    """What is known of a pool. course: of its water, empty without weather; read: the newest temperature, C,
    and its day; climate: freezes, mild or unknown, as the person said; state: whether it is open; own_day:
    their own day for what comes next; last: the day of the last of its kind.
    """

    today: date
    state: State
    course: tuple[Warm, ...] = ()
    read: tuple[date, float] | None = None
    climate: str = "unknown"
    own_day: date | None = None
    last: date | None = None


@dataclass(frozen=True)
class Delay:
    """What so many weeks from the day would mean. weeks: negative for sooner; low_c: the coldest night by
    then.
    """

    weeks: int
    day: date
    water_c: float | None
    low_c: float | None
    means: Means


@dataclass(frozen=True)
class When:
    """What is proposed. kind: what comes next; day: proposed, None where nothing is; chosen: the owner's own
    day, else the proposed one; late: from when an opening is late; says: what it rests on; delays: about the
    chosen day; frost: the next freezing night foretold.
    """

    kind: Kind
    day: date | None
    chosen: date | None
    late: date | None
    says: Literal["course", "now", "late", "reading", "ask", "mild", "own", "last_year"]
    delays: tuple[Delay, ...] = ()
    frost: date | None = None
    water_c: float | None = None

    @property
    def own_means(self) -> Means | None:
        """What the owner's own day means; None where it is not theirs or nothing tells."""
        own = self.chosen is not None and self.chosen != self.day
        return next((one.means for one in self.delays if own and one.weeks == 0), None)


def when(asked: Asked) -> When:
    """What to propose. Without weather and without a reading nothing is proposed and a reading asked for;
    heat that is not known is not mild.
    """
    frost = _next_frost(asked)
    kind: Kind = "opening" if asked.state == "closed" else "closing"
    now_c = _now(asked)
    if kind == "closing" and never_closes(asked):
        return When(kind, None, asked.own_day, None, "mild", frost=frost, water_c=now_c)
    if not asked.course:
        return _by_reading(asked, kind)
    day, late = _opens(asked) if kind == "opening" else (_closes(asked), None)
    says: Literal["course", "now", "late"] = "course"
    if kind == "opening" and now_c is not None and now_c >= GROWS_C:
        says = "late" if now_c >= LATE_C else "now"
    elif day is not None and day <= asked.today:
        says = "now"
    chosen = asked.own_day or day
    delays = () if chosen is None else tuple(_delays(asked, kind, chosen))
    return When(kind, day, chosen, late, says, delays, frost, now_c)


def _now(asked: Asked) -> float | None:
    """The water today."""
    here = next((w for w in asked.course if w.day == asked.today), None)
    if here is not None:
        return here.water_c
    return None if asked.read is None else asked.read[1]


def never_closes(asked: Asked) -> bool:
    """Whether a place is too mild for a closing: as the person said; else by a year's weather, where its
    water is hardly ever under 60 F or no night freezes.
    """
    if asked.climate != "unknown":
        return asked.climate == "mild"
    known = [w for w in asked.course if w.how != "last_year"]
    if len(known) < _YEAR_DAYS:
        return False
    year = known[-365:]
    cold = sum(w.smoothed_c < GROWS_C for w in year)
    return cold < _COLD_DAYS or all(w.low_c > _FREEZES_C for w in year)


def _ahead(asked: Asked) -> list[Warm]:
    return [w for w in asked.course if w.day >= asked.today]


def _opens(asked: Asked) -> tuple[date | None, date | None]:
    """A week before the week's mean passes 60 F, and from when it is late."""
    ahead = _ahead(asked)
    grows = next((w.day for w in ahead if w.smoothed_c >= GROWS_C), None)
    late = next((w.day for w in ahead if w.smoothed_c >= LATE_C), None)
    return (None if grows is None else max(asked.today, grows - _WEEK)), late


def _closes(asked: Asked) -> date | None:
    """The first day of the next stretch of three weeks and more under 60 F: today where it is in it."""
    day: date | None = None
    for cold, stretch in groupby(_ahead(asked), key=lambda w: w.smoothed_c < GROWS_C):
        held = list(stretch)
        reaches = len(held) >= _COLD_DAYS or held[-1].day == asked.course[-1].day
        if cold and reaches:
            day = held[0].day
            break
    return day


def _by_reading(asked: Asked, kind: Kind) -> When:
    """What one reading says; without one a reading is asked for."""
    if asked.own_day is not None:
        return When(kind, None, asked.own_day, None, "own", water_c=_now(asked))
    if asked.read is None:
        return When(kind, None, None, None, "ask")
    water = asked.read[1]
    if kind == "opening" and water >= GROWS_C:
        late = water >= LATE_C
        return When(kind, asked.today, asked.today, None, "late" if late else "now", water_c=water)
    if kind == "closing" and water < GROWS_C:
        return When(kind, asked.today, asked.today, None, "now", water_c=water)
    if asked.last is not None:
        again = asked.last + timedelta(days=364)  # the same weekday
        return When(kind, again, again, None, "last_year", water_c=water)
    return When(kind, None, None, None, "reading", water_c=water)


def _next_frost(asked: Asked) -> date | None:
    return next((w.day for w in _ahead(asked) if w.low_c <= _FREEZES_C and w.how != "last_year"), None)


def _delays(asked: Asked, kind: Kind, chosen: date) -> Iterator[Delay]:
    """What a week or two sooner or later mean; only what still lies ahead."""
    by_day = {w.day: w for w in asked.course}
    for weeks in (-2, -1, 0, 1, 2, 3):
        day = chosen + weeks * _WEEK
        here = by_day.get(day)
        if day < asked.today:
            continue
        water = None if here is None else here.smoothed_c
        near = [w.low_c for w in asked.course if chosen - 2 * _WEEK <= w.day <= day]
        low = min(near, default=None)
        means = _opening_means(water) if kind == "opening" else _closing_means(water, low)
        yield Delay(weeks, day, water, low, means)


def _opening_means(water_c: float | None) -> Means:
    if water_c is None or water_c < GROWS_C - 5:
        return "early"
    return "in_time" if water_c < GROWS_C else "late" if water_c < GREEN_C else "green"


def _closing_means(
    water_c: float | None, low_c: float | None
) -> Literal["grows", "in_time", "frost", "cold"]:
    if water_c is not None and water_c >= GROWS_C:
        return "grows"
    if low_c is not None and low_c <= -2.0:
        return "frost"
    return "in_time" if water_c is None or water_c > 7.0 else "cold"
