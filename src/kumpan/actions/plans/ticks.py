"""Tick steps of accepted plans off."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.plans.accepted import EARLIER_RULES
from kumpan.actions.times import checked_time
from kumpan.core.dosing.request import by_earlier_rules
from kumpan.core.errors import Conflict
from kumpan.core.log.entry import StepDone
from kumpan.core.log.poured import checked_dose
from kumpan.store import queries
from kumpan.store.stored_plan import read_step
from kumpan.store.tables.log import DoseRow, Event, StepDoneRow
from kumpan.store.tables.plans import PlanStepRow


@dataclass(frozen=True)
class NewTick:
    """A step ticked off: the event's id, when, and what was poured where that differs from the plan."""

    id: UUID
    at: datetime
    text: str | None = None
    unit: str | None = None
    performed_by: str = ""


def tick_step(context: Context, step_id: UUID, new: NewTick) -> Event:
    """Tick a step of an accepted plan off. What was poured may differ from what was planned."""
    session = context.session
    step, plan = queries.plan_step(session, context.account.id, step_id, lock=True)
    kind = "dose" if step.kind == "add" else "step_done"
    known = queries.repeated(session, plan.pool, new.id, kind)
    if known:
        return known
    if step.id in queries.done_events(session, [step.id]):
        raise Conflict("already_done", "This step was already ticked off.")
    held = plan.detail
    if by_earlier_rules(getattr(held, "rule_version", "")):
        raise Conflict("earlier_rules", EARLIER_RULES)
    at = checked_time(new.at, context.now)
    event = Event(
        id=new.id,
        pool=plan.pool,
        at=at,
        kind=kind,
        performed_by=new.performed_by or context.actor,
        created_at=context.now,
    )
    detail = _poured(plan, step, new) if kind == "dose" else _done(step)
    detail.plan_step_id = step.id
    event.detail = detail
    session.add(event)
    session.flush()
    return event


def _poured(plan: Event, step: PlanStepRow, new: NewTick) -> DoseRow:
    """The dose a step asked for, or as much of it as was poured."""
    text, unit = new.text, new.unit
    if text is None or unit is None:
        held = plan.detail
        amount = read_step(getattr(held, "form", 1), step.shown).amount
        assert amount is not None
        text, unit = f"{amount.value:g}", amount.unit
    return DoseRow.of(checked_dose(step.product_id or "", step.strength, text, unit))


def _done(step: PlanStepRow) -> StepDoneRow:
    if step.kind not in ("dilute", "aerate", "wait"):
        raise Conflict("tick_by_testing", "A re-test is done by typing the new test on the Bench.")
    return StepDoneRow.of(StepDone(step.kind, step.fraction, step.to_ph))
