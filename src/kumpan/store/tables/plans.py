"""Accepted plans."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Float, ForeignKey, Integer, String
from sqlalchemy.orm import Mapped, backref, declared_attr, mapped_column, relationship

from kumpan.core.log.entry import PlanAccepted
from kumpan.store.tables.base import Base
from kumpan.store.tables.log import Detail, Event


class PlanRow(Detail, Base):
    """An accepted plan, stored as given: inputs, rule version and steps; never recomputed. form: the version
    of what ``inputs``, ``follows`` and the steps' ``shown`` hold (``store.stored_plan``). follows: what was
    told of later visits and of the whole way; none in plans of earlier rules.
    """

    __tablename__ = "plan"
    test_event_id: Mapped[UUID] = mapped_column(ForeignKey("event.id"), index=True)
    rule_version: Mapped[str] = mapped_column(String(20))
    headline: Mapped[str] = mapped_column(String(400))
    swim: Mapped[str] = mapped_column(String(400))
    form: Mapped[int] = mapped_column(Integer, default=1, server_default="1")
    inputs: Mapped[dict[str, Any]]
    follows: Mapped[dict[str, Any] | None]
    steps: Mapped[list["PlanStepRow"]] = relationship(order_by="PlanStepRow.position", lazy="selectin")

    @declared_attr
    def event(cls) -> Mapped[Event]:
        """The event of its acceptance; it names that of its test too."""
        held = backref("plan_detail", uselist=False, lazy="select")
        return relationship(Event, backref=held, foreign_keys="PlanRow.event_id")

    def payload(self) -> PlanAccepted:
        """What it holds, for the core."""
        return PlanAccepted(self.headline, sum(s.kind == "add" for s in self.steps))


class PlanStepRow(Base):
    """One step of an accepted plan. due_at: when it may be done; fraction: of the water, of a step of fresh
    water; to_ph: of an aeration; shown: the step as it was shown, in its plan's form.
    """

    __tablename__ = "plan_step"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    plan_event_id: Mapped[UUID] = mapped_column(ForeignKey("plan.event_id"), index=True)
    position: Mapped[int] = mapped_column(Integer)
    kind: Mapped[str] = mapped_column(String(20))
    due_at: Mapped[datetime]
    product_id: Mapped[str | None] = mapped_column(String(40))
    strength: Mapped[float | None] = mapped_column(Float(53))
    amount: Mapped[float | None] = mapped_column(Float(53))  # g, or mL for liquids
    fraction: Mapped[float | None] = mapped_column(Float(53))
    to_ph: Mapped[float | None] = mapped_column(Float(53))
    shown: Mapped[dict[str, Any]]
