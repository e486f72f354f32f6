"""The one adapter to a chlorinator's panel: asks it over HTTP, and believes nothing that cannot be.

What a device must answer is in docs/panel.md; another device is taken by writing this module anew.
"""

from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import AwareDatetime, BaseModel, Field, ValidationError

from kumpan.actions.outside import SourceFailed, fetch
from kumpan.core.machines.panel import Told

_WHAT = "the panel"


@dataclass(frozen=True)
class Answer:
    """What a panel told: its name, whether it says that it is made up, and its state."""

    source: str
    simulated: bool
    told: Told


class _Document(BaseModel):
    source: Annotated[str, Field(min_length=1, max_length=80)]
    simulated: bool
    at: AwareDatetime
    percent: Annotated[float, Field(ge=0, le=100)]
    hours_day: Annotated[float, Field(ge=0, le=24)]
    makes_now: bool
    salt_ppm: Annotated[float, Field(ge=0, le=50_000)] | None = None
    temp_c: Annotated[float, Field(ge=-10, le=60)] | None = None
    cell_hours: Annotated[float, Field(ge=0, le=500_000)] | None = None
    lights: Annotated[list[Annotated[str, Field(min_length=1, max_length=40)]], Field(max_length=20)] = []


def _read(body: bytes) -> Answer:
    try:
        document = _Document.model_validate_json(body)
    except ValidationError:
        raise SourceFailed("the panel's answer makes no sense") from None
    held = document.model_dump(exclude={"source", "simulated"})
    return Answer(document.source, document.simulated, Told(**held | {"lights": tuple(document.lights)}))


def ask(url: str) -> Answer:
    """What a panel tells now. Raises SourceFailed where it is silent, slow or talks nonsense."""
    return _read(fetch(_WHAT, f"{url.rstrip('/')}/state"))


def set_to(url: str, percent: float, hours_day: float) -> Answer:
    """Set it, and what it tells then. Raises SourceFailed."""
    body = {"percent": percent, "hours_day": hours_day}
    return _read(fetch(_WHAT, f"{url.rstrip('/')}/setting", body))


def simulate(url: str, path: str, body: dict[str, Any]) -> None:
    """Tell a simulated panel what no real one is told: ``fault``, or what was ``poured``. Raises
    SourceFailed.
    """
    fetch(_WHAT, f"{url.rstrip('/')}/{path}", body)
