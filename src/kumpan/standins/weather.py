"""A weather service that is not one: seeded, and a function of place and time alone, so that a restart tells
the same again. docs/weather.md says how it is asked.
"""

from datetime import UTC, date, datetime, time, timedelta
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from kumpan.core.simulation.climate import CLIMATES, Hour, Place, hour_of, place_at
from kumpan.standins.service import Handler, serve_until_closed

SOURCE = "Kumpan's weather stand-in"
ADDRESS = "weather.url"  # in the data folder, while it runs
_MOST_DAYS = 400


def days(place: Place, zone: ZoneInfo, first: date, last: date, now: datetime) -> list[dict[str, Any]]:
    """The days of a place, both ends counted. From today on they are an outlook: nearer the climate's mean
    the further off, as an outlook knows less.
    """
    today = now.astimezone(zone).date()
    return [
        _day(place, zone, day, max(0, (day - today).days + 1) if day >= today else 0)
        for day in (first + timedelta(days=i) for i in range((last - first).days + 1))
    ]


def _day(place: Place, zone: ZoneInfo, day: date, lead: int) -> dict[str, Any]:
    """One day; lead: how many days it is looked ahead, 0 where it was measured."""
    hours = _hours(place, zone, day)
    known = max(0.3, 1 - 0.1 * lead) if lead else 1.0
    climate = CLIMATES[place.climate]
    rain = sum(h.rain_mm for h in hours)
    usual = climate.wet_days * climate.wet_mm
    airs = [h.air_c for h in hours]
    return {
        "day": day.isoformat(),
        "low_c": round(min(airs), 1),
        "high_c": round(max(airs), 1),
        "rain_mm": round(known * rain + (1 - known) * usual, 1),
        "sun_mj_m2": round(sum(h.sun_w_m2 for h in hours) * 3600 / 1e6, 2),
        "wind_m_s": round(sum(h.wind_m_s for h in hours) / len(hours), 1),
        "humidity": round(sum(h.humidity for h in hours) / len(hours), 2),
        "outlook": lead > 0,
    }


def _hours(place: Place, zone: ZoneInfo, day: date) -> list[Hour]:
    """The hours of a local day: 24, or 23 and 25 where clocks change."""
    start, end = (datetime.combine(d, time(), zone).astimezone(UTC) for d in (day, day + timedelta(days=1)))
    count = round((end - start).total_seconds() / 3600)
    return [hour_of(place, start + timedelta(hours=i)) for i in range(count)]


class _Handler(Handler):
    """Answers ``GET /days``; all else is refused in plain words."""

    def do_GET(self) -> None:
        """Answer a request."""
        split = urlsplit(self.path)
        if split.path != "/days":
            return self.answer(404, {"error": "Ask for /days."})
        try:
            query = {name: values[-1] for name, values in parse_qs(split.query).items()}
            place = place_at(float(query["latitude"]), float(query["longitude"]))
            first, last = (date.fromisoformat(query[name]) for name in ("first", "last"))
            zone = ZoneInfo(query.get("zone", "UTC"))
            if not 0 <= (last - first).days < _MOST_DAYS:
                raise ValueError("too many days, or none")
            if not (-90 <= place.latitude <= 90 and -180 <= place.longitude <= 180):
                raise ValueError("no place on the map")
        except (KeyError, ValueError, ZoneInfoNotFoundError) as error:
            return self.answer(400, {"error": f"latitude, longitude, first, last, zone: {error}"})
        told = days(place, zone, first, last, datetime.now(UTC))
        return self.answer(200, {"source": SOURCE, "simulated": True, "days": told})


def serve(folder: Path) -> int:
    """Answer on a free port of loopback until the input ends; the address stands in the folder meanwhile."""
    return serve_until_closed(_Handler, folder / ADDRESS)
