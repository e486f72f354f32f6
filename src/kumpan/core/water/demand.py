"""How much free chlorine a pool uses a day: by season until its own log tells (``estimate.chlorine``)."""

from dataclasses import dataclass

# An ordinary season's day at 27 C, doubling every 10 C, near zero below 10 C; its spread (common practice).
USUAL_PPM, AT_C, DOUBLES_C, _LEAST_PPM, SPREAD_95 = 2.0, 27.0, 10.0, 0.2, 0.5


@dataclass(frozen=True)
class Demand:
    """Free chlorine used a day, ppm, with its 95 %. level_ppm: at which level; days: of log that it was
    fitted on; None where it is the season's own.
    """

    ppm_day: float
    u95: float
    level_ppm: float | None = None
    days: float | None = None


def usual_demand(temp_c: float | None) -> Demand:
    """What an ordinary season's day takes: 2 ppm at 27 C, double for each 10 C; 2 where it is not known.

    Common practice: 1 to 4 ppm a day in season; give or take half of it.

    >>> [round(usual_demand(t).ppm_day, 1) for t in (None, 17.0, 27.0, 32.0)]
    [2.0, 1.0, 2.0, 2.8]
    """
    ppm = USUAL_PPM if temp_c is None else max(_LEAST_PPM, USUAL_PPM * 2 ** ((temp_c - AT_C) / DOUBLES_C))
    return Demand(ppm, SPREAD_95 * ppm)
