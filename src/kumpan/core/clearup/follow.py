"""A run at an instant: its steps, what became of them, and how it stands."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from kumpan.core.clearup.around import BACK
from kumpan.core.clearup.build import Live
from kumpan.core.clearup.course import Course
from kumpan.core.clearup.dose import Measures
from kumpan.core.clearup.live import live_steps
from kumpan.core.clearup.run import Run, Site, Told
from kumpan.core.dosing.acts import Act, acid_or_base
from kumpan.core.dosing.request import PlanRequest
from kumpan.core.dosing.situation import Situation
from kumpan.core.water.state import with_measures
from kumpan.core.work.fold import progress
from kumpan.core.work.sheet import Entry, Mark, Progress, Start

# A run of which nothing was said or read for so long was left (our own).
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
    if live.given_up_at is not None or course.killed_at is not None:
        return False
    if course.run.aim == "algae" or not course.pours:
        return True
    return not any(e.at > course.pours[-1].at for e in course.checks)


def _given_up(course: Course, live: Live, stands: Progress) -> Progress:
    """The run as it was given up: over once the pad is as it was."""
    if live.given_up_at is None or live.owed:
        return stands
    at = max([m.at for m in course.marks if m.key in BACK] + [live.given_up_at])
    return replace(stands, state="given_up", ended_at=at)


def acid_first(course: Course, measures: Measures) -> Act | None:
    """Acid that pH asks for before the first chlorine, by the run's first test and what was known of the
    rest: over 7.6 toward 7.4, under the caps of a single addition (the planner's own act).
    """
    first = next((e for e in course.tests if {"fc", "ph"} <= e.readings.keys()), None)
    if first is None or course.pours or course.run.means == "boost":
        return None
    read = {m: v.value for m, v in first.readings.items()}
    request = PlanRequest(
        course.site.traits,
        with_measures(course.run.water, read),
        first.at,
        u95={m: v.u95(m) for m, v in first.readings.items()},
        methods={m: v.method for m, v in first.readings.items()},
        system=measures.system,
        own_measures=measures.own,
        seen=frozenset({"algae"} if course.run.aim == "algae" else ()),
    )
    act = acid_or_base(Situation(request))
    return act if act is not None and act.role == "lower_ph" else None
