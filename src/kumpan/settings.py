"""Where things are. Everything can be set by environment variables that start with KUMPAN_."""

import os
import pwd
from pathlib import Path

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

REPO = Path(__file__).resolve().parents[2]


class Settings(BaseSettings):
    """home: data, outside the checkout; port: of the web server on 127.0.0.1; weather_url: of a weather
    service (docs/weather.md), none by default; standins: whether the simulated services run beside your own
    data too. workers: processes that answer, by default one a core, at most eight.
    """

    model_config = SettingsConfigDict(env_prefix="KUMPAN_")

    home: Path = Field(default_factory=lambda: _home())
    port: int = Field(default=8420, ge=1, le=65535)
    weather_url: str = ""
    standins: bool = False
    workers: int = Field(default_factory=lambda: min(8, os.cpu_count() or 1), ge=1, le=16)
    web_dist: Path = REPO / "web" / "dist"


def _home() -> Path:
    """A person's own place for data; root's is closed to the user its database runs as, so the system's."""
    own = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "kumpan"
    if os.getuid() != 0 or "XDG_DATA_HOME" in os.environ or own.exists():
        return own
    return Path("/var/lib/kumpan")


def os_user() -> str:
    """The login that owns this process: also the database login over its socket."""
    return pwd.getpwuid(os.getuid()).pw_name
