"""What is due, as a person would say it: a line a kind of work, the worst to leave first, as much as fits the
time they have.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from kumpan.core.care.rule import Rule
from kumpan.core.care.schedule import Stands, Task
from kumpan.core.phrasing.terms import listed
from kumpan.core.water.measures import MEASURES

# The minutes a job is said to take count as two done ones beside those logged (our own).
_PRIOR_COUNTS, _LOOKED_BACK = 2, 8
# How far a visit may run over the time there is before something waits (our own).
_OVER = 0.15


@dataclass(frozen=True)
class Duty:
    """A task that stands somewhere. title: what to do; minutes: what it takes here."""

    task: Task
    rule: Rule
    title: str
    stands: Stands
    minutes: float


@dataclass(frozen=True)
class Line:
    """Work of one kind, done in one go. waits: what waiting does (``rules.HURTS`` to ``KEEPS``)."""

    group: str
    title: str
    duties: tuple[Duty, ...]
    minutes: float
    waits: int
    on: date

    @property
    def first(self) -> Duty:
        """The duty of it that would be worst to leave."""
        return self.duties[0]


def learned(said: float, done: Sequence[float]) -> float:
    """What a job takes, minutes: as it is said to, drawn towards what the newest done ones took.

    >>> learned(60, [30, 30, 30, 30])
    40.0
    """
    newest = list(done)[-_LOOKED_BACK:]
    return (_PRIOR_COUNTS * said + sum(newest)) / (_PRIOR_COUNTS + len(newest))


def lines(duties: Sequence[Duty]) -> list[Line]:
    """Those that are due, grouped and ranked."""
    due = [d for d in duties if d.stands.state in ("due", "overdue") and d.stands.on is not None]
    groups: dict[str, list[Duty]] = {}
    for duty in due:
        # What wants its own place and hands is its own line: the person's own work, and a piece's papers.
        own = duty.rule.group in ("own", "papers") or (not duty.rule.met_by and duty.task.anchor == "once")
        groups.setdefault(duty.task.id if own else duty.rule.group, []).append(duty)
    found = [_line(held) for held in groups.values()]
    return sorted(found, key=lambda line: (line.waits, line.on, line.group))


def _line(held: list[Duty]) -> Line:
    ranked = sorted(held, key=lambda d: (d.rule.waits, d.stands.on or date.max, d.task.id))
    whole = next((d for d in ranked if d.rule.opens in ("weekly", "stop")), None)
    if whole is not None:  # the clean does what is part of it
        ranked = [whole, *(d for d in ranked if d is not whole and not d.rule.part_of)]
    on = min(d.stands.on for d in ranked if d.stands.on)
    reads = {d.rule.reads: d.minutes for d in ranked if d.rule.reads}  # one sample serves all that read it
    minutes = sum(reads.values()) + sum(d.minutes for d in ranked if not d.rule.reads)
    return Line(
        ranked[0].rule.group, _title(ranked), tuple(ranked), minutes, min(d.rule.waits for d in ranked), on
    )


def _title(ranked: list[Duty]) -> str:
    reads = list(dict.fromkeys(m for d in ranked for m in d.rule.reads))
    if reads and all(d.rule.reads for d in ranked) and ranked[0].rule.id != "shop_sample":
        return "Test " + listed([MEASURES[m].word.removeprefix("free ") for m in reads])
    first, *rest = [d.title for d in ranked]
    return "; ".join([first, *(t[:1].lower() + t[1:] for t in rest)])


def fits(found: Sequence[Line], minutes: float) -> tuple[list[Line], list[Line]]:
    """What a visit of so many minutes, or a little more, holds, the worst to leave first, and what has to
    wait. The first is always in it: somebody with no time does one thing.
    """
    now: list[Line] = []
    later: list[Line] = []
    left = minutes * (1 + _OVER)
    for line in found:
        if not now or line.minutes <= left + 1e-9:
            now.append(line)
            left -= line.minutes
        else:
            later.append(line)
    return now, later


def bring(found: Sequence[Line]) -> list[str]:
    """What the work of these lines wants at hand."""
    return list(dict.fromkeys(thing for line in found for d in line.duties for thing in d.rule.bring))
