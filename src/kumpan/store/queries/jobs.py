"""Long work."""

from datetime import datetime
from uuid import UUID

from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from kumpan.store.queries.base import existing
from kumpan.store.tables.jobs import Job


def job(session: Session, account_id: UUID, job_id: UUID, lock: bool = False) -> Job:
    """One job of the account. Raises NotFound for any other."""
    query = select(Job).where(Job.id == job_id, Job.account_id == account_id)
    return existing(session.scalars(query.with_for_update() if lock else query).first(), "job")


def jobs(session: Session, account_id: UUID, most: int) -> list[Job]:
    """The account's jobs, newest first."""
    return list(
        session.scalars(
            select(Job)
            .where(Job.account_id == account_id)
            .order_by(Job.created_at.desc(), Job.id.desc())
            .limit(most)
        )
    )


def is_used_by_jobs(session: Session, file_id: UUID) -> bool:
    """Whether a job reads a file, or made it."""
    query = select(Job.id).where(or_(Job.in_file_id == file_id, Job.out_file_id == file_id)).limit(1)
    return session.scalar(query) is not None


def ended_jobs(session: Session, before: datetime) -> list[Job]:
    """Jobs of every account that ended before an instant and still hold a file."""
    held = or_(Job.in_file_id.is_not(None), Job.out_file_id.is_not(None))
    return list(
        session.scalars(select(Job).where(Job.ended_at < before, held).with_for_update(skip_locked=True))
    )
