"""What a simulated pool's true nature is drawn from, and the paces of what happens in it.

Hidden from everything that fits or advises. Standing: *published* where named, *common practice* (cp), or
*our own* where a pace must be put in figures that nobody prints.
"""

import math
from dataclasses import dataclass
from random import Random

# --- Sun on chlorine, at 1,000 W/m2, per hour.
# Nowell & Hoigne (1992), Water Res. 26, 593, from memory: half-life near the surface at noon in summer about
# 60 min at pH 5 (all HOCl) and 12 min at pH 8 (mostly OCl-).
PHOTOLYSIS_HOCL_H = math.log(2) / 1.0
PHOTOLYSIS_OCL_H = math.log(2) / 0.2
# Through a pool's depth 35 to 60 min are common practice: this share of the surface's pace (our own fit).
DEPTH_SHARE = 0.45
# What stabilizer holds fades too: with the free part, 6 to 10 h at 30 to 50 ppm (cp).
PHOTOLYSIS_BOUND_H = math.log(2) / 11.0

# --- Chlorine used up otherwise.
DEMAND_PPM_DAY = 0.7  # dark demand of clean water at 27 C (our own, so that a season's day takes 1 to 4: cp)
DEMAND_DOUBLES_C = 10.0  # doubles per so many degrees (chemistry: loss and growth)
HALF_FC_PPM = 0.3  # FC at which a demand runs at half its pace (our own)
BATHER_CL2_G = 4.0  # a bather's visit, g of chlorine used (cp, from memory)
ORGANICS_PER_H = 0.25  # share oxidised an hour at plenty of chlorine (our own)
CC_SHARE = 0.3  # of what is oxidised, seen as combined chlorine for a while (our own)
CC_DECAY_H, CC_SUN_H, CC_BREAKPOINT_H = (
    0.004,
    0.02,
    0.2,
)  # its decay: dark, in full sun, past breakpoint (our own)
# FC over CC from which it breaks down fast (the practice margin: cp), and the HOCl (ppm) at which it does so
# at its full pace: that of a shock.
BREAKPOINT_FC_CC, BREAKPOINT_HOCL_PPM = 10.0, 0.3
CC_TAKES_FC = 0.5  # ppm FC a ppm CC takes once monochloramine has formed (chemistry: breakpoint)
DUST_PPM_DAY = 0.1  # chlorine demand that wind and leaves bring a day (our own)

# --- Gas through the surface, 1/h: 2 cm/h over 1.4 m (Wanninkhof 1992, from memory), rising with wind; a
# cell's bubbles strip as much again while it runs (our own).
EXCHANGE_M_H, EXCHANGE_WIND_S_M, CELL_STRIPS_H = 0.012, 0.6, 0.010

# --- Heat. Share of sunlight taken up, W/m2K of wind on the surface (cp of pool heating), shelter on wind.
ABSORBED, CONVECTION_W, CONVECTION_WIND_W, SHELTER = 0.85, 3.1, 4.1, 0.3
SEES_SKY = 0.7  # of the longwave loss to a clear sky: clouds, trees and fences are warmer (our own)
COVER_KEEPS = 0.9  # of evaporation, wind's heat and gas exchange a cover keeps; it passes this share of sun:
COVER_PASSES_SUN = 0.5


# --- Algae, a line a kind: growth a day at 27 C and full light, the HOCl (ppm) that just holds it, the
# fastest kill a day, and how much more brushing opens it to chlorine for a day. All our own, about the levels
# of common practice (0.03 ppm keeps green off; 0.3 kills a bloom and black, 0.5 mustard).
@dataclass(frozen=True)
class Kind:
    """A kind of algae: its pace and what holds it."""

    id: str
    growth_day: float
    holds_hocl_ppm: float
    kill_day: float
    brushed: float


KINDS = (
    Kind("green", 0.8, 0.020, 6.0, 1.2),
    Kind("mustard", 0.30, 0.045, 3.5, 1.5),
    Kind("black", 0.10, 0.060, 0.9, 3.0),
)
MOST_MG_L = 40.0  # dry biomass of a swamp (our own)
SEED_MG_L_DAY = 2e-4  # what wind and bathers bring of green; of the others only where a pool has them
LIVE_TAKES_DAY, KILL_TAKES = 0.25, 0.7  # ppm chlorine a mg/L: alive a day, and when killed (our own)
DEAD_TAKES_DAY = 0.05
SETTLES_DAY = 0.3  # share of dead algae that sinks a day, to be vacuumed
# Sight, m: 1.7 over the light lost a metre, as a Secchi disc is read (Poole & Atkins 1929, from memory).
SECCHI, CLEAR_PER_M, TURBID_PER_M_MG_L = 1.7, 0.06, 0.10

# Ammonia takes chlorine mole for mole (molar masses); what comes of it is broken by the rest (our own pace).
BINDS_CL2_PER_N, MONO_BROKEN_H = 70.906 / 14.007, 0.5
# --- Filter, feeder, cell (our own).
FILTER_CATCHES = {"sand": 0.25, "cartridge": 0.4, "de": 0.6}  # of what drifts, a pass
DUST_G_M2_DAY = 0.06
LOAD_DOUBLES_G_M2 = {
    "sand": 350.0,
    "cartridge": 25.0,
    "de": 30.0,
}  # load on a square metre of medium at which pressure has doubled
TABLET_G_H = 4.5  # a 3-inch tablet in a feeder at mid dial, pump on: five to seven days (cp)
SCALE_MM_DAY, SCALE_FROM, SCALE_HALVES_MM = 0.02, 0.1, 1.5  # grown a day an index over so much; halves output
PLATES_OVER = 0.3  # the plates' saturation index over the water's
SELF_CLEANING = 0.3
SPLASH_L = 15.0  # water a bather's visit carries out


@dataclass(frozen=True)
class Nature:
    """What is particular to one pool and known to nobody: factors on the paces above (1 is as stated), the
    HOCl (ppm) that holds each kind of algae, which of them it has, and its volume over the recorded one.
    kill: how fast its algae die.
    """

    demand: float = 1.0
    sun: float = 1.0
    exchange: float = 1.0
    bathers: float = 1.0
    volume: float = 1.0
    holds_hocl_ppm: tuple[float, ...] = tuple(kind.holds_hocl_ppm for kind in KINDS)
    has: tuple[bool, ...] = (True, False, False)
    kill: float = 1.0


def draw_nature(rng: Random, volume_95: float = 0.10) -> Nature:
    """A pool's nature from wide spreads: paces log-normal with a factor of 1.4 a sigma, the levels that hold
    algae 1.5; mustard in one pool of twelve, black in one of twenty (our own). volume_95: how far off the
    recorded volume may be, a fraction.
    """

    def about(factor: float) -> float:
        return math.exp(rng.gauss(0.0, math.log(factor)))

    volume = 1.0 + rng.gauss(0.0, volume_95 / 1.96)
    holds = tuple(kind.holds_hocl_ppm * about(1.5) for kind in KINDS)
    demand, sun, exchange, bathers = (about(1.4) for _ in range(4))
    return Nature(
        demand, sun, exchange, bathers, volume, holds, (True, rng.random() < 1 / 12, rng.random() < 1 / 20)
    )
