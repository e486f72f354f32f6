"""Care: recurring work, how a pool is looked after, and the calendars others read."""

from typing import Annotated, Any
from uuid import UUID

from fastapi.responses import Response
from pydantic import BaseModel, Field, StringConstraints

from kumpan.actions.care import feed, settings, tasks
from kumpan.actions.care.view import CareView, care_view
from kumpan.actions.context import Context
from kumpan.api.bodies import Body, Id, Instant, Revision, Text
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.core.care.recur import Every

router = Routes("care")
Who = Annotated[str, StringConstraints(max_length=80)]
Line = Annotated[str, StringConstraints(max_length=400)]
_ICS: dict[int | str, dict[str, Any]] = {200: {"content": {"text/calendar": {}}, "description": "iCalendar"}}


class CareBody(Body):
    """How a pool is looked after. minutes: what there is for a visit, 0 as usual; shock, test_when, order,
    filter_by: empty as usual; season_from, season_to: MM-DD, empty all year.
    """

    cadence: Id
    minutes: Annotated[float, Field(ge=0, le=100_000)] = 0
    shock: Id = ""
    test_when: Id = ""
    order: Id = ""
    filter_by: Id = ""
    season_from: Text = ""
    season_to: Text = ""
    revision: Revision


class EveryBody(Body):
    """Fixed days: of the week (weekdays, 0 Monday), the month (day), or the year (day of months)."""

    unit: Id
    weekdays: Annotated[list[int], Field(max_length=7)] = []
    day: int = 1
    months: Annotated[list[int], Field(max_length=12)] = []
    interval: int = 1


class RepeatBody(Body):
    """How a task comes round. anchor: completion (days), calendar (every), once (on, YYYY-MM-DD), run_hours
    (hours of the pump); empty as its rule says. clock: HH:MM for calendars, empty all day.
    """

    anchor: Id = ""
    days: Annotated[int, Field(ge=-(2**31), le=2**31 - 1)] = 0
    every: EveryBody | None = None
    on: Text = ""
    hours: Annotated[float, Field(allow_inf_nan=False)] = 0
    season_from: Text = ""
    season_to: Text = ""
    clock: Text = ""

    def repeat(self) -> tasks.Repeat:
        """As the use case takes it."""
        plain = self.model_dump(exclude={"every"})
        every = self.every
        fixed = None
        if every is not None:
            days = tuple(every.weekdays)
            fixed = Every(every.unit, days, every.day, tuple(every.months), every.interval)
        return tasks.Repeat(**plain, every=fixed)


class NewTaskBody(Body):
    """A task of one's own."""

    id: UUID
    title: Annotated[str, StringConstraints(max_length=120)]
    minutes: Annotated[float, Field(allow_inf_nan=False)] = 15
    repeat: RepeatBody


class TaskBody(Body):
    """How a task comes round from now on, and whether at all."""

    repeat: RepeatBody = RepeatBody()
    on: bool = True
    revision: Revision


class DoneBody(Body):
    """A task done. local: when, on the pool's clock, where it was not just now; minutes: how long it took."""

    id: UUID
    at: Instant
    local: Text = ""
    minutes: Text = ""
    note: Annotated[str, StringConstraints(max_length=2000)] = ""
    found: Id = ""
    performed_by: Who = ""


class WordBody(Body):
    """A task put off (snooze, until YYYY-MM-DD) or skipped this once (skip, why)."""

    id: UUID
    at: Instant
    verb: Id
    value: Line = ""
    performed_by: Who = ""


class FeedBody(Body):
    """A calendar to make; without a pool of all of them."""

    id: UUID
    pool_id: UUID | None = None


class FeedMade(BaseModel):
    """A calendar just made: its address, which is shown this once."""

    id: UUID
    name: str
    path: str


@router.get("/pools/{pool_id}/care")
def get_care(pool_id: UUID, scope: InScope) -> CareView:
    """What comes round at a pool."""
    return scope.run(lambda c: care_view(c, pool_id))


@router.put("/pools/{pool_id}/care")
def put_care(pool_id: UUID, body: CareBody, scope: InScope) -> CareView:
    """Change how a pool is looked after; 409 if it was changed meanwhile."""
    chosen = settings.CareInput(**body.model_dump(exclude={"revision"}))
    return scope.run(lambda c: _then(c, pool_id, settings.change_care(c, pool_id, chosen, body.revision)))


def _then(context: Context, pool_id: UUID, done: object) -> CareView:
    """Care as it is once something was done."""
    return care_view(context, pool_id)


@router.post("/pools/{pool_id}/tasks", status_code=201)
def add_task(pool_id: UUID, body: NewTaskBody, scope: InScope) -> CareView:
    """Add a task of one's own. Sending it again returns the first result."""
    new = tasks.NewTask(body.id, body.title, body.repeat.repeat(), body.minutes)
    return scope.create(body.id, lambda c: _then(c, pool_id, tasks.add_task(c, pool_id, new)))


@router.put("/tasks/{task_id}")
def put_task(task_id: UUID, body: TaskBody, scope: InScope) -> CareView:
    """Change how a task comes round, or turn it off; 409 if it was changed meanwhile."""

    def work(context: Context) -> CareView:
        row = tasks.change_task(context, task_id, body.repeat.repeat(), body.on, body.revision)
        return care_view(context, row.pool_id)

    return scope.run(work)


@router.delete("/tasks/{task_id}")
def remove_task(task_id: UUID, scope: InScope) -> CareView:
    """Take one's own task off."""
    return scope.run(lambda c: care_view(c, tasks.remove_task(c, task_id).pool_id))


@router.post("/tasks/{task_id}/done", status_code=201)
def tick_task(task_id: UUID, body: DoneBody, scope: InScope) -> CareView:
    """Write down that a task was done. Undo by deleting the entry, whose id is the one sent."""
    done = tasks.Done(**body.model_dump())
    return scope.create(body.id, lambda c: care_view(c, tasks.tick_task(c, task_id, done).pool_id))


@router.post("/tasks/{task_id}/marks", status_code=201)
def say_of_task(task_id: UUID, body: WordBody, scope: InScope) -> CareView:
    """Put a task off, or skip it this once. Undo by deleting the event, whose id is the one sent."""
    word = tasks.Word(**body.model_dump())
    return scope.create(body.id, lambda c: care_view(c, tasks.say_of_task(c, task_id, word).pool_id))


@router.get("/pools/{pool_id}/care.ics", response_class=Response, responses=_ICS)
def get_calendar(pool_id: UUID, scope: InScope) -> Response:
    """What comes round at a pool in the next year, as a calendar file."""
    from kumpan.actions.care import ical  # what writes it is loaded when it is asked for

    headers = {"Content-Disposition": 'attachment; filename="kumpan-care.ics"'}
    data = scope.run(lambda c: ical.pool_calendar(c, pool_id))
    return Response(data, media_type="text/calendar", headers=headers)


@router.post("/feeds", status_code=201)
def make_feed(body: FeedBody, scope: InScope) -> FeedMade:
    """Make a calendar that other programs on this machine can read. Its address is shown this once."""
    return scope.create(body.id, lambda c: _made(feed.make_feed(c, body.id, body.pool_id)))


@router.post("/feeds/{feed_id}/rotate", status_code=201)
def rotate_feed(feed_id: UUID, scope: InScope) -> FeedMade:
    """Give a calendar another address; the one before is read no more."""
    return scope.run(lambda c: _made(feed.rotate_feed(c, feed_id)))


@router.delete("/feeds/{feed_id}")
def end_feed(feed_id: UUID, scope: InScope) -> feed.FeedView:
    """Take a calendar back."""
    return scope.run(lambda c: feed.end_feed(c, feed_id))


def _made(new: feed.NewFeed) -> FeedMade:
    return FeedMade(id=new.feed.id, name=new.feed.name, path=f"/api/v1/calendar/{new.token}.ics")


@router.get("/calendar/{token}.ics", response_class=Response, responses=_ICS)
def read_feed(token: Annotated[str, StringConstraints(max_length=100)], scope: InScope) -> Response:
    """A calendar by its token."""
    from kumpan.actions.care import ical

    data = scope.run(lambda c: ical.read_feed(c, token))
    return Response(data, media_type="text/calendar", headers={"Cache-Control": "private, max-age=900"})
