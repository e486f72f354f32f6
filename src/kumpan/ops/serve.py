"""Start everything: the database, its schema, demo data, and the web server; stop it all cleanly."""

import contextlib
import fcntl
import json
import logging
import signal
import socket
import subprocess
import sys
import threading
import time
from datetime import UTC, datetime
from pathlib import Path
from types import FrameType
from typing import IO

import uvicorn
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions.panel.binding import STANDIN
from kumpan.core.errors import KumpanError
from kumpan.main import create_app
from kumpan.ops.backup import backup
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.settings import Settings
from kumpan.standins import panel
from kumpan.store import migrate
from kumpan.store.care import fit_all
from kumpan.store.database import engine_for
from kumpan.store.tables.accounts import Account

log = logging.getLogger("kumpan")


INBOX = "inbox"  # in the data folder


def say(text: str) -> None:
    """A line of progress for the person at the terminal."""
    print(text, flush=True)


def folder_for(settings: Settings, demo: bool) -> Path:
    """Demo and real data live in separate folders."""
    return settings.home / ("demo" if demo else "real")


def panel_url(address: str, folder: Path) -> str:
    """The address to ask a panel at: as bound, or that of the stand-in beside this folder while it runs."""
    if address != STANDIN:
        return address
    try:
        return (folder / panel.ADDRESS).read_text()
    except OSError:
        return ""


class FolderLock:
    """One launcher per data folder; freed by the kernel when it dies, however it dies."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        self.path = folder / "launcher.lock"
        self.file: IO[str] | None = None

    def take(self) -> bool:
        """Take the lock; False if another launcher has it."""
        self.file = self.path.open("a+")
        try:
            fcntl.flock(self.file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            return False
        return True

    def write(self, address: str) -> None:
        """Leave the address for whoever starts Kumpan a second time."""
        assert self.file
        self.file.truncate(0)
        self.file.write(address)
        self.file.flush()

    def address(self) -> str:
        """The address the running launcher left."""
        return self.path.read_text().strip()


def prepare(db: PrivateMariaDB, now: datetime) -> Engine:
    """Bring the schema up to this code's, after a backup if it holds older data; make the account."""
    engine = engine_for(db.url)
    revision = migrate.current(engine)
    migrate.refuse_newer(revision)
    head = migrate.revisions()[-1]
    if revision is not None and revision != head:
        folder = db.folder / "backups"
        folder.mkdir(exist_ok=True)
        file = folder / f"before-schema-{head}-{now:%Y%m%dT%H%M%S}.sql.gz"
        backup(db, file, now)
        say(f"Backed up to {file} before changing the schema.")
    if revision != head:
        migrate.upgrade(engine)
    with Session(engine) as session:
        if session.scalars(select(Account).limit(1)).first() is None:
            session.add(Account(id=uuid7(), name="Home", created_at=now))
        fit_all(session, now, anew=revision is not None and revision != head)
        session.commit()
    return engine


def serve(settings: Settings, demo: bool) -> int:
    """Run until Ctrl-C or SIGTERM. Returns the exit status."""
    folder = folder_for(settings, demo)
    lock = FolderLock(folder)
    if not lock.take():
        say(f"Kumpan is already running on these data: {lock.address() or 'it is just starting'}")
        return 0
    listener = _listen(settings.port)
    address = f"http://127.0.0.1:{settings.port}/"
    db = PrivateMariaDB(folder)
    stopping = threading.Event()
    working: list[threading.Thread] = []
    try:
        say("Starting the database …")
        if db.start() == "adopted":
            say("Found this folder's database still running from an earlier start: using it.")
        engine = prepare(db, datetime.now(UTC))
        if demo:
            from kumpan.demo.load import end_state, load_demo

            if load_demo(engine, datetime.now(UTC)):
                (folder / panel.BEGUN).write_text(json.dumps(end_state(datetime.now(UTC))))
                (folder / panel.JOURNAL).unlink(missing_ok=True)
                say("Loaded the demo data.")
        app = create_app(
            engine, settings.web_dist, inbox=folder / INBOX, find_panel=lambda a: panel_url(a, folder)
        )
        server = uvicorn.Server(uvicorn.Config(app, log_level="warning", timeout_graceful_shutdown=3))
        threading.Thread(target=_keep_alive, args=(db, stopping), daemon=True).start()
        children = [["work", *(["--demo"] if demo else [])]]
        if demo or settings.standins:
            children.append(["standin", "weather", str(folder)])
            children.append(["standin", "panel", str(folder)])
        working = [
            threading.Thread(target=_keep_running, args=(child, stopping), daemon=True) for child in children
        ]
        for thread in working:
            thread.start()
        lock.write(address)
        say(f"Kumpan is at {address}   (data in {folder}; Ctrl-C stops it)")
        # The web server hands a signal on once it is done; either one must reach the database's own shutdown
        # below.
        signal.signal(signal.SIGTERM, signal.default_int_handler)
        with contextlib.suppress(KeyboardInterrupt):
            server.run(sockets=[listener])
    finally:
        stopping.set()
        lock.write("")
        # A second Ctrl-C must not tear the database's own shutdown.
        signal.signal(signal.SIGINT, _ignore)
        for thread in working:
            thread.join(10)
        say("Stopping the database …")
        db.stop()
    say("Stopped.")
    return 0


def _ignore(number: int, frame: FrameType | None) -> None:
    pass


def _listen(port: int) -> socket.socket:
    listener = socket.socket()
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind(("127.0.0.1", port))
    except OSError as error:
        raise KumpanError(
            "port_taken",
            f"Port {port} on 127.0.0.1 is taken by another program. Stop it, or choose another:"
            f" KUMPAN_PORT={port + 1} ./kumpan demo",
        ) from error
    listener.listen(128)
    return listener


def _keep_running(arguments: list[str], stopping: threading.Event) -> None:
    """Keep a child running, in a process of its own so that it slows no answer: the worker for long work, or
    a stand-in for an outside service. Its input ends with us.
    """
    command = [sys.executable, "-m", "kumpan", *arguments]
    while not stopping.is_set():
        worker = subprocess.Popen(command, stdin=subprocess.PIPE)
        while worker.poll() is None and not stopping.wait(0.5):
            pass
        assert worker.stdin
        worker.stdin.close()
        try:
            worker.wait(5)
        except subprocess.TimeoutExpired:
            worker.kill()
        stopping.wait(1)


def _keep_alive(db: PrivateMariaDB, stopping: threading.Event) -> None:
    """Start the database again if it dies while we run. InnoDB recovers what was committed."""
    while not stopping.wait(0.5):
        if db.running_pid() is None and not stopping.is_set():
            log.warning("the database stopped: starting it again")
            try:
                db.start()
            except (KumpanError, OSError) as error:
                log.error("%s", error)
                time.sleep(2)
