"""Cleaning a filter, step by step: the rows for this pool's filter and valve.

The position of the valve and what the pump does at each step follow from the operations a row names
(``machines.pad``).
"""

from dataclasses import dataclass, replace

from kumpan.core.machines.filter_rows import (
    AFTER,
    BASKET,
    BEFORE,
    CARTRIDGE,
    DE,
    MULTIPORT,
    PUSH_PULL,
    SHUT,
    UNSHUT,
    Row,
)
from kumpan.core.machines.pad import OPERATIONS, Pad, Valve
from kumpan.core.work.sheet import Claim, Step, Wait

# From this much on a filter is a pool's own; under it a small unit washes in short rounds (common practice).
_SMALL_L = 18_927  # 5,000 gal
_ROUNDS = 3


@dataclass(frozen=True)
class Filter:
    """What a pool's filter and its valve are. medium: sand, de or cartridge; valve: multiport or push_pull.
    below_water: whether the pad lies below the pool's level. flow_l_h: of its pump, None if not known.
    """

    medium: str
    valve: str
    volume_l: float
    below_water: bool = False
    flow_l_h: float | None = None

    @property
    def is_small(self) -> bool:
        """Whether it washes in short rounds."""
        return self.volume_l < _SMALL_L and self.medium == "sand"

    @property
    def pad(self) -> Pad:
        """The pad before the work begins."""
        dirty = Pad(washed=False, multiport=self.valve == "multiport", below_water=self.below_water)
        return replace(dirty, recharge=self.medium == "de")


def rows_for(filter_: Filter) -> tuple[Row, ...]:
    """The steps of cleaning this filter, in their order: a cartridge is hosed, the others are washed
    backwards. A small unit washes and rinses a minute each, three times.
    """
    if filter_.medium == "cartridge":
        rows: tuple[Row, ...] = CARTRIDGE
    else:
        wash: tuple[Row, ...] = MULTIPORT if filter_.valve == "multiport" else PUSH_PULL
        if filter_.is_small and filter_.valve == "multiport":
            wash = _in_rounds(wash)
        rows = (*BEFORE, *wash, *BASKET, *AFTER)
    if filter_.medium == "de":
        i = next(i for i, r in enumerate(rows) if r.key == "on") + 1
        rows = (*rows[:i], DE, *rows[i:])
    return rows if filter_.below_water else tuple(r for r in rows if r not in (SHUT, UNSHUT))


def _in_rounds(wash: tuple[Row, ...]) -> tuple[Row, ...]:
    """Wash and rinse a minute each, three times, before the valve goes to filter."""
    minute = [
        replace(r, act=replace(r.act, minutes=1.0)) if isinstance(r.act, Wait) else r for r in wash[:-1]
    ]
    rounds = [
        replace(r, key=f"{r.key}_{n}", words=replace(r.words, title=f"{r.words.title} ({n} of {_ROUNDS})"))
        for n in range(1, _ROUNDS + 1)
        for r in minute
    ]
    return (*rounds, wash[-1])


@dataclass(frozen=True)
class Standing:
    """The pad once a step is done: whether the pump runs, and where the valve stands."""

    pump: bool
    valve: Valve


def standing(filter_: Filter, rows: tuple[Row, ...]) -> list[Standing]:
    """The pad after each row, by the model, from a pump that runs in the filter position. Raises
    ``pad.Objection`` where the rows stand in an order that may not be.
    """
    pad, standings = filter_.pad, []
    for r in rows:
        for operation in r.does:
            pad = OPERATIONS[operation](pad)
        standings.append(Standing(pad.pump, pad.valve))
    return standings


def steps_for(filter_: Filter) -> tuple[Step, ...]:
    """The guide's steps, each after the one before, with what it needs of the pump by the model."""
    rows = rows_for(filter_)
    steps: list[Step] = []
    before: tuple[str, ...] = ()
    running = True
    for r, stands in zip(rows, standing(filter_, rows), strict=True):
        # What switches the pump, either way, needs nobody else to have it on meanwhile.
        claim: Claim = "pump_on" if stands.pump and running else "pump_off"
        words, skip = r.words, r.may_skip
        claims = frozenset({claim})
        steps.append(Step(r.key, r.act, words, before, claims=claims, may_skip=skip, reason_id="filter_wash"))
        before, running = (r.key,), stands.pump
    return tuple(steps)


def lost_l(filter_: Filter, minutes: float) -> float | None:
    """Litres a wash sends away: the pump's flow (L/h) times the minutes it ran to waste; None where the flow
    is not known.
    """
    return None if filter_.flow_l_h is None else filter_.flow_l_h * minutes / 60
