"""Cleaning a filter, step by step, and lowering a high level the same way: the rows for this pool's filter
and valve.

The position of the valve and what the pump does at each step follow from the operations a row names
(``machines.pad``).
"""

from dataclasses import dataclass, replace

from kumpan.core.machines.filter_rows import (
    AFTER,
    BASKET,
    BEFORE,
    CARTRIDGE,
    CELL_OFF,
    CELL_ON,
    MULTIPORT,
    PUSH_PULL,
    SHUT,
    UNSHUT,
    lowering,
    recharge,
)
from kumpan.core.machines.guide import Guide, Row
from kumpan.core.machines.pad import Pad
from kumpan.core.units import G_PER_LB, M_PER_FT
from kumpan.core.work.sheet import Wait

# From this much on a filter is a pool's own; under it a small unit washes in short rounds (common practice).
_SMALL_L = 18_927  # 5,000 gal
_ROUNDS = 3
# DE: 1 lb for 10 sq ft of filter, four fifths of it after a backwash (common practice).
_DE_LB_SQ_FT, _DE_AFTER_BACKWASH = 0.1, 0.8


@dataclass(frozen=True)
class Filter:
    """What a pool's filter and its valve are. medium: sand, de or cartridge; valve: multiport or push_pull.
    below_water: whether the pad lies below the pool's level. flow_l_h: of its pump, None if not known.
    cell_by_hand: whether a salt cell must be switched off before the pump. waste: whether the valve has that
    position. area_m2: of the filter, None if not known; metric: in whose measures amounts are told.
    """

    medium: str
    valve: str
    volume_l: float
    below_water: bool = False
    flow_l_h: float | None = None
    cell_by_hand: bool = False
    waste: bool = False
    area_m2: float | None = None
    metric: bool = False

    @property
    def is_small(self) -> bool:
        """Whether it washes in short rounds."""
        return self.volume_l < _SMALL_L and self.medium == "sand"

    @property
    def pad(self) -> Pad:
        """The pad before the work begins."""
        multiport, cell = self.valve == "multiport", self.cell_by_hand
        pad = Pad(multiport=multiport, below_water=self.below_water, has_cell=cell, cell_power=cell)
        return replace(pad, interlocked=not cell)


def cleaning(filter_: Filter) -> Guide:
    """The guide that cleans this filter: a cartridge is hosed, the others are washed backwards. A small unit
    washes and rinses a minute each, three times.
    """
    name = "Filter clean" if filter_.medium == "cartridge" else "Backwash"
    pad = replace(filter_.pad, washed=False, recharge=filter_.medium == "de")
    return Guide("filter", name, _fitted(_cleaning_rows(filter_), filter_), pad)


def lowering_level(filter_: Filter) -> Guide:
    """The guide that brings a high level down: to waste where the valve has that position, else by a
    backwash, which is rinsed as ever.
    """
    if filter_.waste:
        rows = (*BEFORE, *lowering("waste"), MULTIPORT[-1], *AFTER)
    else:
        wash = MULTIPORT if filter_.valve == "multiport" else PUSH_PULL
        level = [replace(r, act=Wait(5.0, "the level is right")) if r.key == "wash" else r for r in wash]
        rows = (*BEFORE, *level, *AFTER)
    return Guide("lower", "Lower the level", _fitted(rows, filter_), filter_.pad)


def _cleaning_rows(filter_: Filter) -> tuple[Row, ...]:
    if filter_.medium == "cartridge":
        return CARTRIDGE
    wash: tuple[Row, ...] = MULTIPORT if filter_.valve == "multiport" else PUSH_PULL
    if filter_.is_small and filter_.valve == "multiport":
        wash = _in_rounds(wash)
    rows = (*BEFORE, *wash, *BASKET, *AFTER)
    if filter_.medium == "de":
        i = next(i for i, r in enumerate(rows) if r.key == "on") + 1
        rows = (*rows[:i], recharge(charge_words(filter_)), *rows[i:])
    return rows


def _fitted(rows: tuple[Row, ...], filter_: Filter) -> tuple[Row, ...]:
    """The rows without what this pad does not need, with what its cell asks for."""
    fitted: list[Row] = []
    for r in rows:
        if not filter_.below_water and r in (SHUT, UNSHUT):
            continue
        if filter_.cell_by_hand and r.key == "off":
            fitted.append(CELL_OFF)
        fitted.append(r)
        if filter_.cell_by_hand and r.key == "on":
            fitted.append(CELL_ON)
    return tuple(fitted)


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


def de_charge_lb(area_m2: float) -> tuple[float, float]:
    """DE for a filter of so much area, lb: a whole charge, and what a backwash asks for. 1 lb for 10 sq ft,
    four fifths of it after a backwash: common practice.

    >>> [round(lb, 2) for lb in de_charge_lb(60 * 0.3048**2)]
    [6.0, 4.8]
    """
    whole = area_m2 / M_PER_FT**2 * _DE_LB_SQ_FT
    return whole, whole * _DE_AFTER_BACKWASH


def charge_words(filter_: Filter) -> str:
    """What a backwash asks for of DE, in words; empty where the area is not known."""
    if filter_.area_m2 is None:
        return ""
    pounds = de_charge_lb(filter_.area_m2)[1]
    much = f"{pounds * G_PER_LB / 1000:.1f} kg" if filter_.metric else f"{pounds:.1f} lb"
    return f"{much}: four fifths of a whole charge"


def lost_l(filter_: Filter, minutes: float) -> float | None:
    """Litres a wash sends away: the pump's flow (L/h) times the minutes it ran to waste; None where the flow
    is not known.
    """
    return None if filter_.flow_l_h is None else filter_.flow_l_h * minutes / 60
