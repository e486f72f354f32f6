"""Ordered work under way: sheets, ticks and what is said of them."""

from typing import Annotated
from uuid import UUID

from pydantic import Field, StringConstraints

from kumpan.actions.context import Context
from kumpan.actions.machines.away import begin_away
from kumpan.actions.sheets import begin, complain, start, ticks, walks
from kumpan.actions.sheets.order import sheet_view
from kumpan.actions.sheets.view import Sheet
from kumpan.actions.shown import LogEntryView, show_event
from kumpan.api.bodies import Body, Id, Instant, Text
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes

router = Routes("sheets")
Who = Annotated[str, StringConstraints(max_length=80)]
Key = Annotated[str, StringConstraints(max_length=60)]


class TickBody(Body):
    """Tick a step off; amount and unit when what was poured differs."""

    id: UUID
    at: Instant
    performed_by: Who = ""
    amount: Text | None = None
    unit: Id | None = None


class MarkBody(Body):
    """Something said of a sheet (key empty) or of its step: answer, skip, timer, pause, resume, give_up.
    value: the answer, a number with its unit (``18 psi``).
    """

    id: UUID
    at: Instant
    key: Key = ""
    verb: Id
    value: Annotated[str, StringConstraints(max_length=400)] = ""
    performed_by: Who = ""


class GuideBody(Body):
    """Begin a machine's guide. subject: which (filter, lower, cell, cell_hand, cell_bath, cell_light,
    cell_output, boost, spots, feeder, mineral); given: what the pool's equipment does not say; instead_of: a
    sheet it takes over from.
    """

    id: UUID
    at: Instant
    subject: Id
    given: Annotated[dict[Id, Text], Field(max_length=8)] = {}
    instead_of: UUID | None = None
    performed_by: Who = ""


class WalkBody(Body):
    """Begin a walk: the weekly clean (weekly), a technician's stop, what comes before going away, or after
    being back. days: away, where they are known.
    """

    id: UUID
    at: Instant
    kind: Id
    days: Annotated[int, Field(ge=0, le=2**31 - 1)] = 0
    performed_by: Who = ""


class ComplaintBody(Body):
    """Begin a complaint's guide. kind: cloudy, stains, foam, level or eyes."""

    id: UUID
    at: Instant
    kind: Id
    performed_by: Who = ""


@router.get("/sheets/{sheet_id}")
def get_sheet(sheet_id: UUID, scope: InScope) -> Sheet:
    """A sheet as it was begun, with what became of it."""
    return scope.run(lambda c: sheet_view(c, sheet_id))


@router.post("/sheets/{sheet_id}/steps/{key}/tick", status_code=201)
def tick_step(sheet_id: UUID, key: Key, body: TickBody, scope: InScope) -> LogEntryView:
    """Tick a step of a plan off; what was poured may differ from it. Undo by deleting the event."""
    new = ticks.NewTick(body.id, body.at, body.amount, body.unit, body.performed_by)
    return scope.create(body.id, lambda c: show_event(c, ticks.tick_step(c, sheet_id, key, new)))


@router.post("/sheets/{sheet_id}/marks", status_code=201)
def say(sheet_id: UUID, body: MarkBody, scope: InScope) -> Sheet:
    """Say something of a sheet or its step. Undo by deleting the event."""
    new = ticks.NewMark(body.id, body.at, body.key, body.verb, body.value, body.performed_by)

    def work(context: Context) -> Sheet:
        ticks.say(context, sheet_id, new)
        return sheet_view(context, sheet_id)

    return scope.create(body.id, work)


@router.post("/pools/{pool_id}/guides", status_code=201)
def begin_guide(pool_id: UUID, body: GuideBody, scope: InScope) -> Sheet:
    """Begin a machine's guide made for this pool; one under way is gone on with."""
    new = begin.NewGuide(body.id, body.at, body.subject, body.performed_by, body.instead_of, body.given)
    return scope.create(body.id, lambda c: sheet_view(c, begin.begin_guide(c, pool_id, new).id))


@router.post("/pools/{pool_id}/complaints", status_code=201)
def begin_complaint(pool_id: UUID, body: ComplaintBody, scope: InScope) -> Sheet:
    """Begin a complaint's guide: from what is seen to the likely cause, by the test that settles it."""
    new = start.NewSheet(body.id, body.at, body.kind, body.performed_by)
    return scope.create(body.id, lambda c: sheet_view(c, complain.begin_complaint(c, pool_id, new).id))


@router.post("/pools/{pool_id}/walks", status_code=201)
def begin_walk(pool_id: UUID, body: WalkBody, scope: InScope) -> Sheet:
    """Begin a walk made for this pool; one under way is gone on with."""
    new = walks.NewWalk(body.id, body.at, body.kind, body.performed_by)
    if body.kind == "away" and body.days:
        return scope.create(body.id, lambda c: sheet_view(c, begin_away(c, pool_id, new, body.days).id))
    return scope.create(body.id, lambda c: sheet_view(c, walks.begin_walk(c, pool_id, new).id))
