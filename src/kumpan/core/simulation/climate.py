"""Simulated weather: every hour of a place a function of its seed and the time of year alone, so that it can
be made again from anywhere, and a log made in one year still fits when it is shown in another. Invented, and
labelled so wherever it shows.
"""

import hashlib
import math
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import lru_cache
from typing import NamedTuple

from astral import Observer
from astral.sun import elevation


class Hour(NamedTuple):
    """The weather of an hour: global sunlight on level ground (W/m2), air (C), relative humidity (0 to 1),
    wind (m/s), rain (mm).
    """

    sun_w_m2: float
    air_c: float
    humidity: float
    wind_m_s: float
    rain_mm: float


@dataclass(frozen=True)
class Climate:
    """The weather's habits: mean air and its half swings over year and day (C), humidity, wind (m/s), share
    of wet days and what falls on one (mm), clouds (0 to 1). Our own, after places of the kind.
    """

    mean_c: float
    yearly_c: float
    daily_c: float
    humidity: float
    wind_m_s: float
    wet_days: float
    wet_mm: float
    clouds: float


CLIMATES: dict[str, Climate] = {
    "continental": Climate(11.0, 14.0, 5.5, 0.68, 3.2, 0.30, 9.0, 0.40),
    "oceanic": Climate(10.0, 6.5, 3.0, 0.78, 4.0, 0.45, 5.0, 0.60),
    "dry_summer": Climate(18.5, 7.5, 6.0, 0.58, 2.6, 0.14, 8.0, 0.25),
    "trade_wind": Climate(25.0, 2.2, 3.0, 0.70, 4.5, 0.35, 4.0, 0.40),
}


@dataclass(frozen=True)
class Place:
    """A place on a map (degrees, north and east positive), its climate and the seed of its weather."""

    latitude: float
    longitude: float
    climate: str
    seed: int = 0


def climate_of(latitude: float) -> str:
    """The climate a place is given by its latitude alone, where nobody says more (our own)."""
    off = abs(latitude)
    if off < 25:
        return "trade_wind"
    return "dry_summer" if off < 38 else "continental" if off < 52 else "oceanic"


def place_at(latitude: float, longitude: float) -> Place:
    """The place of a point on the map: its climate by its latitude, its weather's seed by where it lies, to a
    tenth of a degree.
    """
    near = round(latitude, 1), round(longitude, 1)
    return Place(latitude, longitude, climate_of(latitude), int(1e6 * _chance(0, f"place {near}", 0)))


def clear_sky_w_m2(elevation_deg: float) -> float:
    """Global sunlight on level ground under a clear sky, W/m2, by the sun's elevation in degrees.

    Haurwitz (1945), J. Meteorology 2, 154: 1098 cos z exp(-0.057 / cos z).

    >>> round(clear_sky_w_m2(60)), clear_sky_w_m2(-3)
    (890, 0.0)
    """
    height = math.sin(math.radians(elevation_deg))
    return 1098.0 * height * math.exp(-0.057 / height) if height > 0 else 0.0


def under_cloud(clear_w_m2: float, cloud: float) -> float:
    """Sunlight under a sky covered to a share of 0 to 1. Kasten & Czeplak (1980), Solar Energy 24, 177."""
    return float(clear_w_m2 * (1 - 0.75 * cloud**3.4))


_YEAR_DAYS = 365


def _day_of_year(day: date) -> int:
    """From 0; the 29th of February counts as the 28th."""
    number = day.timetuple().tm_yday - 1
    leap = day.year % 4 == 0 and (day.year % 100 != 0 or day.year % 400 == 0)
    return number - 1 if leap and number >= 59 else number


def _chance(seed: int, what: str, number: int) -> float:
    """A number in [0, 1) that hangs on these alone, the same on every machine."""
    digest = hashlib.blake2b(f"{seed}|{what}|{number}".encode(), digest_size=7).digest()
    return int.from_bytes(digest, "big") / 2**56


def _swing(seed: int, what: str, days: float, knot_days: float) -> float:
    """A smooth random course in [-1, 1] through a year that closes on itself: chances at knots about so many
    days apart, eased between.
    """
    knots = round(_YEAR_DAYS / knot_days)
    knot, along = divmod(days % _YEAR_DAYS * knots / _YEAR_DAYS, 1.0)
    ease = along * along * (3 - 2 * along)
    first, second = (_chance(seed, what, (int(knot) + i) % knots) for i in (0, 1))
    return 2 * (first * (1 - ease) + second * ease) - 1


@lru_cache(maxsize=4096)
def day_of(place: Place, day: date) -> tuple[Hour, ...]:
    """The 24 hours of a day in UTC at a place, each that which begins on the hour."""
    climate, seed, number = CLIMATES[place.climate], place.seed, _day_of_year(day)
    start = datetime(day.year, day.month, day.day, tzinfo=UTC)
    observer = Observer(place.latitude, place.longitude)
    # The warmest time of the year comes about a month after the sun's highest.
    season = math.cos(2 * math.pi * (number - 202) / _YEAR_DAYS)
    mean = climate.mean_c + climate.yearly_c * season * (1 if place.latitude >= 0 else -1)
    cloud = min(1.0, max(0.0, climate.clouds + 0.5 * _swing(seed, "cloud", number, 2.3)))
    wetter = (0.4 + 1.2 * cloud) / (0.4 + 1.2 * climate.clouds)
    wet = _chance(seed, "wet", number) < climate.wet_days * wetter
    fell = -climate.wet_mm * math.log(1 - _chance(seed, "fell", number)) if wet else 0.0
    begins, lasts = int(24 * _chance(seed, "begins", number)), 1 + int(6 * _chance(seed, "lasts", number))
    mean += 4.5 * _swing(seed, "warm", number, 4.0) - 1.5 * (cloud - climate.clouds)
    hours = []
    for i in range(24):
        local = (i + place.longitude / 15) % 24
        sun = under_cloud(clear_sky_w_m2(elevation(observer, start + timedelta(hours=i + 0.5))), cloud)
        daily = math.cos(2 * math.pi * (local - 15) / 24) * (1.2 - 0.7 * cloud)
        rains = begins <= i < begins + lasts
        wind = 1 + 0.6 * _swing(seed, "wind", number + i / 24, 0.7) + 0.3 * daily
        hours.append(
            Hour(
                sun,
                mean + climate.daily_c * daily,
                min(0.98, max(0.15, climate.humidity - 0.15 * daily + (0.15 if rains and wet else 0.0))),
                max(0.2, climate.wind_m_s * wind),
                fell / min(lasts, 24 - begins) if rains else 0.0,
            )
        )
    return tuple(hours)


def hour_of(place: Place, at: datetime) -> Hour:
    """The weather of the hour an aware instant lies in."""
    here = at.astimezone(UTC)
    return day_of(place, here.date())[here.hour]
