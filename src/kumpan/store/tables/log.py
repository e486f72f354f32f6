"""The log: one ``event`` row a thing that happened, and a detail table for what is particular to its kind.

A detail table is a ``Detail``; ``core.log.kinds`` names the one of each kind.
"""

from dataclasses import fields
from datetime import datetime
from typing import TYPE_CHECKING, Any, ClassVar, Self
from uuid import UUID

from sqlalchemy import Float, ForeignKey, Index, Integer, String, Text
from sqlalchemy.orm import Mapped, backref, declared_attr, mapped_column, relationship

from kumpan.core.log import entry as core
from kumpan.core.log.entry import LogEntry
from kumpan.core.log.kinds import KINDS
from kumpan.core.water.readings import Reading
from kumpan.store.tables.base import Base
from kumpan.store.tables.pools import Pool

if TYPE_CHECKING:
    from kumpan.store.tables.files import PhotoRow
    from kumpan.store.tables.sheets import TickRow


class Event(Base):
    """One thing that happened to a pool. kind: one of ``core.log.kinds``; sampling_point: where a test's
    sample was taken.
    """

    __tablename__ = "event"
    # The second finds the newest of a kind that a pool has few of, without reading all its events.
    __table_args__ = (
        Index("ix_event_pool_at", "pool_id", "at", "id"),
        Index("ix_event_pool_kind_at", "pool_id", "kind", "at", "id"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    pool_id: Mapped[UUID] = mapped_column(ForeignKey("pool.id"))
    at: Mapped[datetime]
    kind: Mapped[str] = mapped_column(String(20))
    performed_by: Mapped[str] = mapped_column(String(80))
    sampling_point: Mapped[str] = mapped_column(String(40), default="", server_default="")
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    deleted_at: Mapped[datetime | None]
    # The import that brought it; no foreign key: a job may be forgotten.
    job_id: Mapped[UUID | None] = mapped_column(index=True)

    # None is loaded unasked: who shows many asks for all at once (``queries.log.with_details``).
    pool: Mapped[Pool] = relationship()
    readings: Mapped[list["ReadingRow"]] = relationship(
        cascade="all, delete-orphan", order_by="ReadingRow.position"
    )
    corrections: Mapped[list["CorrectionRow"]] = relationship(order_by="CorrectionRow.at")
    ticks: Mapped[list["TickRow"]] = relationship(back_populates="event")
    photos: Mapped[list["PhotoRow"]] = relationship(
        order_by="PhotoRow.created_at",
        primaryjoin="and_(Event.id == PhotoRow.event_id, PhotoRow.removed_at.is_(None))",
        viewonly=True,
    )

    @property
    def detail(self) -> "Detail | None":
        """The row of its kind's detail table; None for a test, whose readings are its detail."""
        held: Detail | None = getattr(self, f"{KINDS[self.kind].detail}_detail", None)
        return held

    @detail.setter
    def detail(self, row: "Detail") -> None:
        setattr(self, f"{row.__tablename__}_detail", row)

    @property
    def entry(self) -> LogEntry:
        """It as the core sees it."""
        held = self.detail
        return LogEntry(
            str(self.id),
            self.at,
            self.kind,
            core.Details() if held is None else held.payload(),
            tuple(r.reading for r in self.readings),
            self.sampling_point,
        )


class Detail:
    """A table with at most one row an event. holds: the core's payload, whose fields are its columns."""

    holds: ClassVar[type[Any]]
    __tablename__: str
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), primary_key=True)

    @declared_attr
    def event(cls) -> Mapped[Event]:
        """Its event; the event finds it as ``<table>_detail``."""
        name = f"{cls.__tablename__}_detail"
        return relationship(Event, backref=backref(name, uselist=False, lazy="select"))

    @classmethod
    def of(cls, payload: object) -> Self:
        """A row from a payload."""
        return cls(**{f.name: getattr(payload, f.name) for f in fields(cls.holds)})

    def payload(self) -> object:
        """What it holds, for the core."""
        return self.holds(**{f.name: getattr(self, f.name) for f in fields(self.holds)})


class ReadingRow(Base):
    """One reading of a test. value is canonical; text and unit are as typed."""

    __tablename__ = "reading"
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), primary_key=True)
    measure: Mapped[str] = mapped_column(String(20), primary_key=True)
    position: Mapped[int] = mapped_column(Integer)
    value: Mapped[float] = mapped_column(Float(53))
    text: Mapped[str] = mapped_column(String(40))
    unit: Mapped[str] = mapped_column(String(10))
    method: Mapped[str] = mapped_column(String(20))
    drop_count: Mapped[int | None] = mapped_column(Integer)

    @property
    def reading(self) -> Reading:
        """It as the core sees it."""
        return Reading(self.measure, self.value, self.text, self.unit, self.method, self.drop_count)

    @classmethod
    def rows(cls, readings: list[Reading]) -> list["ReadingRow"]:
        """Rows of a test's readings, in their order."""
        return [cls(position=i, **vars(r)) for i, r in enumerate(readings)]


class DoseRow(Detail, Base):
    """What was poured. amount: g, or mL for liquids; text and unit as typed."""

    __tablename__ = "dose"
    holds = core.Dose
    product_id: Mapped[str] = mapped_column(String(40))
    strength: Mapped[float | None] = mapped_column(Float(53))
    amount: Mapped[float] = mapped_column(Float(53))
    text: Mapped[str] = mapped_column(String(40))
    unit: Mapped[str] = mapped_column(String(20))


class StepDoneRow(Detail, Base):
    """A plan's step done that is no dose: fresh water (fraction), aeration (to_ph) or a wait."""

    __tablename__ = "step_done"
    holds = core.StepDone
    what: Mapped[str] = mapped_column(String(20))
    fraction: Mapped[float | None] = mapped_column(Float(53))
    to_ph: Mapped[float | None] = mapped_column(Float(53))
    note: Mapped[str | None] = mapped_column(Text)


class EntryRow(Detail, Base):
    """What a kind described by fields holds. details: canonical values by field; typed: the same as typed."""

    __tablename__ = "entry"
    details: Mapped[dict[str, Any]]
    typed: Mapped[dict[str, Any]]
    note: Mapped[str] = mapped_column(Text)

    def payload(self) -> core.Details:
        """What it holds, for the core."""
        return core.Details(self.details, self.typed, self.note)


class MarkRow(Detail, Base):
    """A mark on ordered work. sheet_id: whose; task_id: of a standing duty, whose table is to come."""

    __tablename__ = "mark"
    holds = core.Mark
    sheet_id: Mapped[str | None] = mapped_column(String(36), index=True)
    task_id: Mapped[str | None] = mapped_column(String(36), index=True)
    key: Mapped[str] = mapped_column(String(60))
    verb: Mapped[str] = mapped_column(String(10))
    value: Mapped[str] = mapped_column(String(400))


class CorrectionRow(Base):
    """What an event said before a correction: in words and as data; who corrected it and when."""

    __tablename__ = "correction"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), index=True)
    at: Mapped[datetime]
    actor: Mapped[str] = mapped_column(String(80))
    was_at: Mapped[datetime]
    was: Mapped[str] = mapped_column(Text)
    before: Mapped[dict[str, Any]]


def detail_tables() -> dict[str, type[Detail]]:
    """The detail tables by name."""
    return {cls.__tablename__: cls for cls in Detail.__subclasses__()}
