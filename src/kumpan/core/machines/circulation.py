"""Circulation: turnover, the hours a season asks for, and when in the day they lie."""

import math
from dataclasses import dataclass

# Hours a day: at least 8; 10 to 12 with solar heat, 12 at least with a copper system (common practice).
LEAST_H, SOLAR_H, COPPER_H = 8.0, (10.0, 12.0), 12.0
# A thumb rule of season: an hour for every 10 F of the air's or water's warmth (common practice).
_F_PER_HOUR = 10.0


def turnover_h(volume_l: float, flow_l_h: float) -> float:
    """Hours in which the whole pool goes through the filter once. Raises ZeroDivisionError for no flow.

    >>> turnover_h(60_000, 10_000)
    6.0
    """
    return volume_l / flow_l_h


def turnovers(volume_l: float, runs: tuple[tuple[float, float], ...]) -> float:
    """Turnovers a day of a pump that runs (L/h, hours) at each of its speeds."""
    return sum(flow * hours for flow, hours in runs) / volume_l


@dataclass(frozen=True)
class Ask:
    """Hours somebody asks for. school: by whom; why: in words."""

    school: str
    hours: float
    why: str


@dataclass(frozen=True)
class Hours:
    """The hours a pump is to run, and everybody's asking. hours: the most that is asked for, to the half
    hour, at most 24.
    """

    hours: float
    asks: tuple[Ask, ...]


def hours_wanted(
    turnover: float | None,
    temp_c: float | None,
    solar: bool = False,
    copper: bool = False,
    cell_hours: float | None = None,
) -> Hours:
    """How long a pump is to run a day, by each school that applies; the longest of them is advised.

    turnover: hours for one, None where flow is not known; cell_hours: what the chlorinator needs at the
    setting it has.
    """
    asks = [Ask("At least", LEAST_H, "eight hours by common practice")]
    if turnover is not None:
        asks.append(Ask("One turnover", turnover, "the whole pool through the filter once a day"))
    if temp_c is not None:
        warm = min(14.0, max(4.0, (temp_c * 1.8 + 32) / _F_PER_HOUR))
        asks.append(Ask("By the season", warm, "an hour for each 10 °F of the water"))
    if solar:
        asks.append(Ask("Solar heat", SOLAR_H[1], "ten to twelve hours while the sun heats it"))
    if copper:
        asks.append(Ask("Copper system", COPPER_H, "twelve hours at least"))
    if cell_hours is not None:
        asks.append(Ask("Chlorinator", cell_hours, "as long as its cell needs at the setting it has"))
    wanted = max(a.hours for a in asks if a.school != "By the season")
    return Hours(min(24.0, math.ceil(wanted * 2 - 1e-9) / 2), tuple(asks))


@dataclass(frozen=True)
class Run:
    """A stretch the pump runs, in hours of the local day; an end at or before its start lies in the next."""

    start: float
    end: float
    why: str


def split(hours: float, cheap: tuple[float, float] | None, cell: bool, solar: bool) -> tuple[Run, ...]:
    """When so many hours lie: round the sun where it heats, in the cheap hours first where there is a tariff,
    else a larger stretch in the morning and the rest in the evening.

    A cell's hours are best where chlorine is not burnt as it is made: evening and night. Night is fine for
    the pump. Common practice.
    """
    hours = min(24.0, hours)
    if hours >= 23.5:
        return (Run(0.0, 24.0, "all day"),)
    if solar:
        start = 13.0 - hours / 2
        return (Run(start % 24, (start + hours) % 24, "round noon, while the sun heats"),)
    if cheap is not None:
        span = (cheap[1] - cheap[0]) % 24 or 24.0
        first = min(hours, span)
        runs = [Run(cheap[0] % 24, (cheap[0] + first) % 24, "the cheap hours")]
        if hours > first:
            rest = hours - first
            # Half a day away from the cheap hours' middle, so that neither gap is long.
            middle = (cheap[0] + span / 2 + 12) % 24
            start = (middle - rest / 2) % 24
            runs.append(Run(start, (start + rest) % 24, "the rest, half a day away"))
        return tuple(runs)
    evening = round(hours) / 2
    morning = hours - evening
    end = 22.0 if not cell else 24.0
    if 7.0 + morning >= end - evening:
        return (Run((end - hours) % 24, end % 24, "one stretch into the evening"),)
    return (
        Run(7.0, 7.0 + morning, "the morning: skimming, and what the night brought"),
        Run(
            (end - evening) % 24,
            end % 24,
            "the evening" + (": chlorine the sun does not burn" if cell else ""),
        ),
    )
