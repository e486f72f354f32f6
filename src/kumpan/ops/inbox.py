"""The folder for dropped files: each is asked about once, then moved to ``taken`` beside it."""

import hashlib
import logging
import os
import stat
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import IO
from uuid import UUID, uuid5

from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.context import Context
from kumpan.actions.files import uploads
from kumpan.actions.transfer import imports
from kumpan.core.errors import KumpanError
from kumpan.core.plain import plain
from kumpan.store import database, files, queries
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.jobs import Job
from kumpan.store.tables.pools import Pool

log = logging.getLogger("kumpan")

_SETTLED_S = 3.0  # a file untouched for so long is taken as written to its end
# Our own, drawn once: ids of dropped files follow from it.
_OURS = UUID("5d1c4f5e-8f0d-4b52-9a3e-6a2f1f4f7f10")
_PIECE = 1 << 20
_LONGEST = 200  # of a name kept, in bytes: the file system's limit is 255


def take_dropped(sessions: sessionmaker[Session], inbox: Path, now: datetime) -> int:
    """Ask about every file dropped in the folder, and move it to ``taken``. Returns how many were taken.

    A file goes to the pool its sub-folder is named after, else to the account's first; the preview lets the
    person choose another. Taken up again after a kill, a file is asked about once: its id follows from its
    content, name and time. One that cannot be taken, for whatever reason of its own, is left where it is.
    """
    taken = inbox / "taken"
    taken.mkdir(parents=True, exist_ok=True, mode=0o700)
    count = 0
    for path, folder in _found(inbox):
        try:
            count += _take(sessions, path, folder, now)
        except KumpanError as error:
            log.warning("left %r where it is: %s", os.fsencode(path), error.message)
        except OSError as error:
            log.warning("left %r where it is: %s", os.fsencode(path), error.strerror)
    return count


def _found(inbox: Path) -> Iterator[tuple[Path, str]]:
    """Files in the inbox and one folder deep, and their folder's name: no links, which may lead anywhere, and
    nothing that is no plain file.
    """
    for entry in sorted(os.scandir(inbox), key=lambda e: os.fsencode(e.name)):
        if entry.name.startswith(".") or entry.name == "taken":
            continue
        if entry.is_file(follow_symlinks=False):
            yield Path(entry.path), ""
        elif entry.is_dir(follow_symlinks=False):
            within = sorted(os.scandir(entry.path), key=lambda e: os.fsencode(e.name))
            for one in within:
                if one.is_file(follow_symlinks=False) and not one.name.startswith("."):
                    yield Path(one.path), entry.name


def _take(sessions: sessionmaker[Session], path: Path, folder: str, now: datetime) -> bool:
    with open(os.open(path, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK), "rb") as source:
        about = os.fstat(source.fileno())
        if not stat.S_ISREG(about.st_mode) or now.timestamp() - about.st_mtime < _SETTLED_S:
            return False
        if not 0 < about.st_size <= uploads.MOST_BYTES:
            raise KumpanError("too_large", "empty, or too large")
        digest = hashlib.file_digest(source, "sha256").hexdigest()
        name = os.fsencode(path.name)  # of any bytes; what is no text in it is not shown
        shown = " ".join(plain(name.decode(errors="replace")).split()) or "file"
        id = uuid5(_OURS, f"{digest} {shown} {about.st_mtime_ns}")
        dropped = _Dropped(id, shown[:_LONGEST], plain(os.fsencode(folder).decode(errors="replace")), source)
        database.run(sessions, lambda s: _ask(s, dropped, now))
    kept = os.fsencode(path.parent if not folder else path.parent.parent) + b"/taken/"
    os.replace(path, kept + f"{id}-".encode() + name[-_LONGEST:])
    return True


@dataclass(frozen=True)
class _Dropped:
    """A file found in the inbox, and the sub-folder it lay in."""

    id: UUID
    name: str
    folder: str
    source: IO[bytes]

    def pieces(self) -> Iterator[bytes]:
        """What it holds."""
        self.source.seek(0)
        while piece := self.source.read(_PIECE):
            yield piece


def _ask(session: Session, dropped: _Dropped, now: datetime) -> None:
    account = queries.first_account(session)
    if account is None or session.get(Job, dropped.id) is not None:
        return
    pool = _pool_for(session, account, dropped.folder)
    file = files.new_file(account.id, dropped.name, "application/octet-stream", now)
    files.write_file(session, file, dropped.pieces())
    context = Context(session, account, "you", now)
    imports.start_import(context, dropped.id, file.id, pool.id if pool else None)


def _pool_for(session: Session, account: Account, folder: str) -> Pool | None:
    pools = queries.pools(session, account.id)
    return next((p for p in pools if p.name.casefold() == folder.casefold()), pools[0] if pools else None)
