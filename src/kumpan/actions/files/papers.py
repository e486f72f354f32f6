"""Papers of equipment: manuals, receipts and warranties, kept as they are beside the piece they belong to."""

from dataclasses import dataclass
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.store import files, queries
from kumpan.store.tables.files import PaperRow

MOST_BYTES = 20 * 1024 * 1024  # our own: a scanned manual
_MOST_EACH = 12
# What a file is follows from how it begins, not from its name.
_BEGINS = (
    (b"%PDF-", "application/pdf"),
    (b"\xff\xd8\xff", "image/jpeg"),
    (b"\x89PNG\r\n\x1a\n", "image/png"),
)


@dataclass(frozen=True)
class NewPaper:
    """An uploaded paper and the piece it belongs to."""

    id: UUID
    file_id: UUID
    equipment_id: UUID


def media_type_of(data: bytes) -> str:
    """What a paper is. Raises InvalidInput at ``file`` for anything but a PDF, JPEG or PNG."""
    found = next((kind for begins, kind in _BEGINS if data.startswith(begins)), None)
    if found is None:
        text = "Kumpan keeps papers as PDF, JPEG or PNG. Save it as one of these."
        raise InvalidInput(FieldProblem("file", "not_a_paper", text))
    check_size(len(data))
    return found


def check_size(size: int) -> None:
    """Raises InvalidInput at ``file`` for a paper of more bytes than Kumpan takes."""
    if size > MOST_BYTES:
        text = f"Kumpan takes papers of up to {MOST_BYTES // 1024 // 1024} MB."
        raise InvalidInput(FieldProblem("file", "too_large", text))


def add_paper(context: Context, new: NewPaper) -> PaperRow:
    """Keep an uploaded paper with a piece of equipment. Sending it again returns the first result."""
    known = context.session.get(PaperRow, new.id)
    if known is not None:
        if known.account_id != context.account.id:
            raise Conflict("id_taken", "This id is already used for something else.")
        return known
    owner = queries.equipment(context.session, context.account.id, new.equipment_id, lock=True)
    if len(owner.papers) >= _MOST_EACH:
        raise InvalidInput(FieldProblem("file", "too_many", f"At most {_MOST_EACH} papers each."))
    upload = files.whole_file(context.session, context.account.id, new.file_id)
    check_size(upload.size)  # before all of it is read
    media_type = media_type_of(files.content(context.session, new.file_id))
    row = PaperRow(
        id=new.id,
        account_id=context.account.id,
        equipment_id=owner.id,
        file_id=upload.id,
        name=upload.name[:200],
        media_type=media_type,
        created_at=context.now,
    )
    context.session.add(row)
    context.session.flush()
    context.session.expire(owner, ["papers"])
    return row


def remove_paper(context: Context, paper_id: UUID, away: bool) -> PaperRow:
    """Take a paper off, or put it back (not ``away``). Nothing of it is dropped."""
    row = queries.paper(context.session, context.account.id, paper_id)
    if (row.removed_at is None) == away:
        row.removed_at = context.now if away else None
    context.session.flush()
    return row


def paper_content(context: Context, paper_id: UUID) -> tuple[PaperRow, bytes]:
    """A paper and what it holds."""
    row = queries.paper(context.session, context.account.id, paper_id)
    return row, files.content(context.session, row.file_id)
