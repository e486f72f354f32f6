"""A private MariaDB: its own data folder and socket, no network port at all. Touches no other server.

The server's login is the operating system's user over the socket, so there is no password to keep.
"""

import contextlib
import hashlib
import os
import shutil
import signal
import subprocess
import tempfile
import time
from pathlib import Path

import pymysql

from kumpan.core.errors import KumpanError
from kumpan.settings import os_user

_LONGEST_SOCKET = 100  # the kernel's limit is 107 bytes
# Throwaway servers for tests only: never where data matter.
FAST_AND_UNSAFE = (
    "--innodb-flush-method=nosync",
    "--innodb-log-file-size=8M",
    "--innodb-data-file-path=ibdata1:4M:autoextend",
)


class PrivateMariaDB:
    """One server process on one folder. ``start`` adopts an orphan of the same folder."""

    def __init__(self, folder: Path, options: tuple[str, ...] = ()) -> None:
        self.folder = folder.resolve()
        self.data, self.log = self.folder / "mariadb", self.folder / "mariadb.log"
        self.pid_file, self.options = self.folder / "mariadb.pid", options
        self.socket = self.folder / "mariadb.sock"
        if len(str(self.socket).encode()) > _LONGEST_SOCKET:
            mark = hashlib.sha256(str(self.folder).encode()).hexdigest()[:16]
            self.socket = Path(tempfile.gettempdir()) / f"kumpan-{os.getuid()}-{mark}" / "mariadb.sock"
        self.process: subprocess.Popen[bytes] | None = None

    @property
    def url(self) -> str:
        """SQLAlchemy URL of the application's database."""
        from kumpan.store.database import url_for  # takes longer to load than the server to start

        return url_for(str(self.socket), os_user())

    def start(self) -> str:
        """Make the folder a running server; returns ``started`` or ``adopted``. Raises KumpanError."""
        how = self.launch()
        self.ready()
        return how

    def launch(self) -> str:
        """The same, not waiting until it answers: ``ready`` does."""
        self.folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        self.socket.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        if self.socket.parent.stat().st_uid != os.getuid():
            raise KumpanError(
                "socket_folder",
                f"{self.socket.parent} belongs to someone else. Set TMPDIR to a folder of yours.",
            )
        if self.running_pid():
            if self._wait(5):
                return "adopted"
            self.stop()
        if not (self.data / "mysql").is_dir():
            self._initialise()
        user = ["--user=root"] if os.getuid() == 0 else []
        self.process = subprocess.Popen(
            [
                program("mariadbd"),
                "--no-defaults",
                *user,
                f"--datadir={self.data}",
                f"--tmpdir={self._own_tmp()}",
                f"--socket={self.socket}",
                f"--pid-file={self.pid_file}",
                f"--log-error={self.log}",
                "--skip-networking",
                "--skip-name-resolve",
                "--character-set-server=utf8mb4",
                "--collation-server=utf8mb4_unicode_ci",
                *self.options,
            ],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )
        return "started"

    def ready(self) -> None:
        """Wait until it answers, and make the application's database in it if there is none."""
        if not self._wait(60):
            raise KumpanError("database_start", f"MariaDB did not start. Its log says why: {self.log}")
        self._create_database()

    def stop(self, timeout_s: float = 60) -> None:
        """Stop this folder's server cleanly and wait for it; nothing if none runs."""
        pid = self.running_pid()
        if pid is None:
            return
        os.kill(pid, signal.SIGTERM)
        end = time.monotonic() + timeout_s
        while self.running_pid() and time.monotonic() < end:
            if self.process:
                self.process.poll()
            time.sleep(0.05)
        if self.running_pid():
            raise KumpanError("database_stop", f"MariaDB (process {pid}) did not stop. Its log: {self.log}")

    def running_pid(self) -> int | None:
        """The process id of a mariadbd that runs on exactly this data folder, or None."""
        candidates = [self.process.pid] if self.process and self.process.poll() is None else []
        with contextlib.suppress(
            FileNotFoundError
        ):  # it may go while we look: the server takes its own away as it stops
            text = self.pid_file.read_text().strip()
            candidates += [int(text)] if text.isdigit() else []
        return next((pid for pid in candidates if self._is_ours(pid)), None)

    def _is_ours(self, pid: int) -> bool:
        try:
            args = Path(f"/proc/{pid}/cmdline").read_bytes().split(b"\0")
            state = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
        except OSError:
            return False
        return state != "Z" and f"--datadir={self.data}".encode() in args

    def connect(self, database: str | None = None) -> "pymysql.Connection[pymysql.cursors.Cursor]":
        """A plain connection over the socket, for administration."""
        return pymysql.connect(
            unix_socket=str(self.socket),
            user=os_user(),
            database=database,
            charset="utf8mb4",
            connect_timeout=3,
        )

    def _own_tmp(self) -> Path:
        """Its own temporary tables: a starting server removes those it finds, so never shared."""
        folder = self.folder / "tmp"
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        return folder

    def _initialise(self) -> None:
        shutil.rmtree(self.data, ignore_errors=True)  # a half-made folder of an interrupted first start
        user = ["--user=root"] if os.getuid() == 0 else []
        done = subprocess.run(
            [
                program("mariadb-install-db"),
                "--no-defaults",
                *user,
                f"--datadir={self.data}",
                f"--tmpdir={self._own_tmp()}",
                "--skip-test-db",
                "--auth-root-authentication-method=socket",
                f"--auth-root-socket-user={os_user()}",
            ],
            capture_output=True,
            text=True,
        )
        if done.returncode:
            raise KumpanError(
                "database_init", f"MariaDB could not make its data folder: {done.stderr.strip()[-400:]}"
            )

    def _wait(self, seconds: float) -> bool:
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            if self.process and self.process.poll() is not None:
                return False
            try:
                self.connect().close()
                return True
            except pymysql.err.OperationalError:
                time.sleep(0.05)
        return False

    def _create_database(self) -> None:
        with self.connect() as connection, connection.cursor() as cursor:
            cursor.execute(
                "CREATE DATABASE IF NOT EXISTS kumpan CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci"
            )


def program(name: str) -> str:
    """Path of a MariaDB program. Raises KumpanError when it is not installed."""
    for folder in (None, "/usr/sbin:/usr/local/sbin:/usr/bin"):
        path_of = shutil.which(name, path=folder)
        if path_of:
            return path_of
    raise KumpanError("no_mariadb", f"{name} is not installed. On Debian: apt-get install mariadb-server")
