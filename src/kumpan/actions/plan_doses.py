"""Type a test, see the plan: nothing is stored."""

from dataclasses import dataclass, replace
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.keep_shelf import at_hand_of
from kumpan.actions.waters import Asked, checked_choices, plan_request, read_typed, traits_of
from kumpan.core.dosing.difference import differences
from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import Choice
from kumpan.core.dosing.view import PlanView, show_plan
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.targets import school_of
from kumpan.store import queries
from kumpan.store.tables import Event, Pool

Typed = list[tuple[str, str, str, str, int | None]]


@dataclass(frozen=True)
class Preview:
    """The plan for what could be read, and what could not, at its field."""

    plan: PlanView
    problems: tuple[FieldProblem, ...]
    differences: tuple[str, ...]


def plan_doses(
    context: Context,
    pool_id: UUID,
    typed: Typed,
    products: dict[str, tuple[str, float | None]],
    asked: Asked,
) -> Preview:
    """Plan on the readings that make sense; report the rest at their fields. Under another school, say what
    differs.
    """
    pool = queries.pool(context.session, context.account.id, pool_id)
    readings, problems = read_typed(typed)
    chosen = usual_products(context, pool)
    try:
        chosen |= checked_choices(products)
    except InvalidInput as error:
        problems += error.fields
    request = plan_request(context, pool, readings, chosen, asked)
    plan = make_plan(request)
    problems += [
        FieldProblem(f"products.{role}", "not_here", why)
        for role, why in plan.refused.items()
        if role in products
    ]
    told: tuple[str, ...] = ()
    if request.traits.school != pool.school:
        usual = replace(request, traits=traits_of(pool))
        told = differences(make_plan(usual), plan, school_of(usual.traits).label)
    return Preview(show_plan(plan, request), tuple(problems), told)


def usual_products(context: Context, pool: Pool) -> dict[str, Choice]:
    """The products of the last accepted plan: what this pool is dosed with. What is listed as standing ready
    goes before.
    """
    last: Event | None = queries.latest_event(context.session, pool.id, "plan")
    if last is None or last.plan is None:
        return {}
    ready = at_hand_of(context)
    chosen = {
        role: Choice(c["product_id"], c["strength"]) for role, c in last.plan.inputs["products"].items()
    }
    chosen.pop("lower_fc", None)  # to neutralise is asked for each time
    return {
        role: c
        for role, c in chosen.items()
        if ready is None or any(a.product_id == c.product_id for a in ready)
    }
