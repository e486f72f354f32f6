"""Long work."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Boolean, ForeignKey, Index, Integer, String
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.store.tables.base import Base


class Job(Base):
    """Long work. A worker claims it until ``lease_until`` (the database's clock) and extends that as it goes.

    state: waiting, running, asks (for a person's yes), done, failed, cancelled. stage: what is or will be
    done. given: what was asked for; result: what came of it. worker: who holds the lease. claims: how often
    it was taken up without an end. revision: of what the person chose; work leaves it alone.
    """

    __tablename__ = "job"
    __table_args__ = (Index("ix_job_state", "state", "created_at"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    kind: Mapped[str] = mapped_column(String(20))
    state: Mapped[str] = mapped_column(String(10))
    stage: Mapped[str] = mapped_column(String(10))
    parameters: Mapped[dict[str, Any]]
    result: Mapped[dict[str, Any]]
    done: Mapped[int] = mapped_column(Integer, default=0)
    total: Mapped[int] = mapped_column(Integer, default=0)
    worker: Mapped[str | None] = mapped_column(String(60))
    lease_until: Mapped[datetime | None]
    claims: Mapped[int] = mapped_column(Integer, default=0)
    cancel_asked: Mapped[bool] = mapped_column(Boolean, default=False)
    in_file_id: Mapped[UUID | None] = mapped_column(ForeignKey("file.id"))
    out_file_id: Mapped[UUID | None] = mapped_column(ForeignKey("file.id"))
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
