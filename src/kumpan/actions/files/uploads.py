"""Take a file in, piece by piece: each piece is safe once answered, and an upload goes on where it
broke off.
"""

from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.store import files
from kumpan.store.tables.files import FileChunk, FileRow

MOST_BYTES = 256 * 1024 * 1024  # own limit: an import is read in memory


def begin_file(context: Context, file_id: UUID, name: str, size: int) -> FileRow:
    """Announce a file of ``size`` bytes. Announcing it again returns the first result."""
    known = context.session.get(FileRow, file_id)
    if known is not None:
        if known.account_id != context.account.id or known.size != size:
            raise Conflict("id_taken", "This id is already used for something else.")
        return known
    if size < 1:
        raise InvalidInput(FieldProblem("size", "empty", "This file is empty."))
    if size > MOST_BYTES:
        raise InvalidInput(
            FieldProblem("size", "too_large", f"Kumpan takes files of up to {MOST_BYTES // 1024 // 1024} MB.")
        )
    row = FileRow(
        id=file_id,
        account_id=context.account.id,
        name=_plain(name),
        media_type="application/octet-stream",
        size=size,
        created_at=context.now,
    )
    context.session.add(row)
    context.session.flush()
    return row


def put_chunk(context: Context, file_id: UUID, position: int, data: bytes) -> int:
    """Store one piece; returns how many bytes have arrived. Sending a piece again changes nothing."""
    row = files.file(context.session, context.account.id, file_id)
    begins = position * files.CHUNK_BYTES
    if begins >= row.size or len(data) != min(files.CHUNK_BYTES, row.size - begins):
        raise InvalidInput(
            FieldProblem(
                "position",
                "wrong_length",
                f"Send pieces of {files.CHUNK_BYTES} bytes; only the last is shorter.",
            )
        )
    known = context.session.get(FileChunk, (file_id, position))
    if known is None:
        context.session.add(FileChunk(file_id=file_id, position=position, data=data))
        context.session.flush()
    elif known.data != data:
        raise Conflict(
            "piece_differs", "This piece was sent before with other content. Choose the file anew."
        )
    return files.received(context.session, row)


def _plain(name: str) -> str:
    """The last part of a path, without what no file name should hold."""
    last = name.replace("\\", "/").rsplit("/", 1)[-1]
    return "".join(c for c in last if c.isprintable()).strip()[:200] or "file"
