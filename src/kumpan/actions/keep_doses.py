"""Tick plan steps off, log doses, correct them; delete and undo."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.corrections import keep_correction
from kumpan.actions.keep_tests import check_time, local_instant, repeated, shown_local
from kumpan.core.amounts import parse_amount
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.store import queries
from kumpan.store.tables import DoseRow, Event, TaskRow


@dataclass(frozen=True)
class NewDose:
    """What was poured, as sent. local: when, on the pool's own clock, where it was not just now."""

    id: UUID
    at: datetime
    who: str
    product_id: str
    strength: float | None
    text: str
    unit: str
    local: str = ""


def _dose_row(product_id: str, strength: float | None, text: str, unit: str) -> DoseRow:
    product = PRODUCTS.get(product_id)
    if product is None:
        raise InvalidInput(FieldProblem("product_id", "unknown_product", "Choose what was poured."))
    if strength is not None and not 0.005 <= strength <= product.most_strength:
        raise InvalidInput(
            FieldProblem("strength", "strength", f"At most {product.most_strength * 100:g} % strong.")
        )
    amount = parse_amount(text, unit, form_of(product))
    return DoseRow(product_id=product_id, strength=strength, amount=amount, text=text.strip(), unit=unit)


def log_dose(context: Context, pool_id: UUID, new: NewDose) -> Event:
    """Store a dose poured outside a plan. Sending it again returns the first result."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    known = repeated(context, new.id, pool.id, "dose")
    if known:
        return known
    at = local_instant(new.local, pool.time_zone) if new.local else new.at
    check_time(at, context.now, "local" if new.local else "at")
    event = Event(id=new.id, pool=pool, at=at, kind="dose", who=new.who, created_at=context.now)
    event.dose = _dose_row(new.product_id, new.strength, new.text, new.unit)
    context.session.add(event)
    context.session.flush()
    return event


def tick_step(
    context: Context,
    step_id: UUID,
    event_id: UUID,
    at: datetime,
    who: str,
    text: str | None,
    unit: str | None,
) -> Event:
    """Tick a step of an accepted plan off. What was poured may differ from what was planned."""
    step, plan = queries.plan_step(context.session, context.account.id, step_id, lock=True)
    known = repeated(context, event_id, plan.pool_id, "dose" if step.kind == "add" else "task")
    if known:
        return known
    if step.id in queries.done_events(context.session, [step.id]):
        raise Conflict("already_done", "This step was already ticked off.")
    check_time(at, context.now)
    event = Event(id=event_id, pool=plan.pool, at=at, kind="dose", who=who, created_at=context.now)
    if step.kind == "add" and step.product_id is not None:
        if text is None or unit is None:
            shown = step.shown["amount"]
            text, unit = f"{shown['value']:g}", shown["unit"]
        event.dose = _dose_row(step.product_id, step.strength, text, unit)
        event.dose.plan_step_id = step.id
    elif step.kind in ("dilute", "aerate", "wait"):
        event.kind = "task"
        event.task = TaskRow(
            what=step.kind, fraction=step.shown["fraction"], to_ph=step.shown["to_ph"], plan_step_id=step.id
        )
    else:
        raise Conflict("tick_by_testing", "A re-test is done by typing the new test on the Bench.")
    context.session.add(event)
    context.session.flush()
    return event


def correct_dose(
    context: Context,
    event_id: UUID,
    local: str,
    product_id: str,
    strength: float | None,
    text: str,
    unit: str,
    revision: int,
) -> Event:
    """Correct what was poured or when, if nobody changed it since."""
    event = queries.event(context.session, context.account.id, event_id, "dose", lock=True)
    if event.deleted_at is not None:
        raise Conflict("deleted", "This dose was deleted. Undo the deletion first.")
    check_revision(event.revision, revision, "dose")
    at = event.at if local == shown_local(event) else local_instant(local, event.pool.time_zone)
    check_time(at, context.now, "local")
    row = _dose_row(product_id, strength, text, unit)
    assert event.dose is not None
    keep_correction(event, "you", context.now)
    for name in ("product_id", "strength", "amount", "text", "unit"):
        setattr(event.dose, name, getattr(row, name))
    event.at = at
    event.revision += 1
    context.session.flush()
    return event


def delete_event(context: Context, event_id: UUID) -> Event:
    """Mark an event deleted; again is no change. A test keeps its accepted plan in the log."""
    event = queries.event(context.session, context.account.id, event_id, lock=True)
    if event.deleted_at is None:
        event.deleted_at = context.now
        event.revision += 1
    context.session.flush()
    return event


def undelete_event(context: Context, event_id: UUID) -> Event:
    """Undo a deletion, unless its plan step was ticked again meanwhile."""
    event = queries.event(context.session, context.account.id, event_id, lock=True)
    if event.deleted_at is not None:
        detail = event.dose or event.task
        if detail and detail.plan_step_id and queries.done_events(context.session, [detail.plan_step_id]):
            raise Conflict(
                "already_done", "This step was ticked off again meanwhile, so the earlier tick stays deleted."
            )
        event.deleted_at = None
        event.revision += 1
    context.session.flush()
    return event
