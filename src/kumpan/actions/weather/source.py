"""The one adapter to a weather service: asks it over HTTP, and believes nothing that cannot be weather.

What a service must answer is in docs/weather.md; another service is taken by writing this module anew.
"""

from dataclasses import dataclass
from datetime import date
from typing import Annotated
from urllib.parse import urlencode

from pydantic import BaseModel, Field, ValidationError, model_validator

from kumpan.actions.outside import SourceFailed, fetch
from kumpan.core.weather import WeatherDay


@dataclass(frozen=True)
class Answer:
    """What a service told: its name, whether it says that it is made up, and the days."""

    source: str
    simulated: bool
    days: tuple[WeatherDay, ...]


@dataclass(frozen=True)
class Asked:
    """What of a service is asked: a place, and days in its zone."""

    latitude: float
    longitude: float
    zone: str
    first: date
    last: date


class _Day(BaseModel):
    day: date
    low_c: Annotated[float, Field(ge=-60, le=60)]
    high_c: Annotated[float, Field(ge=-60, le=60)]
    rain_mm: Annotated[float, Field(ge=0, le=1000)]
    sun_mj_m2: Annotated[float, Field(ge=0, le=50)]
    wind_m_s: Annotated[float, Field(ge=0, le=100)]
    humidity: Annotated[float, Field(ge=0, le=1)]
    outlook: bool

    @model_validator(mode="after")
    def _in_order(self) -> "_Day":
        if self.low_c > self.high_c:
            raise ValueError("the lowest air is over the highest")
        return self


class _Document(BaseModel):
    source: Annotated[str, Field(min_length=1, max_length=80)]
    simulated: bool
    days: Annotated[list[_Day], Field(max_length=500)]


def ask(url: str, asked: Asked) -> Answer:
    """The weather of a place. Raises SourceFailed where the service is silent, slow or talks nonsense."""
    query = urlencode(
        {
            "latitude": f"{asked.latitude:.4f}",
            "longitude": f"{asked.longitude:.4f}",
            "zone": asked.zone,
            "first": asked.first.isoformat(),
            "last": asked.last.isoformat(),
        }
    )
    body = fetch("the weather service", f"{url.rstrip('/')}/days?{query}")
    try:
        document = _Document.model_validate_json(body)
    except ValidationError:
        raise SourceFailed("the weather service's answer is no weather") from None
    days = tuple(WeatherDay(**one.model_dump()) for one in document.days)
    if any(not asked.first <= one.day <= asked.last for one in days):
        raise SourceFailed("the weather service answers for other days")
    return Answer(document.source, document.simulated, days)
