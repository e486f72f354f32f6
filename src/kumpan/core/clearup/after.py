"""Black: its heads brushed each morning, and the week after the kill."""

from datetime import date, datetime, timedelta

from kumpan.core.clearup import tables as t
from kumpan.core.clearup import words
from kumpan.core.clearup.build import MORNING_H, Walk, closed, fc_of
from kumpan.core.clearup.run import Told
from kumpan.core.work.sheet import Look, Step

# What the brush left of black's heads.
HEADS = (("heads", "Heads are still there"), ("none", "None left, nothing rough"))
_READ_APART = timedelta(hours=6)  # between two readings of the week, at least (our own)


def heads(walk: Walk, day: date, coming: bool) -> None:
    """The brush on every head of a morning, as long as black is fought."""
    key = f"spots:{day.isoformat()}"
    if walk.course.kind.id == "black" and (coming or closed(walk.course, key)):
        said = words.heads(walk.site.traits.surface)
        act = Look("What did the brush leave?", HEADS)
        walk.add(
            Step(key, act, said, not_before=walk.run.at_hour(day, MORNING_H), reason_id="clear_up_kinds")
        )


def week(walk: Walk, over: datetime) -> None:
    """Black's week: the heads each morning, chlorine read and raised to 8 at most each dusk, and each
    morning where somebody looks.
    """
    course, until = walk.course, walk.course.over_at or walk.now
    read = [e for e in course.checks if over < e.at <= until]
    poured = [p for p in course.pours if over < p.at <= until]
    for number, test in enumerate(read, 1):
        walk.add(walk.test(f"week:{number}", words.WEEK, test.at, ("fc", "ph")), test)
    for number, one in enumerate(poured, 1):
        walk.poured(f"up:{number}", one, number, "week")
    _brushed(walk, over, until)
    if course.over_at is None:
        if read and not any(p.at > read[-1].at for p in poured):
            _raise(walk, read[-1], len(poured) + 1)
        at = _next_reading(walk, max([over, *(e.at for e in read[-1:])]))
        walk.add(walk.test(f"week:{len(read) + 1}", words.WEEK, at, ("fc", "ph")))


def _brushed(walk: Walk, over: datetime, until: datetime) -> None:
    """The heads of each morning, and of the next to come."""
    on = walk.course.over_at is None
    first, here = walk.run.local(over).date() + timedelta(days=1), walk.run.local(until).date()
    for day in (first + timedelta(days=n) for n in range((here - first).days + 1)):
        heads(walk, day, coming=on and day == here)
    if on and not walk.live.has(f"spots:{here.isoformat()}"):
        heads(walk, max(first, here + timedelta(days=1)), coming=True)


def _raise(walk: Walk, last: Told, number: int) -> None:
    dose = walk.raise_to(t.WEEK_TO_PPM, last, t.WEEK_TO_PPM)
    if dose is not None:
        said = words.pour(t.WEEK_TO_PPM, fc_of(last), number, dose.opened, "week")
        at = last.at if walk.run.looks > 1 else walk.run.next_dusk(last.at)
        walk.add(walk.pour(f"up:{number}", dose, at, said))


def _next_reading(walk: Walk, after: datetime) -> datetime:
    """At dusk; in the morning too where somebody looks more than once a day."""
    days = [walk.run.local(after).date() + timedelta(days=n) for n in range(3)]
    times = [walk.run.dusk(day) for day in days]
    if walk.run.looks > 1:
        times += [walk.run.at_hour(day, MORNING_H) for day in days]
    return min(at for at in times if at >= after + _READ_APART)
