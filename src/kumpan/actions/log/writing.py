"""What writing an entry of any kind shares: once only, at a time that can be, and its past kept when
corrected.
"""

from dataclasses import asdict, dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy.orm.attributes import set_committed_value
from uuid6 import uuid7

from kumpan.actions.context import Context
from kumpan.actions.times import checked_time, local_instant, shown_local
from kumpan.core.errors import Conflict, check_revision
from kumpan.core.log.entry import Details
from kumpan.core.log.kinds import KINDS, phrase_of
from kumpan.store import queries
from kumpan.store.tables.log import CorrectionRow, Event
from kumpan.store.work import moved


@dataclass(frozen=True)
class NewEvent:
    """An event to write. at: the sender's instant; local: when, on the pool's own clock, where it was not
    just now. performed_by: empty for whoever is at it.
    """

    id: UUID
    at: datetime
    local: str = ""
    performed_by: str = ""


@dataclass(frozen=True)
class Correction:
    """A correction of the revision seen. local: date and time on the pool's own clock, empty to keep it;
    performed_by, sampling_point: None to keep them.
    """

    event_id: UUID
    revision: int
    local: str = ""
    performed_by: str | None = None
    sampling_point: str | None = None


def begin(context: Context, pool_id: UUID, kind: str, new: NewEvent) -> tuple[Event, bool]:
    """A new event of a pool, still without its detail; or the one a repeated create made before, and True."""
    # Its row is locked first: two that wrote events and then moved the same sheet would wait for each other.
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    known = queries.repeated(context.session, pool, new.id, kind)
    if known:
        return known, True
    at = local_instant(new.local, pool.time_zone) if new.local else new.at
    at = checked_time(at, context.now, "local" if new.local else "at")
    by = new.performed_by or context.actor
    event = Event(id=new.id, pool=pool, at=at, kind=kind, performed_by=by, created_at=context.now)
    for name in ("corrections", "ticks", "photos"):
        set_committed_value(event, name, [])  # so that nothing is read to show that there is none
    return event, False


def keep(context: Context, event: Event) -> Event:
    """Write a new event with its detail; work under way moves by it."""
    context.session.add(event)
    # By its pool: until it is flushed an event that names its pool does not yet hold that pool's id.
    moved(context.session, event.pool.id, context.now, event.at, kind=event.kind)
    return event


def kept(context: Context, event: Event, was_at: datetime) -> Event:
    """Write a corrected event, which lay at ``was_at``; work under way then and now moves by it."""
    moved(context.session, event.pool_id, context.now, event.at, was_at, kind=event.kind)
    return event


def reopen(context: Context, kind: str | None, correction: Correction) -> tuple[Event, datetime]:
    """An event to be corrected, if nobody changed it since, and when it lay; what it said stays in its
    history.

    Time, who and where are already as corrected. kind: None for any that fields say.
    """
    held = queries.event(context.session, context.account.id, correction.event_id, kind)
    queries.pool(context.session, context.account.id, held.pool_id, lock=True)
    event = queries.event(context.session, context.account.id, correction.event_id, kind, lock=True)
    if kind is None and not KINDS[event.kind].has_fields:
        raise Conflict("other_kind", "This entry is corrected elsewhere.")
    if event.deleted_at is not None:
        raise Conflict("deleted", "This was deleted. Undo the deletion first.")
    check_revision(event.revision, correction.revision, "entry")
    at = was_at = event.at
    if correction.local not in ("", shown_local(event)):
        at = local_instant(correction.local, event.pool.time_zone)
    at = checked_time(at, context.now, "local")
    _remember(context, event)
    event.at = at
    event.revision += 1
    if correction.performed_by is not None:
        event.performed_by = correction.performed_by
    if correction.sampling_point is not None:
        event.sampling_point = correction.sampling_point.strip()
    return event, was_at


def _remember(context: Context, event: Event) -> None:
    """Keep what an event says now, word for word and as data, with who changes it and when."""
    entry = event.entry
    held = entry.payload
    before: dict[str, object] = {"performed_by": event.performed_by, "sampling_point": event.sampling_point}
    if isinstance(held, Details):
        before |= {"typed": dict(held.typed), "note": held.note}
    else:
        before |= asdict(held)  # type: ignore[call-overload]
    if entry.readings:
        before |= {"readings": [asdict(r) for r in entry.readings]}
    event.corrections.append(
        CorrectionRow(
            id=uuid7(),
            at=context.now,
            actor=context.actor,
            was_at=event.at,
            was=phrase_of(entry).line,
            before=before,
        )
    )
