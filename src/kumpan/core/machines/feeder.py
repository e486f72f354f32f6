"""A feeder or floater: how many tablets, when it is topped up, and where its stabilizer leads."""

import math
from dataclasses import dataclass

from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import G_PER_UNIT, L_PER_GAL
from kumpan.core.water.demand import Demand
from kumpan.core.water.state import WaterState, apply

# Pools under this take one-inch tablets: a three-inch one overwhelms them (common practice).
LARGE_L = 10_000 * L_PER_GAL
# Topped up twice a week (common practice).
TOP_UP_DAYS = 3.5


@dataclass(frozen=True)
class Tablets:
    """Tablets a week. unit: tablet_3in or tablet_1in; fc_ppm, cya_ppm: what one brings here; top_up: each
    time, twice a week; cya_week: stabilizer a week at that.
    """

    unit: str
    a_week: float
    low: float
    high: float
    fc_ppm: float
    cya_ppm: float
    top_up: int
    cya_week: float


def tablet_unit(volume_l: float) -> str:
    """The tablets a pool takes: one-inch under 10,000 gal (common practice)."""
    return "tablet_3in" if volume_l >= LARGE_L else "tablet_1in"


def tablets_for(demand: Demand, volume_l: float) -> Tablets:
    """Trichlor tablets that make a demand: what one brings to this pool, from its mass and available
    chlorine.

    A 3-inch tablet is 8 oz, a 1-inch half an ounce (common practice); 10 ppm of chlorine bring 6.07 of
    stabilizer.

    >>> t = tablets_for(Demand(2.0, 0.5), 20_000 * 3.785411784)
    >>> t.unit, round(t.fc_ppm, 2), round(t.a_week, 1), round(t.cya_week, 1)
    ('tablet_3in', 2.7, 5.2, 8.5)
    """
    unit = tablet_unit(volume_l)
    each = PRODUCTS["trichlor-90"].change_per_unit(volume_l) * G_PER_UNIT[unit]
    brought = apply(WaterState(fc_ppm=0, cya_ppm=0), each)
    fc, cya = brought.fc_ppm or 0.0, brought.cya_ppm or 0.0
    week, spread = 7 * demand.ppm_day / fc, 7 * demand.u95 / fc
    return Tablets(
        unit,
        week,
        max(0.0, week - spread),
        week + spread,
        fc,
        cya,
        max(1, math.ceil(week * TOP_UP_DAYS / 7 - 1e-9)),
        week * cya,
    )


def weeks_until(cya_ppm: float, limit_ppm: float, cya_week: float) -> float | None:
    """Weeks until stabilizer reaches a limit at this use: 0 where it has, None where it never does."""
    if cya_ppm >= limit_ppm:
        return 0.0
    return None if cya_week <= 0 else (limit_ppm - cya_ppm) / cya_week
