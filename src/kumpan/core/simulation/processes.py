"""What happens in a pool, one function a process: published where named, else our own paces (``priors``)."""

import math

from kumpan.core.simulation import priors as p
from kumpan.core.water.evaporation import saturation_pressure_pa

_STEFAN_BOLTZMANN = 5.670374419e-8  # W/m2K4, CODATA 2018


def sky_emissivity(air_c: float, humidity: float) -> float:
    """How warm a clear sky shines, as a share of a black body at the air's temperature, by its dew point.

    Berdahl & Martin (1984), Solar Energy 32, 663.
    """
    vapour = max(1.0, humidity * saturation_pressure_pa(air_c))
    log = math.log(vapour / 610.94)
    dew = 243.04 * log / (17.625 - log) / 100
    return min(1.0, 0.711 + 0.56 * dew + 0.73 * dew * dew)


def surface_heat_w_m2(water_c: float, air_c: float, humidity: float, wind_m_s: float) -> float:
    """Heat that wind and the night sky take from the surface, W/m2, evaporation aside. Convection: the plain
    linear form of pool heating (cp); longwave: Stefan and Boltzmann, 0.96 for water.
    """
    sky = sky_emissivity(air_c, humidity) * (air_c + 273.15) ** 4
    radiated = 0.96 * _STEFAN_BOLTZMANN * ((water_c + 273.15) ** 4 - sky)
    return (p.CONVECTION_W + p.CONVECTION_WIND_W * wind_m_s) * (water_c - air_c) + p.SEES_SKY * radiated


def photolysis_per_h(sun_w_m2: float, hocl: float, ocl: float, bound: float) -> float:
    """Share of free chlorine that sunlight takes an hour, from the shares of its forms (together 1).

    Nowell & Hoigne (1992) near the surface, brought to a pool's depth; what stabilizer holds by the
    half-lives of common practice.

    >>> [round(60 * math.log(2) / photolysis_per_h(1000, h, 1 - h, 0)) for h in (1.0, 0.5)]
    [133, 44]
    """
    free = p.DEPTH_SHARE * (hocl * p.PHOTOLYSIS_HOCL_H + ocl * p.PHOTOLYSIS_OCL_H)
    return sun_w_m2 / 1000 * (free + bound * p.PHOTOLYSIS_BOUND_H)


def dark_demand_ppm_h(temp_c: float) -> float:
    """Chlorine that clean water takes an hour without sun, where there is plenty: doubling every ten degrees
    (Arrhenius-like).
    """
    return p.DEMAND_PPM_DAY / 24 * 2 ** ((temp_c - 27) / p.DEMAND_DOUBLES_C)


def exchange_per_h(wind_m_s: float, depth_m: float) -> float:
    """First-order rate of gas exchange through the surface, 1/h: a film of so many m/h over the depth, faster
    in wind. Wanninkhof (1992), from memory, for its size.
    """
    return p.EXCHANGE_M_H * (1 + p.EXCHANGE_WIND_S_M * wind_m_s) / depth_m


def warmth(temp_c: float) -> float:
    """Pace of growth against that at 27 C: doubling every ten degrees to 32 C, none under 10 (our own)."""
    return 0.0 if temp_c <= 10 else 2 ** ((min(temp_c, 32.0) - 27) / 10) * min(1.0, (temp_c - 10) / 8)


def growth_per_day(kind: p.Kind, hocl_ppm: float, holds_ppm: float, temp_c: float, brushed: bool) -> float:
    """Net growth of a kind of algae a day, as a share: its own growth, less kill in proportion to the
    hypochlorous acid over what just holds it, no faster than it can die (our own).
    """
    opened = kind.brushed if brushed else 1.0
    net = kind.growth_day * (warmth(temp_c) - hocl_ppm / holds_ppm * opened)
    return max(-kind.kill_day * min(opened, 2.0), net)


def sight_m(suspended_mg_l: float) -> float:
    """How far one sees into the water, m: Secchi's relation over the light that particles take (our own).

    >>> round(sight_m(0)), round(sight_m(20), 1)
    (28, 0.8)
    """
    return p.SECCHI / (p.CLEAR_PER_M + p.TURBID_PER_M_MG_L * suspended_mg_l)
