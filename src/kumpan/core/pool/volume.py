"""Pool volume by any way a person has it, and how sure it is."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.pool import geometry
from kumpan.core.units import L_PER_GAL, M_PER_FT, parse_number

# Our own sanity limits: a foot bath and a very large public pool.
SMALLEST_L, LARGEST_L = 200.0, 10_000_000.0
_DEEPEST_M = 10.0


@dataclass(frozen=True)
class Volume:
    """Litres, how far off they may be (a fraction, 95 %) and why; where there is a shape, its outline, floor,
    steps and bench, for drawing.
    """

    litres: float
    within: float
    why: str
    outline: geometry.Outline | None = None
    floor: geometry.Floor | None = None
    steps: geometry.Flight | None = None
    bench: geometry.Flight | None = None


# How far off a volume may be, 95 %: 10 % unless proved (common practice); the rest is our own.
WITHIN: dict[str, tuple[float, str]] = {
    "papers": (0.10, "From papers or the builder: taken as right within 10 %."),
    "proved": (0.03, "Metered or proved: within 3 %."),
    "guess": (0.30, "A guess: doses may be off by a third. Measure when you can."),
    "shape": (0.10, "Right within 10 % if the sizes are of the water, not the wall."),
    "kidney": (
        0.15,
        "Two widths stand for a whole curve: within 15 %. Widths at equal steps (free-form) tell more.",
    ),
    "free": (0.10, "Measured widths: within 10 %."),
    "free_few": (0.15, "Few widths: within 15 %. Seven or more tell the curve."),
    "meter": (0.03, "A fill meter counts gallons: within 3 %."),
    "hose": (0.10, "A hose's rate drifts with pressure: within 10 %."),
    "typical": (0.30, "A guess by size: doses may be off by a third. Measure when you can."),
}


@dataclass(frozen=True)
class TypicalPool:
    """A size to start from when nobody knows: the volume follows from the inside size named.

    Sizes: common practice, no source. The person is told it is a guess and how to better it.
    """

    id: str
    label: str
    volume_l: float


def _typical(
    id: str, label: str, plan: Literal["rectangle", "round"], sizes_ft: tuple[float, float, float, float]
) -> TypicalPool:
    """sizes_ft: length (or across), width, water at the shallow and at the deep end."""
    length_m, width_m, shallow_m, deep_m = (v * M_PER_FT for v in sizes_ft)
    outline = (
        geometry.rectangle(length_m, width_m) if plan == "rectangle" else geometry.oval(length_m, length_m)
    )
    return TypicalPool(id, label, geometry.volume_l(outline, geometry.sloped(shallow_m, deep_m, length_m)))


TYPICAL: tuple[TypicalPool, ...] = (
    _typical("soft_10", "Soft-sided ring, 10 ft across, water to the hip", "round", (10, 10, 2, 2)),
    _typical("round_15", "Above-ground round, 15 ft across", "round", (15, 15, 3.75, 3.75)),
    _typical("round_24", "Above-ground round, 24 ft across", "round", (24, 24, 3.75, 3.75)),
    _typical("small_in", "Small in-ground, about 12 by 24 ft", "rectangle", (24, 12, 3, 5)),
    _typical("family_in", "Family in-ground, about 16 by 32 ft", "rectangle", (32, 16, 3, 6)),
    _typical("large_in", "Large in-ground, about 20 by 40 ft", "rectangle", (40, 20, 3, 8)),
)


def checked_volume_l(volume_l: float, field: str) -> float:
    """The volume, if a pool can have it. Raises InvalidInput naming ``field``.

    >>> checked_volume_l(60_000, "volume")
    60000
    """
    if volume_l <= 0:
        raise InvalidInput(FieldProblem(field, "out_of_range", "A pool's volume is more than zero."))
    if not SMALLEST_L <= volume_l <= LARGEST_L:
        small = volume_l < SMALLEST_L
        raise InvalidInput(
            FieldProblem(
                field,
                "out_of_range",
                (
                    "That is smaller than any pool (under 53 gal or 200 L). Check the number and the unit."
                    if small
                    else (
                        "That is larger than any pool (over 2.6 million gal or 10 million L). Check the"
                        " number and the unit."
                    )
                ),
            )
        )
    return volume_l


@dataclass(frozen=True)
class VolumeInput:
    """The volume as given, sizes as typed text.

    how: typed (amount and unit), shape (sizes), meter (two readings), hose (a minute's worth and hours) or
    typical (an id). unit: gal or l; of a shape ft or m; of a meter also ft3 or m3. sure: of a typed one,
    papers, proved or guess. width2: a kidney's other lobe. leg_out, leg_along: an L's leg. widths: a free
    form's, at equal steps. slope_from, deep_from, deep_to, wall: where a hopper's floor breaks, and the depth
    at its far wall. steps_* and bench_*: what stands in the water; a bench is one step.
    """

    how: Literal["typed", "shape", "meter", "hose", "typical"]
    unit: str = "gal"
    amount: str = ""
    sure: Literal["papers", "proved", "guess"] = "papers"
    plan: Literal["rectangle", "round", "oval", "kidney", "l", "free"] = "rectangle"
    bottom: Literal["level", "sloped", "hopper"] = "level"
    length: str = ""
    width: str = ""
    shallow: str = ""
    deep: str = ""
    typical: str = ""
    width2: str = ""
    leg_out: str = ""
    leg_along: str = ""
    widths: str = ""
    slope_from: str = ""
    deep_from: str = ""
    deep_to: str = ""
    wall: str = ""
    meter_from: str = ""
    meter_to: str = ""
    rate: str = ""
    hours: str = ""
    steps_along: str = ""
    steps_out: str = ""
    steps_high: str = ""
    steps_count: str = ""
    bench_along: str = ""
    bench_out: str = ""
    bench_high: str = ""


def volume_of(entered: VolumeInput) -> Volume:
    """The volume from however it was given, and how sure it is. Raises InvalidInput at ``volume.<field>``."""
    within, why = WITHIN[entered.sure if entered.how == "typed" else entered.how]
    if entered.how == "typical":
        match = next((t for t in TYPICAL if t.id == entered.typical), None)
        if match is None:
            text = "Choose the size that is nearest."
            raise InvalidInput(FieldProblem("volume.typical", "unknown_choice", text))
        return Volume(match.volume_l, within, why)
    if entered.how == "shape":
        return _from_shape(entered)
    return Volume(_counted_l(entered), within, why)


def _counted_l(entered: VolumeInput) -> float:
    """Litres typed, or told by a meter or by a hose's rate and its hours."""
    litres = {"gal": L_PER_GAL, "l": 1.0, "ft3": (M_PER_FT**3) * 1000, "m3": 1000.0}.get(entered.unit)
    if litres is None or (entered.how != "meter" and entered.unit not in ("gal", "l")):
        raise InvalidInput(FieldProblem("volume.unit", "unknown_unit", "Volume is in US gallons or litres."))
    if entered.how == "typed":
        return checked_volume_l(parse_number(entered.amount, "volume.amount") * litres, "volume.amount")
    problems: list[FieldProblem] = []
    names = ("meter_from", "meter_to") if entered.how == "meter" else ("rate", "hours")
    first, second = (_size(entered, name, _Scale(1.0, "", 1e9), problems) for name in names)
    if not problems and entered.how == "meter" and second <= first:
        text = "The meter after filling reads more than before: swap the two?"
        problems.append(FieldProblem("volume.meter_to", "meter_backwards", text))
    if problems:
        raise InvalidInput(*problems)
    amount = (second - first) if entered.how == "meter" else first * 60 * second
    return checked_volume_l(amount * litres, f"volume.{names[1]}")


@dataclass(frozen=True)
class _Scale:
    """A typed size's unit: its factor to metres (or to itself), its name, and what a size may be after it."""

    factor: float
    unit: str
    most: float = 150.0
    least: float = 0.0


def _size(entered: VolumeInput, name: str, scale: _Scale, problems: list[FieldProblem]) -> float:
    """One typed size in metres (or as it is); what is wrong goes to ``problems``."""
    field = f"volume.{name}"
    try:
        value = parse_number(getattr(entered, name), field) * scale.factor
    except InvalidInput as error:
        problems += error.fields
        return 0.0
    if not scale.least <= value <= scale.most or (value == 0 and name not in ("meter_from",)):
        least, most = scale.least / scale.factor, scale.most / scale.factor
        text = f"Between {least:,.0f} and {most:,.0f} {scale.unit}.".replace(" .", ".")
        problems.append(FieldProblem(field, "out_of_range", text))
    return value


def _from_shape(entered: VolumeInput) -> Volume:
    if entered.unit not in ("ft", "m"):
        raise InvalidInput(FieldProblem("volume.unit", "unknown_unit", "Sizes are in feet or metres."))
    problems: list[FieldProblem] = []
    factor = M_PER_FT if entered.unit == "ft" else 1.0

    def size(name: str, most: float = 150.0) -> float:
        return _size(entered, name, _Scale(factor, entered.unit, most), problems)

    length = size("length")
    outline, kind = _outline(entered, length, factor, size, problems)
    floor = _floor(entered, length, size, problems)
    steps, bench = (_flight(entered, name, factor, problems) for name in ("steps", "bench"))
    if problems:
        raise InvalidInput(*problems)
    crossing = geometry.crosses_at_m(outline)
    if crossing is not None:
        text = (
            f"The two sides meet {crossing / factor:,.1f} {entered.unit} along: 0 stands only at the ends."
            " Measure at more places there."
        )
        raise InvalidInput(FieldProblem("volume.widths", "crosses_itself", text))
    for name, flight, depth in (("steps", steps, floor.points[0][1]), ("bench", bench, floor.points[-1][1])):
        if flight is not None:
            problems += _flight_fits(name, flight, outline, depth, _Scale(factor, entered.unit))
    if problems:
        raise InvalidInput(*problems)
    taken_off = sum(f.volume_l for f in (steps, bench) if f is not None)
    litres = geometry.volume_l(outline, floor) - taken_off
    if litres <= 0:
        raise InvalidInput(
            FieldProblem(
                "volume.bench_along", "no_water_left", "Steps and bench leave no water. Check their sizes."
            )
        )
    within, why = WITHIN[kind]
    return Volume(checked_volume_l(litres, "volume.length"), within, why, outline, floor, steps, bench)


def _outline(
    entered: VolumeInput,
    length: float,
    factor: float,
    size: Callable[[str], float],
    problems: list[FieldProblem],
) -> tuple[geometry.Outline, str]:
    """The outline and which ``WITHIN`` speaks of it; a plain one where something is wrong."""
    plain = geometry.rectangle(length or 1.0, 1.0)
    if entered.plan == "free":
        widths = _widths(entered, factor, problems)
        return (geometry.free_form(length, widths) if not problems else plain), (
            "free" if len(widths) >= 7 else "free_few"
        )
    if entered.plan == "round":
        return (geometry.oval(length, length) if not problems else plain), "shape"
    width = size("width")
    second = size("width2") if entered.plan == "kidney" else 0.0
    out, along = (size("leg_out"), size("leg_along")) if entered.plan == "l" else (0.0, 0.0)
    if problems:
        return plain, "shape"
    if entered.plan == "oval":
        return geometry.oval(length, width), "shape"
    if entered.plan == "kidney":
        return geometry.kidney(length, width, second), "kidney"
    if entered.plan == "l":
        if along >= length:
            problems.append(
                FieldProblem(
                    "volume.leg_along",
                    "past_the_wall",
                    "The leg is as long as the pool: that is a wider rectangle.",
                )
            )
        return geometry.l_shape(length, width, out, along), "shape"
    return geometry.rectangle(length, width), "shape"


def _floor(
    entered: VolumeInput, length: float, size: Callable[[str, float], float], problems: list[FieldProblem]
) -> geometry.Floor:
    before = len(problems)
    shallow = size("shallow", _DEEPEST_M)
    deep = size("deep", _DEEPEST_M) if entered.bottom != "level" else shallow
    if len(problems) == before and deep < shallow:
        problems.append(
            FieldProblem(
                "volume.deep",
                "depths_swapped",
                "The deep end is shallower than the shallow end: swap the two?",
            )
        )
    if entered.bottom != "hopper":
        return geometry.sloped(shallow, deep, length)
    slope_from, deep_from, deep_to, wall = (
        size("slope_from", 150.0),
        size("deep_from", 150.0),
        size("deep_to", 150.0),
        size("wall", _DEEPEST_M),
    )
    if len(problems) == before:
        for name, earlier, here in (("deep_from", slope_from, deep_from), ("deep_to", deep_from, deep_to)):
            if here < earlier:
                problems.append(
                    FieldProblem(
                        f"volume.{name}",
                        "breaks_out_of_order",
                        "The floor's breaks follow each other from the shallow end.",
                    )
                )
        if deep_to > length:
            problems.append(FieldProblem("volume.deep_to", "past_the_wall", "That is past the far wall."))
        if wall > deep:
            problems.append(
                FieldProblem(
                    "volume.wall",
                    "depths_swapped",
                    "The far wall stands deeper than the deepest part: swap the two?",
                )
            )
    return geometry.hopper(shallow, deep, wall, (slope_from, deep_from, deep_to), length)


def _flight(
    entered: VolumeInput, name: str, factor: float, problems: list[FieldProblem]
) -> geometry.Flight | None:
    """Steps or a bench as typed; None where all is empty."""
    fields = [f"{name}_{part}" for part in ("along", "out", "high")]
    if not any(getattr(entered, f).strip() for f in fields):
        return None
    before = len(problems)
    along, out, high = (_size(entered, f, _Scale(factor, entered.unit), problems) for f in fields)
    count = 1.0
    if name == "steps":
        count = _size(entered, "steps_count", _Scale(1.0, "steps", 12, 1), problems)
        if len(problems) == before and count != int(count):
            problems.append(FieldProblem("volume.steps_count", "not_whole", "A whole number of steps."))
    return geometry.Flight(along, out, high, int(count)) if len(problems) == before else None


def _flight_fits(
    name: str, flight: geometry.Flight, outline: geometry.Outline, depth_m: float, scale: _Scale
) -> list[FieldProblem]:
    """What is too large for the pool, at its field. A bench may follow any wall, steps stand on one."""
    widest = max(outline.width_at(outline.length_m * i / 200) for i in range(1, 200))
    longest = max(widest, outline.length_m) if name == "steps" else 2 * (widest + outline.length_m)
    limits = (
        ("along", flight.along_m, longest),
        ("out", flight.out_m, max(widest, outline.length_m)),
        ("high", flight.high_m, depth_m),
    )
    return [
        FieldProblem(
            f"volume.{name}_{part}",
            "past_the_wall",
            f"At most {most / scale.factor:,.1f} {scale.unit} in this pool.",
        )
        for part, value, most in limits
        if value > most + 1e-9
    ]


def _widths(entered: VolumeInput, factor: float, problems: list[FieldProblem]) -> tuple[float, ...]:
    sizes = []
    try:
        parts = (part.strip(",") for part in entered.widths.replace(";", " ").split())
        sizes = [parse_number(part, "volume.widths") * factor for part in parts if part]
    except InvalidInput as error:
        problems += error.fields
        return ()
    if len(sizes) < 3:
        problems.append(
            FieldProblem(
                "volume.widths",
                "too_few",
                "At least three widths at equal steps, end to end, spaces between: 0 9 12 11 0.",
            )
        )
    elif not all(0 <= w <= 150 for w in sizes) or not any(sizes):
        problems.append(
            FieldProblem(
                "volume.widths", "out_of_range", f"Widths between 0 and {150 / factor:,.0f} {entered.unit}."
            )
        )
    elif len(sizes) > 60:
        problems.append(FieldProblem("volume.widths", "too_many", "At most 60 widths."))
    return tuple(sizes)
