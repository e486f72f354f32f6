"""A run's steps at an instant: a function of how it began, of what was decided, and of the log.

What was done stays in its place; what is ahead follows from the newest reading. An entry of the log that is
what a step asked for closes it unasked.
"""

from datetime import datetime

from kumpan.core.clearup.around import BACK, afterwards, before, daily, owing, put_back
from kumpan.core.clearup.build import Live, Walk, closed
from kumpan.core.clearup.course import Course
from kumpan.core.clearup.dose import Measures
from kumpan.core.clearup.kill import bags, hold
from kumpan.core.clearup.plain import shock
from kumpan.core.dosing.acts import Act
from kumpan.core.work.sheet import Step


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
    before(walk)
    if course.run.aim == "shock":
        shock(walk)
    else:
        (hold if as_of.school == "hold" else bags)(walk)
        daily(walk)
        live.steps.sort(key=lambda step: _place(walk, step))
        if as_of.killed_at is not None:
            afterwards(walk, as_of.killed_at)
    if given_up is not None:
        live.steps = [s for s in live.steps if s.key in live.met or closed(as_of, s.key)]
        live.steps = [s for s in live.steps if s.key not in BACK]
        put_back(walk, given_up.at)
    return live


def _place(walk: Walk, step: Step) -> tuple[bool, datetime]:
    """Where a step stands: what comes before the kill first, the rest by when it was done or is due."""
    if ":" not in step.key or step.key.endswith(":0"):
        return step.key == "shop", walk.run.at if step.key != "shop" else walk.now
    by = walk.live.met.get(step.key)
    told = next((e.at for e in walk.course.told if e.id == by), None)
    said = next((m.at for m in reversed(walk.course.marks) if m.key == step.key), None)
    return True, told or said or step.not_before or walk.now
