"""What a walk may find, and what is to be done about it. Common practice, no source."""

from dataclasses import dataclass

FINE = "fine"


@dataclass(frozen=True)
class Finding:
    """Something seen. task: what is to be done about it, empty where the walk itself does it; opens: where;
    due_days: by when; what, found: of the look as the log keeps it; caution: said at once.
    """

    id: str
    label: str
    task: str = ""
    opens: str = ""
    due_days: int = 7
    what: str = "equipment"
    found: str = "worn"
    caution: str = ""

    @property
    def is_hazard(self) -> bool:
        """Whether somebody gets hurt if it waits."""
        return self.what in ("drain", "gate")


SEEN: tuple[Finding, ...] = (
    Finding("jets", "Weak jets", "Find why the jets are weak: basket, filter, air, level", due_days=1,
            found="odd"),
    Finding("low", "Level low", caution="Fill first: a pump that sucks air loses its prime."),
    Finding("high", "Level high", caution="The backwash will lower it."),
    Finding("leaves", "Leaves on the floor"),
    Finding("cloudy", "Cloudy", "Find why the water is cloudy: test it, look at the filter", "bench", 1,
            what="water", found="odd"),
    Finding(
        "algae", "Green or slippery", "Clear the algae", "clear-up", 0, what="water", found="odd",
        caution="Treat it at once; nobody swims while it is seen.",
    ),
    Finding("animal", "An animal in it",
    caution="Look before you reach in; gloves. A dead one: out, and test."),
    Finding(
        "drain", "Drain cover loose or broken", "Replace the drain cover", due_days=0, what="drain",
        found="broken", caution="Nobody swims until it is replaced and looked at.",
    ),
    Finding(
        "gate", "Gate does not latch", "Mend the gate", due_days=0, what="gate", found="broken",
        caution="Somebody stays with it until it latches.",
    ),
)  # fmt: skip
PAD: tuple[Finding, ...] = (
    Finding("basket", "Basket torn", "Replace the torn basket"),
    Finding("ring", "O-ring dry or flat", "Replace the O-ring"),
    Finding("leak", "A leak", "Mend the leak", found="broken", due_days=2),
    Finding("motor", "Motor loud or hot", "Have the pump's motor looked at", found="broken", due_days=2),
    Finding("timer", "Timer wrong, tripper loose", "Set the timer right", due_days=0, found="broken"),
    Finding("gauge", "Gauge sticks", "Replace the gauge"),
    Finding("cell", "Scale on the cell", "Clean the cell", "cell", what="cell", found="deposits"),
)
FINDINGS: dict[str, Finding] = {f.id: f for f in (*SEEN, *PAD)}


def found_in(value: str) -> list[Finding]:
    """The findings an answer names; none where all was fine."""
    return [FINDINGS[id] for id in value.split(",") if id in FINDINGS]
