"""Start everything: the database, its schema, demo data, and what answers; stop it all cleanly.

What takes long to load is loaded while the database starts.
"""

import asyncio
import fcntl
import gc
import logging
import os
import signal
import socket
import time
from datetime import UTC, datetime
from pathlib import Path
from types import FrameType
from typing import TYPE_CHECKING

from kumpan.core.errors import KumpanError
from kumpan.ops import wake
from kumpan.ops.children import Children
from kumpan.ops.folder import make_folder
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.settings import Settings

if TYPE_CHECKING:
    from starlette.types import ASGIApp

log = logging.getLogger("kumpan")


INBOX = "inbox"  # in the data folder
# Of all processes that answer together: the database allows 151, and backups and the worker want theirs.
MOST_CONNECTIONS = 100
_MOST_AT_ONCE = 400  # connections of one process; more are told to come again
_LOOK_S = 2.0  # a database from an earlier launcher is no child of ours, whose end one is told


def say(text: str) -> None:
    """A line of progress for the person at the terminal."""
    print(text, flush=True)


def folder_for(settings: Settings, demo: bool) -> Path:
    """Demo and real data live in separate folders."""
    return settings.home / ("demo" if demo else "real")


def panel_url(address: str, folder: Path) -> str:
    """The address to ask a panel at: as bound, or that of the stand-in beside this folder while it runs."""
    from kumpan.actions.panel.binding import STANDIN
    from kumpan.standins import panel

    if address != STANDIN:
        return address
    try:
        return (folder / panel.ADDRESS).read_text()
    except OSError:
        return ""


class FolderLock:
    """One launcher per data folder; freed by the kernel when it dies, however it dies."""

    def __init__(self, folder: Path) -> None:
        try:
            _pass_through(folder.parent)
            make_folder(folder)
            self.path = folder / "launcher.lock"
            self.file = self.path.open("a+")
        except OSError as error:
            raise KumpanError(
                "data_folder",
                f"Kumpan cannot keep its data in {folder}: {error.strerror}. Choose another folder:"
                " KUMPAN_HOME=/another/folder ./kumpan start",
            ) from error

    def take(self) -> bool:
        """Take the lock; False if another launcher has it."""
        try:
            fcntl.flock(self.file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            return False
        return True

    def write(self, address: str) -> None:
        """Leave the address for whoever starts Kumpan a second time."""
        self.file.truncate(0)
        self.file.write(address)
        self.file.flush()

    @property
    def number(self) -> int:
        """Its file as the system numbers it."""
        return self.file.fileno()

    def address(self) -> str:
        """The address the running launcher left."""
        return self.path.read_text().strip()


def _pass_through(home: Path) -> None:
    """Let root's database user come to its folder, where the home holds nothing but Kumpan's."""
    if os.getuid() == 0 and home.exists() and {f.name for f in home.iterdir()} <= {"real", "demo"}:
        make_folder(home)


def serve(settings: Settings, demo: bool) -> int:
    """Run until Ctrl-C or SIGTERM. Returns the exit status."""
    folder = folder_for(settings, demo)
    lock = FolderLock(folder)
    if not lock.take():
        say(f"Kumpan is already running on these data: {lock.address() or 'it is just starting'}")
        return 0
    listener = _listen(settings.port)
    db, children = PrivateMariaDB(folder), Children([lock.number])
    told: list[int] = []

    def end(number: int, frame: FrameType | None) -> None:
        told.append(number)
        raise KeyboardInterrupt

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, end)
    try:
        _run(settings, demo, (lock, listener, db, children))
    except BaseException:
        if not told:  # else it is that, as whatever it came out of an import as
            raise
    finally:
        # A second Ctrl-C must not tear the database's own shutdown.
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        lock.write("")
        children.end()
        say("Stopping the database …")
        db.stop()
    say("Stopped.")
    return 0


def _run(
    settings: Settings, demo: bool, held: tuple[FolderLock, socket.socket, PrivateMariaDB, Children]
) -> None:
    lock, listener, db, children = held
    say("Starting the database …")
    if db.launch() == "adopted":
        say("Found this folder's database still running from an earlier start: using it.")
    if os.getuid() == 0 and db.at.server_user() == "root":
        say(
            f"The database runs with root's rights, as no other user can come to {db.folder}. Better: move"
            f" {db.folder.parent} to /var/lib/kumpan and start with KUMPAN_HOME=/var/lib/kumpan"
        )
    # What answers is loaded while the database starts, once for all processes, and left alone by the
    # collector from then on.
    gc.disable()
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # a process with threads is not to be forked
    import kumpan.ops.impatient  # noqa: F401 (for those who answer, once)
    from kumpan.main import Beside, create_app
    from kumpan.ops.prepare import fill_demo, prepare
    from kumpan.standins import panel, weather

    db.ready()
    engine = prepare(db, datetime.now(UTC), settings.workers)
    folder = db.folder
    if demo:
        fill_demo(engine, folder)
    engine.dispose()  # each process has connections of its own
    beside = Beside(f"{folder.name}/{INBOX}", lambda a: panel_url(a, folder), lambda: wake.call(folder))
    app = create_app(engine, settings.web_dist, beside=beside)
    gc.freeze()
    gc.enable()
    for number in range(settings.workers):
        children.begin(f"kumpan-web-{number}", lambda: _answer(app, listener))
    lock.write(address := f"http://127.0.0.1:{settings.port}/")
    say(f"Kumpan is at {address}   (data in {folder}; Ctrl-C stops it)")
    children.begin("kumpan-work", lambda: _work(settings, demo))
    children.begin("kumpan-ask", lambda: _ask(settings, demo))
    if demo or settings.standins:
        children.begin("kumpan-weather", lambda: weather.serve(folder))
        children.begin("kumpan-panel", lambda: panel.serve(folder))
    while True:
        children.wait(_LOOK_S)
        _keep_alive(db)


def _answer(app: "ASGIApp", listener: socket.socket) -> int:
    """Answer as one of the processes that share the port, until the input ends."""
    import uvicorn

    from kumpan.ops.impatient import Impatient

    class Server(uvicorn.Server):
        """Waits for its end without looking ten times a second whether it has come."""

        ended: asyncio.Event | None = None

        async def main_loop(self) -> None:
            """Until the input ends, which nothing is ever written to."""
            self.ended, self.loop = asyncio.Event(), asyncio.get_running_loop()
            self.loop.add_reader(0, self.ended.set)
            if not self.should_exit:  # told so before it began
                await self.ended.wait()

        def handle_exit(self, number: int, frame: FrameType | None) -> None:
            """Or until it is told to end."""
            super().handle_exit(number, frame)
            if self.ended is not None:
                self.loop.call_soon_threadsafe(self.ended.set)

    config = uvicorn.Config(
        app,
        http=Impatient,
        limit_concurrency=_MOST_AT_ONCE,
        log_level="warning",
        timeout_graceful_shutdown=3,
        date_header=False,
    )
    Server(config).run(sockets=[listener])
    return 0


def _work(settings: Settings, demo: bool) -> int:
    from kumpan.ops.work import work

    return work(settings, demo)


def _ask(settings: Settings, demo: bool) -> int:
    from kumpan.ops.asking import keep_asking

    return keep_asking(settings, demo)


def _keep_alive(db: PrivateMariaDB) -> None:
    """Start the database again if it died. InnoDB recovers what was committed."""
    if db.running_pid() is None:
        log.warning("the database stopped: starting it again")
        try:
            db.start()
        except (KumpanError, OSError) as error:
            log.error("%s", error)
            time.sleep(2)


# The processes of a launcher that was killed hold its port until they have seen that it is gone.
_LETS_GO_S = 5.0


def _listen(port: int) -> socket.socket:
    listener = socket.socket()
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    end = time.monotonic() + _LETS_GO_S
    while True:
        try:
            listener.bind(("127.0.0.1", port))
            break
        except OSError as error:
            if time.monotonic() < end:
                time.sleep(0.1)
                continue
            raise KumpanError(
                "port_taken",
                f"Port {port} on 127.0.0.1 is taken by another program. Stop it, or choose another:"
                f" KUMPAN_PORT={port + 1} ./kumpan demo",
            ) from error
    listener.listen(128)
    return listener
