"""Accepted plans, their steps and what ticked them off."""

from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from kumpan.store.queries.base import found
from kumpan.store.queries.log import with_details
from kumpan.store.tables.log import DoseRow, Event, StepDoneRow
from kumpan.store.tables.plans import PlanStepRow
from kumpan.store.tables.pools import Pool


def plan_step(
    session: Session, account_id: UUID, step_id: UUID, lock: bool = False
) -> tuple[PlanStepRow, Event]:
    """A step of an accepted plan and the plan's event. Locked, so that it is ticked once."""
    query = (
        select(PlanStepRow, Event)
        .join(Event, Event.id == PlanStepRow.plan_event_id)
        .join(Pool)
        .where(PlanStepRow.id == step_id, Pool.account_id == account_id, Event.deleted_at.is_(None))
    )
    row = session.execute(query.with_for_update(of=PlanStepRow) if lock else query).first()
    step, event = found(row, "plan step")
    return step, event


def done_events(session: Session, step_ids: list[UUID]) -> dict[UUID, Event]:
    """Live events that ticked these steps off, by step."""
    done: dict[UUID, Event] = {}
    for detail in (DoseRow, StepDoneRow):
        rows = session.execute(
            select(detail.plan_step_id, Event)
            .join(Event, Event.id == detail.event_id)
            .where(detail.plan_step_id.in_(step_ids), Event.deleted_at.is_(None))
        )
        done |= {step_id: event for step_id, event in rows if step_id}
    with_details(session, done.values())
    return done
