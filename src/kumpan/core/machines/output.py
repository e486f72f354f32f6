"""How much chlorine a salt cell or tablets feed, and the setting or count that feeds so much."""

import math
from dataclasses import dataclass

_MG_PER_G = 1000.0


def cell_ppm_day(rated_g_day: float, percent: float, hours: float, volume_l: float) -> float:
    """Free chlorine (ppm a day) that a cell makes: rated output (g a day of Cl2 at 100 %, running all day)
    times its setting (percent) and hours a day.

    Check values of the doses: 600 g a day full time into 15,000 gal.

    >>> round(cell_ppm_day(600, 100, 24, 15_000 * 3.785411784), 2)
    10.57
    """
    return rated_g_day * _MG_PER_G * percent / 100 * hours / 24 / volume_l


_THROTTLES_C = 3.0  # over the temperature at which it stops (common practice: the mid 60s F)


def warm_share(temp_c: float | None, stops_c: float) -> float:
    """The share of its output that a cell makes in water so warm: none where it stops, all of it 3 C over
    that (cells throttle in the mid 60s F: common practice). All where the temperature is not known.

    >>> [round(warm_share(t, 15.5), 1) for t in (None, 14.0, 17.0, 25.0)]
    [1.0, 0.0, 0.5, 1.0]
    """
    if temp_c is None:
        return 1.0
    return min(1.0, max(0.0, (temp_c - stops_c) / _THROTTLES_C))


@dataclass(frozen=True)
class Advice:
    """What a cell is to run at. percent: to the next 5; can: whether that makes what is used at all."""

    percent: float
    hours: float
    can: bool


def advise(ppm_day: float, rated_g_day: float, hours: float, volume_l: float) -> Advice:
    """The setting for the hours it runs now; more hours where 100 % does not make it, at most 24.

    >>> advise(2.0, 600, 8, 15_000 * 3.785411784)
    Advice(percent=60.0, hours=8, can=True)
    """
    needed = 24 * ppm_day / cell_ppm_day(rated_g_day, 100, 24.0, volume_l)
    if needed > hours:
        hours = min(24.0, float(math.ceil(needed)))
    percent = 100 * needed / hours
    return Advice(min(100.0, math.ceil(percent / 5 - 1e-9) * 5.0), hours, percent <= 100.0 + 1e-6)


def tablets_a_week(ppm_day: float, ppm_per_tablet: float) -> float:
    """Tablets a week that feed so much: the demand over what one brings to this pool."""
    return 7 * ppm_day / ppm_per_tablet


def dial_for(ppm_day: float, fed_ppm_day: float, dial: float, highest: float) -> float:
    """Where a feeder's dial feeds so much, to the half mark: in proportion to what it fed at the present one,
    at most its highest.

    In proportion: common practice; a dial has no physics of its own.

    >>> dial_for(3.0, 2.0, 3, 8), dial_for(3.0, 0.2, 3, 8)
    (4.5, 8)
    """
    return min(highest, max(0.5, round(2 * dial * ppm_day / fed_ppm_day) / 2))
