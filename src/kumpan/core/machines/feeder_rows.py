"""Topping a feeder or floater up, as data. Order and cautions: common practice, no source."""

from kumpan.core.machines.filter_rows import SHUT, UNSHUT
from kumpan.core.machines.guide import Guide, Row
from kumpan.core.machines.pad import Pad
from kumpan.core.work.sheet import Do, Look, Words

_COUNT = Look("Tablets put in", unit="count")


def top_up(floats: bool, below_water: bool) -> Guide:
    """Tablets into a feeder in the line, or into a floater. below_water: water runs to the pad by itself."""
    pad = Pad(below_water=below_water)
    if floats:
        return Guide("feeder", "Tablets", _FLOATER, pad, "feeder_one")
    rows = tuple(r for r in _FEEDER if below_water or r not in (SHUT, UNSHUT))
    return Guide("feeder", "Tablets", rows, pad, "feeder_one")


_FLOATER = (
    Row(
        "open",
        Do(),
        Words(
            "Floater out, opened upwind",
            "Look in first: what is left counts.",
            "Gloves, goggles. One product for life: trichlor where calcium hypochlorite was explodes.",
        ),
    ),
    Row(
        "tablets",
        _COUNT,
        Words("How many went in?", "Dry hands, no scoop of another product.", "Never lean over it."),
    ),
    Row(
        "close",
        Do(),
        Words(
            "Closed, vents as they were, back in",
            "Where it floats free: moored, its tablet bleaches one spot of a liner.",
            "Out of the water while anybody swims.",
        ),
    ),
)
_FEEDER = (
    Row("off", Do(), Words("Pump off", "At the controller; let the feeder's pressure go."), ("pump_off",)),
    SHUT,
    Row(
        "open",
        Do(),
        Words(
            "Open the feeder, standing upwind",
            "Slowly; let the gas go before you look in.",
            "Gloves, goggles. One product for life: trichlor where calcium hypochlorite was explodes.",
        ),
        ("open_feeder",),
    ),
    Row(
        "tablets",
        _COUNT,
        Words("How many went in?", "What is left in it stays.", "Never lean over it."),
        ("load_feeder",),
        may_skip=True,
    ),
    Row(
        "close",
        Do(),
        Words("Lid on, its ring seated", "A clean, greased ring: it leaks at the next start else."),
        ("close_feeder",),
    ),
    UNSHUT,
    Row("on", Do(), Words("Pump on", "Look for drips at the lid."), ("pump_on",)),
    Row("auto", Do(), Words("Controller back to automatic", "The step most often forgotten."), ("to_auto",)),
)
