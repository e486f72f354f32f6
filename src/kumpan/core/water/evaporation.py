"""Water that evaporates from a pool outdoors."""

import math
from typing import NamedTuple


def saturation_pressure_pa(temp_c: float) -> float:
    """Vapour pressure over water, Pa; -40 to 50 C. Alduchov & Eskridge (1996), J. Appl. Meteor. 35, 601.

    >>> round(saturation_pressure_pa(28))
    3774
    """
    return 610.94 * math.exp(17.625 * temp_c / (temp_c + 243.04))


def latent_heat_j_kg(temp_c: float) -> float:
    """Heat that evaporating water takes, J/kg; 0 to 50 C. Rogers & Yau, A Short Course in Cloud Physics,
    linear part.
    """
    return 2.501e6 - 2361.0 * temp_c


def evaporation_kg_m2_s(water_c: float, air_c: float, humidity: float, wind_m_s: float) -> float:
    """Water that evaporates outdoors, kg/m2s, 0 or more; wind over the surface.

    ASHRAE's form: (pw - pa)(0.089 + 0.0782 v) / hfg.

    >>> round(86400 * evaporation_kg_m2_s(28, 30, 0.5, 1.0), 1)
    9.8
    """
    pull = saturation_pressure_pa(water_c) - humidity * saturation_pressure_pa(air_c)
    return max(0.0, pull) * (0.089 + 0.0782 * wind_m_s) / latent_heat_j_kg(water_c)


class Air(NamedTuple):
    """The air of a day: mean temperature (C), relative humidity (0 to 1), wind of the place (m/s)."""

    temp_c: float
    humidity: float
    wind_m_s: float


# Of a place's wind, what blows over the water (our own: fence and house stand round it); what a cover keeps
# (our own); a pool's mean depth, m (common practice).
_SHELTER, _COVER_KEEPS, MEAN_DEPTH_M = 0.3, 0.9, 1.4


def evaporated_share(air: Air, water_c: float | None, covered: bool) -> float:
    """The share of a pool that evaporates in a day of such air; water of unknown warmth counts as 2 C over
    it.

    >>> round(100 * evaporated_share(Air(30, 0.5, 1 / 0.3), 28, False), 2)  # 9.9 mm of 1.4 m
    0.7
    """
    water = air.temp_c + 2 if water_c is None else water_c
    kg_m2 = 86_400 * evaporation_kg_m2_s(water, air.temp_c, air.humidity, _SHELTER * air.wind_m_s)
    return kg_m2 / 1000 / MEAN_DEPTH_M * (1 - _COVER_KEEPS if covered else 1.0)
