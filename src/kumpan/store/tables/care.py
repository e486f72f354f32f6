"""Recurring work: the tasks of a pool, and the calendars that others read."""

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, Index, Integer, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from kumpan.store.tables.base import Base
from kumpan.store.tables.pools import Pool


class TaskRow(Base):
    """A standing duty of a pool. subject: its kind of work; rule_id: of ``core.care.rules``; anchor, rrule,
    days, params: how it comes round (``core.care.schedule``); season: the days between which it counts,
    ``MM-DD/MM-DD``, empty all year. own: whether the person set how it comes round; off_at: when they turned
    it off; ended_at: when the pool had no more use for it.

    next_due, next_why, next_lapses: as worked out when an entry last moved it (``store.care``).
    """

    __tablename__ = "task"
    __table_args__ = (Index("ix_task_account_due", "account_id", "next_due"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"))
    pool_id: Mapped[UUID] = mapped_column(ForeignKey("pool.id"), index=True)
    subject: Mapped[str] = mapped_column(String(20))
    rule_id: Mapped[str] = mapped_column(String(40))
    anchor: Mapped[str] = mapped_column(String(12))
    rrule: Mapped[str] = mapped_column(String(200))
    days: Mapped[int] = mapped_column(Integer)
    params: Mapped[dict[str, Any]]
    season: Mapped[str] = mapped_column(String(11))
    since: Mapped[date]
    own: Mapped[bool]
    next_due: Mapped[date | None]
    next_why: Mapped[str] = mapped_column(String(400), default="")
    next_lapses: Mapped[date | None]
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    off_at: Mapped[datetime | None]
    ended_at: Mapped[datetime | None]

    pool: Mapped[Pool] = relationship()


class FeedRow(Base):
    """A calendar of an account that other programs read by its token, of which only a digest is kept.
    pool_id: of one pool, None for all. ended_at: when it was taken back.
    """

    __tablename__ = "feed"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    pool_id: Mapped[UUID | None] = mapped_column(ForeignKey("pool.id"))
    token_sha256: Mapped[str] = mapped_column(String(64), unique=True)
    created_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]
