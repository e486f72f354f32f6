"""What became of a sheet: one pure fold of its steps, the log's entries and what was said of it.

Nothing ticks: the instant is passed in, and what is running, run out or missed follows at each look. What
lies after that instant is not seen, so an earlier look is what it was then.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from itertools import pairwise

from kumpan.core.work.changes import CHANGES, changed, refused_change
from kumpan.core.work.sheet import (
    OF_SHEET,
    Became,
    Decide,
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

# A test made longer before its planned day says nothing of the water on that day (our own).
_EARLY_TEST = timedelta(days=1)


@dataclass(frozen=True)
class _Heard:
    """What had been written and said by an instant, each in order of time."""

    entries: list[Entry]
    marks: list[Mark]
    now: datetime

    def until(self, at: datetime) -> "_Heard":
        """The same as it was at an earlier instant."""
        entries = [e for e in self.entries if e.at <= at]
        return _Heard(entries, [m for m in self.marks if m.at <= at], at)

    def of(self, key: str, *verbs: str) -> Mark | None:
        """The last that was said of a step with one of these verbs."""
        return next((m for m in reversed(self.marks) if m.key == key and m.verb in verbs), None)


def progress(start: Start, entries: Iterable[Entry], marks: Iterable[Mark], now: datetime) -> Progress:
    """The sheet at ``now``. Entries and marks may come in any order.

    A step closes by an entry written for it, by one that meets it once it was open, or by what is said of it;
    the last thing said counts. A sheet ends by what ends it, by its last step, or by being left.
    """
    written = [e for e in entries if e.id != start.id and (e.ticks or start.at < e.at)]
    heard = _Heard(sorted(written, key=_when), sorted(marks, key=_when), now).until(now)
    end_at, end_by, state = _ended(start, heard)
    heard = heard if end_at is None else heard.until(end_at)
    steps = _steps(start, heard)
    if all(b.closed_at for b in steps):
        end_at, end_by, state = _first_done(start, heard), "", "done"
        steps = _steps(start, heard.until(end_at))  # what was said of it afterwards is of no account
    elif end_at is not None:
        left = [b for b in steps if not b.closed_at]
        # Nothing left but to read, and that is of no use any more: done.
        state = "done" if all(isinstance(b.step.act, Test) for b in left) else state
        steps = [_missed(b) for b in steps]
    day = _as_changed(start, heard)[1]
    return Progress(state, tuple(steps), end_at, end_by, day, {b.step.key: b for b in steps})


def _first_done(start: Start, heard: _Heard) -> datetime:
    """The first instant at which every step was closed."""
    instants = {e.at for e in heard.entries} | {m.at for m in heard.marks}
    instants |= {b.until for b in _steps(start, heard) if b.until is not None}
    closings = (at for at in sorted(instants) if all(b.closed_at for b in _steps(start, heard.until(at))))
    return next(closings, start.at)


def _missed(became: Became) -> Became:
    return became if became.closed_at else replace(became, state="missed", until=None)


def _when(one: Entry | Mark) -> tuple[datetime, str]:
    return one.at, one.id


def _ended(start: Start, heard: _Heard) -> tuple[datetime | None, str, SheetState]:
    """When a sheet ended though steps may be open, by what, and as what; the first that did."""
    ends: list[tuple[datetime, str, SheetState]] = [
        (m.at, m.id, "given_up") for m in heard.marks if m.verb == "give_up"
    ]
    fitting = (e for e in heard.entries if any(end.fits(e) for end in start.ended_by))
    by = next((e for e in fitting if not _meets(start, e, heard)), None)
    if by is not None:
        ends.append((by.at, by.id, "superseded"))
    ends += [(at, "", "given_up") for at in _left(start, heard) if at <= heard.now]
    return min(ends) if ends else (None, "", _paused(heard))


def _meets(start: Start, entry: Entry, heard: _Heard) -> bool:
    """Whether an entry is what an open step of the sheet waited for: then it goes on instead of ending."""
    then = heard.until(entry.at)
    before = replace(then, entries=[e for e in then.entries if _when(e) <= _when(entry)])
    return any(b.by == entry.id for b in _steps(start, before))


def _left(start: Start, heard: _Heard) -> list[datetime]:
    """When the sheet ended of itself: at its term, or by nothing having been said or done of it for long."""
    ends = [] if start.lapses_at is None else [start.lapses_at]
    if start.idle_min is not None:
        idle = timedelta(minutes=start.idle_min)
        moved = [start.at, *(m.at for m in heard.marks), *(e.at for e in heard.entries if e.ticks)]
        gaps = (one for one, then in pairwise(sorted(moved)) if then - one >= idle)
        ends.append(next(gaps, max(moved)) + idle)
    return ends


def _paused(heard: _Heard) -> SheetState:
    last = heard.of("", "pause", "resume")
    return "paused" if last is not None and last.verb == "pause" else "under_way"


def _steps(start: Start, heard: _Heard) -> list[Became]:
    """Every step in its order, as it was last moved."""
    return _folded(_as_changed(start, heard)[0], start.at, heard)


def _as_changed(start: Start, heard: _Heard) -> tuple[tuple[Step, ...], date | None]:
    """The sheet's steps and its day as they were changed, one word after another; what was done when one was
    said stays.
    """
    steps, day = start.steps, start.day
    for mark in heard.marks:
        if mark.verb in CHANGES:
            then = _folded(steps, start.at, heard.until(mark.at))
            closed = {b.step.key for b in then if b.closed_at}
            steps, day = changed(steps, day, mark, closed)
    return steps, day


def _folded(steps: tuple[Step, ...], began: datetime, heard: _Heard) -> list[Became]:
    """What became of each step; what it comes after stands before it. With an answer that leaves nothing more
    to do all that is open is skipped.
    """
    became: dict[str, Became] = {}
    ended_at: datetime | None = None
    for step in steps:
        opens = _opens(step, began, became, heard.now)
        one = _left_out(step, became) or _became(step, opens, heard)
        if ended_at is None and isinstance(step.act, Decide) and step.act.ends(one.value):
            ended_at = one.closed_at
        became[step.key] = one
    if ended_at is None:
        return list(became.values())
    return [b if b.closed_at else Became(b.step, "skipped", ended_at, ended_at) for b in became.values()]


def _left_out(step: Step, became: dict[str, Became]) -> Became | None:
    """A step that the answer to a question before it makes needless; None where it is to be done."""
    if step.only_if is None:
        return None
    key, answers = step.only_if
    asked = became[key]
    if asked.closed_at is None or (asked.state == "done" and asked.value in answers):
        return None
    return Became(step, "skipped", asked.closed_at, asked.closed_at)


@dataclass(frozen=True)
class _Opens:
    """When a step opens or is foretold to; whether it has, or would have but for its day (ready), and since
    when either.
    """

    at: datetime
    opened: bool
    ready: bool
    since: datetime


def _opens(step: Step, began: datetime, became: dict[str, Became], now: datetime) -> _Opens:
    """When a step opens. What is still to be done before it is foretold from now on: a late pour pushes what
    waits for it.
    """
    before = [became[key] for key in step.after]
    since = max((b.closed_at or max(b.due_at, now) for b in before), default=began)
    since += timedelta(minutes=step.wait_min)
    since = max(since, step.not_before) if step.not_before else since
    at = max(since, step.planned) if step.planned else since
    asked = step.only_if is None or became[step.only_if[0]].closed_at is not None
    if step.planned is not None and isinstance(step.act, Test):
        since = max(since, step.planned - _EARLY_TEST)
    ready = asked and all(b.closed_at for b in before) and since <= now
    opened = ready and at <= now
    return _Opens(at, opened, ready and not opened, since)


def _became(step: Step, opens: _Opens, heard: _Heard) -> Became:
    """One step: closed by its entry, by the last word, or by what meets it; else as it stands."""
    due = opens.at
    ticked = next((e for e in heard.entries if step.key in e.ticks), None)
    met = _met(step, opens.since, heard) if opens.opened or opens.ready else None
    if ticked is not None and (met is None or _when(ticked) <= _when(met)):
        return Became(step, "done", min(due, ticked.at), ticked.at, ticked.id)
    word = heard.of(step.key, "answer", "decide", "skip")
    if word is not None:
        state: StepState = "skipped" if word.verb == "skip" else "done"
        until = _runs_until(step, heard)
        return Became(step, state, min(due, word.at), word.at, word.id, word.value, until)
    if met is not None:
        return Became(step, "done", min(due, met.at), met.at, met.id)
    # A timer may be set ahead of its day.
    if opens.opened or (opens.ready and _runs_until(step, heard)):
        return _timed(step, due, heard)
    return Became(step, "later", due, ready=opens.ready)


def _met(step: Step, due: datetime, heard: _Heard) -> Entry | None:
    """The first entry that meets an open step unasked."""
    by = step.met_by
    return None if by is None else next((e for e in heard.entries if e.at >= due and by.fits(e)), None)


def _runs_until(step: Step, heard: _Heard) -> datetime | None:
    """When a step's timer runs out, or ran; None where none was set."""
    timer = heard.of(step.key, "timer")
    if timer is None or not isinstance(step.act, Wait):
        return None
    return timer.at + timedelta(minutes=step.act.minutes)


def _timed(step: Step, due: datetime, heard: _Heard) -> Became:
    """An open step, and its timer where one runs: the last one set."""
    timer, until = heard.of(step.key, "timer"), _runs_until(step, heard)
    if timer is None or until is None or not isinstance(step.act, Wait):
        return Became(step, "open", due)
    if until > heard.now:
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
    if mark.verb in ("add", "move"):
        return refused_change(progress_, mark)
    became = progress_.by_key.get(mark.key)
    if became is None:
        return "This work has no such step."
    if mark.verb == "skip" and not became.step.may_skip:
        why = became.step.words.caution or "What comes after it would not be safe."
        return f"This step cannot be skipped. {why}"
    if mark.verb == "skip" and became.closed_at is not None:
        return "This step is closed already."
    if became.state == "later" and not became.ready:
        return "This step is not open yet: what comes before it is not done."
    if became.closed_at is not None and mark.verb == "timer":
        return "This step is closed already."
    return ""
