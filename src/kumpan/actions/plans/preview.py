"""Type a test, see the plan: nothing is stored."""

from dataclasses import dataclass, replace
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.plans.request import plan_request
from kumpan.core.dosing.difference import differences
from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import AtHand, Choice, Terms
from kumpan.core.dosing.supply import checked_choices
from kumpan.core.dosing.view import PlanView, show_plan
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.targets import school_of
from kumpan.core.water.readings import TypedReadings, read_typed
from kumpan.store import queries
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow
from kumpan.store.water import traits_of
from kumpan.store.work import run_alive


@dataclass(frozen=True)
class Preview:
    """The plan for what could be read, and what could not, at its field. run_id: the clear-up that has the
    water, None where there is none.
    """

    plan: PlanView
    problems: tuple[FieldProblem, ...]
    differences: tuple[str, ...]
    run_id: UUID | None = None


@dataclass(frozen=True)
class Typed:
    """What is typed so far: readings, products chosen for roles, and what is asked beside them."""

    readings: TypedReadings
    products: dict[str, tuple[str, float | None]]
    terms: Terms


def preview_plan(context: Context, pool_id: UUID, typed: Typed) -> Preview:
    """Plan on the readings that make sense; report the rest at their fields. Under another school, say what
    differs.
    """
    pool = queries.pool(context.session, context.account.id, pool_id)
    readings, problems = read_typed(typed.readings)
    ready = queries.at_hand(context.session, context.account.id, context.now)
    chosen = usual_products(context, pool, ready)
    try:
        chosen |= checked_choices(typed.products)
    except InvalidInput as error:
        problems += error.fields
    request = plan_request(context, pool, readings, (chosen, ready), typed.terms)
    plan = make_plan(request)
    problems += [
        FieldProblem(f"products.{role}", "not_here", why)
        for role, why in plan.refused.items()
        if role in typed.products
    ]
    differ: tuple[str, ...] = ()
    if request.traits.school != pool.school:
        usual = replace(request, traits=traits_of(pool))
        differ = differences(make_plan(usual), plan, school_of(usual.traits).label)
    run = run_alive(context.session, pool.id, context.now)
    run_id = None if run is None else run.id
    return Preview(show_plan(plan, request), tuple(problems), differ, run_id)


def usual_products(context: Context, pool: Pool, ready: tuple[AtHand, ...] | None) -> dict[str, Choice]:
    """The products of the last accepted plan: what this pool is dosed with. What is listed as standing ready
    goes before.
    """
    last = queries.latest_event(context.session, pool.id, "plan")
    plan = last.detail if last is not None else None
    if not isinstance(plan, SheetRow):
        return {}
    chosen = {role: Choice(c["product_id"], c["strength"]) for role, c in plan.inputs["products"].items()}
    chosen.pop("lower_fc", None)  # to neutralise is asked for each time
    return {
        role: c
        for role, c in chosen.items()
        if ready is None or any(a.product_id == c.product_id for a in ready)
    }
