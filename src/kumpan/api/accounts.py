"""The account and its settings."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from kumpan.actions.context import Context
from kumpan.api.bodies import Body, Id, Revision, Text
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.core.amounts import checked_measure
from kumpan.core.errors import check_revision

router = Routes("account")


class MeasureBody(Body):
    """A jug, scoop, bucket or bag the person counts in, as typed."""

    name: Annotated[str, StringConstraints(max_length=30)]
    liquid: bool
    amount: Text
    unit: Id


class AccountChange(Body):
    """The person's units and what they count in."""

    unit_system: Literal["us", "metric"]
    own_measures: Annotated[list[MeasureBody], Field(max_length=12)] = []
    revision: Revision


class AccountView(BaseModel):
    """The account."""

    id: UUID
    name: str
    unit_system: str
    own_measures: list[MeasureBody] | None
    revision: int


@router.get("/account")
def get_account(scope: InScope) -> AccountView:
    """The account and its units."""
    return scope.run(lambda c: AccountView.model_validate(c.account, from_attributes=True))


@router.put("/account")
def put_account(body: AccountChange, scope: InScope) -> AccountView:
    """Change the person's units. Stored values are never rewritten."""

    def work(context: Context) -> AccountView:
        context.session.refresh(context.account, with_for_update=True)  # as another just left it
        check_revision(context.account.revision, body.revision, "setting")
        for i, m in enumerate(body.own_measures):
            checked_measure(m.name, m.liquid, m.amount, m.unit, f"own_measures.{i}")
        context.account.unit_system = body.unit_system
        context.account.own_measures = [m.model_dump() for m in body.own_measures]
        context.account.revision += 1
        return AccountView.model_validate(context.account, from_attributes=True)

    return scope.run(work)
