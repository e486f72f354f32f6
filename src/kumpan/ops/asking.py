"""Asks services outside, by itself: one that answers by the drop holds up nothing else."""

import contextlib
import logging
import signal
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.panel import binding as panels
from kumpan.actions.weather.refresh import refresh
from kumpan.actions.weather.source import ask
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.ops.serve import folder_for, panel_url
from kumpan.ops.wake import ASK, Over, Waiting
from kumpan.settings import Settings
from kumpan.standins.weather import ADDRESS
from kumpan.store import database

log = logging.getLogger("kumpan")

_SOON_S, _EVERY_S = 2.0, 20.0
_CONNECTIONS = 4


def keep_asking(settings: Settings, demo: bool) -> int:
    """Ask for the weather that is due, and the panels, again and again, soon after something changed, until
    the input ends. Returns the exit status.
    """
    folder = folder_for(settings, demo)
    engine = database.engine_for(PrivateMariaDB(folder).url, _CONNECTIONS)
    sessions = sessionmaker(engine, expire_on_commit=False)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the launcher's Ctrl-C is its own to handle
    waiting = Waiting(folder, ASK)
    with contextlib.suppress(Over):
        while True:
            now = datetime.now(UTC)
            try:
                ask_weather(sessions, settings.weather_url, folder, now)
                panels.refresh(sessions, lambda address: panel_url(address, folder), now)
            except database.AWAY as error:
                log.warning("database away: %s", error.orig)
            waiting.wait(_SOON_S, _EVERY_S)
    return 0


def ask_weather(sessions: sessionmaker[Session], url: str, folder: Path, now: datetime) -> int:
    """Ask the weather service for what is due: the one named in the settings, else the stand-in that runs
    beside this folder; none: nothing. Returns how many pools it answered for.
    """
    if not url:
        with contextlib.suppress(OSError):
            url = (folder / ADDRESS).read_text()
    return refresh(sessions, lambda asked: ask(url, asked), now) if url else 0
