"""What time in air does to a water: carbon dioxide leaves, so pH rises and alkalinity stays."""

import math
from dataclasses import replace
from datetime import datetime

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.solution import equilibrate
from kumpan.core.chemistry.solution import in_air as solution_in_air
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState, solution_of, totals_but_carbonate, totals_of


def in_air(water: WaterState, co2_uatm: float = k.AIR_CO2_UATM) -> WaterState:
    """The water once its CO2 is in balance with air of this CO2 pressure (microatmospheres, above 0).

    Henry's law (``chemistry.solution.in_air``). Needs ``has_ph_chemistry``.
    """
    return replace(water, ph=float(solution_in_air(totals_but_carbonate(water), co2_uatm * 1e-6).ph))


def aerated_for(
    water: WaterState, hours: float, rate_per_h: float, co2_uatm: float = k.AIR_CO2_UATM
) -> WaterState:
    """The water after ``hours`` of gas exchange: dCT/dt = -rate (CO2 - CO2 of the air), CO2 in either
    direction.

    First-order exchange through the surface; ``rate_per_h`` is particular to the pool. Steps small enough
    that the driving difference changes by at most a few percent in each.

    hours 0 or more; rate 1/h. First-order film exchange, as in Wanninkhof (1992), from memory.
    """
    totals = totals_of(water)
    balanced = solution_in_air(totals, co2_uatm * 1e-6)
    there = float(balanced.co2)
    ct, now = totals.ct, solution_of(water)
    # Between what there is and what the air would leave, whatever a step in so little carbonate says.
    least, most = sorted((float(ct), float(balanced.ct)))
    steps = max(1, min(200, math.ceil(hours * rate_per_h * 20)))
    for _ in range(steps):
        # Exact for a CO2 that answers linearly to CT over the step: its slope is found from a small step.
        nudged = equilibrate(totals._replace(ct=ct * 0.999), now.ph)
        slope = (now.co2 - nudged.co2) / (ct * 0.001)
        share = -math.expm1(-rate_per_h * hours / steps * slope)
        ct = min(most, max(least, ct - (now.co2 - there) / slope * share)) if slope > 0 else balanced.ct
        now = equilibrate(totals._replace(ct=ct), now.ph)
    return replace(water, ph=float(now.ph))


# A pace fitted from a log is believed within this much of the prior, either way (our own).
_FITTED_MOST = 4.0


def surface_rate(water: WaterState, ph_rise_a_day: float | None) -> float:
    """The rate of gas exchange (1/h) at which this water's pH rises by so much in a day; the prior where that
    is not known, or where the water gives off too little CO2 to tell.

    By the ratio to what the prior foretells, within a quarter and four times of it: our own.
    """
    prior = k.SURFACE_RATE_PER_H
    if ph_rise_a_day is None or not water.has_ph_chemistry or water.ph is None:
        return prior
    foretold = (aerated_for(water, 24, prior).ph or water.ph) - water.ph
    if foretold < 0.005:
        return prior
    return prior * min(_FITTED_MOST, max(1 / _FITTED_MOST, ph_rise_a_day / foretold))


def rest_ph(ta_ppm: float | None, cya_ppm: float | None) -> float:
    """About where a water is in balance with today's air, by its alkalinity and stabilizer (ppm; untested:
    90, none).

    Fitted to ``in_air`` at 26 C from 40 to 200 ppm of alkalinity and to 120 of stabilizer, within 0.04 (where
    ten ppm of carbonate are left, 0.25): a tenfold carbonate alkalinity lifts it by 0.92.

    >>> [round(rest_ph(ta, cya), 1) for ta, cya in ((60, 0), (100, 0), (100, 80), (160, 40))]
    [8.2, 8.4, 8.3, 8.6]
    """
    carbonate = (90.0 if ta_ppm is None else ta_ppm) - 0.36 * (cya_ppm or 0.0)
    return 8.40 + 0.92 * math.log10(max(10.0, carbonate) / 100)


def risen(ph: float, pace: float, days: float, at_rest: float) -> tuple[float, float, float]:
    """pH after so many days in air, and how much of a little more pH, and of a little more pace, is in it.

    pace: the rise a day far below where water is in balance with the air (``at_rest``). dCT/dt = -k (CO2 -
    CO2 of the air) at constant carbonate alkalinity, with dCT/dpH = -ln 10 (CO2 + CO3) there, comes to

        dpH/dt = pace (1 - u)/(1 + c u^2),  u = 10^(pH - at_rest),  pace = k/ln 10,

    where c u^2 = CO3/CO2 = 10^(2 pH - pK1 - pK2). Cyanurate and borate, which buffer too, are left out: for
    those the pace is fitted. Integrated in closed form, ln u - (1 + c) ln|1 - u| - c u = pace ln 10 t, and
    solved by Newton's steps. A fall (pace under 0: acid comes in) is even.

    >>> [round(risen(7.5, 0.03, d, 8.3)[0], 2) for d in (0, 7, 30, 1000)]
    [7.5, 7.66, 7.99, 8.3]
    """
    there = 10 ** min(3.0, ph - at_rest)
    if pace <= 0:
        return ph + pace * days, 1.0, days
    if abs(1 - there) < 1e-6:
        return ph, 1.0, 0.0
    # In y = ln|1/u - 1| the integral -c ln u - (1 + c) y - c u falls by 1 + c u^2 for each y: nearly
    # straight.
    c = 10 ** (2 * (at_rest - _HALF_WAY_PH))
    side, y = math.copysign(1.0, 1 - there), math.log(abs(1 / there - 1))
    target = -c * math.log(there) - (1 + c) * y - c * there + pace * math.log(10) * days
    for _ in range(20):
        log_u = -math.log1p(side * math.exp(y))
        off = -c * log_u - (1 + c) * y - c * math.exp(log_u) - target
        y += off / (1 + c * math.exp(2 * log_u))
        if abs(off) < 1e-9:
            break
    after = at_rest - math.log1p(side * math.exp(y)) / math.log(10)
    then = 10 ** (after - at_rest)
    slope = (1 - then) / (1 + c * then * then)
    return after, slope * (1 + c * there * there) / (1 - there), slope * days


# Half of pK1 + pK2 in pool water at 26 C, ion pairs with calcium and sodium counted (by the model of
# ``chemistry.solution``: 6.3 and 9.9).
_HALF_WAY_PH = 8.1


def rain_water(temp_c: float) -> WaterState:
    """Rain in balance with the air's CO2: pH about 5.6, no minerals.

    Unpolluted rain, Seinfeld & Pandis, Atmospheric Chemistry and Physics (pH 5.6; from memory).

    >>> round(rain_water(25).ph, 1)
    5.6
    """
    none = tuple(
        (m.id, 0.0) for m in sorted(MEASURES.values(), key=lambda m: m.id) if m.in_state and not m.field
    )
    bare = WaterState(0.0, 0.0, 7.0, 0.0, 0.0, 0.0, 0.0, temp_c, 0.0, 0.0, none)
    return in_air(bare)


def sunlit_days(begin: datetime, end: datetime, sun_ahead_h: float | None) -> float:
    """How much of whole days' sunlight falls between two instants: from six to six by the sun, most at noon;
    spread evenly where nobody knows where the sun stands. sun_ahead_h: the sun's time less UTC.

    A half sine of twelve hours: our own, for any season.

    >>> from datetime import UTC, timedelta
    >>> dawn = datetime(2026, 6, 1, 6, tzinfo=UTC)
    >>> [round(sunlit_days(dawn, dawn + timedelta(hours=h), 0.0), 2) for h in (3, 6, 12, 24, 36)]
    [0.15, 0.5, 1.0, 1.0, 2.0]
    """
    if sun_ahead_h is None:
        return (end - begin).total_seconds() / 86400
    return _fallen(end, sun_ahead_h) - _fallen(begin, sun_ahead_h)


def _fallen(at: datetime, sun_ahead_h: float) -> float:
    """Days' worth of sunlight since the epoch."""
    whole, part = divmod(at.timestamp() / 3600 + sun_ahead_h, 24)
    lit = min(1.0, max(0.0, (part - 6) / 12))
    return whole + (1 - math.cos(math.pi * lit)) / 2
