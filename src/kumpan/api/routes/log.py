"""Tests, doses and the Log."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic import AwareDatetime

from kumpan.actions import keep_doses, keep_happenings, keep_tests, read_graph, read_log
from kumpan.actions.context import Context
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES
from kumpan.api.routes.plans import new_test
from kumpan.api.schemas.bodies import (
    DoseBody,
    DoseChange,
    HappeningChange,
    NewHappening,
    TestBody,
    TestChange,
    typed,
)
from kumpan.api.schemas.records import KindMeta, kind_meta
from kumpan.core.log.kinds import HAPPENINGS
from kumpan.store import queries

router = APIRouter(responses=RESPONSES, tags=["log"])


@router.get("/pools/{pool_id}/events")
def list_events(
    pool_id: UUID,
    scope: InScope,
    cursor: Annotated[UUID | None, Query()] = None,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
    kind: Annotated[list[str] | None, Query(max_length=20)] = None,
    q: Annotated[str, Query(max_length=80)] = "",
) -> read_log.LogPage:
    """The pool's Log, newest first; of some kinds, or what says ``q``."""
    after, kinds = str(cursor) if cursor else None, tuple(kind or ())
    return scope.run(lambda c: read_log.log_page(c, pool_id, after, limit, kinds, q))


@router.get("/pools/{pool_id}/graph")
def get_graph(
    pool_id: UUID,
    scope: InScope,
    start: Annotated[AwareDatetime, Query()],
    end: Annotated[AwareDatetime, Query()],
) -> read_graph.Graph:
    """The log as aligned graphs between two instants."""
    return scope.run(lambda c: read_graph.graph(c, pool_id, start, end))


@router.get("/happening-kinds")
def get_kinds(scope: InScope) -> list[KindMeta]:
    """What may happen beside tests and doses, with its fields, in the person's measures."""
    metric = scope.run(lambda c: c.account.measures == "metric")
    return [kind_meta(kind.id, kind.label, kind.fields, metric) for kind in HAPPENINGS.values()]


@router.get("/pools/{pool_id}/usual-entries")
def get_usual(pool_id: UUID, scope: InScope) -> dict[str, read_log.EventUsual]:
    """What was written last of each kind."""
    return scope.run(lambda c: read_log.usual_entries(c, pool_id))


@router.post("/pools/{pool_id}/happenings", status_code=201)
def log_happening(pool_id: UUID, body: NewHappening, scope: InScope) -> read_log.EventView:
    """Log what happened. Sending it again returns the first result."""
    return scope.run(
        lambda c: read_log.show_event(c, keep_happenings.log_happening(c, pool_id, body.id, body.given()))
    )


@router.put("/happenings/{event_id}")
def correct_happening(event_id: UUID, body: HappeningChange, scope: InScope) -> read_log.EventView:
    """Correct an entry; 409 if it was changed meanwhile."""
    return scope.run(
        lambda c: read_log.show_event(
            c,
            keep_happenings.correct_happening(c, event_id, body.given(), body.revision),
        )
    )


@router.post("/pools/{pool_id}/tests", status_code=201)
def log_test(pool_id: UUID, body: TestBody, scope: InScope) -> read_log.EventView:
    """Log a test. Sending it again returns the first result."""
    return scope.run(lambda c: read_log.show_event(c, keep_tests.log_test(c, pool_id, new_test(body))))


@router.get("/events/{event_id}")
def get_event(event_id: UUID, scope: InScope) -> read_log.EventView:
    """One entry of the Log, deleted or not."""
    return scope.run(lambda c: read_log.show_event(c, queries.event(c.session, c.account.id, event_id)))


@router.put("/tests/{event_id}")
def correct_test(event_id: UUID, body: TestChange, scope: InScope) -> read_log.EventView:
    """Correct a test; 409 if it was changed meanwhile."""

    def work(context: Context) -> read_log.EventView:
        event = keep_tests.correct_test(
            context, event_id, body.local, typed(body.readings), body.revision, body.who, body.spot
        )
        return read_log.show_event(context, event)

    return scope.run(work)


@router.post("/pools/{pool_id}/doses", status_code=201)
def log_dose(pool_id: UUID, body: DoseBody, scope: InScope) -> read_log.EventView:
    """Log a dose poured outside a plan."""
    new = keep_doses.NewDose(
        body.id, body.at, body.who, body.product_id, body.strength, body.amount, body.unit, body.local
    )
    return scope.run(lambda c: read_log.show_event(c, keep_doses.log_dose(c, pool_id, new)))


@router.put("/doses/{event_id}")
def correct_dose(event_id: UUID, body: DoseChange, scope: InScope) -> read_log.EventView:
    """Correct a dose; 409 if it was changed meanwhile."""

    def work(context: Context) -> read_log.EventView:
        event = keep_doses.correct_dose(
            context,
            event_id,
            body.local,
            body.product_id,
            body.strength,
            body.amount,
            body.unit,
            body.revision,
        )
        return read_log.show_event(context, event)

    return scope.run(work)


@router.delete("/events/{event_id}")
def delete_event(event_id: UUID, scope: InScope) -> read_log.EventView:
    """Mark an entry deleted. It can be undone."""
    return scope.run(lambda c: read_log.show_event(c, keep_doses.delete_event(c, event_id)))


@router.post("/events/{event_id}/undelete")
def undelete_event(event_id: UUID, scope: InScope) -> read_log.EventView:
    """Undo a deletion."""
    return scope.run(lambda c: read_log.show_event(c, keep_doses.undelete_event(c, event_id)))
