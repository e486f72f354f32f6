"""The log: tests, doses and all else that happens."""

from typing import Annotated
from uuid import UUID

from fastapi import Query
from pydantic import Field, StringConstraints

from kumpan.actions.context import Context
from kumpan.actions.log import costs, doses, entries, events, graph, page, tests
from kumpan.actions.log.writing import Correction, NewEvent
from kumpan.actions.shown import LogEntryView, show_event
from kumpan.api.bodies import (
    Body,
    Id,
    Instant,
    Local,
    Person,
    Point,
    Readings,
    RecordField,
    Revision,
    Text,
    typed,
)
from kumpan.api.deps import InScope
from kumpan.api.records import KindMeta, kind_meta
from kumpan.api.routes import Routes
from kumpan.core.log.kinds import entered_kinds
from kumpan.core.records import TypedField
from kumpan.store import queries

router = Routes("log")


class NewEventBody(Body):
    """What every new entry says. id: a UUID version 7 made by the client, so that sending twice is safe. at:
    the sender's instant; local: date and time on the pool's own clock, where it was not just now.
    performed_by: empty for whoever is at it.
    """

    id: UUID
    at: Instant
    local: Local = ""
    performed_by: Annotated[str, StringConstraints(max_length=80)] = ""

    def event(self) -> NewEvent:
        """As the use cases take it."""
        return NewEvent(self.id, self.at, self.local, self.performed_by)


class CorrectionBody(Body):
    """What every correction says. local: date and time on the pool's own clock, empty to keep them; who and
    where stay as they are where not given.
    """

    revision: Revision
    local: Local = ""
    performed_by: Person | None = None
    sampling_point: Point | None = None

    def of(self, event_id: UUID) -> Correction:
        """As the use cases take it."""
        return Correction(event_id, self.revision, self.local, self.performed_by, self.sampling_point)


class TestBody(NewEventBody):
    """A test to log."""

    __test__ = False
    sampling_point: Point = ""
    readings: Readings

    def test(self) -> tests.NewTest:
        """As the use cases take it."""
        return tests.NewTest(self.event(), typed(self.readings), self.sampling_point)


class TestChange(CorrectionBody):
    """A corrected test."""

    __test__ = False
    readings: Readings


class DoseFields(Body):
    """What was poured, as typed. strength: a fraction, None for the product's usual one."""

    product_id: Id
    strength: float | None = None
    amount: Text
    unit: Id

    def dose(self) -> doses.TypedDose:
        """As the use cases take it."""
        return doses.TypedDose(self.product_id, self.strength, self.amount, self.unit)


class DoseBody(NewEventBody, DoseFields):
    """A dose poured outside a plan."""


class DoseChange(CorrectionBody, DoseFields):
    """A corrected dose."""


class EntryFields(Body):
    """What happened beside tests and doses, as typed."""

    kind: Id
    details: Annotated[dict[Id, RecordField], Field(max_length=20)] = {}
    note: Annotated[str, StringConstraints(max_length=2000)] = ""

    def entry(self) -> entries.TypedEntry:
        """As the use cases take it."""
        details = {name: TypedField(t.text, t.unit) for name, t in self.details.items()}
        return entries.TypedEntry(self.kind, details, self.note)


class NewEntry(NewEventBody, EntryFields):
    """An entry to log."""


class EntryChange(CorrectionBody, EntryFields):
    """A corrected entry."""


class PageQuery(Body):
    """Which part of a log: after an entry, how many, of which kinds, or what says ``q``."""

    cursor: UUID | None = None
    limit: Annotated[int, Field(ge=1, le=200)] = 50
    kind: Annotated[list[str], Field(max_length=20)] = []
    q: Annotated[str, StringConstraints(max_length=80)] = ""


@router.get("/pools/{pool_id}/events")
def list_events(pool_id: UUID, scope: InScope, of: Annotated[PageQuery, Query()]) -> page.LogPage:
    """The pool's Log, newest first; of some kinds, or what says ``q``."""
    wanted = page.PageOf(of.cursor, of.limit, tuple(of.kind), of.q)
    return scope.run(lambda c: page.log_page(c, pool_id, wanted))


@router.get("/pools/{pool_id}/costs")
def get_costs(pool_id: UUID, scope: InScope) -> costs.Costs:
    """What the pool's doses cost, by month and season."""
    return scope.run(lambda c: costs.costs(c, pool_id))


@router.get("/pools/{pool_id}/graph")
def get_graph(
    pool_id: UUID,
    scope: InScope,
    start: Annotated[Instant, Query()],
    end: Annotated[Instant, Query()],
) -> graph.Graph:
    """The log as aligned graphs between two instants."""
    return scope.run(lambda c: graph.graph(c, pool_id, start, end))


@router.get("/entry-kinds")
def get_kinds(scope: InScope) -> list[KindMeta]:
    """What may happen beside tests and doses, with its fields, in the person's units."""
    metric = scope.run(lambda c: c.unit_system == "metric")
    return [kind_meta(kind.id, kind.label, kind.fields, metric) for kind in entered_kinds()]


@router.get("/pools/{pool_id}/usual-entries")
def get_usual(pool_id: UUID, scope: InScope) -> page.UsualEntries:
    """What was written last of each kind, and which kinds are written most."""
    return scope.run(lambda c: page.usual_entries(c, pool_id))


@router.post("/pools/{pool_id}/entries", status_code=201)
def log_entry(pool_id: UUID, body: NewEntry, scope: InScope) -> LogEntryView:
    """Log what happened. Sending it again returns the first result."""
    return scope.create(
        body.id, lambda c: show_event(c, entries.log_entry(c, pool_id, body.event(), body.entry()))
    )


@router.put("/entries/{event_id}")
def correct_entry(event_id: UUID, body: EntryChange, scope: InScope) -> LogEntryView:
    """Correct an entry; 409 if it was changed meanwhile."""
    return scope.run(lambda c: show_event(c, entries.correct_entry(c, body.of(event_id), body.entry())))


@router.post("/pools/{pool_id}/tests", status_code=201)
def log_test(pool_id: UUID, body: TestBody, scope: InScope) -> LogEntryView:
    """Log a test. Sending it again returns the first result."""
    return scope.create(body.id, lambda c: show_event(c, tests.log_test(c, pool_id, body.test())))


@router.put("/tests/{event_id}")
def correct_test(event_id: UUID, body: TestChange, scope: InScope) -> LogEntryView:
    """Correct a test; 409 if it was changed meanwhile."""
    readings = typed(body.readings)
    return scope.run(lambda c: show_event(c, tests.correct_test(c, body.of(event_id), readings)))


@router.post("/pools/{pool_id}/doses", status_code=201)
def log_dose(pool_id: UUID, body: DoseBody, scope: InScope) -> LogEntryView:
    """Log a dose poured outside a plan."""
    return scope.create(
        body.id, lambda c: show_event(c, doses.log_dose(c, pool_id, body.event(), body.dose()))
    )


@router.put("/doses/{event_id}")
def correct_dose(event_id: UUID, body: DoseChange, scope: InScope) -> LogEntryView:
    """Correct a dose; 409 if it was changed meanwhile."""
    return scope.run(lambda c: show_event(c, doses.correct_dose(c, body.of(event_id), body.dose())))


@router.get("/events/{event_id}")
def get_event(event_id: UUID, scope: InScope) -> LogEntryView:
    """One entry of the Log, deleted or not."""

    def find(context: Context) -> LogEntryView:
        return show_event(context, queries.event(context.session, context.account.id, event_id))

    return scope.run(find)


@router.delete("/events/{event_id}")
def delete_event(event_id: UUID, scope: InScope) -> LogEntryView:
    """Mark an entry deleted. It can be restored."""
    return scope.run(lambda c: show_event(c, events.delete_event(c, event_id)))


@router.post("/events/{event_id}/restore")
def restore_event(event_id: UUID, scope: InScope) -> LogEntryView:
    """Undo a deletion."""
    return scope.run(lambda c: show_event(c, events.restore_event(c, event_id)))
