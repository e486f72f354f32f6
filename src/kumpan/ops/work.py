"""The worker: does long work for as long as its input stays open, foretells pools when they are due, and
looks after the folder for dropped files.

Each job is done in a process of its own, with so much memory and time and no more: whatever a file makes of
what reads it ends that job alone.
"""

import contextlib
import ctypes
import gc
import logging
import os
import resource
import signal
import socket
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import NoReturn

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.forecast.make import Maker
from kumpan.actions.jobs import jobs
from kumpan.actions.jobs.run import cancels, give_up, let_go, run_next, waits
from kumpan.actions.transfer import export_account, import_account, import_readings
from kumpan.actions.work import Stage
from kumpan.ops.inbox import take_dropped
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.ops.serve import INBOX, folder_for
from kumpan.ops.wake import WORK, Over, Waiting, rest
from kumpan.settings import Settings
from kumpan.store import database
from kumpan.store.tables.jobs import Job

log = logging.getLogger("kumpan")

STAGES: dict[tuple[str, str], Stage] = {
    ("readings", "check"): import_readings.check_readings,
    ("readings", "write"): import_readings.write_readings,
    ("account_in", "check"): import_account.check_account,
    ("account_in", "write"): import_account.write_account,
    ("account_json", "write"): export_account.export_json,
    ("account_csv", "write"): export_account.export_csv,
}
MOST_BYTES = 256 * 1024 * 1024  # of memory for a job, over what the worker has itself
_MOST_CPU_S = 900  # a table of 100,000 rows takes about 100
_LOOK_S, _PATIENCE_S = 0.5, 3.0  # whether a job is to be stopped; and how long it may take to stop by itself
_TOO_LARGE, _AWAY = 3, 4  # exit statuses of a job: more memory than it has, and no database
_IDLE_S = 0.5
_DROPPED_EVERY_S = 5.0
_LOOK_EVERY_S = 20.0  # for work that nobody called for: a call got lost, or another worker did
_TIDY_EVERY_S = 3600.0
_CONNECTIONS = 6


def work(settings: Settings, demo: bool) -> int:
    """Work until the input ends or SIGTERM comes; whatever is half done is rolled back and given back.
    Returns the exit status.
    """
    folder = folder_for(settings, demo)
    worker = Worker(PrivateMariaDB(folder).url)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the launcher's Ctrl-C is its own to handle

    def leave(*_: object) -> None:
        raise Over

    signal.signal(signal.SIGTERM, leave)
    waiting = Waiting(folder, WORK)
    os.nice(10)  # answers come first
    try:
        worker.keep_working(folder / INBOX, waiting)
    except Over:
        with contextlib.suppress(*database.AWAY):
            let_go(worker.sessions, worker.name)
    return 0


class Worker:
    """One worker, by its name; it must have one thread alone, as it forks."""

    def __init__(self, url: str) -> None:
        self.url, self.engine = url, _engine(url)
        self.sessions = sessionmaker(self.engine, expire_on_commit=False)
        self.maker = Maker(self.sessions)
        self.name = f"{socket.gethostname()}-{os.getpid()}-{time.time_ns() % 10**9}"

    def keep_working(self, inbox: Path, waiting: Waiting) -> None:
        """Do what waits, and look after the inbox, until the input ends. Raises Over then."""
        looked_at = foretold_at = dropped_at = tidied_at = -_TIDY_EVERY_S
        called, held = False, True  # held: by us or by the dead, as far as we know
        while True:
            busy = False
            try:
                if held:
                    let_go(self.sessions, self.name)
                    _let_go_of_the_dead(self.sessions)
                    called, held = True, False
                if called or time.monotonic() - looked_at > _LOOK_EVERY_S:
                    busy = self.do_next()
                    looked_at = looked_at if busy else time.monotonic()
                if called or time.monotonic() - foretold_at > _LOOK_EVERY_S:
                    foretold_at = time.monotonic()
                    self.foretell()
                if time.monotonic() - dropped_at > _DROPPED_EVERY_S:
                    dropped_at = time.monotonic()
                    busy |= take_dropped(self.sessions, inbox, _now()) > 0
                if time.monotonic() - tidied_at > _TIDY_EVERY_S:
                    tidied_at = time.monotonic()
                    database.run(self.sessions, lambda s: jobs.tidy(s, _now()))
            except database.AWAY as error:
                log.warning("database away: %s", error.orig)
                held = True
                rest(1)
            except OSError as error:
                log.warning("the inbox: %s", error)
            called = busy or waiting.wait(_IDLE_S, _DROPPED_EVERY_S)

    def foretell(self) -> None:
        """Foretell what is due; where one pool's cannot be worked out, the rest of the work goes on."""
        try:
            self.maker.make_due(_now())
        except database.AWAY:
            raise
        except Exception:
            log.exception("a forecast failed")

    def do_next(self) -> bool:
        """Do the oldest job that waits, to its end; False if there is none."""
        if not database.run(self.sessions, waits):
            return False
        self.engine.dispose()  # no connection is shared with the child
        pid = os.fork()
        if pid == 0:
            self._as_child()
        status = self._see_it_through(pid)
        if status == _TOO_LARGE:
            most = MOST_BYTES // 1024 // 1024
            self._give_up(
                "failed", f"This takes more than the {most} MB of memory that Kumpan gives one job."
            )
        elif status == -signal.SIGXCPU:
            self._give_up("failed", "This comes to no end.")
        elif status > 0 and status != _AWAY:
            self._give_up("failed", "Something went wrong inside Kumpan.")
        elif status:
            let_go(self.sessions, self.name)  # killed from outside: taken up again, though not for ever
        return True

    def _give_up(self, state: str, why: str) -> None:
        text = f"{why} Nothing was changed."
        database.run(self.sessions, lambda s: give_up(s, self.name, state, text, _now()))

    def _see_it_through(self, pid: int) -> int:
        """Wait for a job's process; stop it where the person wants it stopped and it does not by itself.
        Returns its exit status, negative for the signal that ended it.
        """
        ended, asked_at = os.pidfd_open(pid), None
        try:
            while True:
                rest(_LOOK_S, until=ended)
                if os.waitid(os.P_PIDFD, ended, os.WEXITED | os.WNOHANG | os.WNOWAIT):
                    return os.waitstatus_to_exitcode(os.waitpid(pid, 0)[1])
                if asked_at is None and database.run(self.sessions, lambda s: cancels(s, self.name)):
                    asked_at = time.monotonic()
                if asked_at is not None and time.monotonic() - asked_at > _PATIENCE_S:
                    os.kill(pid, signal.SIGKILL)
                    os.waitpid(pid, 0)
                    self._give_up("cancelled", "Stopped.")
                    return 0
        except BaseException:
            os.kill(pid, signal.SIGKILL)
            os.waitpid(pid, 0)
            raise
        finally:
            os.close(ended)

    def _as_child(self) -> NoReturn:
        status = 1
        try:
            ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)  # a killed worker leaves none behind
            signal.signal(signal.SIGTERM, signal.SIG_DFL)
            Path("/proc/self/comm").write_text("kumpan-job")
            # Hundreds of thousands of small objects that live together: looked through less often.
            gc.set_threshold(200_000, 20, 50)
            resource.setrlimit(resource.RLIMIT_DATA, (_data_bytes() + MOST_BYTES,) * 2)
            resource.setrlimit(resource.RLIMIT_CPU, (_MOST_CPU_S, _MOST_CPU_S + 5))
            run_next(sessionmaker(_engine(self.url), expire_on_commit=False), self.name, STAGES, _now)
            status = 0
        except (MemoryError, SystemError):
            status = _TOO_LARGE
        except database.AWAY as error:
            status = _AWAY
            log.warning("database away: %s", error.orig)
        except Exception:
            log.exception("a job's process failed")
        finally:
            os._exit(status)


_PR_SET_PDEATHSIG = 1  # prctl(2)


def _engine(url: str) -> Engine:
    return database.engine_for(url, _CONNECTIONS)


def _data_bytes() -> int:
    """What this process has of the memory that RLIMIT_DATA counts."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) * 1024 for line in lines if line.startswith("VmData:"))


def _let_go_of_the_dead(sessions: sessionmaker[Session]) -> None:
    """Free at once what workers of this machine held that were killed; those of others keep their lease."""
    ours = f"{socket.gethostname()}-"
    with sessions() as session:
        query = select(Job.worker).where(Job.state == "running", Job.worker.startswith(ours))
        holders = set(session.scalars(query))
    for holder in holders:
        pid = str(holder).removeprefix(ours).partition("-")[0]
        try:
            os.kill(int(pid), 0)
        except (ProcessLookupError, PermissionError):  # gone, or another user's by now
            let_go(sessions, str(holder))


def _now() -> datetime:
    return datetime.now(UTC)
