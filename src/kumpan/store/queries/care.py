"""Tasks, what the log says of when things were last done, and calendars."""

from collections.abc import Iterable
from datetime import date, datetime
from functools import cache, lru_cache
from typing import Any
from uuid import UUID

from sqlalchemy import (
    ColumnElement,
    CompoundSelect,
    Select,
    Subquery,
    bindparam,
    func,
    literal,
    or_,
    select,
    union_all,
)
from sqlalchemy.orm import Session, joinedload

from kumpan.store.queries.base import existing
from kumpan.store.tables.care import FeedRow, TaskRow
from kumpan.store.tables.log import DoseRow, EntryRow, Event, MarkRow, ReadingRow
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.weather import WeatherDayRow

_OF_TASKS = ("snooze", "skip")


def tasks(session: Session, pool_id: UUID, ended: bool = False) -> list[TaskRow]:
    """A pool's tasks, oldest first; those it has no more use for only when asked for."""
    query = _tasks() if ended else _tasks_not_ended()
    return list(session.scalars(query, {"pool": pool_id}))


@cache
def _tasks() -> Select[TaskRow]:
    query = select(TaskRow).where(TaskRow.pool_id == bindparam("pool"))
    return query.order_by(TaskRow.created_at, TaskRow.id)


@cache
def _tasks_not_ended() -> Select[TaskRow]:
    return _tasks().where(TaskRow.ended_at.is_(None))


def task(session: Session, account_id: UUID, task_id: UUID) -> TaskRow:
    """One task of the account, ended or not. Raises NotFound for any other."""
    query = select(TaskRow).where(TaskRow.id == task_id, TaskRow.account_id == account_id)
    return existing(session.scalars(query).first(), "task")


def due_by(session: Session, account_id: UUID, latest: date) -> list[TaskRow]:
    """The account's tasks that are due by a date at its pools in use, in one statement."""
    query = (
        select(TaskRow)
        .join(Pool, Pool.id == TaskRow.pool_id)
        .where(
            TaskRow.account_id == account_id,
            TaskRow.next_due <= latest,
            TaskRow.ended_at.is_(None),
            TaskRow.off_at.is_(None),
            Pool.archived_at.is_(None),
        )
        .order_by(TaskRow.next_due, TaskRow.id)
        .options(joinedload(TaskRow.pool).lazyload(Pool.equipment))  # when it is due is kept on the row
    )
    return list(session.scalars(query))


# Among so many of the newest of its kind a thing is looked for, so that one never done costs no walk through
# ten years: done before that, it is long due whenever it was (our own).
_MOST_LOOKED_AT = 200


def _newest(key: str) -> Select[str, datetime]:
    """When the newest live entry lies that a key (``core.care.facts``) names."""
    kind, _, which = key.partition(".")
    of_kind = _newest_of("water_test" if kind == "read" else kind, most=_MOST_LOOKED_AT if which else 1)
    query = select(literal(key).label("name"), of_kind.c.at)
    if kind == "read":
        query = query.join(ReadingRow, ReadingRow.event_id == of_kind.c.id).where(ReadingRow.measure == which)
    elif kind == "dose":
        query = query.join(DoseRow, DoseRow.event_id == of_kind.c.id).where(DoseRow.product_id == which)
    elif which:
        name, _, value = which.rpartition("=")
        query = query.join(EntryRow, EntryRow.event_id == of_kind.c.id)
        query = query.where(_detail(name or "what") == value)
    return query.order_by(of_kind.c.at.desc()).limit(1)


def _newest_of(*kinds: str, most: int = _MOST_LOOKED_AT) -> Subquery:
    """The newest live entries of some kinds in the pool asked for: id, kind and instant."""
    mine = (Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None), Event.kind.in_(kinds))
    query = select(Event.id, Event.kind, Event.at).where(*mine)
    return query.order_by(Event.at.desc()).limit(most).subquery()


def _detail(name: str) -> ColumnElement[str]:
    return func.json_value(EntryRow.details, f"$.{name}")


def last_done(session: Session, pool_id: UUID, keys: Iterable[str]) -> dict[str, datetime]:
    """When each thing was last done, in one statement."""
    named = tuple(sorted(set(keys)))
    return {name: at for name, at in session.execute(_last(named), {"pool": pool_id})} if named else {}


@lru_cache(maxsize=512)
def _last(keys: tuple[str, ...]) -> CompoundSelect[str, datetime]:
    return union_all(*(select(_newest(key).subquery()) for key in keys))


def last_over(session: Session, pool_id: UUID, least: dict[tuple[str, str], float]) -> dict[str, datetime]:
    """When the newest live entry of each kind lies of which a field is at least so much."""
    parts = []
    for (kind, name), amount in least.items():
        query = select(literal(kind).label("name"), Event.at.label("at"))
        query = query.join(EntryRow, EntryRow.event_id == Event.id)
        query = query.where(
            Event.pool_id == pool_id,
            Event.deleted_at.is_(None),
            Event.kind == kind,
            _detail(name) + 0 >= amount,
        )
        parts.append(select(query.order_by(Event.at.desc()).limit(1).subquery()))
    return {name: at for name, at in session.execute(union_all(*parts))} if parts else {}


def newest_gauge(session: Session, pool_id: UUID) -> tuple[dict[str, float | str], datetime] | None:
    """The newest live reading of a filter's gauge or flow: what it holds, and when."""
    found = session.execute(_gauge(), {"pool": pool_id}).first()
    return None if found is None else (found[0], found[1])


@cache
def _gauge() -> Select[dict[str, Any], datetime]:
    return (
        select(EntryRow.details, Event.at)
        .join(Event, EntryRow.event_id == Event.id)
        .where(Event.pool_id == bindparam("pool"), Event.deleted_at.is_(None), Event.kind == "pressure")
        .where(or_(_detail("pressure").is_not(None), _detail("flow").is_not(None)))
        .order_by(Event.at.desc())
        .limit(1)
    )


def last_weather(session: Session, pool_id: UUID, rain_mm: float, wind_m_s: float) -> tuple[date, str] | None:
    """The newest day of heavy rain or of a gale that was measured at a pool's place: the day, and which."""
    asked = {"pool": pool_id, "rain": rain_mm, "wind": wind_m_s}
    found = session.execute(_weather(), asked).first()
    return None if found is None else (found[0], "storm" if found[1] >= wind_m_s else "rain")


@cache
def _weather() -> Select[date, float]:
    row = WeatherDayRow
    return (
        select(row.day, row.wind_m_s)
        .where(row.pool_id == bindparam("pool"), row.outlook.is_(False))
        .where(or_(row.rain_mm >= bindparam("rain"), row.wind_m_s >= bindparam("wind")))
        .order_by(row.day.desc())
        .limit(1)
    )


def said_of_tasks(session: Session, ids: Iterable[UUID]) -> dict[str, list[tuple[datetime, str, str]]]:
    """What was said of tasks and lives, by task: (at, verb, value)."""
    said: dict[str, list[tuple[datetime, str, str]]] = {}
    for task_id, at, verb, value in session.execute(_said_of(), {"tasks": [str(id) for id in ids]}):
        said.setdefault(str(task_id), []).append((at, verb, value))
    return said


@cache
def _said_of() -> Select[str | None, datetime, str, str]:
    return (
        select(MarkRow.task_id, Event.at, MarkRow.verb, MarkRow.value)
        .join(Event, Event.id == MarkRow.event_id)
        .where(MarkRow.task_id.in_(bindparam("tasks", expanding=True)), Event.deleted_at.is_(None))
        .where(MarkRow.verb.in_(_OF_TASKS))
    )


def minutes_logged(session: Session, pool_id: UUID, most: int = 24) -> list[tuple[str, float]]:
    """What work took, as logged with minutes, oldest first of the newest: (key, minutes)."""
    rows = session.execute(_with_minutes(), {"pool": pool_id, "most": most}).all()
    return [(f"{kind}.{what}", float(minutes)) for kind, what, minutes in reversed(rows)]


@cache
def _with_minutes() -> Select[str, str, str]:
    done = _newest_of("clean", "upkeep")
    return (
        select(done.c.kind, _detail("what"), _detail("minutes"))
        .join(EntryRow, EntryRow.event_id == done.c.id)
        .where(_detail("minutes").is_not(None))
        .order_by(done.c.at.desc())
        .limit(bindparam("most"))
    )


def last_found(session: Session, pool_id: UUID, what: str) -> str:
    """What the newest look at a thing that says so found; empty without one."""
    return str(session.scalar(_found(), {"pool": pool_id, "what": what}) or "")


@cache
def _found() -> Select[str]:
    looks = _newest_of("inspection")
    return (
        select(_detail("found"))
        .select_from(looks)
        .join(EntryRow, EntryRow.event_id == looks.c.id)
        .where(_detail("what") == bindparam("what"), _detail("found").is_not(None))
        .order_by(looks.c.at.desc())
        .limit(1)
    )


def done_since(session: Session, pool_id: UUID, since: datetime) -> list[tuple[str, str | None, datetime]]:
    """What was done from an instant on, oldest first: (kind, what or product, at)."""
    kinds = ("water_test", "dose", "clean", "backwash", "filter_clean", "inspection", "upkeep", "shock")
    what = func.coalesce(DoseRow.product_id, _detail("what"))
    query = (
        select(Event.kind, what, Event.at)
        .outerjoin(EntryRow, EntryRow.event_id == Event.id)
        .outerjoin(DoseRow, DoseRow.event_id == Event.id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= since)
        .where(Event.kind.in_(kinds))
        .order_by(Event.at, Event.id)
    )
    return [(kind, name, at) for kind, name, at in session.execute(query)]


def feeds(session: Session, account_id: UUID) -> list[FeedRow]:
    """The account's calendars that can be read, oldest first."""
    query = select(FeedRow).where(FeedRow.account_id == account_id, FeedRow.ended_at.is_(None))
    return list(session.scalars(query.order_by(FeedRow.created_at, FeedRow.id)))


def feed_by_digest(session: Session, digest: str) -> FeedRow | None:
    """The calendar that a token's digest opens, if it was not taken back."""
    return session.scalars(
        select(FeedRow).where(FeedRow.token_sha256 == digest, FeedRow.ended_at.is_(None))
    ).first()
