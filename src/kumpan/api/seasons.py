"""Opening, closing, winter and drain."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter
from pydantic import AwareDatetime, Field

from kumpan.actions.seasons.begin import NewSeason, begin_season
from kumpan.actions.seasons.view import SeasonView, season_view
from kumpan.actions.sheets.order import sheet_view
from kumpan.actions.sheets.view import Sheet
from kumpan.api.bodies import Body, Id, Local, Text
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES
from kumpan.api.sheets import Who

router = APIRouter(responses=RESPONSES, tags=["seasons"])


class SeasonBody(Body):
    """Begin a plan. subject: opening, closing or drain; day: YYYY-MM-DD; given: answers to its questions."""

    id: UUID
    at: AwareDatetime
    subject: Id
    day: Local
    given: Annotated[dict[Id, Text], Field(max_length=8)] = {}
    performed_by: Who = ""


@router.get("/pools/{pool_id}/season")
def get_season(pool_id: UUID, scope: InScope) -> SeasonView:
    """When to open or close, what waiting means, plans, parts and last year."""
    return scope.run(lambda c: season_view(c, pool_id))


@router.post("/pools/{pool_id}/season-plans", status_code=201)
def begin_plan(pool_id: UUID, body: SeasonBody, scope: InScope) -> Sheet:
    """Begin a plan made for this pool; one of its kind that is under way is gone on with."""
    new = NewSeason(body.id, body.at, body.subject, body.performed_by, None, body.day, body.given)
    return scope.run(lambda c: sheet_view(c, begin_season(c, pool_id, new).id))
