"""Ordered work under way on a pool, with waits: a sheet, its steps, and what is said and done of them.

An accepted dose plan and a guide are the same to the person, and so they are here. A sheet's steps are frozen
when it begins; what became of them is worked out anew at each look (``fold``), and several sheets are put
into one order (``merge``).
"""

from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Literal

Claim = Literal["water", "pump_on", "pump_off", "cell_out", "cell_in"]
CLAIMS: tuple[Claim, ...] = ("water", "pump_on", "pump_off", "cell_out", "cell_in")
StepState = Literal["later", "open", "running", "done", "skipped", "missed"]
SheetState = Literal["under_way", "paused", "done", "given_up", "superseded"]
Verb = Literal["answer", "decide", "skip", "pause", "resume", "give_up", "timer", "add", "move"]
VERBS: tuple[Verb, ...] = ("answer", "decide", "skip", "pause", "resume", "give_up", "timer", "add", "move")
OF_SHEET = frozenset({"pause", "resume", "give_up"})  # said of a sheet, not of a step


@dataclass(frozen=True)
class Pour:
    """A product, and how much of it (g or mL)."""

    product_id: str
    strength: float | None
    amount: float


@dataclass(frozen=True)
class Test:
    """Measures to read on the Bench; empty where an earlier plan did not say which: any test then does."""

    measures: tuple[str, ...]


@dataclass(frozen=True)
class Do:
    """A thing to do and tick."""


@dataclass(frozen=True)
class Look:
    """A question the eye or a gauge answers: one of its choices (answer, label), any of them where ``many``,
    a number in a unit, or, where ``text``, in words of one's own.
    """

    question: str
    choices: tuple[tuple[str, str], ...] = ()
    unit: str = ""
    many: bool = False
    text: bool = False


@dataclass(frozen=True)
class Wait:
    """A stretch of time that runs from a tap. until: what ends it early or late, in words; empty where the
    time alone does.
    """

    minutes: float
    until: str = ""


# What an answer may name as next: nothing more of this sheet is needed.
END = "end"


@dataclass(frozen=True)
class Decide:
    """A question whose answer names what comes next: (answer, label, next). Next is empty, the subject of a
    sheet that is begun and returns here, ``end``, or ``end:`` and the subject of the sheet that takes over.
    """

    question: str
    choices: tuple[tuple[str, str, str], ...]

    def ends(self, answer: str) -> bool:
        """Whether an answer leaves nothing more to do here."""
        return any(id == answer and then.partition(":")[0] == END for id, _, then in self.choices)


Act = Pour | Test | Do | Look | Wait | Decide


@dataclass(frozen=True)
class Words:
    """What a step says: its title, how it is done, the caution at it, why it is there."""

    title: str
    how: str = ""
    caution: str = ""
    why: str = ""


@dataclass(frozen=True)
class MetBy:
    """An entry that ticks a step, or ends a sheet, unasked: its kind, and what a test must read."""

    kind: str
    reads: frozenset[str] = frozenset()

    def fits(self, entry: "Entry") -> bool:
        """Whether an entry is such a one."""
        return entry.kind == self.kind and self.reads <= entry.reads


@dataclass(frozen=True)
class Step:
    """One step. after: keys of steps closed before it opens; wait_min: minutes from the last of them;
    not_before: an instant it waits for besides. claims: what it needs of the pool while it is at hand.
    planned: when its day begins, on the pool's clock; that holds nobody who comes to it earlier. only_if: the
    key of a question before it and the answers with which it is done at all.
    """

    key: str
    act: Act
    words: Words
    after: tuple[str, ...] = ()
    wait_min: float = 0.0
    not_before: datetime | None = None
    claims: frozenset[Claim] = frozenset()
    met_by: MetBy | None = None
    may_skip: bool = True
    reason_id: str = ""
    planned: datetime | None = None
    only_if: tuple[str, tuple[str, ...]] | None = None


@dataclass(frozen=True)
class Start:
    """How a sheet began. ended_by: entries that end it, whatever is open. lapses_at: when it ends of itself.
    idle_min: how long after the last word said of it; None for never. holds_water: whether nothing of
    another sheet goes in while it lasts. day: of a plan, the day it is for; None where there is none.
    """

    id: str
    kind: str
    subject: str
    at: datetime
    steps: tuple[Step, ...]
    ended_by: tuple[MetBy, ...] = ()
    lapses_at: datetime | None = None
    idle_min: float | None = None
    holds_water: bool = False
    day: date | None = None


@dataclass(frozen=True)
class Entry:
    """An entry of the pool's log as a sheet sees it. reads: what a test read; ticks: keys of this sheet's
    steps that it ticks by having been written for them.
    """

    id: str
    at: datetime
    kind: str
    reads: frozenset[str] = frozenset()
    ticks: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Mark:
    """Something said of a sheet or its step: a verb of ``VERBS`` and its value."""

    id: str
    at: datetime
    key: str
    verb: str
    value: str = ""


@dataclass(frozen=True)
class Became:
    """What became of a step. due_at: when it opened, or is foretold to. closed_at, by: when and by which
    entry or mark. value: the answer. until: when its timer runs out. ready: nothing but its day is to come,
    so that it may be done already.
    """

    step: Step
    state: StepState
    due_at: datetime
    closed_at: datetime | None = None
    by: str = ""
    value: str = ""
    until: datetime | None = None
    ready: bool = False

    @property
    def may_be_done(self) -> bool:
        """Whether it has its turn, on its day or ahead of it."""
        return self.state == "open" or self.ready


@dataclass(frozen=True)
class Progress:
    """A sheet at an instant. ended_by: the entry or mark that ended it, empty where its own steps or time
    did. day: of a plan, the day it is for, as it was last moved to.
    """

    state: SheetState
    steps: tuple[Became, ...]
    ended_at: datetime | None = None
    ended_by: str = ""
    day: date | None = None
    by_key: dict[str, Became] = field(default_factory=dict, compare=False, repr=False)

    @property
    def at_hand(self) -> tuple[Became, ...]:
        """Steps open or running, in their order."""
        return tuple(b for b in self.steps if b.state in ("open", "running"))

    @property
    def next(self) -> Became | None:
        """The step to do or wait for: the first at hand, else the first to come; None at the end."""
        if self.state not in ("under_way", "paused"):
            return None
        coming = (b for b in self.steps if b.state == "later")
        return next(iter(self.at_hand), None) or min(coming, default=None, key=lambda b: b.due_at)
