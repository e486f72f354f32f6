"""A complaint's guide: suspects in the trade's order, each named only behind the test that settles it."""

from dataclasses import dataclass

from kumpan.core.work.sheet import END, Act, Decide, Do, MetBy, Step, Test, Words

# A guide of which nothing was said for so long was left: a bucket stands a day, a shop takes days (our own).
IDLE_MIN = 14 * 1440.0
REASON = "complaint"


@dataclass(frozen=True)
class Row:
    """A step of a test. key: after its suspect's."""

    key: str
    act: Act
    words: Words


@dataclass(frozen=True)
class Suspect:
    """A likely cause. tests: what settles it, made before it is asked; asks: the question; answers: (id,
    label); shows: the answers that are this cause; named: the cause and what is done, said only then.
    """

    id: str
    tests: tuple[Row, ...]
    asks: Words
    answers: tuple[tuple[str, str], ...]
    shows: tuple[str, ...]
    named: Words


@dataclass(frozen=True)
class Complaint:
    """What somebody complains of. sees: as they would say it."""

    id: str
    label: str
    sees: str
    suspects: tuple[Suspect, ...]


LAST = "beyond"
_LAST_WORDS = Words(
    "None of these: ask somebody who can see it",
    "A quart of the water to a shop, with the list of what went in; or a licensed trade for what lies in the"
    " ground or the wall.",
    "",
    "What was ruled out stands above: take it along.",
)


def read(*measures: str) -> Test:
    """Measures to read."""
    return Test(measures)


def named_key(suspect: Suspect) -> str:
    """The key of the step that names a cause."""
    return f"{suspect.id}_is"


def steps_of(complaint: Complaint) -> tuple[Step, ...]:
    """The guide's steps, one after another; a cause that was not shown is left out, the right one ends it."""
    steps: list[Step] = []

    def add(key: str, act: Act, words: Words, only_if: tuple[str, tuple[str, ...]] | None = None) -> None:
        before = (steps[-1].key,) if steps else ()
        met_by = MetBy("water_test", frozenset(act.measures)) if isinstance(act, Test) else None
        steps.append(
            Step(key, act, words, before, met_by=met_by, may_skip=False, reason_id=REASON, only_if=only_if)
        )

    for suspect in complaint.suspects:
        for row in suspect.tests:
            add(f"{suspect.id}_{row.key}", row.act, row.words)
        choices = tuple((id, label, "") for id, label in suspect.answers)
        add(suspect.id, Decide(suspect.asks.title, choices), suspect.asks)
        after = Decide("Did it help?", (("was", "That was it", END), ("on", "It was not that: go on", "")))
        add(named_key(suspect), after, suspect.named, (suspect.id, suspect.shows))
    add(LAST, Do(), _LAST_WORDS)
    return tuple(steps)
