"""Plan while typing, and accept."""

from typing import Annotated
from uuid import UUID

from pydantic import Field

from kumpan.actions.context import Context
from kumpan.actions.log import tests
from kumpan.actions.plans import accept, preview
from kumpan.actions.sheets.order import sheet_view
from kumpan.actions.sheets.view import Sheet
from kumpan.api.bodies import Body, Id, Readings, typed
from kumpan.api.deps import InScope
from kumpan.api.log import TestBody
from kumpan.api.routes import Routes
from kumpan.core.dosing.request import Terms
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.conditions import SEEN
from kumpan.core.guidance.schools import SCHOOLS

router = Routes("plans")


class ProductChoice(Body):
    """A product for a role; strength as a fraction, None for its usual one."""

    product_id: Id
    strength: float | None = None


VisitDays = Annotated[float, Field(gt=0, le=90, allow_inf_nan=False)]


class TermsBody(Body):
    """What a plan is asked with beside readings: products for roles, another school to look at, what is seen
    at the pool. stay_min: a technician's minutes on site, None for an owner; visits_days: days from now
    at which they come again, the last beginning the same rhythm anew. hold_days: days a chlorine dose is to
    last; closed_pool: nobody swims until a reading; drain_later: a drain that is due is put off;
    raise_calcium: calcium inside its band is raised to its aim.
    """

    products: Annotated[dict[Id, ProductChoice], Field(max_length=20)] = {}
    school: Id | None = None
    seen: Annotated[list[Id], Field(max_length=10)] = []
    stay_min: Annotated[int, Field(ge=1, le=600)] | None = None
    visits_days: Annotated[list[VisitDays], Field(max_length=10)] = []
    hold_days: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = 0.0
    closed_pool: bool = False
    drain_later: bool = False
    raise_calcium: bool = False

    def terms(self) -> Terms:
        """As the use cases take it. Raises InvalidInput for a school or condition Kumpan does not know."""
        if self.school is not None and self.school not in SCHOOLS:
            raise InvalidInput(FieldProblem("school", "unknown_choice", "Choose one of the schools."))
        if any(c not in SEEN for c in self.seen):
            raise InvalidInput(FieldProblem("seen", "unknown_choice", "Kumpan does not know this condition."))
        if self.visits_days != sorted(set(self.visits_days)):
            raise InvalidInput(
                FieldProblem("visits_days", "not_ascending", "Name the visits in their order.")
            )
        return Terms(
            self.school,
            frozenset(self.seen),
            self.stay_min,
            tuple(self.visits_days),
            self.hold_days,
            self.closed_pool,
            self.drain_later,
            self.raise_calcium,
        )

    def chosen(self) -> dict[str, tuple[str, float | None]]:
        """Product choices as the use cases take them."""
        return {role: (c.product_id, c.strength) for role, c in self.products.items()}


class PreviewBody(TermsBody):
    """What is typed so far."""

    readings: Readings = []


class PlanBody(TermsBody):
    """Accept the plan that follows from this test."""

    id: UUID
    test: TestBody


@router.post("/pools/{pool_id}/plan-previews")
def preview_plan(pool_id: UUID, body: PreviewBody, scope: InScope) -> preview.Preview:
    """The plan for what is typed so far; what cannot be read is reported at its field. Stores nothing."""
    so_far = preview.Typed(typed(body.readings), body.chosen(), body.terms())
    return scope.run(lambda c: preview.preview_plan(c, pool_id, so_far))


@router.post("/pools/{pool_id}/plans", status_code=201)
def accept_plan(pool_id: UUID, body: PlanBody, scope: InScope) -> Sheet:
    """Log the test and store the plan that follows from it, as given."""
    new = accept.NewPlan(body.id, body.chosen(), body.terms())

    def work(context: Context) -> Sheet:
        test = tests.log_test(context, pool_id, body.test.test())
        return sheet_view(context, accept.accept_plan(context, test, new).id)

    return scope.create(body.id, work)
