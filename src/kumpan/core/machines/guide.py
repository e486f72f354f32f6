"""A guide: a machine's work step by step, as rows of data that are checked against the model of the pad."""

from dataclasses import dataclass
from datetime import datetime

from kumpan.core.machines.pad import OPERATIONS, Pad, Valve
from kumpan.core.work.sheet import Act, Claim, MetBy, Step, Words

# A guide of which nothing was said for half a day was left (our own).
IDLE_MIN = 12 * 60.0


@dataclass(frozen=True)
class Row:
    """A step as data. does: operations on the pad, in their order; draws: a drawing beside it (``plates``,
    ``bath``), empty for the pad's own. wait_min: from the step before; at: an instant it waits for.
    """

    key: str
    act: Act
    words: Words
    does: tuple[str, ...] = ()
    may_skip: bool = False
    draws: str = ""
    met_by: MetBy | None = None
    wait_min: float = 0.0
    at: datetime | None = None


@dataclass(frozen=True)
class Guide:
    """A machine's guide made for one pool. subject: what it is of; pad: how the pad stands before it begins;
    idle_min: after how long without a word of it it counts as left.
    """

    subject: str
    name: str
    rows: tuple[Row, ...]
    pad: Pad
    reason_id: str = "filter_wash"
    idle_min: float = IDLE_MIN


@dataclass(frozen=True)
class Standing:
    """The pad once a step is done: whether the pump runs, and where the valve stands."""

    pump: bool
    valve: Valve


def standing(guide: Guide) -> list[Standing]:
    """The pad after each row, by the model. Raises ``pad.Objection`` where the rows stand in an order that
    may not be.
    """
    pad, standings = guide.pad, []
    for r in guide.rows:
        for operation in r.does:
            pad = OPERATIONS[operation](pad)
        standings.append(Standing(pad.pump, pad.valve))
    return standings


def steps_of(guide: Guide) -> tuple[Step, ...]:
    """The guide's steps, each after the one before, with what it needs of the pump by the model."""
    steps: list[Step] = []
    before: tuple[str, ...] = ()
    running = guide.pad.pump
    for r, stands in zip(guide.rows, standing(guide), strict=True):
        # What switches the pump, either way, needs nobody else to have it on meanwhile.
        claims: set[Claim] = {"pump_on" if stands.pump and running else "pump_off"}
        if not guide.pad.cell_in:
            claims.add("cell_out")  # begun with the cell on the bench: it is not to be put back meanwhile
        if "fit_cell" in r.does:
            claims.add("cell_in")
        steps.append(
            Step(
                r.key,
                r.act,
                r.words,
                before,
                r.wait_min,
                r.at,
                frozenset(claims),
                r.met_by,
                r.may_skip,
                guide.reason_id,
            )
        )
        before, running = (r.key,), stands.pump
    return tuple(steps)
