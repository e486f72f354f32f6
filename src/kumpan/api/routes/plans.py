"""Plan while typing, accept, tick off."""

from uuid import UUID

from fastapi import APIRouter

from kumpan.actions import keep_doses, keep_tests, plan_doses, read_log
from kumpan.actions.context import Context
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES
from kumpan.api.schemas.bodies import PlanBody, PreviewBody, TestBody, TickBody, chosen, typed

router = APIRouter(responses=RESPONSES, tags=["plans"])


@router.post("/pools/{pool_id}/plan-previews")
def preview_plan(pool_id: UUID, body: PreviewBody, scope: InScope) -> plan_doses.Preview:
    """The plan for what is typed so far; what cannot be read is reported at its field. Stores nothing."""
    return scope.run(
        lambda c: plan_doses.plan_doses(c, pool_id, typed(body.readings), chosen(body.products), body.asked())
    )


@router.post("/pools/{pool_id}/plans", status_code=201)
def accept_plan(pool_id: UUID, body: PlanBody, scope: InScope) -> read_log.AcceptedPlan:
    """Log the test and store the plan that follows from it, as given."""

    def work(context: Context) -> read_log.AcceptedPlan:
        event = keep_tests.accept_plan(
            context, pool_id, body.id, new_test(body.test), chosen(body.products), body.asked()
        )
        return read_log.accepted_plan(context, event.id)

    return scope.run(work)


@router.get("/plans/{plan_id}")
def get_plan(plan_id: UUID, scope: InScope) -> read_log.AcceptedPlan:
    """An accepted plan as it was given, with its ticks."""
    return scope.run(lambda c: read_log.accepted_plan(c, plan_id))


@router.post("/plan-steps/{step_id}/tick", status_code=201)
def tick_step(step_id: UUID, body: TickBody, scope: InScope) -> read_log.EventView:
    """Tick a step off; what was poured may differ from the plan. Undo by deleting the event."""

    def work(context: Context) -> read_log.EventView:
        event = keep_doses.tick_step(context, step_id, body.id, body.at, body.who, body.amount, body.unit)
        return read_log.show_event(context, event)

    return scope.run(work)


def new_test(body: TestBody) -> keep_tests.NewTest:
    """A test as the use case takes it."""
    return keep_tests.NewTest(body.id, body.at, body.who, typed(body.readings), body.spot)
