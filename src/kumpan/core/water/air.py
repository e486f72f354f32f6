"""What time in air does to a water: carbon dioxide leaves, so pH rises and alkalinity stays."""

import math
from dataclasses import replace

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
