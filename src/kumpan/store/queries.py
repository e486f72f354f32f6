"""Queries. Every one that reaches a pool names the account it must belong to."""

from dataclasses import dataclass
from datetime import datetime
from typing import TypeVar
from uuid import UUID

from sqlalchemy import and_, func, or_, select, text
from sqlalchemy.orm import Session

from kumpan.core.errors import NotFound
from kumpan.store.tables import (
    Account,
    DoseRow,
    EquipmentRow,
    Event,
    FileRow,
    HappeningRow,
    Job,
    PhotoRow,
    PlanStepRow,
    Pool,
    ReadingRow,
    ShelfItem,
    TaskRow,
)

T = TypeVar("T")


def first_account(session: Session) -> Account | None:
    """The one account there is until sign-in comes."""
    return session.scalars(select(Account).order_by(Account.created_at, Account.id).limit(1)).first()


def pools(session: Session, account_id: UUID, archived: bool = False) -> list[Pool]:
    """The account's pools by name; archived ones only when asked for."""
    query = select(Pool).where(Pool.account_id == account_id).order_by(Pool.name, Pool.id)
    return list(session.scalars(query if archived else query.where(Pool.archived_at.is_(None))))


def pool(session: Session, account_id: UUID, pool_id: UUID, lock: bool = False) -> Pool:
    """One pool of the account. Raises NotFound for any other."""
    query = select(Pool).where(Pool.id == pool_id, Pool.account_id == account_id)
    return found(session.scalars(query.with_for_update() if lock else query).first(), "pool")


def event(
    session: Session, account_id: UUID, event_id: UUID, kind: str | None = None, lock: bool = False
) -> Event:
    """One event of the account, deleted or not. Raises NotFound for any other, or another kind."""
    query = select(Event).join(Pool).where(Event.id == event_id, Pool.account_id == account_id)
    if kind:
        query = query.where(Event.kind == kind)
    return found(session.scalars(query.with_for_update(of=Event) if lock else query).first(), kind or "event")


def any_event(session: Session, event_id: UUID) -> Event | None:
    """An event by id whoever owns it: to tell a repeated create from a taken id."""
    return session.get(Event, event_id)


@dataclass(frozen=True)
class Sought:
    """A search of the log: words (lower case), products and kinds they name."""

    text: str
    products: tuple[str, ...]
    kinds: tuple[str, ...]


def events_page(
    session: Session,
    pool_id: UUID,
    limit: int,
    before: tuple[datetime, UUID] | None = None,
    kinds: tuple[str, ...] = (),
    sought: Sought | None = None,
) -> list[Event]:
    """The pool's live events, newest first, older than ``before`` (instant, id); of these kinds, and holding
    what is sought.
    """
    query = select(Event).where(Event.pool_id == pool_id, Event.deleted_at.is_(None))
    if kinds:
        query = query.where(Event.kind.in_(kinds))
    if sought:
        query = (
            query.outerjoin(HappeningRow)
            .outerjoin(DoseRow, DoseRow.event_id == Event.id)
            .where(
                or_(
                    func.lower(HappeningRow.note).contains(sought.text, autoescape=True),
                    func.lower(Event.who).contains(sought.text, autoescape=True),
                    func.lower(Event.spot).contains(sought.text, autoescape=True),
                    DoseRow.product_id.in_(sought.products),
                    Event.kind.in_(sought.kinds),
                )
            )
        )
    if before:
        at, last_id = before
        query = query.where(or_(Event.at < at, and_(Event.at == at, Event.id < last_id)))
    return list(session.scalars(query.order_by(Event.at.desc(), Event.id.desc()).limit(limit)))


def events_since(session: Session, pool_id: UUID, since: datetime, kinds: tuple[str, ...]) -> list[Event]:
    """The pool's live events of these kinds from ``since`` on, oldest first."""
    return list(
        session.scalars(
            select(Event)
            .where(
                Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= since, Event.kind.in_(kinds)
            )
            .order_by(Event.at, Event.id)
        )
    )


def all_events(session: Session, pool_id: UUID, kind: str) -> list[Event]:
    """Every live event of a kind, oldest first."""
    query = select(Event).where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.kind == kind)
    return list(session.scalars(query.order_by(Event.at, Event.id)))


def readings_between(
    session: Session, pool_id: UUID, start: datetime, end: datetime
) -> list[tuple[str, datetime, float, str]]:
    """Readings of the pool's live tests as (measure, at, value, method), oldest first."""
    query = (
        select(ReadingRow.measure, Event.at, ReadingRow.value, ReadingRow.method)
        .join(Event, Event.id == ReadingRow.event_id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= start, Event.at <= end)
        .order_by(Event.at, Event.id)
    )
    return [(m, at, value, method) for m, at, value, method in session.execute(query)]


def readings_by_event(session: Session, pool_id: UUID) -> list[tuple[UUID, datetime, str, float]]:
    """Readings of all the pool's live tests as (event, at, measure, value)."""
    query = (
        select(ReadingRow.event_id, Event.at, ReadingRow.measure, ReadingRow.value)
        .join(Event, Event.id == ReadingRow.event_id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None))
    )
    return [(event_id, at, measure, value) for event_id, at, measure, value in session.execute(query)]


def notes(session: Session, pool_id: UUID) -> list[tuple[datetime, str]]:
    """The pool's live notes with their instants."""
    query = select(Event.at, HappeningRow.note).join(HappeningRow, HappeningRow.event_id == Event.id)
    return [
        (at, note)
        for at, note in session.execute(
            query.where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.kind == "note")
        )
    ]


def marks_between(
    session: Session, pool_id: UUID, start: datetime, end: datetime, kinds: tuple[str, ...], most: int
) -> list[tuple[datetime, str, str | None, str | None, str | None]]:
    """Doses, tasks and these kinds of the pool as (at, kind, product, amount as typed, unit): the newest
    ``most``, oldest first.
    """
    query = (
        select(Event.at, Event.kind, DoseRow.product_id, DoseRow.text, DoseRow.unit)
        .outerjoin(DoseRow, DoseRow.event_id == Event.id)
        .where(
            Event.pool_id == pool_id,
            Event.deleted_at.is_(None),
            Event.at >= start,
            Event.at <= end,
            Event.kind.in_(("dose", "task", *kinds)),
        )
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(most)
    )
    return [
        (at, kind, product, text_, unit)
        for at, kind, product, text_, unit in reversed(session.execute(query).all())
    ]


def first_event_at(session: Session, pool_id: UUID) -> datetime | None:
    """When the pool's log begins."""
    return session.scalars(
        select(Event.at)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None))
        .order_by(Event.at, Event.id)
        .limit(1)
    ).first()


def latest_event(session: Session, pool_id: UUID, kind: str) -> Event | None:
    """The pool's newest live event of a kind."""
    return session.scalars(
        select(Event)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.kind == kind)
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(1)
    ).first()


def plan_step(
    session: Session, account_id: UUID, step_id: UUID, lock: bool = False
) -> tuple[PlanStepRow, Event]:
    """A step of an accepted plan and the plan's event. Locked, so that it is ticked once."""
    query = (
        select(PlanStepRow, Event)
        .join(Event, Event.id == PlanStepRow.plan_event_id)
        .join(Pool)
        .where(PlanStepRow.id == step_id, Pool.account_id == account_id, Event.deleted_at.is_(None))
    )
    row = session.execute(query.with_for_update(of=PlanStepRow) if lock else query).first()
    step, event = found(row, "plan step")
    return step, event


def done_events(session: Session, step_ids: list[UUID]) -> dict[UUID, Event]:
    """Live events that ticked these steps off, by step."""
    done: dict[UUID, Event] = {}
    for detail in (DoseRow, TaskRow):
        rows = session.execute(
            select(detail.plan_step_id, Event)
            .join(Event, Event.id == detail.event_id)
            .where(detail.plan_step_id.in_(step_ids), Event.deleted_at.is_(None))
        )
        done |= {step_id: event for step_id, event in rows if step_id}
    return done


def lock_account(session: Session, account_id: UUID) -> None:
    """Lock the account's row until the end of the transaction."""
    session.execute(select(Account.id).where(Account.id == account_id).with_for_update())


def shelf(session: Session, account_id: UUID) -> list[ShelfItem]:
    """What stands on the account's shelf, in the order it was put there."""
    query = select(ShelfItem).where(ShelfItem.account_id == account_id, ShelfItem.removed_at.is_(None))
    return list(session.scalars(query.order_by(ShelfItem.created_at, ShelfItem.id)))


def shelf_item(session: Session, account_id: UUID, item_id: UUID, lock: bool = False) -> ShelfItem:
    """One item of the account's shelf, taken off or not. Raises NotFound for any other."""
    query = select(ShelfItem).where(ShelfItem.id == item_id, ShelfItem.account_id == account_id)
    return found(session.scalars(query.with_for_update() if lock else query).first(), "product on the shelf")


def poured_since_count(session: Session, account_id: UUID) -> dict[UUID, float]:
    """What was poured of each product on the account's shelf since it was last counted, by item: g or mL.

    A dose logged after the count but dated minutes before it draws too: the clock of a phone may be behind.
    """
    slack = func.timestampadd(text("MINUTE"), -5, ShelfItem.counted_at)
    after = or_(
        Event.at > ShelfItem.counted_at, and_(Event.created_at > ShelfItem.counted_at, Event.at > slack)
    )
    query = (
        select(ShelfItem.id, func.sum(DoseRow.amount))
        .join(DoseRow, DoseRow.product_id == ShelfItem.product_id)
        .join(Event, and_(Event.id == DoseRow.event_id, after, Event.deleted_at.is_(None)))
        .join(Pool, and_(Pool.id == Event.pool_id, Pool.account_id == ShelfItem.account_id))
        .where(ShelfItem.account_id == account_id, ShelfItem.removed_at.is_(None))
        .group_by(ShelfItem.id)
    )
    return {item_id: float(total) for item_id, total in session.execute(query)}


def products_poured(session: Session, pool_id: UUID, since: datetime) -> set[str]:
    """The products poured into a pool from an instant on."""
    query = select(DoseRow.product_id).join(Event, Event.id == DoseRow.event_id)
    return set(
        session.scalars(
            query.where(Event.pool_id == pool_id, Event.at >= since, Event.deleted_at.is_(None)).distinct()
        )
    )


def poured(session: Session, account_id: UUID, since: datetime) -> dict[str, float]:
    """What was poured into the account's pools after an instant, by product: g or mL."""
    query = (
        select(DoseRow.product_id, func.sum(DoseRow.amount))
        .join(Event, Event.id == DoseRow.event_id)
        .join(Pool, Pool.id == Event.pool_id)
        .where(Pool.account_id == account_id, Event.deleted_at.is_(None), Event.at > since)
        .group_by(DoseRow.product_id)
    )
    return {name: float(total) for name, total in session.execute(query)}


def equipment(session: Session, account_id: UUID, equipment_id: UUID, lock: bool = False) -> EquipmentRow:
    """One piece of equipment of the account, taken off or not. Raises NotFound for any other."""
    query = (
        select(EquipmentRow)
        .join(Pool, Pool.id == EquipmentRow.pool_id)
        .where(EquipmentRow.id == equipment_id, Pool.account_id == account_id)
    )
    return found(
        session.scalars(query.with_for_update(of=EquipmentRow) if lock else query).first(),
        "piece of equipment",
    )


def found(row: T | None, what: str) -> T:
    """The row, or NotFound of what it would have been."""
    if row is None:
        raise NotFound(what.replace("_", " "))
    return row


def job(session: Session, account_id: UUID, job_id: UUID, lock: bool = False) -> Job:
    """One job of the account. Raises NotFound for any other."""
    query = select(Job).where(Job.id == job_id, Job.account_id == account_id)
    return found(session.scalars(query.with_for_update() if lock else query).first(), "job")


def jobs(session: Session, account_id: UUID, most: int) -> list[Job]:
    """The account's jobs, newest first."""
    return list(
        session.scalars(
            select(Job)
            .where(Job.account_id == account_id)
            .order_by(Job.created_at.desc(), Job.id.desc())
            .limit(most)
        )
    )


def ended_jobs(session: Session, before: datetime) -> list[Job]:
    """Jobs of every account that ended before an instant and still hold a file."""
    held = or_(Job.in_file_id.is_not(None), Job.out_file_id.is_not(None))
    return list(
        session.scalars(select(Job).where(Job.ended_at < before, held).with_for_update(skip_locked=True))
    )


def idle_files(session: Session, before: datetime) -> list[UUID]:
    """Files of every account, begun before an instant, that neither a photo nor a job points to."""
    used = (PhotoRow.file_id, Job.in_file_id, Job.out_file_id)
    idle = [FileRow.id.not_in(select(column).where(column.is_not(None))) for column in used]
    return list(session.scalars(select(FileRow.id).where(FileRow.created_at < before, *idle)))


def photo(session: Session, account_id: UUID, photo_id: UUID) -> PhotoRow:
    """One photo of the account, taken off or not. Raises NotFound for any other."""
    return found(
        session.scalars(
            select(PhotoRow).where(PhotoRow.id == photo_id, PhotoRow.account_id == account_id)
        ).first(),
        "photo",
    )
