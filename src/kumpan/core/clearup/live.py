"""A run's steps at an instant: a function of how it began, of what was decided, and of the log.

What was done stays in its place; what is ahead follows from the newest reading. An entry of the log that is
what a step asked for closes it unasked.
"""

from kumpan.core.clearup.after import week
from kumpan.core.clearup.around import BACK, afterwards, before, daily, owing, put_back, soon
from kumpan.core.clearup.build import Live, Walk, closed
from kumpan.core.clearup.course import Course
from kumpan.core.clearup.demand import demand
from kumpan.core.clearup.dose import Measures
from kumpan.core.clearup.incident import incident
from kumpan.core.clearup.kill import bags, hold
from kumpan.core.clearup.plain import shock
from kumpan.core.clearup.slow import every_other
from kumpan.core.dosing.acts import Act
from kumpan.core.work.sheet import Mark


def live_steps(course: Course, measures: Measures, acid: Act | None) -> Live:
    """The run as it stands. acid: what pH asks for before the first chlorine by its first test, None for
    nothing. Given up, only what was done is left, and what is to be put back as it was.
    """
    live = Live(acid=acid, owed=any(not closed(course, key) for key in owing(course)))
    given_up = next((m for m in course.marks if m.verb == "give_up"), None)
    as_of = course
    if given_up is not None:
        live.given_up_at = given_up.at
        as_of = Course(course.run, course.site, course.told, course.marks, given_up.at)
    walk = Walk(as_of, measures, live)
    if course.run.aim == "incident":
        incident(walk)
        return _left_of(walk, given_up)
    before(walk)
    if course.run.aim == "shock":
        shock(walk)
    elif course.run.aim == "demand":
        demand(walk)
        walk.in_order()
    else:
        _kill(walk)
        daily(walk)
        walk.in_order()
        if as_of.killed_at is not None:
            put_back(walk, as_of.killed_at)
            if as_of.kind.week_days:
                week(walk, as_of.killed_at)
        if as_of.over_at is not None:
            afterwards(walk, as_of.over_at)
    return _left_of(walk, given_up)


def _left_of(walk: Walk, given_up: Mark | None) -> Live:
    """The steps; given up, those that were done, and what is to be put back."""
    live = walk.live
    if given_up is not None:
        live.steps = [s for s in live.steps if s.key in live.met or closed(walk.course, s.key)]
        live.steps = [s for s in live.steps if s.key not in BACK]
        put_back(walk, given_up.at)
    return live


def _kill(walk: Walk) -> None:
    """The kill by its school; in one day as its kit can follow it."""
    if walk.course.school == "every_other":
        every_other(walk)
    else:
        (hold if walk.course.follows_level else bags)(walk)
    if walk.course.school == "same_day":
        soon(walk)
