"""The folder a database server lives in: made whole or not at all, never removed, and owned by whoever the
server runs as.
"""

import contextlib
import json
import os
import pwd
import secrets
import shutil
import socket
import subprocess
import tempfile
from dataclasses import asdict, dataclass
from pathlib import Path

from kumpan.core.errors import KumpanError
from kumpan.settings import os_user

UNPRIVILEGED = ("mysql", "nobody")  # of Debian's server, else of Debian
_STAMP = "kumpan-made"  # in a data folder that was made whole
_ASIDE = "mariadb.new-"


@dataclass(frozen=True)
class Access:
    """How the application reaches the server: its port on 127.0.0.1, and its user's password."""

    port: int
    password: str


class ServerFolder:
    """A data folder: the server's data, what it writes while it runs, and how it is reached."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder.resolve()
        self.data, self.running = self.folder / "mariadb", self.folder / "server"
        self.log, self.tmp = self.running / "mariadb.log", self.running / "tmp"
        self._access_file = self.folder / "database.json"

    def server_user(self) -> str:
        """Who the server runs as: whoever we are, or without root's rights where we are root and that user
        can come this far.
        """
        if os.getuid() != 0:
            return os_user()
        return next((name for name in UNPRIVILEGED if _reaches(name, self.folder.parent)), "root")

    def make(self) -> None:
        """The folder with all the server needs to start, owned by its user. What it is found to hold is kept.

        Raises KumpanError.
        """
        account = pwd.getpwnam(self.server_user())
        for folder in (self.folder, self.running, self.tmp):
            make_folder(folder)
        if not self._is_whole():
            self._initialise(account)
        self._tidy()
        for folder in (self.running, self.data):
            _give(folder, account)

    def access(self, anew: bool = False) -> Access:
        """How the application reaches the server, as kept. anew: with another port."""
        kept: Access | None = None
        with contextlib.suppress(OSError, ValueError, TypeError):
            kept = Access(**json.loads(self._access_file.read_text()))
        if kept and not anew:
            return kept
        make_folder(self.folder)
        made = Access(_free_port(), kept.password if kept else secrets.token_urlsafe(24))
        part = self._access_file.with_suffix(".part")
        part.unlink(missing_ok=True)
        with open(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as out:
            json.dump(asdict(made), out)
            out.flush()
            os.fsync(out.fileno())
        part.replace(self._access_file)
        return made

    def _is_whole(self) -> bool:
        """Whether the data are all there; what an older Kumpan left half made is moved aside."""
        stamp, held = self.data / _STAMP, self.data / "kumpan"
        if not self.data.exists():
            return False
        if (self.data / "mysql").is_dir() and (stamp.exists() or held.is_dir()):
            stamp.touch()
            return True
        if stamp.exists() or held.is_dir():
            raise KumpanError(
                "database_damaged",
                f"The database's own tables are missing from {self.data} ({self.data / 'mysql'}). Nothing was"
                " touched. Bring that folder back from a copy of the whole data folder; or move the data"
                " folder away, start anew and restore a backup.",
            )
        # A first start that was interrupted before there was anything of anybody's in it.
        self.data.rename(Path(tempfile.mkdtemp(prefix="mariadb.half-", dir=self.folder)) / "mariadb")
        return False

    def _initialise(self, account: pwd.struct_passwd) -> None:
        for left in self.folder.glob(f"{_ASIDE}*"):  # of a first start that was interrupted: never ran
            shutil.rmtree(left, ignore_errors=True)
        aside = Path(tempfile.mkdtemp(prefix=_ASIDE, dir=self.folder))
        os.chown(aside, account.pw_uid, account.pw_gid)
        _give(self.running, account)
        done = subprocess.run(
            [
                program("mariadb-install-db"),
                "--no-defaults",
                *as_user(account.pw_name),
                f"--datadir={aside}",
                f"--tmpdir={self.tmp}",
                "--skip-test-db",
                "--auth-root-authentication-method=socket",
                f"--auth-root-socket-user={os_user()}",
            ],
            capture_output=True,
            text=True,
        )
        if done.returncode:
            shutil.rmtree(aside, ignore_errors=True)
            raise KumpanError(
                "database_init", f"MariaDB could not make its data folder: {done.stderr.strip()[-400:]}"
            )
        (aside / _STAMP).touch()
        aside.rename(self.data)
        with contextlib.suppress(OSError):  # a file system that cannot, writes at once
            folder = os.open(self.folder, os.O_RDONLY)
            os.fsync(folder)
            os.close(folder)

    def _tidy(self) -> None:
        """Away with what servers wrote beside the data before they had a folder; the rest is ours alone."""
        for name in ("mariadb.sock", "mariadb.pid", "mariadb.log"):
            (self.folder / name).unlink(missing_ok=True)
        shutil.rmtree(self.folder / "tmp", ignore_errors=True)
        for entry in self.folder.iterdir():  # the folder was closed to others then, and they could stay open
            if entry not in (self.running, self.data) and not entry.is_symlink():
                entry.chmod(entry.stat().st_mode & 0o700)


def make_folder(folder: Path) -> None:
    """A folder of ours alone, and what is missing above it; root's is one that the server's user may pass
    through, not look into.
    """
    mode = 0o711 if os.getuid() == 0 else 0o700
    for missing in [f for f in reversed(folder.parents) if not f.exists()]:
        missing.mkdir(exist_ok=True)
        missing.chmod(mode)
    folder.mkdir(exist_ok=True)
    folder.chmod(mode)


def as_user(name: str) -> list[str]:
    """The server's option for its user: root has to say whom it may be."""
    return [f"--user={name}"] if os.getuid() == 0 else []


def free(port: int) -> bool:
    """Whether a server could listen on a port of 127.0.0.1."""
    with socket.socket() as s:
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            s.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True


def program(name: str) -> str:
    """Path of a MariaDB program. Raises KumpanError when it is not installed."""
    for folder in (None, "/usr/sbin:/usr/local/sbin:/usr/bin"):
        path_of = shutil.which(name, path=folder)
        if path_of:
            return path_of
    raise KumpanError("no_mariadb", f"{name} is not installed. On Debian: apt-get install mariadb-server")


def _free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def _reaches(name: str, folder: Path) -> bool:
    """Whether a user can pass through a folder and all above it."""
    try:
        account = pwd.getpwnam(name)
    except KeyError:
        return False
    for above in (folder, *folder.parents):
        if not above.exists():  # made by us, to be passed through
            continue
        held = above.stat()
        if held.st_uid == account.pw_uid:
            passes = held.st_mode & 0o100
        elif held.st_gid == account.pw_gid:
            passes = held.st_mode & 0o010
        else:
            passes = held.st_mode & 0o001
        if not passes:
            return False
    return True


def _give(folder: Path, account: pwd.struct_passwd) -> None:
    """A folder and all in it to a user; itself last, so that an interrupted one is done again."""
    if os.getuid() != 0 or folder.stat().st_uid == account.pw_uid:
        return
    for path, folders, files in os.walk(folder):
        for name in (*folders, *files):
            os.chown(Path(path) / name, account.pw_uid, account.pw_gid, follow_symlinks=False)
    os.chown(folder, account.pw_uid, account.pw_gid)
