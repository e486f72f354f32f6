"""Log what happened beside tests and doses, and correct it."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.actions.corrections import keep_correction
from kumpan.actions.keep_tests import check_time, local_instant, repeated, shown_local
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.log.kinds import HAPPENINGS, checked_happening
from kumpan.core.records import TypedField
from kumpan.store import queries
from kumpan.store.tables import Event, HappeningRow, Pool


@dataclass(frozen=True)
class HappeningInput:
    """An entry as typed. local: date and time on the pool's own clock; empty: now."""

    kind: str
    details: dict[str, TypedField]
    note: str = ""
    local: str = ""
    who: str = "you"


def log_happening(context: Context, pool_id: UUID, event_id: UUID, given: HappeningInput) -> Event:
    """Store an entry. Sending it again returns the first result."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    known = repeated(context, event_id, pool.id, given.kind)
    if known:
        return known
    at = local_instant(given.local, pool.time_zone) if given.local else context.now
    check_time(at, context.now, "local")
    event = Event(id=event_id, pool=pool, at=at, kind=given.kind, who=given.who, created_at=context.now)
    event.happening = HappeningRow(details={}, typed={}, note="")
    _fill(event, pool, given, context.now)
    context.session.add(event)
    context.session.flush()
    return event


def correct_happening(context: Context, event_id: UUID, given: HappeningInput, revision: int) -> Event:
    """Correct an entry, if nobody changed it since; what it said stays in its history."""
    event = queries.event(context.session, context.account.id, event_id, lock=True)
    if event.kind not in HAPPENINGS:
        raise Conflict("other_kind", "This entry is corrected elsewhere.")
    if event.kind != given.kind:
        raise InvalidInput(
            FieldProblem("kind", "fixed", "An entry keeps its kind: delete it and write another.")
        )
    if event.deleted_at is not None:
        raise Conflict("deleted", "This entry was deleted. Undo the deletion first.")
    check_revision(event.revision, revision, "entry")
    at = (
        event.at
        if given.local in ("", shown_local(event))
        else local_instant(given.local, event.pool.time_zone)
    )
    check_time(at, context.now, "local")
    keep_correction(event, given.who, context.now)
    _fill(event, event.pool, given, context.now)
    event.at = at
    event.revision += 1
    context.session.flush()
    return event


def _fill(event: Event, pool: Pool, given: HappeningInput, now: datetime) -> None:
    assert event.happening is not None
    today = now.astimezone(ZoneInfo(pool.time_zone)).date()
    event.happening.details = checked_happening(given.kind, given.details, given.note, today)
    event.happening.typed = {name: vars(t) for name, t in given.details.items() if t.text.strip()}
    event.happening.note = given.note.strip()
