"""How warm a pool's water was, is and will be, day by day: what was read of it, the weather, and beyond the
outlook last year's weather of the same days.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal

from kumpan.core.weather import WeatherDay, water_in_balance_c

# Water comes a third of the way to its balance in a day, as in the estimate (our own).
_PACE = 1 / 3
# How far readings and weather may part and still be told together: three readings' worth of no bias, at most
# so many degrees (our own).
_READINGS_OF_NONE, _BIAS_MOST_C = 3, 4.0
_SMOOTHED_DAYS = 7
_ICE_C = 0.5

How = Literal["read", "weather", "outlook", "last_year"]


@dataclass(frozen=True)
class Warm:
    """A day's water, C; smoothed: the mean of the week round it; low_c: the day's lowest air."""

    day: date
    water_c: float
    low_c: float
    how: How
    smoothed_c: float = 0.0


def course(
    days: Iterable[WeatherDay], readings: Mapping[date, float], today: date, until: date
) -> tuple[Warm, ...]:
    """The water's course from the first day of weather to one ahead; empty without weather. readings: the
    water, C, by day, as read in an unheated pool.

    Weather that is not known yet is taken to be last year's. By the heat balance of ``core.weather``, shifted
    by what this pool's readings have shown it to be off by: our own.
    """
    known = {d.day: d for d in days}
    if not known:
        return ()
    filled = _filled(known, until)
    bare = _followed(filled, {})
    bias = _bias(bare, readings)
    shifted = _followed(filled, readings, bias)
    told = [replace(w, how=_how(known, w.day, readings, today)) for w in shifted]
    return tuple(_smoothed(told))


def _filled(known: Mapping[date, WeatherDay], until: date) -> list[WeatherDay]:
    """Day after day; one that is not known is its like of a year before, or the day before it."""
    day, filled = min(known), list[WeatherDay]()
    while day <= until:
        one = known.get(day) or known.get(_year_before(day)) or (filled[-1] if filled else None)
        if one is not None:
            filled.append(replace(one, day=day))
        day += timedelta(days=1)
    return filled


def _year_before(day: date) -> date:
    try:
        return day.replace(year=day.year - 1)
    except ValueError:
        return date(day.year - 1, 2, 28)


def _followed(days: list[WeatherDay], readings: Mapping[date, float], bias_c: float = 0.0) -> list[Warm]:
    run: list[Warm] = []
    water = water_in_balance_c(days[0]) + bias_c
    for one in days:
        water += (water_in_balance_c(one) + bias_c - water) * _PACE
        water = max(_ICE_C, readings.get(one.day, water))
        run.append(Warm(one.day, water, one.low_c, "weather"))
    return run


def _bias(bare: list[Warm], readings: Mapping[date, float]) -> float:
    """What this pool's readings lie over the weather's water, drawn to none while they are few."""
    off = [readings[w.day] - w.water_c for w in bare if w.day in readings]
    mean = sum(off) / (len(off) + _READINGS_OF_NONE)
    return max(-_BIAS_MOST_C, min(_BIAS_MOST_C, mean))


def _how(known: Mapping[date, WeatherDay], day: date, readings: Mapping[date, float], today: date) -> How:
    if day in readings:
        return "read"
    if day not in known:
        return "last_year" if day > today else "weather"
    return "outlook" if known[day].outlook else "weather"


def _smoothed(run: list[Warm]) -> list[Warm]:
    half = _SMOOTHED_DAYS // 2
    return [
        replace(w, smoothed_c=sum(n.water_c for n in near) / len(near))
        for i, w in enumerate(run)
        for near in (run[max(0, i - half) : i + half + 1],)
    ]
