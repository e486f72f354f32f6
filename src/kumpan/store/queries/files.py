"""Files and photos."""

from datetime import datetime
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from kumpan.store.queries.base import existing
from kumpan.store.tables.files import FileRow, PaperRow, PhotoRow
from kumpan.store.tables.jobs import Job


def idle_files(session: Session, before: datetime) -> list[UUID]:
    """Files of every account, begun before an instant, that no photo, paper or job points to."""
    used = (PhotoRow.file_id, PaperRow.file_id, Job.in_file_id, Job.out_file_id)
    idle = [FileRow.id.not_in(select(column).where(column.is_not(None))) for column in used]
    return list(session.scalars(select(FileRow.id).where(FileRow.created_at < before, *idle)))


def photo(session: Session, account_id: UUID, photo_id: UUID) -> PhotoRow:
    """One photo of the account, taken off or not. Raises NotFound for any other."""
    return existing(
        session.scalars(
            select(PhotoRow).where(PhotoRow.id == photo_id, PhotoRow.account_id == account_id)
        ).first(),
        "photo",
    )


def paper(session: Session, account_id: UUID, paper_id: UUID) -> PaperRow:
    """One paper of the account, taken off or not. Raises NotFound for any other."""
    query = select(PaperRow).where(PaperRow.id == paper_id, PaperRow.account_id == account_id)
    return existing(session.scalars(query).first(), "paper")


def photos_of(session: Session, event_ids: list[UUID]) -> dict[UUID, list[PhotoRow]]:
    """Photos of entries, by entry, oldest first; not those taken off."""
    query = select(PhotoRow).where(PhotoRow.event_id.in_(event_ids), PhotoRow.removed_at.is_(None))
    found: dict[UUID, list[PhotoRow]] = {}
    for row in session.scalars(query.order_by(PhotoRow.created_at, PhotoRow.id)):
        assert row.event_id is not None
        found.setdefault(row.event_id, []).append(row)
    return found
