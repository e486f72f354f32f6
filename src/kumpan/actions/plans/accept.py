"""Accept the plan that follows from a test, as given."""

from dataclasses import dataclass
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.plans.preview import usual_products
from kumpan.actions.plans.request import plan_request
from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import Terms
from kumpan.core.dosing.supply import checked_choices
from kumpan.core.dosing.view import show_plan
from kumpan.core.errors import Conflict
from kumpan.store import queries
from kumpan.store.stored_sheet import FORM, act_of, store_follows, store_inputs, store_step, store_swim
from kumpan.store.tables.log import Event
from kumpan.store.tables.sheets import SheetRow, SheetStepRow
from kumpan.store.work import moved, run_alive


@dataclass(frozen=True)
class NewPlan:
    """A plan to accept: its id, products chosen for roles, and what was asked beside the readings."""

    id: UUID
    products: dict[str, tuple[str, float | None]]
    terms: Terms


def accept_plan(context: Context, test: Event, new: NewPlan) -> Event:
    """Store the plan that follows from a logged test; repeating returns the first result."""
    session, pool = context.session, test.pool
    known = queries.repeated(session, pool, new.id, "plan")
    if known:
        return known
    if run_alive(session, pool.id, context.now) is not None:
        raise Conflict("run_under_way", "A clear-up has the water: save the test alone, and go on with it.")
    readings = [r.reading for r in test.readings]
    ready = queries.at_hand(session, context.account.id, context.now)
    chosen = usual_products(context, pool, ready) | checked_choices(new.products)
    request = plan_request(context, pool, readings, (chosen, ready), new.terms)
    plan = make_plan(request)
    shown = show_plan(plan, request)
    if not shown.steps:
        text = "This water needs nothing: there is no plan to accept. Save the test alone."
        raise Conflict("nothing_to_do", text)
    event = Event(
        id=new.id,
        pool=pool,
        at=context.now,
        kind="plan",
        performed_by=context.actor,
        created_at=context.now,
    )
    event.detail = SheetRow(
        subject="dose",
        test_event_id=test.id,
        rule_version=shown.rule_version,
        headline=shown.headline,
        swim=shown.swim,
        form=FORM,
        inputs=store_inputs(pool, request, shown.choices) | store_swim(plan.swim),
        follows=store_follows(shown, request, plan),
        steps=[
            SheetStepRow(key=step.key, position=i, due_at=view.at, shown=store_step(view, act_of(step)))
            for i, (view, step) in enumerate(zip(shown.steps, plan.steps, strict=True))
        ],
    )
    session.add(event)
    moved(session, pool.id, context.now, event.at, kind="plan")
    return event
