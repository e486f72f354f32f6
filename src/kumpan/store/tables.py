"""The tables. One ``event`` row per thing that happened, with typed detail tables beside it.

Instants are UTC; canonical values are litres, grams, millilitres, ppm, Celsius; what was
typed is kept as typed beside them. Delete marks, undo unmarks.
"""

from datetime import UTC, date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import JSON, Boolean, CheckConstraint, Float, ForeignKey, Index, Integer, String, Text, Uuid
from sqlalchemy.dialects.mysql import DATETIME, MEDIUMBLOB
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship
from sqlalchemy.types import TypeDecorator


class UtcInstant(TypeDecorator[datetime]):
    """An aware datetime stored as UTC with microseconds."""

    impl = DATETIME(fsp=6)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    type_annotation_map = {datetime: UtcInstant, UUID: Uuid, dict[str, Any]: JSON, list[Any]: JSON}


class Account(Base):
    """Who owns pools. Sign-in comes later; every query already names the account."""

    __tablename__ = "account"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    measures: Mapped[str] = mapped_column(String(10), default="us")  # us or metric
    currency: Mapped[str] = mapped_column(String(3), default="USD")
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]


class Pool(Base):
    """A pool. Archived, never dropped. volume_input: how the volume was given, as typed, how sure it is, and
    the proofs taken from the log.
    """

    __tablename__ = "pool"
    __table_args__ = (CheckConstraint("volume_l > 0", name="pool_volume_positive"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    name: Mapped[str] = mapped_column(String(80))
    place: Mapped[str] = mapped_column(String(120))
    latitude: Mapped[float | None] = mapped_column(Float(53))
    longitude: Mapped[float | None] = mapped_column(Float(53))
    time_zone: Mapped[str] = mapped_column(String(64))
    volume_l: Mapped[float] = mapped_column(Float(53))
    volume_input: Mapped[dict[str, Any]]
    surface: Mapped[str] = mapped_column(String(20))
    chlorine_source: Mapped[str] = mapped_column(String(20))
    installation: Mapped[str] = mapped_column(String(20))
    sanitizer: Mapped[str] = mapped_column(String(20))
    school: Mapped[str] = mapped_column(String(40))
    settings: Mapped[dict[str, Any] | None]  # own targets, fill water, hose, sun: see actions.keep_targets
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    archived_at: Mapped[datetime | None]

    equipment: Mapped[list["EquipmentRow"]] = relationship(
        order_by="EquipmentRow.created_at",
        lazy="selectin",
        primaryjoin="and_(Pool.id == EquipmentRow.pool_id, EquipmentRow.removed_at.is_(None))",
        viewonly=True,
    )


class EquipmentRow(Base):
    """One piece of a pool's equipment. details: canonical values by field (``core.equipment``); typed: the
    same as typed.
    """

    __tablename__ = "equipment"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    pool_id: Mapped[UUID] = mapped_column(ForeignKey("pool.id"), index=True)
    kind: Mapped[str] = mapped_column(String(20))
    make_model: Mapped[str] = mapped_column(String(120))
    details: Mapped[dict[str, Any]]
    typed: Mapped[dict[str, Any]]
    bought: Mapped[date | None]
    warranty_until: Mapped[date | None]
    note: Mapped[str] = mapped_column(String(400))
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    removed_at: Mapped[datetime | None]
    photos: Mapped[list["PhotoRow"]] = relationship(
        order_by="PhotoRow.created_at",
        lazy="selectin",
        primaryjoin="and_(EquipmentRow.id == PhotoRow.equipment_id, PhotoRow.removed_at.is_(None))",
        viewonly=True,
    )


class ShelfItem(Base):
    """A product that stands ready. stock: as counted at counted_at; doses logged since have drawn on it.
    typed: texts and units as typed.

    Amounts are g, or mL for liquids; rate per 10,000 gal; price of one package. strength: when bought.
    """

    __tablename__ = "shelf_item"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    product_id: Mapped[str] = mapped_column(String(40))
    strength: Mapped[float | None] = mapped_column(Float(53))
    stock: Mapped[float | None] = mapped_column(Float(53))
    counted_at: Mapped[datetime | None]
    pack: Mapped[float | None] = mapped_column(Float(53))
    price_minor: Mapped[int | None] = mapped_column(Integer)
    minimum: Mapped[float | None] = mapped_column(Float(53))
    bought: Mapped[date | None]
    kept_c: Mapped[float | None] = mapped_column(Float(53))
    rate: Mapped[float | None] = mapped_column(Float(53))
    typed: Mapped[dict[str, Any]]
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    removed_at: Mapped[datetime | None]


class Event(Base):
    """One thing that happened to a pool. kind: water_test, plan, dose, task, or one of
    ``core.happenings``.
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
    who: Mapped[str] = mapped_column(String(80))
    spot: Mapped[str] = mapped_column(
        String(40), default="", server_default=""
    )  # where a test's sample was taken
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    deleted_at: Mapped[datetime | None]
    job_id: Mapped[UUID | None] = mapped_column(
        index=True
    )  # the import that brought it; no foreign key: a job may be forgotten

    pool: Mapped[Pool] = relationship(lazy="joined", innerjoin=True)
    readings: Mapped[list["ReadingRow"]] = relationship(
        back_populates="event", cascade="all, delete-orphan", order_by="ReadingRow.position", lazy="selectin"
    )
    dose: Mapped["DoseRow | None"] = relationship(back_populates="event", lazy="selectin")
    task: Mapped["TaskRow | None"] = relationship(back_populates="event", lazy="selectin")
    happening: Mapped["HappeningRow | None"] = relationship(back_populates="event", lazy="selectin")
    corrections: Mapped[list["CorrectionRow"]] = relationship(order_by="CorrectionRow.at", lazy="selectin")
    photos: Mapped[list["PhotoRow"]] = relationship(
        order_by="PhotoRow.created_at",
        lazy="selectin",
        primaryjoin="and_(Event.id == PhotoRow.event_id, PhotoRow.removed_at.is_(None))",
        viewonly=True,
    )
    plan: Mapped["PlanRow | None"] = relationship(
        back_populates="event", lazy="selectin", foreign_keys="PlanRow.event_id"
    )


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
    event: Mapped[Event] = relationship(back_populates="readings")


class PlanRow(Base):
    """An accepted plan, stored as given: inputs, rule version and steps; never recomputed."""

    __tablename__ = "plan"
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), primary_key=True)
    test_event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), index=True)
    rule_version: Mapped[str] = mapped_column(String(20))
    headline: Mapped[str] = mapped_column(String(400))
    swim: Mapped[str] = mapped_column(String(400))
    inputs: Mapped[dict[str, Any]]
    event: Mapped[Event] = relationship(back_populates="plan", foreign_keys=[event_id])
    steps: Mapped[list["PlanStepRow"]] = relationship(order_by="PlanStepRow.position", lazy="selectin")


class PlanStepRow(Base):
    """One step of an accepted plan. due_at: when it may be done; shown: the step as it was shown."""

    __tablename__ = "plan_step"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    plan_event_id: Mapped[UUID] = mapped_column(ForeignKey("plan.event_id"), index=True)
    position: Mapped[int] = mapped_column(Integer)
    kind: Mapped[str] = mapped_column(String(20))
    due_at: Mapped[datetime]
    product_id: Mapped[str | None] = mapped_column(String(40))
    strength: Mapped[float | None] = mapped_column(Float(53))
    amount: Mapped[float | None] = mapped_column(Float(53))  # g, or mL for liquids
    shown: Mapped[dict[str, Any]]


class DoseRow(Base):
    """What was poured. amount: g, or mL for liquids; text and unit as typed."""

    __tablename__ = "dose"
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), primary_key=True)
    product_id: Mapped[str] = mapped_column(String(40))
    strength: Mapped[float | None] = mapped_column(Float(53))
    amount: Mapped[float] = mapped_column(Float(53))
    text: Mapped[str] = mapped_column(String(40))
    unit: Mapped[str] = mapped_column(String(20))
    plan_step_id: Mapped[UUID | None] = mapped_column(ForeignKey("plan_step.id"), index=True)
    event: Mapped[Event] = relationship(back_populates="dose")
    planned: Mapped[PlanStepRow | None] = relationship(lazy="selectin")


class TaskRow(Base):
    """A plan step done that is no dose: fresh water (fraction) or aeration (to_ph)."""

    __tablename__ = "task"
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), primary_key=True)
    what: Mapped[str] = mapped_column(String(20))
    fraction: Mapped[float | None] = mapped_column(Float(53))
    to_ph: Mapped[float | None] = mapped_column(Float(53))
    note: Mapped[str | None] = mapped_column(Text)
    plan_step_id: Mapped[UUID | None] = mapped_column(ForeignKey("plan_step.id"), index=True)
    event: Mapped[Event] = relationship(back_populates="task")


class HappeningRow(Base):
    """What happened beside tests and doses. details: canonical values by field; typed: the same as typed."""

    __tablename__ = "happening"
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), primary_key=True)
    details: Mapped[dict[str, Any]]
    typed: Mapped[dict[str, Any]]
    note: Mapped[str] = mapped_column(Text)
    event: Mapped[Event] = relationship(back_populates="happening")


class CorrectionRow(Base):
    """What an event said before a correction: in words and as data; who corrected it and when."""

    __tablename__ = "correction"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), index=True)
    at: Mapped[datetime]
    who: Mapped[str] = mapped_column(String(80))
    was_at: Mapped[datetime]
    was: Mapped[str] = mapped_column(Text)
    before: Mapped[dict[str, Any]]


class FileRow(Base):
    """A file kept in the database, in chunks, so that one backup holds everything. size: of all chunks; it is
    whole once they add up to it.
    """

    __tablename__ = "file"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    name: Mapped[str] = mapped_column(String(200))
    media_type: Mapped[str] = mapped_column(String(80))
    size: Mapped[int] = mapped_column(Integer)
    created_at: Mapped[datetime]


class FileChunk(Base):
    """One piece of a file; every piece but the last is as long as the first."""

    __tablename__ = "file_chunk"
    file_id: Mapped[UUID] = mapped_column(ForeignKey("file.id"), primary_key=True)
    position: Mapped[int] = mapped_column(Integer, primary_key=True)
    data: Mapped[bytes] = mapped_column(MEDIUMBLOB)


class PhotoRow(Base):
    """A photo, encoded anew, of an event or of a piece of equipment (its receipt)."""

    __tablename__ = "photo"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    event_id: Mapped[UUID | None] = mapped_column(ForeignKey("event.id"), index=True)
    equipment_id: Mapped[UUID | None] = mapped_column(ForeignKey("equipment.id"), index=True)
    file_id: Mapped[UUID] = mapped_column(ForeignKey("file.id"))
    width: Mapped[int] = mapped_column(Integer)
    height: Mapped[int] = mapped_column(Integer)
    created_at: Mapped[datetime]
    removed_at: Mapped[datetime | None]


class Job(Base):
    """Long work. A worker claims it until ``lease_until`` (the database's clock) and extends that as it goes.

    state: waiting, running, asks (for a person's yes), done, failed, cancelled. stage: what is or will be
    done. given: what was asked for; found: what came of it. worker: who holds the lease. claims: how often it
    was taken up without an end. revision: of what the person chose; work leaves it alone.
    """

    __tablename__ = "job"
    __table_args__ = (Index("ix_job_state", "state", "created_at"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    kind: Mapped[str] = mapped_column(String(20))
    state: Mapped[str] = mapped_column(String(10))
    stage: Mapped[str] = mapped_column(String(10))
    given: Mapped[dict[str, Any]]
    found: Mapped[dict[str, Any]]
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
