"""How much chlorine a fed pool uses a day: a balance of what its log says went in and what readings say is
left; by season where the log does not tell.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

# An ordinary season's day at 27 C, doubling every 10 C, near zero below 10 C; its spread (common practice).
USUAL_PPM, _AT_C, _DOUBLES_C, _LEAST_PPM, _SPREAD_95 = 2.0, 27.0, 10.0, 0.2, 0.5
# What the balance is off by: what a cell is rated for, and what was poured (strength and volume): our own.
_FED_OFF, _POURED_OFF = 0.15, 0.11
# A balance needs so many days between its first and last reading, and so many readings (our own).
LEAST_DAYS, LEAST_READINGS = 7.0, 3
# Of what a pool uses, about half goes with the level (sun), half does not (our own).
_WITH_LEVEL = 0.5
_NEAR_C = 2.5


@dataclass(frozen=True)
class Reading:
    """Free chlorine read: when, ppm, and its 95 %."""

    at: datetime
    ppm: float
    u95: float


@dataclass(frozen=True)
class Demand:
    """Free chlorine used a day, ppm, with its 95 %. level_ppm: at which mean level; days: that were balanced;
    None where it is the season's own.
    """

    ppm_day: float
    u95: float
    level_ppm: float | None = None
    days: float | None = None

    def at_level(self, level_ppm: float) -> "Demand":
        """The same pool held at another level: half of its use goes with it (our own), at most double; the
        further away, the less sure.
        """
        if not self.level_ppm or self.level_ppm < 0.2:
            return self
        ratio = min(3.0, max(0.0, level_ppm / self.level_ppm))
        factor = min(2.0, 1 - _WITH_LEVEL + _WITH_LEVEL * ratio)
        ppm = self.ppm_day * factor
        return Demand(ppm, math.hypot(self.u95 * factor, 0.5 * (ppm - self.ppm_day)), level_ppm, self.days)

    def at_temperature(self, from_c: float, to_c: float) -> "Demand":
        """The same pool at another temperature: what is no work of the sun doubles for 10 C (common
        practice). Between half and twice the season's usual, past which what was learned here says nothing
        (our own); within 2.5 C it is its own.
        """
        factor = _WITH_LEVEL + (1 - _WITH_LEVEL) * 2 ** ((to_c - from_c) / _DOUBLES_C)
        usual = usual_demand(to_c).ppm_day
        ppm = self.ppm_day * factor
        if abs(to_c - from_c) > _NEAR_C:
            ppm = min(2 * usual, max(0.5 * usual, ppm))
        off = math.hypot(self.u95 * factor, 0.5 * (ppm - self.ppm_day))
        return Demand(ppm, off, self.level_ppm, self.days)


def usual_demand(temp_c: float | None) -> Demand:
    """What an ordinary season's day takes: 2 ppm at 27 C, double for each 10 C; 2 where it is not known.

    Common practice: 1 to 4 ppm a day in season; give or take half of it.

    >>> [round(usual_demand(t).ppm_day, 1) for t in (None, 17.0, 27.0, 32.0)]
    [2.0, 1.0, 2.0, 2.8]
    """
    ppm = USUAL_PPM if temp_c is None else max(_LEAST_PPM, USUAL_PPM * 2 ** ((temp_c - _AT_C) / _DOUBLES_C))
    return Demand(ppm, _SPREAD_95 * ppm)


def demand_of_log(
    readings: Sequence[Reading],
    poured: Sequence[tuple[datetime, float]],
    feeding: Sequence[tuple[datetime, float]],
) -> Demand | None:
    """What a pool used a day between its first and its last reading: what went in less what more there is.

    poured: (at, ppm); feeding: (from when on, ppm a day), oldest first, the first in force before. None where
    readings are too few, too close together, or say that more came than went in. Mass balance; the water that
    was lost with its chlorine counts as used.
    """
    if len(readings) < LEAST_READINGS:
        return None
    first, last = readings[0], readings[-1]
    days = (last.at - first.at).total_seconds() / 86400
    if days < LEAST_DAYS:
        return None
    went_in = sum(ppm for at, ppm in poured if first.at <= at < last.at)
    fed = _fed(feeding, first.at, last.at)
    used = went_in + fed - (last.ppm - first.ppm)
    if used <= 0:
        return None
    off = math.hypot(math.hypot(first.u95, last.u95), _FED_OFF * fed, _POURED_OFF * went_in)
    return Demand(used / days, off / days, sum(r.ppm for r in readings) / len(readings), days)


def _fed(feeding: Sequence[tuple[datetime, float]], first: datetime, last: datetime) -> float:
    """What was fed between two instants, ppm."""
    total = 0.0
    for i, (begun, ppm_day) in enumerate(feeding):
        until = feeding[i + 1][0] if i + 1 < len(feeding) else last
        begin, end = max(begun, first), min(until, last)
        if i == 0:
            begin = first
        if end > begin:
            total += ppm_day * (end - begin).total_seconds() / 86400
    return total
