"""Cleaning a filter, step by step, as rows of data filtered by this pool's filter and valve.

Order, seconds and cautions: common practice, no source. The position of the valve and what the pump does at
each step follow from the operations a row names (``machines.pad``).
"""

from dataclasses import dataclass, replace

from kumpan.core.machines.pad import OPERATIONS, Pad, Valve
from kumpan.core.work.sheet import Act, Claim, Do, Look, Step, Wait, Words

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


@dataclass(frozen=True)
class Row:
    """A step as data. does: operations on the pad, in their order."""

    key: str
    act: Act
    words: Words
    does: tuple[str, ...] = ()
    may_skip: bool = False


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
_SHUT = Row(
    "shut",
    Do(),
    Words("Shut the lines' valves", "The pad lies below the water: open, it runs out."),
    ("shut",),
)
_UNSHUT = Row(
    "unshut", Do(), Words("Open the lines' valves again", "Every one: a shut line bursts."), ("unshut",)
)
_MULTIPORT = (
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
                "About 90 seconds; 1 to 3 minutes. Longer only costs water, and a bed washed too "
                "clean filters worse."
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
_PUSH_PULL = (
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
_BEFORE = (
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
_BASKET = (
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
    _SHUT,
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
    _UNSHUT,
)
_AFTER = (
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
_CARTRIDGE = (
    _BEFORE_ROW,
    Row(
        "off",
        Do(),
        Words("Pump off, at the breaker", "So that no timer starts it with the filter open."),
        ("pump_off",),
    ),
    _SHUT,
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
    _UNSHUT,
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
_DE = Row(
    "recharge",
    Do(),
    Words(
        "New DE through the skimmer, pump running",
        ("About 1 lb for 10 sq ft of filter, 80 % of it after a backwash; slowly, as a slurry."),
        "Respirator against the dust. Not into a storm drain.",
    ),
    ("recharge",),
)


def rows_for(filter_: Filter) -> tuple[Row, ...]:
    """The steps of cleaning this filter, in their order: a cartridge is hosed, the others are washed
    backwards. A small unit washes and rinses a minute each, three times.
    """
    if filter_.medium == "cartridge":
        rows: tuple[Row, ...] = _CARTRIDGE
    else:
        wash: tuple[Row, ...] = _MULTIPORT if filter_.valve == "multiport" else _PUSH_PULL
        if filter_.is_small and filter_.valve == "multiport":
            wash = _in_rounds(wash)
        rows = (*_BEFORE, *wash, *_BASKET, *_AFTER)
    if filter_.medium == "de":
        i = next(i for i, r in enumerate(rows) if r.key == "on") + 1
        rows = (*rows[:i], _DE, *rows[i:])
    return rows if filter_.below_water else tuple(r for r in rows if r not in (_SHUT, _UNSHUT))


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
    pad, found = filter_.pad, []
    for r in rows:
        for operation in r.does:
            pad = OPERATIONS[operation](pad)
        found.append(Standing(pad.pump, pad.valve))
    return found


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
