"""Pool volume from its shape: plane and solid geometry (closed forms)."""

import math
from dataclasses import dataclass
from typing import Literal

from kumpan.core.errors import FieldProblem, InvalidInput

Plan = Literal["rectangle", "round", "oval"]
Bottom = Literal["level", "sloped"]

# Our own sanity limits: a foot bath and a very large public pool.
SMALLEST_L, LARGEST_L = 200.0, 10_000_000.0
# practice section 4: volume is +-10 % unless proved. A typical size is a guess: our own +-30 %.
MEASURED_UNCERTAINTY, TYPICAL_UNCERTAINTY = 0.10, 0.30


@dataclass(frozen=True)
class TypicalPool:
    """A size to start from when nobody knows: the volume follows from the inside size named.

    Sizes: common practice, no source. The person is told it is a guess and how to better it.
    """

    id: str
    label: str
    volume_l: float


def basin_volume_l(
    plan: Plan, length_m: float, width_m: float, bottom: Bottom, shallow_m: float, deep_m: float
) -> float:
    """Water volume of a basin with upright walls, in litres.

    plan: ``rectangle`` (length x width), ``round`` (length is the diameter, width ignored)
    or ``oval`` (an ellipse, pi/4 x length x width). bottom: ``level`` (shallow_m is the depth,
    deep_m ignored) or ``sloped`` evenly between shallow_m and deep_m along the length, so that the
    mean depth is exact for the three plans (each is symmetric along its length). Depths are
    of water, not of wall. Sizes in metres, above 0.

    >>> round(basin_volume_l("rectangle", 10, 5, "sloped", 1, 2))
    75000
    """
    if plan == "rectangle":
        area_m2 = length_m * width_m
    elif plan == "round":
        area_m2 = math.pi / 4 * length_m**2
    else:
        area_m2 = math.pi / 4 * length_m * width_m
    depth_m = shallow_m if bottom == "level" else (shallow_m + deep_m) / 2
    return area_m2 * depth_m * 1000


TYPICAL = tuple(
    TypicalPool(id, label, basin_volume_l(plan, a * 0.3048, b * 0.3048, bottom, d1 * 0.3048, d2 * 0.3048))
    for id, label, plan, a, b, bottom, d1, d2 in (
        ("soft_10", "Soft-sided ring, 10 ft across, water to the hip", "round", 10, 10, "level", 2, 2),
        ("round_15", "Above-ground round, 15 ft across", "round", 15, 15, "level", 3.75, 3.75),
        ("round_24", "Above-ground round, 24 ft across", "round", 24, 24, "level", 3.75, 3.75),
        ("small_in", "Small in-ground, about 12 by 24 ft", "rectangle", 12, 24, "sloped", 3, 5),
        ("family_in", "Family in-ground, about 16 by 32 ft", "rectangle", 16, 32, "sloped", 3, 6),
        ("large_in", "Large in-ground, about 20 by 40 ft", "rectangle", 20, 40, "sloped", 3, 8),
    )
)  # type: tuple[TypicalPool, ...]


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
