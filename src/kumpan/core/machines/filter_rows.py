"""The steps of cleaning a filter, as data: by multiport or push-pull valve, a cartridge, DE.

Order, seconds and cautions: common practice, no source.
"""

from kumpan.core.machines.guide import Row
from kumpan.core.work.sheet import Do, Look, Wait, Words

_PRESSURE = Look("Gauge, pump running", unit="pressure")
_ZERO = Look("Does the gauge stand at zero?", (("zero", "at zero"), ("stuck", "it sticks")))
_BEFORE_ROW = Row(
    "before",
    _PRESSURE,
    Words("Read the gauge, pump running", "8 to 10 psi over the clean pressure is due; so is a weak flow."),
    (),
    may_skip=True,
)
_AUTO = Row(
    "auto", Do(), Words("Controller back to automatic", "The step most often forgotten."), ("to_auto",)
)
CELL_OFF = Row(
    "cell_off",
    Do(),
    Words(
        "Cell off first",
        "It has no flow switch that is known of: it must not run while the pump stands.",
        "A cell without flow collects hydrogen and can burst.",
    ),
    ("cell_off",),
)
CELL_ON = Row("cell_on", Do(), Words("Cell on again", "Only now, with the jets strong."), ("cell_on",))
SHUT = Row(
    "shut",
    Do(),
    Words("Shut the lines' valves", "The pad lies below the water: open, it runs out."),
    ("shut",),
)
UNSHUT = Row(
    "unshut", Do(), Words("Open the lines' valves again", "Every one: a shut line bursts."), ("unshut",)
)
MULTIPORT = (
    Row(
        "to_backwash",
        Do(),
        Words(
            "Handle fully down, then to backwash",
            "Press it all the way before turning; let it seat itself.",
            "Only with the pump off: the gasket inside tears.",
        ),
        ("press", "to_backwash"),
    ),
    Row(
        "on_backwash",
        Do(),
        Words("Pump on", "Watch the hose: its end jumps as the water comes."),
        ("pump_on",),
    ),
    Row(
        "wash",
        Wait(1.5, "the sight glass is clear"),
        Words(
            "Wash until the glass is clear",
            (
                "About 90 seconds; 1 to 3 minutes. Longer only where the level is too high: it costs water,"
                " and a bed washed too clean filters worse."
            ),
        ),
        ("flush",),
    ),
    Row("off_rinse", Do(), Words("Pump off"), ("pump_off",)),
    Row(
        "to_rinse",
        Do(),
        Words("Handle fully down, then to rinse", "", "Only with the pump off: the gasket inside tears."),
        ("press", "to_rinse"),
    ),
    Row("on_rinse", Do(), Words("Pump on"), ("pump_on",)),
    Row(
        "rinse",
        Wait(0.5, "the water runs clear"),
        Words(
            "Rinse half a minute",
            (
                "20 to 60 seconds. It settles the bed and washes the valve: without it the first dirt"
                " goes to the pool."
            ),
        ),
        ("flush",),
    ),
    Row("off_filter", Do(), Words("Pump off"), ("pump_off",)),
    Row(
        "to_filter",
        Do(),
        Words("Handle fully down, then to filter", "", "Only with the pump off: the gasket inside tears."),
        ("press", "to_filter"),
    ),
)
PUSH_PULL = (
    Row(
        "to_backwash",
        Do(),
        Words(
            "Pull the handle up and lock it",
            "All the way, then into its lock.",
            "Only with the pump off: the seals tear.",
        ),
        ("to_backwash",),
    ),
    Row(
        "on_backwash",
        Do(),
        Words("Pump on", "Watch the hose: its end jumps as the water comes."),
        ("pump_on",),
    ),
    Row(
        "wash",
        Wait(1.5, "the water runs clear"),
        Words(
            "Wash until the water is clear",
            (
                "About 90 seconds; 1 to 3 minutes, judged at the hose's end where there is no glass. "
                "This valve has no rinse and no waste."
            ),
        ),
        ("flush",),
    ),
    Row("off_filter", Do(), Words("Pump off"), ("pump_off",)),
    Row(
        "to_filter",
        Do(),
        Words("Push the handle down and lock it", "", "Only with the pump off: the seals tear."),
        ("to_filter",),
    ),
)
BEFORE = (
    _BEFORE_ROW,
    Row(
        "hose",
        Do(),
        Words(
            "Lay the waste hose out",
            "Its end where the water may go: it carries chlorine, salt and dirt.",
            "Local rules decide where: often not into a storm drain.",
        ),
        ("lay_hose",),
    ),
    Row("off", Do(), Words("Pump off", "At the controller, and see the jets stop."), ("pump_off",)),
)
BASKET = (
    Row(
        "zero",
        _ZERO,
        Words(
            "Look at the gauge, pump off",
            "One that does not fall to zero lies: believe the flow, and replace it.",
        ),
        (),
        may_skip=True,
    ),
    SHUT,
    Row(
        "open_pot",
        Do(),
        Words(
            "Pump basket out and rinsed",
            (
                "Look for tears, mostly on the impeller side. One that will not lift: wait until the "
                "vacuum is gone."
            ),
            "Breaker off, dry hands; look before you reach in.",
        ),
        ("open_pot",),
    ),
    Row(
        "close_pot",
        Do(),
        Words(
            "Basket in, pot full of water, lid on",
            (
                "The right way round; gasket clean, greased and seated; water to the brim, or the "
                "pump runs dry."
            ),
        ),
        ("fill_pot", "close_pot"),
    ),
    UNSHUT,
)
AFTER = (
    Row(
        "on",
        Do(),
        Words("Pump on at once", "Expect strong jets; weak ones draw air: lid, valves, level."),
        ("pump_on",),
    ),
    Row(
        "after",
        _PRESSURE,
        Words(
            "Read the gauge again",
            "It should stand at the clean pressure. Where none is on record, this is it.",
        ),
        (),
        may_skip=True,
    ),
    _AUTO,
    Row(
        "lost",
        Look("Water that went", unit="volume"),
        Words(
            "How much water went?",
            (
                "The pump's flow times the minutes, or by the mark at the skimmer. It took salt, "
                "stabilizer and calcium along."
            ),
        ),
        (),
        may_skip=True,
    ),
)
CARTRIDGE = (
    _BEFORE_ROW,
    Row(
        "off",
        Do(),
        Words("Pump off, at the breaker", "So that no timer starts it with the filter open."),
        ("pump_off",),
    ),
    SHUT,
    Row(
        "bleed",
        Do(),
        Words(
            "Air relief open until neither air nor water comes",
            "Do not believe the gauge alone: they stick.",
            "Never touch a clamp or a lid under pressure.",
        ),
        ("bleed",),
    ),
    Row(
        "open",
        Do(),
        Words("Open the filter, take the cartridge out", "Keep the O-ring where no sand goes."),
        ("open_filter", "take_out"),
    ),
    Row(
        "hose_off",
        Do(),
        Words(
            "Hose it between the pleats",
            (
                "From top to bottom, inside too; about five minutes, no pressure washer. Torn, flat "
                "or brittle pleats: a new one. Oily: degreaser overnight, the spare in."
            ),
        ),
        ("wash",),
    ),
    Row(
        "put_in",
        Do(),
        Words(
            "Cartridge in, lid on",
            ("O-ring clean, greased and seated; the clamp to its maker's torque, a small screw lid by hand."),
        ),
        ("put_in", "close_filter"),
    ),
    UNSHUT,
    Row(
        "on",
        Do(),
        Words(
            "Pump on, relief open",
            "Until water streams from the relief.",
            "Stand clear of the lid as pressure comes.",
        ),
        ("pump_on",),
    ),
    Row("relief", Do(), Words("Close the relief, look for leaks"), ("close_relief",)),
    Row(
        "after",
        _PRESSURE,
        Words("Read the gauge again", "Where no clean pressure is on record, this is it."),
        (),
        may_skip=True,
    ),
    _AUTO,
)


def recharge(charge: str) -> Row:
    """New DE after a wash. charge: how much of it, in words; empty where the filter's area is not known."""
    much = charge or "About 1 lb for 10 sq ft of filter, 80 % of it after a backwash"
    return Row(
        "recharge",
        Do(),
        Words(
            "New DE through the skimmer, pump running",
            f"{much}; slowly, as a slurry.",
            "Respirator against the dust. Not into a storm drain.",
        ),
        ("recharge",),
    )


def lowering(position: str) -> tuple[Row, ...]:
    """Valve to a position, water out until the level is right. position: waste or backwash."""
    return (
        Row(
            f"to_{position}",
            Do(),
            Words(
                f"Handle fully down, then to {position}",
                "Press it all the way before turning; let it seat itself.",
                "Only with the pump off: the gasket inside tears.",
            ),
            ("press", f"to_{position}"),
        ),
        Row(
            "on_out",
            Do(),
            Words("Pump on", "Watch the hose: its end jumps as the water comes."),
            ("pump_on",),
        ),
        Row(
            "out",
            Wait(5.0, "the level is right"),
            Words(
                "Out, until the level is right",
                "Half to two thirds up the skimmer's mouth. Stay beside it: a pump that draws air loses its"
                " prime and is damaged.",
                "Never walk away from a pump that drains.",
            ),
            ("flush",),
        ),
        Row("off_filter", Do(), Words("Pump off"), ("pump_off",)),
    )
