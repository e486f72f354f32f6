"""When the sun sets and rises at a pool: shocks go in, and nights are read, while it is off the water."""

from datetime import date, datetime, tzinfo

from astral import Observer
from astral.sun import sunrise, sunset


def sunset_at(latitude: float, longitude: float, day: date, zone: tzinfo) -> datetime | None:
    """Sunset on a local day at a place (degrees, north and east positive), in the zone given; None where the
    sun does not set that day, or the place is so far north or south that it cannot be told.

    By astral (NOAA's solar equations, with 0.833 degrees for refraction and the sun's radius); within a few
    minutes of an almanac away from the poles.
    """
    try:
        return sunset(Observer(latitude, longitude), day, tzinfo=zone)
    except ValueError:
        return None


def sunrise_at(latitude: float, longitude: float, day: date, zone: tzinfo) -> datetime | None:
    """Sunrise on a local day, as ``sunset_at``."""
    try:
        return sunrise(Observer(latitude, longitude), day, tzinfo=zone)
    except ValueError:
        return None
