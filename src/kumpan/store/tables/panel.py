"""A chlorinator's panel that a pool is bound to, and what it told last."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.core.machines.panel import Told
from kumpan.store.tables.base import Base


class PanelRow(Base):
    """A binding. address: of the device, or ``standin`` for the one beside this folder; told: its last state;
    tried_at, told_at: when it was asked and when it answered last; problem: what is wrong since, empty where
    it answered. poured_at: up to when a simulated one was told what was poured.
    """

    __tablename__ = "panel"
    pool_id: Mapped[UUID] = mapped_column(ForeignKey("pool.id"), primary_key=True)
    address: Mapped[str] = mapped_column(String(200))
    bound_at: Mapped[datetime]
    tried_at: Mapped[datetime | None]
    told_at: Mapped[datetime | None]
    problem: Mapped[str] = mapped_column(String(200))
    source: Mapped[str] = mapped_column(String(80))
    simulated: Mapped[bool]
    told: Mapped[dict[str, Any]]
    poured_at: Mapped[datetime]

    @property
    def state(self) -> Told | None:
        """What it told last, for the core; None before it ever answered."""
        if not self.told:
            return None
        held = dict(self.told)
        held["at"], held["lights"] = datetime.fromisoformat(held["at"]), tuple(held["lights"])
        return Told(**held)
