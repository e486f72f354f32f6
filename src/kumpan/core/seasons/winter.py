"""Water balanced for the cold: the saturation index that it will have under the cover, and open to the air.

The rule (practice, its limits our own): closed, carried down to 40 F with its alkalinity and carbonate, -0.4
or more; once its CO2 is in balance with the air, +0.3 or less; pH at most 7.8 at closing.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import product

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.solution import equilibrate
from kumpan.core.chemistry.solution import in_air as solution_in_air
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.state import WaterState, totals_but_carbonate, totals_of

WINTER_C = 4.44  # 40 F
CLOSED_LEAST, OPEN_MOST, PH_MOST = -0.4, 0.3, 7.8
NEEDS = ("ph", "ta", "ch", "cya")
_USUAL_SALT_PPM, _USUAL_C = 500.0, 15.0  # our own
# What alkalinity and calcium may be set to, ppm, and the pH they are judged at (our own).
_TA, _CH, _PH = range(60, 151, 10), range(150, 451, 25), 7.5


@dataclass(frozen=True)
class Winter:
    """The index at 40 F: closed, and open to the air; judged as it is told, to one decimal."""

    closed: float
    open: float
    ph: float

    @property
    def low(self) -> bool:
        """Whether it would eat plaster and grout."""
        return round(self.closed, 1) < CLOSED_LEAST

    @property
    def high(self) -> bool:
        """Whether it would scale once its CO2 has left."""
        return round(self.open, 1) > OPEN_MOST or self.ph > PH_MOST

    @property
    def passes(self) -> bool:
        """Whether it may be closed so."""
        return not self.low and not self.high


def winter_index(water: WaterState, winter_c: float = WINTER_C) -> Winter:
    """A closing water's index in winter. Needs pH, alkalinity, calcium and stabilizer; of salt and
    temperature what was not read counts as is usual in autumn without a cell.

    Raises ValueError where one of the four is missing.

    Published equilibria (``chemistry``); cyanurate's constants are known at 25 C alone and are kept.

    >>> water = WaterState(1, 0, 7.5, 90, 250, 40, 500, 15.0)
    >>> winter_index(water).passes
    True
    """
    if water.ph is None or None in (water.ta_ppm, water.ch_ppm, water.cya_ppm):
        raise ValueError("pH, alkalinity, calcium and stabilizer are needed")
    salt = _USUAL_SALT_PPM if water.salt_ppm is None else water.salt_ppm
    temp_c = _USUAL_C if water.temp_c is None else water.temp_c
    here = replace(water, fc_ppm=0.0, salt_ppm=salt, temp_c=temp_c)
    closed = equilibrate(totals_of(here)._replace(temp_c=winter_c), water.ph)
    cold = replace(here, temp_c=winter_c)
    opened = solution_in_air(totals_but_carbonate(cold), k.AIR_CO2_UATM * 1e-6)
    return Winter(float(closed.si_calcite), float(opened.si_calcite), water.ph)


def must_pass(traits: PoolTraits) -> bool:
    """Whether a pool is not closed on water that fails the rule; on vinyl it is told (our own)."""
    return traits.protects_calcium


@dataclass(frozen=True)
class Aim:
    """Alkalinity and calcium that pass, ppm, at pH 7.5."""

    ta_ppm: float
    ch_ppm: float
    ph: float = _PH


def winter_aim(water: WaterState) -> Aim | None:
    """The nearest alkalinity and calcium with which this water may be closed; calcium only goes up. None
    where the water passes as it is, or nothing does.

    Nearest by what it takes: a point of calcium counts as one, of alkalinity as one up and two down, as acid
    and air take it down (our own).
    """
    if winter_index(water).passes:
        return None
    ta, ch = water.ta_ppm or 0.0, water.ch_ppm or 0.0

    def takes(aim: Aim) -> float:
        up = aim.ta_ppm - ta
        return aim.ch_ppm - ch + (up if up >= 0 else -2 * up)

    passing = (aim for aim in _aims(ta, ch) if _judged(water, aim))
    return min(passing, default=None, key=takes)


def _aims(ta: float, ch: float) -> Iterator[Aim]:
    tas, chs = {ta, *map(float, _TA)}, {ch, *(float(c) for c in _CH if c > ch)}
    return (Aim(a, c) for a, c in product(sorted(tas), sorted(chs)))


def _judged(water: WaterState, aim: Aim) -> bool:
    return winter_index(replace(water, ph=aim.ph, ta_ppm=aim.ta_ppm, ch_ppm=aim.ch_ppm)).passes
