"""Opening, closing, winter and drain."""

from typing import Annotated
from uuid import UUID

from fastapi import Query, Response
from pydantic import Field

from kumpan.actions.seasons.begin import NewSeason, begin_season
from kumpan.actions.seasons.view import SeasonView, season_view
from kumpan.actions.sheets.order import sheet_view
from kumpan.actions.sheets.view import Sheet
from kumpan.api.bodies import Body, Id, Instant, Local, Text
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.api.sheets import Who

router = Routes("seasons")


class SeasonBody(Body):
    """Begin a plan. subject: opening, closing or drain; day: YYYY-MM-DD; given: answers to its questions."""

    id: UUID
    at: Instant
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
    return scope.create(body.id, lambda c: sheet_view(c, begin_season(c, pool_id, new).id))


Size = Annotated[str, Query(max_length=10)]
_PDF = {200: {"content": {"application/pdf": {}}, "description": "A page of PDF."}}


def _paper(data: bytes, name: str) -> Response:
    headers = {"Content-Disposition": f'inline; filename="{name}.pdf"', "Cache-Control": "no-store"}
    return Response(data, media_type="application/pdf", headers=headers)


@router.get("/sheets/{sheet_id}/paper.pdf", response_class=Response, responses=_PDF)
def plan_paper(sheet_id: UUID, scope: InScope, size: Size = "letter") -> Response:
    """A sheet on one page of paper; size: letter or a4."""
    from kumpan.actions.printed import sheets as printed  # what draws is loaded when it is asked for

    return _paper(scope.run(lambda c: printed.plan_paper(c, sheet_id, size)), "kumpan-plan")


@router.get("/pools/{pool_id}/today.pdf", response_class=Response, responses=_PDF)
def today_paper(pool_id: UUID, scope: InScope, size: Size = "letter") -> Response:
    """Today on one page of paper."""
    from kumpan.actions.printed import sheets as printed

    return _paper(scope.run(lambda c: printed.today_paper(c, pool_id, size)), "kumpan-today")


@router.get("/pools/{pool_id}/parts.pdf", response_class=Response, responses=_PDF)
def parts_paper(pool_id: UUID, scope: InScope, size: Size = "letter") -> Response:
    """Where the parts lie, on one page of paper."""
    from kumpan.actions.printed import sheets as printed

    return _paper(scope.run(lambda c: printed.parts_paper(c, pool_id, size)), "kumpan-parts")
