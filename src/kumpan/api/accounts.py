"""The account and its settings."""

from typing import Literal
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel

from kumpan.actions.context import Context
from kumpan.api.bodies import Body, Revision
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES
from kumpan.core.errors import check_revision

router = APIRouter(responses=RESPONSES, tags=["account"])


class AccountChange(Body):
    """The person's units."""

    unit_system: Literal["us", "metric"]
    revision: Revision


class AccountView(BaseModel):
    """The account."""

    id: UUID
    name: str
    unit_system: str
    revision: int


@router.get("/account")
def get_account(scope: InScope) -> AccountView:
    """The account and its units."""
    return scope.run(lambda c: AccountView.model_validate(c.account, from_attributes=True))


@router.put("/account")
def put_account(body: AccountChange, scope: InScope) -> AccountView:
    """Change the person's units. Stored values are never rewritten."""

    def work(context: Context) -> AccountView:
        check_revision(context.account.revision, body.revision, "setting")
        context.account.unit_system = body.unit_system
        context.account.revision += 1
        return AccountView.model_validate(context.account, from_attributes=True)

    return scope.run(work)
