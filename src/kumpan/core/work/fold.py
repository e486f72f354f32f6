"""What became of a sheet: one pure fold of its steps, the log's entries and what was said of it.

Nothing ticks: the instant is passed in, and what is running, run out or missed follows at each look. What
lies after that instant is not seen, so an earlier look is what it was then.
"""

from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime, timedelta
from itertools import pairwise

from kumpan.core.work.sheet import (
    OF_SHEET,
    Became,
    Entry,
    Mark,
    Progress,
    SheetState,
    Start,
    Step,
    StepState,
    Test,
    Wait,
)


def progress(start: Start, entries: Iterable[Entry], marks: Iterable[Mark], now: datetime) -> Progress:
    """The sheet at ``now``. Entries and marks may come in any order.

    A step closes by an entry written for it, by one that meets it once it was open, or by what is said of it;
    the last thing said counts. A sheet ends by what ends it, by its last step, or by being left.
    """
    seen = sorted((e for e in entries if start.at < e.at <= now and e.id != start.id), key=_when)
    said = sorted((m for m in marks if start.at <= m.at <= now), key=_when)
    end_at, end_by, state = _ended(start, seen, said, now)
    if end_at is not None:
        seen, said = [e for e in seen if e.at <= end_at], [m for m in said if m.at <= end_at]
    steps = _steps(start, seen, said, end_at or now)
    if end_at is None and all(b.closed_at for b in steps):
        end_at, state = max((b.closed_at for b in steps if b.closed_at), default=start.at), "done"
    elif end_at is not None and all(b.closed_at or isinstance(b.step.act, Test) for b in steps):
        state = "done"  # nothing was left but to read, and that is of no use any more
    if end_at is not None:
        steps = [b if b.closed_at else replace(b, state="missed", until=None) for b in steps]
    return Progress(state, tuple(steps), end_at, end_by, {b.step.key: b for b in steps})


def _when(one: Entry | Mark) -> tuple[datetime, str]:
    return one.at, one.id


def _ended(
    start: Start, seen: list[Entry], said: list[Mark], now: datetime
) -> tuple[datetime | None, str, SheetState]:
    """When a sheet ended though steps may be open, by what, and as what; the first that did."""
    ends: list[tuple[datetime, str, SheetState]] = [
        (m.at, m.id, "given_up") for m in said if m.verb == "give_up"
    ]
    by = next(
        (e for e in seen if any(end.fits(e) for end in start.ended_by) and not _meets(start, e, seen, said)),
        None,
    )
    if by is not None:
        ends.append((by.at, by.id, "superseded"))
    ends += [(at, "", "given_up") for at in _left(start, seen, said) if at <= now]
    return min(ends, default=(None, "", _paused(said)), key=lambda end: (end[0] or now, end[1]))


def _meets(start: Start, entry: Entry, seen: list[Entry], said: list[Mark]) -> bool:
    """Whether an entry is what an open step of the sheet waited for: then it goes on instead of ending."""
    until = [e for e in seen if _when(e) <= _when(entry)]
    steps = _steps(start, until, [m for m in said if m.at <= entry.at], entry.at)
    return any(b.by == entry.id for b in steps)


def _left(start: Start, seen: list[Entry], said: list[Mark]) -> list[datetime]:
    """When the sheet ended of itself: at its term, or by nothing having been said or done of it for long."""
    ends = [] if start.lapses_at is None else [start.lapses_at]
    if start.idle_min is not None:
        idle = timedelta(minutes=start.idle_min)
        moved = sorted([start.at, *(m.at for m in said), *(e.at for e in seen if e.ticks)])
        gaps = (one for one, then in pairwise(moved) if then - one >= idle)
        ends.append(next(gaps, moved[-1]) + idle)
    return ends


def _paused(said: list[Mark]) -> SheetState:
    last = next((m.verb for m in reversed(said) if m.verb in ("pause", "resume")), "resume")
    return "paused" if last == "pause" else "under_way"


def _steps(start: Start, seen: list[Entry], said: list[Mark], now: datetime) -> list[Became]:
    """Every step in its order; what it comes after stands before it."""
    became: dict[str, Became] = {}
    for step in start.steps:
        before = [became[key] for key in step.after]
        became[step.key] = _became(step, before, start.at, seen, [m for m in said if m.key == step.key], now)
    return list(became.values())


def _became(
    step: Step, before: list[Became], began: datetime, seen: list[Entry], said: list[Mark], now: datetime
) -> Became:
    """One step. before: the steps it comes after, already known."""
    waits = timedelta(minutes=step.wait_min)
    # What is still to be done is foretold from now on: a late pour pushes what waits for it.
    due = max([b.closed_at or max(b.due_at, now) for b in before], default=began) + waits
    due = max(due, step.not_before) if step.not_before else due
    opened = all(b.closed_at for b in before) and due <= now
    ticked = next((e for e in seen if step.key in e.ticks), None)
    if ticked is not None:
        return Became(step, "done", min(due, ticked.at), ticked.at, ticked.id)
    answer = next((m for m in reversed(said) if m.verb in ("answer", "decide", "skip")), None)
    if answer is not None:
        state: StepState = "skipped" if answer.verb == "skip" else "done"
        return Became(step, state, min(due, answer.at), answer.at, answer.id, answer.value)
    if opened and step.met_by is not None:
        met = next((e for e in seen if e.at >= due and step.met_by.fits(e)), None)
        if met is not None:
            return Became(step, "done", due, met.at, met.id)
    if not opened:
        return Became(step, "later", due)
    return _timed(step, due, said, now)


def _timed(step: Step, due: datetime, said: list[Mark], now: datetime) -> Became:
    """An open step, and its timer where one runs: the last one set."""
    timer = next((m for m in reversed(said) if m.verb == "timer"), None)
    if timer is None or not isinstance(step.act, Wait):
        return Became(step, "open", due)
    until = timer.at + timedelta(minutes=step.act.minutes)
    if until > now:
        return Became(step, "running", due, until=until)
    if step.act.until:
        return Became(step, "open", due, until=until)  # the time is out, but not what it waits for
    return Became(step, "done", due, until, timer.id, until=until)


def refused(progress_: Progress, mark: Mark) -> str:
    """Why a mark cannot be made on a sheet as it stands; empty where it can. In words for the person."""
    if progress_.state not in ("under_way", "paused"):
        return "This work has ended: nothing more can be said of it."
    if mark.verb in OF_SHEET:
        return ""
    became = progress_.by_key.get(mark.key)
    if became is None:
        return "This work has no such step."
    if mark.verb == "skip" and not became.step.may_skip:
        return "This step cannot be skipped: what comes after it would not be safe."
    if mark.verb == "skip" and became.closed_at is not None:
        return "This step is closed already."
    if became.state == "later":
        return "This step is not open yet: what comes before it is not done."
    if became.closed_at is not None and mark.verb == "timer":
        return "This step is closed already."
    return ""
