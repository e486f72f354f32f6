"""A small model of the equipment pad: pump, valve, baskets, filter, cell and its acid bath, feeder, and what
one may not do to them.

Guides name its operations, so that a guide can be checked against it: a step left out or out of its place
must be objected to, or be harmless. Common practice, no source, for every rule.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

Valve = Literal["filter", "backwash", "rinse", "waste"]


@dataclass(frozen=True)
class Pad:
    """How a pad stands. pressed: the multiport's handle fully down; rinsed: nothing of a backwash is left in
    the valve; relief, shut_off: the filter's air relief open, the lines' valves closed. below_water: water
    runs to the pad by itself. auto: whether the controller switches the pump.

    has_cell, interlocked: whether a salt cell stands in the line, and stops by itself without flow;
    cell_power: whether it is switched on, cell_full: at 100 % for a test; cell_in: in the line; scaled: with
    deposits on its plates. geared: goggles, gloves and mask on; bath: what is in the bucket (w water, a
    acid, n neutral); dipped: the cell is in it; acid_on_cell: not rinsed yet. feeder_open: its lid is off.
    """

    pump: bool = True
    valve: Valve = "filter"
    pressed: bool = False
    hose_out: bool = False
    rinsed: bool = True
    washed: bool = True
    pot_open: bool = False
    pot_full: bool = True
    filter_open: bool = False
    element_in: bool = True
    relief: bool = False
    pressure: bool = True
    shut_off: bool = False
    auto: bool = True
    multiport: bool = True
    below_water: bool = False
    recharge: bool = False
    has_cell: bool = False
    interlocked: bool = True
    cell_power: bool = False
    cell_full: bool = False
    cell_in: bool = True
    scaled: bool = False
    geared: bool = False
    bath: str = ""
    dipped: bool = False
    acid_on_cell: bool = False
    feeder_open: bool = False


Operation = Callable[[Pad], Pad]


class Objection(Exception):
    """What is wrong with an operation on a pad as it stands, in words."""


def _needs(holds: bool, words: str) -> None:
    if not holds:
        raise Objection(words)


def operate(pad: Pad, operation: str) -> Pad:
    """The pad after an operation of ``OPERATIONS``. Raises Objection where it may not be done now."""
    return OPERATIONS[operation](pad)


def _pump_on(pad: Pad) -> Pad:
    _needs(not pad.pump, "the pump is running already")
    _needs(not pad.pressed, "the valve's handle is not seated")
    _needs(pad.valve == "filter" or pad.hose_out, "the waste hose is not laid out: it floods the pad")
    _needs(not pad.pot_open, "the pump's lid is off")
    _needs(pad.pot_full, "the pot is empty: the pump runs dry")
    _needs(not pad.shut_off, "the lines are shut")
    _needs(not pad.filter_open and pad.element_in, "the filter is open or empty")
    _needs(pad.pressure or pad.relief, "the air in the filter has no way out")
    _needs(pad.cell_in, "the line is open where the cell was")
    _needs(not pad.feeder_open, "the feeder's lid is off")
    _needs(
        pad.multiport is False or pad.valve != "filter" or pad.rinsed,
        "what the backwash loosened goes to the pool",
    )
    return replace(pad, pump=True, pressure=True)


def _pump_off(pad: Pad) -> Pad:
    _needs(pad.pump, "the pump is off already")
    _needs(not pad.cell_power or pad.interlocked, "a cell that runs without flow collects hydrogen")
    return replace(pad, pump=False, auto=False)


def _turn(to: Valve) -> Operation:
    def turn(pad: Pad) -> Pad:
        _needs(not pad.pump, "the valve is moved under pressure: its gasket tears")
        _needs(not pad.multiport or pad.pressed, "the handle is not fully down")
        _needs(pad.valve != to, "the valve stands there already")
        return replace(pad, valve=to, pressed=False)

    return turn


def _press(pad: Pad) -> Pad:
    _needs(not pad.pump, "the valve is moved under pressure: its gasket tears")
    return replace(pad, pressed=True)


def _flush(pad: Pad) -> Pad:
    """Water runs for a while in the valve's position."""
    _needs(pad.pump, "nothing runs: the pump is off")
    if pad.valve == "backwash":
        return replace(pad, washed=True, rinsed=not pad.multiport)
    if pad.valve == "rinse":
        _needs(not pad.rinsed, "there is nothing to rinse")
        return replace(pad, rinsed=True)
    return pad


def _open_pot(pad: Pad) -> Pad:
    _needs(not pad.pump, "the pump is running")
    _needs(not pad.below_water or pad.shut_off, "water runs to the pad: shut the lines first")
    return replace(pad, pot_open=True, pot_full=False)


def _fill_pot(pad: Pad) -> Pad:
    _needs(pad.pot_open, "the lid is on")
    return replace(pad, pot_full=True)


def _close_pot(pad: Pad) -> Pad:
    _needs(pad.pot_open, "the lid is on already")
    return replace(pad, pot_open=False)


def _shut(pad: Pad) -> Pad:
    _needs(not pad.pump, "the pump pushes against shut lines")
    return replace(pad, shut_off=True)


def _unshut(pad: Pad) -> Pad:
    is_open = pad.filter_open or pad.pot_open or pad.feeder_open or not pad.cell_in
    _needs(not is_open, "water runs out of what is open")
    return replace(pad, shut_off=False)


def _bleed(pad: Pad) -> Pad:
    _needs(not pad.pump, "the pump is running")
    return replace(pad, relief=True, pressure=False)


def _open_filter(pad: Pad) -> Pad:
    _needs(not pad.pump, "the pump is running")
    _needs(not pad.pressure, "the filter is under pressure: the clamp flies off")
    _needs(not pad.below_water or pad.shut_off, "water runs to the pad: shut the lines first")
    return replace(pad, filter_open=True)


def _take_out(pad: Pad) -> Pad:
    _needs(pad.filter_open, "the filter is closed")
    return replace(pad, element_in=False)


def _wash(pad: Pad) -> Pad:
    _needs(not pad.element_in, "the element is in the filter")
    return replace(pad, washed=True)


def _put_in(pad: Pad) -> Pad:
    _needs(pad.filter_open and not pad.element_in, "the filter is closed, or full")
    return replace(pad, element_in=True)


def _close_filter(pad: Pad) -> Pad:
    _needs(pad.filter_open and pad.element_in, "there is nothing to close")
    return replace(pad, filter_open=False)


def _close_relief(pad: Pad) -> Pad:
    _needs(pad.pump, "air is still in the filter: run until water streams")
    return replace(pad, relief=False)


def _recharge(pad: Pad) -> Pad:
    _needs(pad.pump and pad.valve == "filter", "it is drawn in by the running pump, in the filter position")
    return replace(pad, recharge=False)


def _cell_off(pad: Pad) -> Pad:
    _needs(pad.cell_power, "the cell is off already")
    return replace(pad, cell_power=False)


def _cell_on(pad: Pad) -> Pad:
    _needs(not pad.cell_power, "the cell runs already")
    _needs(pad.cell_in, "the cell is not in the line")
    _needs(pad.pump, "a cell that runs without flow collects hydrogen")
    return replace(pad, cell_power=True)


def _cell_full(pad: Pad) -> Pad:
    _needs(pad.cell_power and pad.pump, "the cell is off, or without flow")
    return replace(pad, cell_full=True)


def _take_cell(pad: Pad) -> Pad:
    _needs(not pad.pump, "the pump is running: the line is under pressure")
    _needs(not pad.cell_power, "the cell has power")
    _needs(pad.shut_off, "the lines are open: water runs out")
    return replace(pad, cell_in=False)


def _fit_cell(pad: Pad) -> Pad:
    _needs(not pad.cell_in, "the cell is in the line")
    _needs(not pad.dipped and not pad.acid_on_cell, "the cell holds acid")
    return replace(pad, cell_in=True)


def _out_of_the_line(pad: Pad) -> None:
    _needs(not pad.cell_in, "the cell is in the line")
    _needs(not pad.dipped, "the cell is in the bath")


def _hose_cell(pad: Pad) -> Pad:
    _out_of_the_line(pad)
    return replace(pad, acid_on_cell=False)


def _scrape(pad: Pad) -> Pad:
    _out_of_the_line(pad)
    return replace(pad, scaled=False)


def _bath_water(pad: Pad) -> Pad:
    _needs("a" not in pad.bath, "water poured onto acid boils up and spits")
    return replace(pad, bath="w")


def _bath_acid(pad: Pad) -> Pad:
    _needs(pad.geared, "acid without goggles, gloves and mask")
    _needs(pad.bath == "w", "acid goes into water")
    return replace(pad, bath="wa")


def _dip(pad: Pad) -> Pad:
    _out_of_the_line(pad)
    _needs(pad.bath == "wa", "there is no bath")
    return replace(pad, dipped=True, acid_on_cell=True)


def _soak(pad: Pad) -> Pad:
    _needs(pad.dipped, "the cell is not in the bath")
    return replace(pad, scaled=False)


def _lift(pad: Pad) -> Pad:
    _needs(pad.dipped, "the cell is not in the bath")
    return replace(pad, dipped=False)


def _neutralise(pad: Pad) -> Pad:
    _needs(pad.bath == "wa", "there is no acid to neutralise")
    _needs(not pad.dipped, "the cell is in the bath")
    return replace(pad, bath="n")


def _open_feeder(pad: Pad) -> Pad:
    _needs(not pad.pump, "the pump is running: the feeder is under pressure")
    _needs(not pad.below_water or pad.shut_off, "water runs to the pad: shut the lines first")
    return replace(pad, feeder_open=True)


def _close_feeder(pad: Pad) -> Pad:
    _needs(pad.feeder_open, "the feeder is closed")
    return replace(pad, feeder_open=False)


def _load_feeder(pad: Pad) -> Pad:
    _needs(pad.feeder_open, "the feeder is closed")
    return pad


OPERATIONS: dict[str, Operation] = {
    "pump_on": _pump_on, "pump_off": _pump_off, "press": _press, "to_backwash": _turn("backwash"),
    "to_rinse": _turn("rinse"), "to_filter": _turn("filter"),
    "to_waste": _turn("waste"), "flush": _flush, "open_pot": _open_pot,
    "fill_pot": _fill_pot, "close_pot": _close_pot, "shut": _shut, "unshut": _unshut, "bleed": _bleed,
    "open_filter": _open_filter, "take_out": _take_out, "wash": _wash, "put_in": _put_in,
    "close_filter": _close_filter, "close_relief": _close_relief, "recharge": _recharge,
    "cell_off": _cell_off, "cell_on": _cell_on,
    "cell_full": _cell_full, "take_cell": _take_cell, "fit_cell": _fit_cell,
    "hose_cell": _hose_cell, "scrape": _scrape, "bath_water": _bath_water, "bath_acid": _bath_acid,
    "dip": _dip, "soak": _soak, "lift": _lift, "neutralise": _neutralise, "open_feeder": _open_feeder,
    "load_feeder": _load_feeder, "close_feeder": _close_feeder,
    "cell_back": lambda pad: replace(pad, cell_full=False),
    "gear": lambda pad: replace(pad, geared=True),
    "lay_hose": lambda pad: replace(pad, hose_out=True), "to_auto": lambda pad: replace(pad, auto=True),
}  # fmt: skip


def left_wrong(pad: Pad, begun: Pad | None = None) -> str:
    """What is wrong with a pad that is walked away from; empty where nothing is. begun: how it stood when the
    work began, where that was inside other work: what was off or open then may still be.
    """
    inside = begun is not None and not begun.pump
    wrong = (
        (not pad.pump and not inside, "the pump is off"),
        (pad.valve != "filter", "the valve does not stand at filter"),
        (not pad.washed, "the filter is as dirty as before"),
        (not pad.rinsed, "what the backwash loosened goes to the pool"),
        (pad.relief, "the air relief is open"),
        (not pad.auto and not inside, "the controller no longer switches the pump"),
        (pad.recharge, "the filter has no DE"),
        (pad.dipped, "the cell is left in the bath"),
        (pad.acid_on_cell, "the cell holds acid"),
        (pad.bath == "wa", "the bath is left as acid"),
        (pad.cell_full, "the cell runs at 100 %"),
        (pad.scaled, "the plates are as scaled as before"),
        (pad.has_cell and not pad.cell_power and not inside, "the cell is off"),
    )
    return next((words for is_so, words in wrong if is_so), "")
