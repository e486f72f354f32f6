"""Files in the database: written and read in chunks, so that no request and no statement is large."""

from collections.abc import Iterable, Iterator
from datetime import datetime
from uuid import UUID

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.core.errors import Conflict
from kumpan.store.queries import existing
from kumpan.store.tables.files import FileChunk, FileRow

CHUNK_BYTES = 256 * 1024


def file(session: Session, account_id: UUID, file_id: UUID) -> FileRow:
    """One file of the account. Raises NotFound for any other."""
    return existing(
        session.scalars(
            select(FileRow).where(FileRow.id == file_id, FileRow.account_id == account_id)
        ).first(),
        "file",
    )


def received(session: Session, file: FileRow) -> int:
    """How many bytes of a file have arrived; told by its pieces' places alone, so that no piece
    need be read.
    """
    last = (file.size - 1) // CHUNK_BYTES
    query = select(func.count(), func.coalesce(func.sum(FileChunk.position == last), 0)).where(
        FileChunk.file_id == file.id
    )
    pieces, has_last = (int(n) for n in session.execute(query).one())
    return (pieces - has_last) * CHUNK_BYTES + has_last * (file.size - last * CHUNK_BYTES)


def chunk(session: Session, file_id: UUID, position: int) -> bytes | None:
    """One of the file's chunks, counted from 0; None past the last."""
    query = select(FileChunk.data).where(FileChunk.file_id == file_id, FileChunk.position == position)
    return session.scalar(query)


def chunks(session: Session, file_id: UUID) -> Iterator[bytes]:
    """The file's chunks in order, one in memory at a time."""
    position = 0
    while (data := chunk(session, file_id, position)) is not None:
        yield data
        position += 1


def content(session: Session, file_id: UUID) -> bytes:
    """The whole file."""
    return b"".join(chunks(session, file_id))


def new_file(account_id: UUID, name: str, media_type: str, now: datetime) -> FileRow:
    """A file that holds nothing yet."""
    return FileRow(
        id=uuid7(), account_id=account_id, name=name, media_type=media_type, size=0, created_at=now
    )


def write_file(session: Session, row: FileRow, pieces: Iterable[bytes]) -> FileRow:
    """Store a new file from pieces of any length."""
    session.add(row)
    session.flush()
    waiting, position = bytearray(), 0
    for piece in pieces:
        waiting += piece
        while len(waiting) >= CHUNK_BYTES:
            position = _write(session, row, position, bytes(waiting[:CHUNK_BYTES]))
            del waiting[:CHUNK_BYTES]
    if waiting:
        _write(session, row, position, bytes(waiting))
    session.flush()
    return row


def _write(session: Session, row: FileRow, position: int, data: bytes) -> int:
    chunk = FileChunk(file_id=row.id, position=position, data=data)
    session.add(chunk)
    row.size += len(data)
    session.flush()
    session.expunge(chunk)  # stored: the session need not hold it
    return position + 1


def delete_file(session: Session, file_id: UUID) -> None:
    """Drop a file and its chunks. Nothing may point to it any more."""
    session.execute(delete(FileChunk).where(FileChunk.file_id == file_id))
    session.execute(delete(FileRow).where(FileRow.id == file_id))


def whole_file(session: Session, account_id: UUID, file_id: UUID) -> FileRow:
    """A file of which every piece has arrived. Raises Conflict for one that is still coming."""
    row = file(session, account_id, file_id)
    if received(session, row) != row.size:
        raise Conflict("not_whole", "This file has not arrived whole yet.")
    return row
