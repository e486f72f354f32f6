"""Clear-up: what a run would be, and beginning one."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, StringConstraints

from kumpan.actions.clearup.ask import Asked
from kumpan.actions.clearup.begin import NewRun, begin_run
from kumpan.actions.clearup.preview import ClearUpView, preview_run
from kumpan.actions.sheets.order import sheet_view
from kumpan.actions.sheets.view import Sheet
from kumpan.api.bodies import Body, Id, Instant
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes

router = Routes("clear-up")


class AskedBody(Body):
    """What the person says. severity: tint, steps or hidden; cause: why a shock, the kind of algae, or what
    happened; looks: how often a day somebody can look; answers: of the guided look; school, product_id: empty
    for what is proposed; algae_product: what is in one that is at hand.
    """

    aim: Literal["algae", "shock", "demand", "incident"] = "algae"
    cause: Id = ""
    severity: Id = ""
    looks: Annotated[int, Field(ge=1, le=4)] = 2
    method: Id = "drops"
    school: Id = ""
    means: Id = "chlorine"
    product_id: Id = ""
    algae_product: Id = ""
    answers: Annotated[dict[Id, Id], Field(max_length=20)] = {}

    def asked(self) -> Asked:
        """The same for the use case."""
        return Asked(**self.model_dump())


class BeginBody(Body):
    """A run to begin."""

    id: UUID
    at: Instant
    asked: AskedBody
    performed_by: Annotated[str, StringConstraints(max_length=80)] = ""


@router.post("/pools/{pool_id}/clear-ups/preview")
def preview(pool_id: UUID, body: AskedBody, scope: InScope) -> ClearUpView:
    """What a run would be: what it may be, treat or drain, school, amounts, days, and what to buy."""
    return scope.run(lambda c: preview_run(c, pool_id, body.asked()))


@router.post("/pools/{pool_id}/clear-ups", status_code=201)
def begin(pool_id: UUID, body: BeginBody, scope: InScope) -> Sheet:
    """Begin a run."""
    new = NewRun(body.id, body.at, body.asked.asked(), body.performed_by)
    return scope.create(body.id, lambda c: sheet_view(c, begin_run(c, pool_id, new).id))
