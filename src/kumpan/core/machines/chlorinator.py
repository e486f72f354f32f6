"""A salt chlorinator: its setting against its hours, its salt, its wear, and what to look at before it is
blamed.
"""

import math
from dataclasses import dataclass
from typing import Literal

from kumpan.core.machines.output import cell_ppm_day
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import G_PER_LB, G_PER_UNIT
from kumpan.core.water.demand import Demand

# Chlorine a coulomb sets free, per ampere-hour and series gap: 3600 s x 70.906 g/mol over 2 x 96,485 C/mol
# (Faraday; constants of CODATA 2018).
FARADAY_G_AH = 3600 * 70.906 / (2 * 96_485.33212)
# Of that a cell makes so much at best, and 1.02 is a rounding (our own).
_ROUNDING = 1.02
HOURS = (4.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 24.0)
# Panel and test further apart than so: recalibrate or clean, never pour (common practice).
PANEL_APART_PPM = 500.0
# Nine tenths of the sum down to the next half bag, a day, a test, then the rest (common practice).
FIRST_SHARE = 0.9
# A worn cell is told from so much of its rated life on (our own).
WORN_SHARE = 0.8


def faraday_g_day(amperes: float, gaps: float) -> float:
    """The most chlorine a cell can make running all day, g: amperes through so many series gaps.

    Faraday's law at full current efficiency: 1.3227 g Cl2 per ampere-hour and gap.

    >>> round(FARADAY_G_AH, 4), round(faraday_g_day(5, 5))
    (1.3228, 794)
    """
    return FARADAY_G_AH * amperes * gaps * 24


def over_faraday(rated_g_day: float, amperes: float, gaps: float) -> bool:
    """Whether a rated output is more than its current can make: one of the figures is wrong."""
    return rated_g_day > faraday_g_day(amperes, gaps) * _ROUNDING


@dataclass(frozen=True)
class Point:
    """A way to make a demand: hours a day and the setting they ask for, percent, with the span of the
    demand's 95 %; over 100 it cannot.
    """

    hours: float
    percent: float
    low: float
    high: float


def trade_off(
    demand: Demand, rated_g_day: float, volume_l: float, hours: tuple[float, ...] = HOURS
) -> tuple[Point, ...]:
    """Setting against hours: every pair makes the demand. rated_g_day: at 100 %, all day.

    >>> [round(p.percent) for p in trade_off(Demand(2.0, 0.5), 600, 15_000 * 3.785411784, (8.0, 24.0))]
    [57, 19]
    """
    points = []
    for h in hours:
        full = cell_ppm_day(rated_g_day, 100, h, volume_l)
        low = max(0.0, demand.ppm_day - demand.u95)
        points.append(
            Point(
                h, 100 * demand.ppm_day / full, 100 * low / full, 100 * (demand.ppm_day + demand.u95) / full
            )
        )
    return tuple(points)


@dataclass(frozen=True)
class MakeUp:
    """Salt to put in. lb: the whole sum; first_bags: today's, in bags of 40 lb (20 kg metric), to the half;
    rest_lb: what a test after a day decides.
    """

    lb: float
    first_bags: float
    first_lb: float
    rest_lb: float


def make_up(value_ppm: float, aim_ppm: float, volume_l: float, bag: str = "bag_40lb") -> MakeUp | None:
    """Salt from what there is to what is aimed at; None where nothing is missing.

    Common practice; check value: 20,000 gal from 0 to 3,200: 534 lb, 13.4 bags, of which 12 go in first.

    >>> m = make_up(0, 3200, 20_000 * 3.785411784)
    >>> round(m.lb), m.first_bags, round(m.rest_lb)
    (534, 12.0, 54)
    """
    per = PRODUCTS["salt"].change_per_unit(volume_l).salt_ppm
    grams = (aim_ppm - value_ppm) / per
    if grams <= 0:
        return None
    half = G_PER_UNIT[bag] / 2
    first = math.floor(FIRST_SHARE * grams / half) * half
    return MakeUp(grams / G_PER_LB, first / G_PER_UNIT[bag], first / G_PER_LB, (grams - first) / G_PER_LB)


SaltSays = Literal["unknown", "low", "fine", "high", "verify", "panel_off"]


def salt_says(
    tested: float | None, panel: float | None, low: float, high: float, estimate: float | None = None
) -> SaltSays:
    """What to make of the salt: a panel's word is verified first; panel and test far apart mean recalibrate
    or clean; then the test against the cell's range. estimate: of the log, where nothing was tested of late.
    """
    if tested is not None and panel is not None and abs(panel - tested) > PANEL_APART_PPM:
        return "panel_off"
    if tested is None and panel is not None:
        return "verify"  # whatever the log makes of it leans on the panel too
    value = tested if tested is not None else estimate
    if value is None:
        return "unknown"
    if value < low:
        return "low" if tested is not None else "verify"
    return "high" if value > high else "fine"


@dataclass(frozen=True)
class Wear:
    """A cell's life. run_h: hours at full output it has run; share: of its rated life, None where that is not
    known; left_days: at today's pace.
    """

    run_h: float
    share: float | None
    left_days: float | None


def wear(run_h: float, rated_h: float | None, percent: float, hours_day: float) -> Wear:
    """How worn a cell is. Its life counts the hours current flows: hours a day times its setting (common
    practice).
    """
    a_day = hours_day * percent / 100
    if rated_h is None or rated_h <= 0:
        return Wear(run_h, None, None)
    left = max(0.0, rated_h - run_h)
    return Wear(run_h, run_h / rated_h, left / a_day if a_day > 0 else None)
