"""Backup and restore: one gzip file with everything, checked before it replaces anything."""

import gzip
import os
import shutil
import subprocess
from datetime import datetime
from pathlib import Path

from kumpan.core.errors import KumpanError
from kumpan.ops.mariadb import PrivateMariaDB, program
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
        with gzip.open(part, "wb") as out:
            out.write(f"{_HEADER}{revision}, made {now.isoformat()}\n".encode())
            with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as dump:
                assert dump.stdout and dump.stderr
                shutil.copyfileobj(dump.stdout, out)
                message = dump.stderr.read().decode()
            if dump.returncode:
                raise KumpanError("backup_failed", f"The backup failed: {message.strip()[-400:]}")
        with part.open("rb") as written:
            os.fsync(written.fileno())
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


def restore(db: PrivateMariaDB, file: Path) -> None:
    """Replace all data by a backup's. Loaded aside first, then swapped in one atomic rename."""
    migrate.refuse_newer(read_revision(file))
    with db.connect() as connection, connection.cursor() as cursor:
        for scratch in ("kumpan_incoming", "kumpan_outgoing"):
            cursor.execute(f"DROP DATABASE IF EXISTS {scratch}")
            cursor.execute(f"CREATE DATABASE {scratch} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
        command = [
            program("mariadb"),
            "--no-defaults",
            f"--socket={db.socket}",
            f"--user={os_user()}",
            "--default-character-set=utf8mb4",
            "kumpan_incoming",
        ]
        with (
            gzip.open(file, "rb") as source,
            subprocess.Popen(command, stdin=subprocess.PIPE, stderr=subprocess.PIPE) as load,
        ):
            assert load.stdin and load.stderr
            try:
                shutil.copyfileobj(source, load.stdin)
                load.stdin.close()
            except BrokenPipeError:
                pass  # the client stopped at an error: its words follow
            message = load.stderr.read().decode()
        if load.returncode:
            raise KumpanError(
                "restore_failed",
                f"The backup could not be loaded; nothing was changed: {message.strip()[-400:]}",
            )
        moves = []
        for source_db, target in (("kumpan", "kumpan_outgoing"), ("kumpan_incoming", "kumpan")):
            cursor.execute(
                "SELECT table_name FROM information_schema.tables WHERE table_schema = %s", (source_db,)
            )
            moves += [f"{source_db}.`{name}` TO {target}.`{name}`" for (name,) in cursor.fetchall()]
        cursor.execute("RENAME TABLE " + ", ".join(moves))
        for scratch in ("kumpan_incoming", "kumpan_outgoing"):
            cursor.execute(f"DROP DATABASE {scratch}")
