"""A private MariaDB: its own data folder, port on 127.0.0.1 and socket. Touches no other server.

The application comes in by the port as a user whose rights end at Kumpan's schema; the socket stays for
administration, where the login is the operating system's user.
"""

import contextlib
import fcntl
import hashlib
import os
import pwd
import shutil
import signal
import subprocess
import tempfile
import time
from pathlib import Path

import pymysql

from kumpan.core.errors import KumpanError
from kumpan.ops.folder import Access, ServerFolder, as_user, free, make_folder, program
from kumpan.settings import os_user

_PATIENCE_S, _TICK_S = 60.0, 0.05
_LONGEST_SOCKET = 100  # the kernel's limit is 107 bytes
APPLICATION = "kumpan"  # the application's user, and its schema
_NOT_YET = (1044, 1045, 1049, 1130)  # no rights, another password, no schema, no user of this host
# Throwaway servers for tests only: never where data matter.
FAST_AND_UNSAFE = (
    "--innodb-flush-method=nosync",
    "--innodb-log-file-size=8M",
    "--innodb-data-file-path=ibdata1:4M:autoextend",
)


class PrivateMariaDB:
    """One server process on one folder. ``start`` adopts an orphan of the same folder."""

    def __init__(self, folder: Path, options: tuple[str, ...] = ()) -> None:
        self.at = ServerFolder(folder)
        self.folder, self.options = self.at.folder, options
        self.pid_file = self.at.running / "mariadb.pid"
        self.socket = self.at.running / "mariadb.sock"
        if len(str(self.socket).encode()) > _LONGEST_SOCKET:
            mark = hashlib.sha256(str(self.folder).encode()).hexdigest()[:16]
            self.socket = Path(tempfile.gettempdir()) / f"kumpan-{os.getuid()}-{mark}" / "mariadb.sock"
        self.process: subprocess.Popen[bytes] | None = None
        self.begun = False

    @property
    def url(self) -> str:
        """SQLAlchemy URL of the application's database."""
        return self.url_of(APPLICATION, self.at.access().password)

    def start(self) -> str:
        """Make the folder a running server; returns ``started`` or ``adopted``. Raises KumpanError."""
        how = self.launch()
        self.ready()
        return how

    def launch(self) -> str:
        """The same, not waiting until it answers: ``ready`` does."""
        access = self.at.access()
        make_folder(self.at.running)
        end = time.monotonic() + _PATIENCE_S
        while True:
            if pid := self.running_pid() or self._search():
                # One of an earlier Kumpan may listen nowhere, and writes beside its data.
                if f"--port={access.port}" in _arguments(pid) and self._wait(pid):
                    return "adopted"
                self._stop(pid)
            if (lock := self._lock()) is not None:
                break
            if time.monotonic() > end:
                raise KumpanError(
                    "database_start", f"Another MariaDB holds {self.at.data} and does not answer."
                )
            time.sleep(_TICK_S)
        try:
            self._launch(access, lock)
        finally:
            os.close(lock)
        return "started"

    def _lock(self) -> int | None:
        """A lock that a server holds for as long as it lives, from before it is begun, so that there is no
        moment in which a second could be begun beside one just begun. None while another has it.
        """
        lock = os.open(self.at.running / "lock", os.O_RDWR | os.O_CREAT, 0o600)
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(lock)
            return None
        return lock

    def _launch(self, access: Access, lock: int) -> None:
        self.at.make()
        if not self.begun and not free(access.port):  # later its port is what the application knows
            access = self.at.access(anew=True)
        self.begun = True
        self._own_socket_folder()
        self.process = subprocess.Popen(
            [
                program("mariadbd"),
                "--no-defaults",
                *as_user(self.at.server_user()),
                f"--datadir={self.at.data}",
                # Its own temporary tables: a starting server removes those it finds, so never shared.
                f"--tmpdir={self.at.tmp}",
                f"--socket={self.socket}",
                f"--pid-file={self.pid_file}",
                f"--log-error={self.at.log}",
                "--bind-address=127.0.0.1",
                f"--port={access.port}",
                "--skip-name-resolve",
                "--skip-local-infile",
                "--skip-symbolic-links",
                "--character-set-server=utf8mb4",
                "--collation-server=utf8mb4_unicode_ci",
                *self.options,
            ],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
            pass_fds=[lock],
        )

    def ready(self) -> None:
        """Wait until it answers, and let the application in, into a schema of its own."""
        for again in (True, False):
            pid = self.process.pid if self.process else self.running_pid() or self._search()
            if pid is not None and self._wait(pid):
                self._let_in()
                return
            if again and (pid is None or not self._lives(pid)):  # one that was adopted may end meanwhile
                self.launch()
        raise KumpanError("database_start", f"MariaDB did not start. Its log says why: {self.at.log}")

    def stop(self) -> None:
        """Stop this folder's server cleanly and wait for it; nothing if none runs."""
        if pid := self.running_pid() or self._search():
            self._stop(pid)

    def _stop(self, pid: int) -> None:
        if f"--socket={self.socket}" in _arguments(
            pid
        ):  # else one of an earlier Kumpan, not to be asked here
            self._wait(pid)  # told to stop while it starts, it may never do either
        for number in (signal.SIGTERM, signal.SIGKILL):  # the second loses nothing that was committed
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, number)
            end = time.monotonic() + _PATIENCE_S
            while self._lives(pid) and time.monotonic() < end:
                time.sleep(_TICK_S)
            if not self._lives(pid):
                return
        raise KumpanError("database_stop", f"MariaDB (process {pid}) did not stop. Its log: {self.at.log}")

    def _lives(self, pid: int) -> bool:
        if self.process and self.process.poll() is not None:
            self.process = None  # one of our own that has ended
        return self._is_ours(pid)

    def running_pid(self) -> int | None:
        """The process id of a mariadbd that runs on exactly this data folder, or None."""
        candidates = [self.process.pid] if self.process and self.process.poll() is None else []
        for file in (self.pid_file, self.folder / self.pid_file.name):  # as one of an earlier Kumpan wrote it
            with contextlib.suppress(OSError):  # it may go while we look: the server takes its own away
                text = file.read_text().strip()
                candidates += [int(text)] if text.isdigit() else []
        return next((pid for pid in candidates if self._is_ours(pid)), None)

    def _search(self) -> int | None:
        """The same among all processes: one just begun has not written its number yet."""
        pids = (int(entry) for entry in os.listdir("/proc") if entry.isdigit())
        return next((pid for pid in pids if self._is_ours(pid)), None)

    def _is_ours(self, pid: int) -> bool:
        try:
            state = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
        except OSError:
            return False
        return state != "Z" and f"--datadir={self.at.data}" in _arguments(pid)

    def connect(self, database: str | None = None) -> "pymysql.Connection[pymysql.cursors.Cursor]":
        """A plain connection over the socket, for administration."""
        return pymysql.connect(
            unix_socket=str(self.socket),
            user=os_user(),
            database=database,
            charset="utf8mb4",
            connect_timeout=3,
            ssl_disabled=True,
        )

    def _own_socket_folder(self) -> None:
        """Where the path is too long for a socket: a short one, which must be nobody else's."""
        folder = self.socket.parent
        if folder == self.at.running:
            return
        folder.mkdir(parents=True, exist_ok=True, mode=0o711 if os.getuid() == 0 else 0o700)
        user = self.at.server_user()
        if folder.stat().st_uid not in (os.getuid(), pwd.getpwnam(user).pw_uid):
            raise KumpanError(
                "socket_folder", f"{folder} belongs to someone else. Set TMPDIR to a folder of yours."
            )
        shutil.chown(folder, user)

    def _wait(self, pid: int) -> bool:
        """Wait until a server answers; False where it ends first, or does not in time."""
        end = time.monotonic() + _PATIENCE_S
        while time.monotonic() < end and self._lives(pid):
            try:
                self.connect().close()
                return True
            except pymysql.err.OperationalError:
                time.sleep(_TICK_S)
        return False

    def _let_in(self) -> None:
        access = self.at.access()
        try:
            pymysql.connect(
                host="127.0.0.1",
                port=access.port,
                user=APPLICATION,
                password=access.password,
                database=APPLICATION,
                connect_timeout=3,
                ssl_disabled=True,
            ).close()
        except pymysql.err.OperationalError as error:
            if error.args[0] not in _NOT_YET:
                raise
            self.admit(APPLICATION, access.password)

    def url_of(self, name: str, password: str) -> str:
        """SQLAlchemy URL of a user's own schema."""
        from kumpan.store.database import url_for  # takes longer to load than the server to start

        return url_for(self.at.access().port, name, password)

    def admit(self, name: str, password: str) -> None:
        """A user of the port, made anew, whose rights end at its own schema, made if there is none."""
        with self.connect() as connection, connection.cursor() as cursor:
            cursor.execute(
                f"CREATE DATABASE IF NOT EXISTS {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci"
            )
            cursor.execute(f"CREATE OR REPLACE USER {name}@'127.0.0.1' IDENTIFIED BY %s", (password,))
            schema = name.replace("_", r"\_")  # an underscore would stand for any character
            cursor.execute(f"GRANT ALL ON `{schema}`.* TO {name}@'127.0.0.1'")

    def dismiss(self, name: str) -> None:
        """A user and its schema are no more."""
        with self.connect() as connection, connection.cursor() as cursor:
            cursor.execute(f"DROP DATABASE IF EXISTS {name}")
            cursor.execute(f"DROP USER IF EXISTS {name}@'127.0.0.1'")


def _arguments(pid: int) -> list[str]:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes().decode(errors="replace").split("\0")
    except OSError:
        return []
