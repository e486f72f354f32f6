"""Pools and their equipment."""

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import CheckConstraint, Float, ForeignKey, Integer, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from kumpan.store.tables.base import Base
from kumpan.store.tables.files import PaperRow, PhotoRow


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

    def known(self, kind: str) -> dict[str, Any]:
        """What is known of its first piece of equipment of a kind."""
        return next((e.details for e in self.equipment if e.kind == kind), {})


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
        primaryjoin="and_(EquipmentRow.id == PhotoRow.equipment_id, PhotoRow.removed_at.is_(None))",
        viewonly=True,
    )
    papers: Mapped[list["PaperRow"]] = relationship(
        order_by="PaperRow.created_at",
        primaryjoin="and_(EquipmentRow.id == PaperRow.equipment_id, PaperRow.removed_at.is_(None))",
        viewonly=True,
    )
