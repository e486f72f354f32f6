"""A run at an instant: its steps, what became of them, and how it stands."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.around import BACK
from kumpan.core.clearup.build import Live
from kumpan.core.clearup.course import Course
from kumpan.core.clearup.dose import Measures
from kumpan.core.clearup.ending import over_at
from kumpan.core.clearup.live import live_steps
from kumpan.core.clearup.run import Run, Site, Told
from kumpan.core.dosing.acts import Act, acid_or_base
from kumpan.core.dosing.request import PlanRequest
from kumpan.core.dosing.situation import Situation
from kumpan.core.products.catalogue import is_acid
from kumpan.core.water.state import with_measures
from kumpan.core.work.fold import progress
from kumpan.core.work.sheet import Entry, Mark, Progress, Start

# A run of which nothing was said or read for so long was left (our own).
# What pH chemistry needs besides; read in the same visit it stands in for what was known when the run began.
_BALANCE, _SAME_VISIT = ("ta", "ch", "cya", "salt", "temp"), timedelta(hours=2)
_SEEN = {"algae": frozenset({"algae"}), "incident": frozenset({"faecal"})}
_IDLE_MIN = 21 * 24 * 60.0


@dataclass(frozen=True)
class Followed:
    """A run at an instant. course: what its log came to; live: its steps; progress: what became of them;
    measures: what its amounts are told in.
    """

    course: Course
    live: Live
    start: Start
    progress: Progress
    measures: Measures


def follow(
    run: Run,
    site: Site,
    log: tuple[Iterable[Told], Iterable[Mark]],
    now: datetime,
    measures: Measures | None = None,
) -> Followed:
    """The run at ``now``. log: the pool's entries, and what was said of the run; in any order."""
    course, measures = Course(run, site, *log, now), measures or Measures()
    live = live_steps(course, measures, acid_first(course, measures))
    keys: dict[str, set[str]] = {}
    for key, id in live.met.items():
        keys.setdefault(id, set()).add(key)
    start = Start(
        run.id,
        "clear_up",
        run.aim,
        run.at,
        tuple(live.steps),
        idle_min=_IDLE_MIN,
        holds_water=_holds(course, live),
    )
    entries = [
        Entry(e.id, e.at, e.kind, frozenset(e.readings), frozenset(keys.get(e.id, ()))) for e in course.told
    ]
    marks = [m for m in course.marks if m.verb != "give_up"]
    return Followed(
        course, live, start, _given_up(course, live, progress(start, entries, marks, now)), measures
    )


def _holds(course: Course, live: Live) -> bool:
    """Whether nothing else may go in: until the kill is over, or a plain shock was read the day after."""
    if live.given_up_at is not None or over_at(course) is not None:
        return False
    if course.run.aim != "shock" or not course.pours:
        return True
    return not any(e.at > course.pours[-1].at for e in course.checks)


def _given_up(course: Course, live: Live, stands: Progress) -> Progress:
    """The run as it was given up: over once the pad is as it was."""
    if live.given_up_at is None or live.owed:
        return stands
    at = max([m.at for m in course.marks if m.key in BACK] + [live.given_up_at])
    return replace(stands, state="given_up", ended_at=at)


def _settable(course: Course, both: list[Told]) -> Told | None:
    """The last reading that pH could be set by: at chlorine that lets it be read, no acid since."""
    acids = [e.at for e in course.told if is_acid(e.product_id) and e.at >= course.run.at]
    last = both[-1] if both else None
    if last is None or last.readings["fc"].value > t.PH_UNREAD_OVER_PPM or any(a > last.at for a in acids):
        return None
    return last


def acid_first(course: Course, measures: Measures) -> Act | None:
    """Acid that pH asks for before the first chlorine, by the run's first test and what was known of the
    rest: over 7.6 toward 7.4, under the caps of a single addition (the planner's own act). After an incident
    by the last reading, as often as it takes.
    """
    both = [e for e in course.tests if {"fc", "ph"} <= e.readings.keys()]
    first = next(iter(both), None)
    if course.run.aim == "incident":
        first = _settable(course, both)
    elif course.pours:
        return None
    if first is None or course.run.means == "boost":
        return None
    since = course.run.at - _SAME_VISIT
    read = {m: v[0] for m in _BALANCE if (v := course.latest(m, since)) is not None}
    read |= {m: v.value for m, v in first.readings.items()}
    request = PlanRequest(
        course.site.traits,
        with_measures(course.run.water, read),
        first.at,
        u95={m: v.u95(m) for m, v in first.readings.items()},
        methods={m: v.method for m, v in first.readings.items()},
        system=measures.system,
        own_measures=measures.own,
        seen=_SEEN.get(course.run.aim, frozenset()),
    )
    act = acid_or_base(Situation(request))
    return act if act is not None and act.role == "lower_ph" else None
