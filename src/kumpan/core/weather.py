"""The weather of a pool's place, day by day: what it does to the water, and the days ahead in one line."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta, tzinfo

from kumpan.core.amounts import System
from kumpan.core.units import c_to_f
from kumpan.core.water.estimate.present import Observation
from kumpan.core.water.estimate.priors import SUMMER_MJ_M2
from kumpan.core.water.evaporation import MEAN_DEPTH_M, Air

# An outdoor pool gives off about 28 W a square metre and degree, by evaporation, wind and sky together
# (common practice of pool heating: 20 to 35); it takes up 85 % of the sunlight, and lies as much lower as
# evaporation and the sky take. Our own fit.
_HEAT_W_M2_K, _ABSORBED, _BELOW_C = 28.0, 0.85, 6.5
# Less rain than this changes no water (our own); as deep as pools are, it is told from here on.
_RAIN_MM, _RAIN_TOLD_MM = 2.0, 5.0
_FREEZES_C = 0.0


@dataclass(frozen=True)
class WeatherDay:
    """A day's weather: lowest and highest air (C), rain (mm), sunlight on level ground (MJ/m2), wind (m/s),
    humidity (0 to 1). outlook: foretold, not measured.
    """

    day: date
    low_c: float
    high_c: float
    rain_mm: float
    sun_mj_m2: float
    wind_m_s: float
    humidity: float
    outlook: bool


def water_in_balance_c(day: WeatherDay) -> float:
    """The temperature water would come to if every day were like this one (C), 0.5 at least.

    By the heat balance above, linear: our own.

    >>> round(water_in_balance_c(WeatherDay(date(2026, 7, 1), 18, 32, 0, 23, 2, 0.6, False)))
    27
    """
    sun_w = day.sun_mj_m2 * 1e6 / 86_400
    return max(0.5, (day.low_c + day.high_c) / 2 + _ABSORBED * sun_w / _HEAT_W_M2_K - _BELOW_C)


def observed_weather(
    days: Iterable[WeatherDay], zone: tzinfo, rain_logged: frozenset[date], until: datetime
) -> list[Observation]:
    """Days that have been, as the estimate takes them: rain, unless that day's was written down, and heat.
    Each lies at six in the evening of its day, pool's time.
    """
    return [
        _observed(one, zone, one.day not in rain_logged)
        for one in days
        if not one.outlook and _evening(one.day, zone) <= until
    ]


def foretold_weather(days: Iterable[WeatherDay], zone: tzinfo, now: datetime) -> list[Observation]:
    """Days to come, as the estimate takes them: those whose evening still lies ahead."""
    return [_observed(one, zone, True) for one in days if _evening(one.day, zone) > now]


def _evening(day: date, zone: tzinfo) -> datetime:
    return datetime.combine(day, time(18), zone)


def _observed(one: WeatherDay, zone: tzinfo, rains: bool) -> Observation:
    rain = one.rain_mm if one.rain_mm >= _RAIN_MM and rains else 0.0
    return Observation(
        _evening(one.day, zone),
        f"weather {one.day}",
        rained=min(1.0, rain / 1000 / MEAN_DEPTH_M),
        balance_c=water_in_balance_c(one),
        sun=one.sun_mj_m2 / SUMMER_MJ_M2,
        evaporates=Air((one.low_c + one.high_c) / 2, one.humidity, one.wind_m_s),
    )


def outlook_line(days: Iterable[WeatherDay], today: date, system: System) -> str:
    """The days ahead in a line: how warm, when it rains, whether it freezes. Empty where nothing is known."""
    ahead = sorted((d for d in days if today <= d.day <= today + timedelta(days=7)), key=lambda d: d.day)
    if not ahead:
        return ""
    highs = [d.high_c for d in ahead]
    parts = [f"{_span(min(highs), max(highs), system)} by day"]
    wet = [d for d in ahead if d.rain_mm >= _RAIN_TOLD_MM]
    if wet:
        parts.append(
            "rain " + ", ".join(f"{_name(d.day, today)} {_rain(d.rain_mm, system)}" for d in wet[:3])
        )
    else:
        parts.append("no rain to speak of")
    frost = next((d for d in ahead if d.low_c <= _FREEZES_C), None)
    if frost is not None:
        parts.append(f"it freezes {_name(frost.day, today)}")
    return f"Next {len(ahead)} days: {', '.join(parts)}."


def _span(low_c: float, high_c: float, system: System) -> str:
    low, high = (round(v if system == "metric" else c_to_f(v)) for v in (low_c, high_c))
    unit = "°C" if system == "metric" else "°F"
    return f"{low} {unit}" if low == high else f"{low} to {high} {unit}"


def _rain(mm: float, system: System) -> str:
    return f"{mm:.0f} mm" if system == "metric" else f"{mm / 25.4:.1f} in"


def _name(day: date, today: date) -> str:
    return "today" if day == today else f"{day:%a}"
