"""Pool volume by any way a person has it, and how sure it is."""

from dataclasses import dataclass
from typing import Literal

from kumpan.core import basin
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.units import M_PER_FT

# Our own sanity limits: a foot bath and a very large public pool.
SMALLEST_L, LARGEST_L = 200.0, 10_000_000.0


@dataclass(frozen=True)
class Volume:
    """Litres, how far off they may be (a fraction, 95 %) and why; outline and floor as measured, for drawing, where there is a shape."""

    litres: float
    within: float
    why: str
    outline: basin.Outline | None = None
    floor: basin.Floor | None = None


# How far off a volume may be, 95 %: 10 % unless proved (practice section 4); the rest is our own.
WITHIN: dict[str, tuple[float, str]] = {
    "typed": (0.10, "Taken as right within 10 %."),
    "shape": (0.10, "Right within 10 % if the sizes are of the water, not the wall."),
    "kidney": (0.15, "Two widths stand for a whole curve: within 15 %. Widths at equal steps (free-form) tell more."),
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


def _typical(id: str, label: str, plan: Literal["rectangle", "round"], a_ft: float, b_ft: float, shallow_ft: float, deep_ft: float) -> TypicalPool:
    length_m, width_m, shallow_m, deep_m = (v * M_PER_FT for v in (a_ft, b_ft, shallow_ft, deep_ft))
    outline = basin.rectangle(length_m, width_m) if plan == "rectangle" else basin.oval(length_m, length_m)
    return TypicalPool(id, label, basin.volume_l(outline, basin.sloped(shallow_m, deep_m, length_m)))


TYPICAL: tuple[TypicalPool, ...] = (
    _typical("soft_10", "Soft-sided ring, 10 ft across, water to the hip", "round", 10, 10, 2, 2),
    _typical("round_15", "Above-ground round, 15 ft across", "round", 15, 15, 3.75, 3.75),
    _typical("round_24", "Above-ground round, 24 ft across", "round", 24, 24, 3.75, 3.75),
    _typical("small_in", "Small in-ground, about 12 by 24 ft", "rectangle", 24, 12, 3, 5),
    _typical("family_in", "Family in-ground, about 16 by 32 ft", "rectangle", 32, 16, 3, 6),
    _typical("large_in", "Large in-ground, about 20 by 40 ft", "rectangle", 40, 20, 3, 8),
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
                "That is smaller than any pool (under 53 gal or 200 L). Check the number and the unit."
                if small
                else "That is larger than any pool (over 2.6 million gal or 10 million L). Check the number and the unit.",
            )
        )
    return volume_l
