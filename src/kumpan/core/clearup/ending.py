"""When a run is over by its aim, and what ends it."""

from datetime import datetime

from kumpan.core.clearup import demand
from kumpan.core.clearup.contact import Contact
from kumpan.core.clearup.course import Course, Criterion


def over_at(course: Course) -> datetime | None:
    """When the kill was over, the chlorine held, or a row was met; None before, and of a shock."""
    if course.run.aim == "incident":
        return Contact(course).met_at
    return demand.holds_at(course) if course.run.aim == "demand" else course.killed_at


def criteria_of(course: Course) -> tuple[Criterion, ...]:
    """What ends it, as it stands, or stood when it ended; none of a shock, which is one raise."""
    if course.run.aim == "incident":
        return Contact(course).criteria()
    if course.run.aim == "demand":
        at = over_at(course) or course.now
        return demand.criteria(Course(course.run, course.site, course.told, course.marks, at))
    return () if course.run.aim == "shock" else course.criteria(course.killed_at)
