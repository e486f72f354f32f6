"""What marks change of a plan's steps: its day, a step's day, a step of one's own. Nothing else of a frozen
sheet changes, and what is done stays as it was.
"""

from collections.abc import Collection
from dataclasses import replace
from datetime import date, timedelta, tzinfo

from kumpan.core.work.sheet import Became, Do, Mark, Progress, Step, Words

OWN_MOST = 80  # letters of a step of one's own


CHANGES = ("add", "move")


def changed(
    steps: tuple[Step, ...], day: date | None, mark: Mark, closed: Collection[str]
) -> tuple[tuple[Step, ...], date | None]:
    """A sheet's steps and its day once a mark of ``CHANGES`` was made. closed: keys of steps done by then:
    these stay as they were.
    """
    if mark.verb == "add":
        return _added(steps, mark), day
    to = day_of(mark)
    if to is None or (day is None and not mark.key):
        return steps, day
    if mark.key:
        return tuple(_on(step, to) if step.key == mark.key else step for step in steps), day
    assert day is not None
    by = to - day
    return tuple(step if step.key in closed else _shifted(step, by) for step in steps), to


def day_of(mark: Mark) -> date | None:
    """The day that a move names; None where it names none."""
    try:
        return date.fromisoformat(mark.value)
    except ValueError:
        return None


def _added(steps: tuple[Step, ...], mark: Mark) -> tuple[Step, ...]:
    """With a step of one's own, in its place on the list; nothing waits for it and it waits for nothing."""
    at = next((i for i, step in enumerate(steps) if step.key == mark.key), len(steps) - 1)
    words = Words(mark.value, why="Your own step.")
    own = Step(mark.id, Do(), words, planned=steps[at].planned if steps else None)
    return (*steps[: at + 1], own, *steps[at + 1 :])


def _on(step: Step, day: date) -> Step:
    return step if step.planned is None else _shifted(step, day - step.planned.date())


def _shifted(step: Step, by: timedelta) -> Step:
    """The same some days later or earlier; its hour on the pool's clock stays."""
    planned = None if step.planned is None else step.planned + by
    not_before = None if step.not_before is None else step.not_before + by
    return replace(step, planned=planned, not_before=not_before)


def refused_change(progress: Progress, mark: Mark) -> str:
    """Why a plan cannot be changed so; empty where it can. In words for the person."""
    if not any(b.step.planned for b in progress.steps):
        return "Only a plan with days of its own can be changed."
    if mark.verb == "add":
        if mark.key and mark.key not in progress.by_key:
            return "This work has no such step."
        if not mark.value.strip():
            return "Say what your step is."
        return f"At most {OWN_MOST} letters." if len(mark.value) > OWN_MOST else ""
    to = day_of(mark)
    if to is None:
        return "Choose a day."
    if to < mark.at.astimezone(_zone(progress)).date():
        return "That day is past."
    became = progress.by_key.get(mark.key)
    if not mark.key:
        return ""
    if became is None:
        return "This work has no such step."
    return _refused_move(progress, became, to)


def _zone(progress: Progress) -> tzinfo | None:
    return next((b.step.planned.tzinfo for b in progress.steps if b.step.planned), None)


def _refused_move(progress: Progress, became: Became, to: date) -> str:
    """Whether the order of the steps is broken by a day."""
    step, zone = became.step, _zone(progress)
    if became.closed_at is not None:
        return "This step is closed already."
    if step.planned is None:
        return "This step has no day of its own: it follows what comes before it."
    for key in step.after:
        first = progress.by_key[key]
        on = (first.closed_at or first.due_at).astimezone(zone).date()
        if on > to:
            return f"It comes after \u201c{first.step.words.title}\u201d, which is planned for {_day(on)}."
    for other in progress.steps:
        planned = other.step.planned
        waits = step.key in other.step.after and other.closed_at is None
        if waits and planned is not None and planned.date() < to:
            title, on = other.step.words.title, planned.date()
            return f"\u201c{title}\u201d waits for it and is planned for {_day(on)}: move that first."
    return ""


def _day(day: date) -> str:
    return f"{day.day} {day:%b}"
