"""Ordered work under way: sheets, their steps, and what ticked them."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, ForeignKeyConstraint, Integer, String
from sqlalchemy.orm import Mapped, backref, declared_attr, mapped_column, relationship

from kumpan.core.log.entry import SheetBegun
from kumpan.store.tables.base import Base
from kumpan.store.tables.log import Detail, Event


class SheetRow(Detail, Base):
    """A sheet, as it was begun: an accepted dose plan or a guide. Its event says of which pool, by whom and
    when; deleting that takes the sheet back.

    form: the version of what ``inputs``, ``follows`` and the steps' ``shown`` hold (``store.stored_sheet``).
    subject: what a guide is about. test_event_id: the test a plan followed from. follows: what was told of
    later visits and of the whole way. ended_at, state, next_at, next_line: as the fold had them when an entry
    last moved it (``store.work``).
    """

    __tablename__ = "sheet"
    subject: Mapped[str] = mapped_column(String(20), default="dose", server_default="dose")
    test_event_id: Mapped[UUID | None] = mapped_column(ForeignKey("event.id"), index=True)
    rule_version: Mapped[str] = mapped_column(String(20))
    headline: Mapped[str] = mapped_column(String(400))
    swim: Mapped[str] = mapped_column(String(400))
    form: Mapped[int] = mapped_column(Integer, default=1, server_default="1")
    inputs: Mapped[dict[str, Any]]
    follows: Mapped[dict[str, Any] | None]
    ended_at: Mapped[datetime | None]
    state: Mapped[str] = mapped_column(String(12), default="under_way", server_default="under_way")
    next_at: Mapped[datetime | None]
    next_line: Mapped[str] = mapped_column(String(200), default="", server_default="")
    steps: Mapped[list["SheetStepRow"]] = relationship(order_by="SheetStepRow.position", lazy="selectin")

    @declared_attr
    def event(cls) -> Mapped[Event]:
        """The event of its beginning; it names that of its test too."""
        held = backref("sheet_detail", uselist=False, lazy="select")
        return relationship(Event, backref=held, foreign_keys="SheetRow.event_id")

    def payload(self) -> SheetBegun:
        """What it holds, for the core."""
        pours = sum(step.shown.get("act", {}).get("kind") == "add" for step in self.steps)
        return SheetBegun(self.subject, self.headline, pours)


class SheetStepRow(Base):
    """One step of a sheet. due_at: when it was foretold to open; shown: as it was shown, in its sheet's
    form, and under ``act`` what a rule needs of it.
    """

    __tablename__ = "sheet_step"
    event_id: Mapped[UUID] = mapped_column(ForeignKey("sheet.event_id"), primary_key=True)
    key: Mapped[str] = mapped_column(String(60), primary_key=True)
    position: Mapped[int] = mapped_column(Integer)
    due_at: Mapped[datetime]
    shown: Mapped[dict[str, Any]]


class TickRow(Base):
    """An entry that was written for a step. It counts while the entry lives."""

    __tablename__ = "tick"
    __table_args__ = (ForeignKeyConstraint(["sheet_id", "key"], ["sheet_step.event_id", "sheet_step.key"]),)
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), primary_key=True)
    sheet_id: Mapped[UUID] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(String(60), primary_key=True)
    event: Mapped[Event] = relationship(back_populates="ticks")
    step: Mapped[SheetStepRow] = relationship(lazy="joined", innerjoin=True)
