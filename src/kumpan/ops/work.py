"""The worker: does long work for as long as its input stays open, and looks after the folder for dropped
files.
"""

import contextlib
import gc
import hashlib
import logging
import os
import signal
import socket
import sys
import threading
import time
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from uuid import UUID, uuid5

from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.context import Context
from kumpan.actions.files import uploads
from kumpan.actions.jobs import jobs
from kumpan.actions.jobs.run import let_go, run_next
from kumpan.actions.panel import binding as panels
from kumpan.actions.transfer import export_account, import_account, import_readings, imports
from kumpan.actions.weather.refresh import refresh
from kumpan.actions.weather.source import ask
from kumpan.actions.work import Stage
from kumpan.core.errors import KumpanError
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.ops.serve import INBOX, folder_for, panel_url
from kumpan.ops.wake import Waiting
from kumpan.settings import Settings
from kumpan.standins.weather import ADDRESS
from kumpan.store import database, files, queries
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.jobs import Job
from kumpan.store.tables.pools import Pool

log = logging.getLogger("kumpan")

STAGES: dict[tuple[str, str], Stage] = {
    ("readings", "check"): import_readings.check_readings,
    ("readings", "write"): import_readings.write_readings,
    ("account_in", "check"): import_account.check_account,
    ("account_in", "write"): import_account.write_account,
    ("account_json", "write"): export_account.export_json,
    ("account_csv", "write"): export_account.export_csv,
}
_IDLE_S = 0.5
_DROPPED_EVERY_S = 5.0
_LOOK_EVERY_S = 20.0  # for work that nobody called for: a call got lost, or another worker did
_TIDY_EVERY_S = 3600.0
_WEATHER_SOON_S, _WEATHER_EVERY_S = 2.0, 20.0
_SETTLED_S = 3.0  # a file untouched for so long is taken as written to its end
_OURS = UUID(
    "5d1c4f5e-8f0d-4b52-9a3e-6a2f1f4f7f10"
)  # our own, drawn once: ids of dropped files follow from it


def work(settings: Settings, demo: bool) -> int:
    """Work until the input ends or SIGTERM comes; whatever is half done is rolled back and given back.
    Returns the exit status.
    """
    folder = folder_for(settings, demo)
    sessions = sessionmaker(database.engine_for(PrivateMariaDB(folder).url), expire_on_commit=False)
    name = f"{socket.gethostname()}-{os.getpid()}-{time.time_ns() % 10**9}"
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the launcher's Ctrl-C is its own to handle

    def leave(*_: object) -> None:
        with contextlib.suppress(*database.AWAY):
            let_go(sessions, name)
        os._exit(0)

    signal.signal(signal.SIGTERM, leave)

    def watch() -> None:
        sys.stdin.read()
        leave()

    threading.Thread(target=watch, daemon=True).start()
    # By itself: a service that answers by the drop holds up nothing else.
    asking = threading.Event()
    about = (sessions, settings, folder, asking)
    threading.Thread(target=_keep_asking, args=about, daemon=True).start()
    waiting = Waiting(folder)
    os.nice(10)  # answers come first
    gc.set_threshold(
        200_000, 20, 50
    )  # hundreds of thousands of small objects that live together: looked through less often
    looked_at = dropped_at = tidied_at = -_TIDY_EVERY_S
    with contextlib.suppress(*database.AWAY):
        _let_go_of_the_dead(sessions)
    called = False
    while True:
        busy = False
        try:
            if called or time.monotonic() - looked_at > _LOOK_EVERY_S:
                busy = run_next(sessions, name, STAGES, _now)
                looked_at = looked_at if busy else time.monotonic()
            if time.monotonic() - dropped_at > _DROPPED_EVERY_S:
                dropped_at = time.monotonic()
                busy |= take_dropped(sessions, folder / INBOX, _now()) > 0
            if time.monotonic() - tidied_at > _TIDY_EVERY_S:
                tidied_at = time.monotonic()
                database.run(sessions, lambda s: jobs.tidy(s, _now()))
        except database.AWAY as error:
            log.warning("database away: %s", error)
            time.sleep(1)
            with contextlib.suppress(*database.AWAY):
                let_go(sessions, name)
        called = busy or waiting.wait(_IDLE_S, _DROPPED_EVERY_S)
        if called:
            asking.set()


def _let_go_of_the_dead(sessions: sessionmaker[Session]) -> None:
    """Free at once what workers of this machine held that were killed; those of others keep their lease."""
    with sessions() as session:
        holders = set(
            session.scalars(
                select(Job.worker).where(
                    Job.state == "running", Job.worker.startswith(f"{socket.gethostname()}-")
                )
            )
        )
    for holder in holders:
        try:
            os.kill(int(str(holder).split("-")[-2]), 0)
        except ProcessLookupError:
            let_go(sessions, str(holder))


def _now() -> datetime:
    return datetime.now(UTC)


def _keep_asking(
    sessions: sessionmaker[Session], settings: Settings, folder: Path, asking: threading.Event
) -> None:
    """Ask for the weather that is due, and the panels, again and again; soon after something changed."""
    while True:
        try:
            ask_weather(sessions, settings.weather_url, folder, _now())
            panels.refresh(sessions, lambda address: panel_url(address, folder), _now())
        except database.AWAY as error:
            log.warning("database away: %s", error)
        asking.clear()
        time.sleep(_WEATHER_SOON_S)
        asking.wait(_WEATHER_EVERY_S)


def ask_weather(sessions: sessionmaker[Session], url: str, folder: Path, now: datetime) -> int:
    """Ask the weather service for what is due: the one named in the settings, else the stand-in that runs
    beside this folder; none: nothing. Returns how many pools it answered for.
    """
    if not url:
        with contextlib.suppress(OSError):
            url = (folder / ADDRESS).read_text()
    return refresh(sessions, lambda asked: ask(url, asked), now) if url else 0


def take_dropped(sessions: sessionmaker[Session], inbox: Path, now: datetime) -> int:
    """Ask about every file dropped in the folder, and move it to ``taken`` beside it. Returns how many were
    taken.

    A file goes to the pool its sub-folder is named after, else to the account's first; the preview lets the
    person choose another. Taken up again after a kill, a file is asked about once: its id follows from its
    content, name and time.
    """
    taken = inbox / "taken"
    taken.mkdir(parents=True, exist_ok=True, mode=0o700)
    count = 0
    for path in sorted(
        p for p in (*inbox.glob("*"), *inbox.glob("*/*")) if p.is_file() and not p.is_symlink()
    ):
        about = path.stat()
        if path.parent == taken or path.name.startswith(".") or now.timestamp() - about.st_mtime < _SETTLED_S:
            continue
        if not 0 < about.st_size <= uploads.MOST_BYTES:
            log.warning("left %s where it is: empty, or too large", path)
            continue
        data = path.read_bytes()
        id = uuid5(_OURS, f"{hashlib.sha256(data).hexdigest()} {path.name} {about.st_mtime_ns}")
        dropped = _Dropped(id, path.name, "" if path.parent == inbox else path.parent.name, data)
        try:
            database.run(sessions, lambda s, d=dropped: _ask(s, d, now))  # type: ignore[misc]
        except KumpanError as error:
            log.warning("left %s where it is: %s", path, error.message)
            continue
        path.replace(taken / f"{id}-{path.name}"[:200])
        count += 1
    return count


@dataclass(frozen=True)
class _Dropped:
    """A file found in the inbox, and the sub-folder it lay in."""

    id: UUID
    name: str
    folder: str
    data: bytes


def _ask(session: Session, dropped: _Dropped, now: datetime) -> None:
    account = queries.first_account(session)
    if account is None or session.get(Job, dropped.id) is not None:
        return
    pool = _pool_for(session, account, dropped.folder)
    file = files.new_file(account.id, dropped.name, "application/octet-stream", now)
    files.write_file(session, file, [dropped.data])
    context = Context(session, account, "you", now)
    imports.start_import(context, dropped.id, file.id, pool.id if pool else None)


def _pool_for(session: Session, account: Account, folder: str) -> Pool | None:
    pools = queries.pools(session, account.id)
    return next((p for p in pools if p.name.casefold() == folder.casefold()), pools[0] if pools else None)
