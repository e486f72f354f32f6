"""Pool volume from its shape: plane and solid geometry (closed forms)."""

import math
from dataclasses import dataclass
from typing import Literal

from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.units import M_PER_FT

Plan = Literal["rectangle", "round", "oval"]
Bottom = Literal["level", "sloped"]

# Our own sanity limits: a foot bath and a very large public pool.
SMALLEST_L, LARGEST_L = 200.0, 10_000_000.0


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



def _typical(id: str, label: str, plan: Plan, a_ft: float, b_ft: float, shallow_ft: float, deep_ft: float) -> TypicalPool:
    sizes_m = [v * M_PER_FT for v in (a_ft, b_ft, shallow_ft, deep_ft)]
    bottom: Bottom = "level" if shallow_ft == deep_ft else "sloped"
    return TypicalPool(id, label, basin_volume_l(plan, sizes_m[0], sizes_m[1], bottom, sizes_m[2], sizes_m[3]))


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
