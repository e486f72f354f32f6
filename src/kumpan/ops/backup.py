"""Backup: one gzip file with everything, whole or not at all."""

import gzip
import os
import shutil
import subprocess
from datetime import datetime
from pathlib import Path

from kumpan.core.errors import KumpanError
from kumpan.ops.folder import program
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.settings import os_user
from kumpan.store import migrate
from kumpan.store.database import engine_for

_HEADER = "-- kumpan backup, schema "
_TRAILER = b"-- Dump completed"


def backup(db: PrivateMariaDB, file: Path, now: datetime) -> int:
    """Write a consistent backup to ``file``; returns its size in bytes. Raises KumpanError.

    The file appears whole or not at all: it is written beside its place and renamed.
    """
    revision = migrate.current(engine_for(db.url))
    if revision is None:
        raise KumpanError("nothing_to_back_up", "There are no data to back up yet.")
    part = file.with_name(file.name + ".part")
    command = [
        program("mariadb-dump"),
        "--no-defaults",
        f"--socket={db.socket}",
        f"--user={os_user()}",
        "--default-character-set=utf8mb4",
        "--single-transaction",
        "--hex-blob",
        "--skip-lock-tables",
        "kumpan",
    ]
    try:
        part.unlink(missing_ok=True)
        mine = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)  # people's data, whatever the umask
        with os.fdopen(mine, "wb") as written, gzip.open(written, "wb") as out:
            out.write(f"{_HEADER}{revision}, made {now.isoformat()}\n".encode())
            with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as dump:
                assert dump.stdout and dump.stderr
                shutil.copyfileobj(dump.stdout, out)
                message = dump.stderr.read().decode()
            if dump.returncode:
                raise KumpanError("backup_failed", f"The backup failed: {message.strip()[-400:]}")
        with part.open("rb") as whole:
            os.fsync(whole.fileno())
        part.replace(file)
    except OSError as error:
        raise KumpanError("backup_failed", f"Cannot write {file}: {error.strerror}.") from error
    finally:
        part.unlink(missing_ok=True)
    return file.stat().st_size


def read_revision(file: Path) -> str:
    """The schema revision a backup was made at. Raises KumpanError if it is no whole Kumpan backup."""
    try:
        with gzip.open(file, "rb") as source:
            first = source.readline(200).decode(errors="replace")
            tail = b""
            while chunk := source.read(1 << 20):
                tail = (tail + chunk)[-400:]
    except (OSError, EOFError) as error:
        raise KumpanError("not_a_backup", f"{file} cannot be read as a backup: {error}.") from error
    if not first.startswith(_HEADER) or _TRAILER not in tail:
        raise KumpanError("not_a_backup", f"{file} is not a whole Kumpan backup.")
    return first.removeprefix(_HEADER).split(",")[0]
