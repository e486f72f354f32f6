"""Tasks as the core sees them, and what is kept of them on their rows: made for a pool, moved by its log."""

from collections.abc import Iterable
from dataclasses import replace
from datetime import date, datetime, time
from typing import Any
from uuid import UUID, uuid5
from zoneinfo import ZoneInfo

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from kumpan.core.care.adaptive import RULES as ADAPTIVE
from kumpan.core.care.duties import Wanted, wanted
from kumpan.core.care.facts import Facts
from kumpan.core.care.recur import Window, check_opens, checked_days, checked_rule, checked_window
from kumpan.core.care.rule import Rule
from kumpan.core.care.rules import BY_ID, FOLLOW_UP, HAZARD, OWN
from kumpan.core.care.schedule import Due, Said, Task, next_due
from kumpan.core.care.site import Care, Site
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.pool.equipment import KINDS
from kumpan.core.products.supplies import REAGENTS, REAGENTS_KEEP_DAYS
from kumpan.core.records import checked_date
from kumpan.store import queries
from kumpan.store.machines import cell_log
from kumpan.store.tables.care import TaskRow
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.shelf import ShelfItem
from kumpan.store.water import traits_of

# Rain that dilutes a pool (an inch, common practice), and a gale by its scale (Beaufort 8: WMO, from memory).
_HEAVY_RAIN_MM, _GALE_M_S = 25.4, 17.2
# Fresh water or a loss that a test should see (our own): a tenth of the pool.
_MUCH_WATER = 0.1
FOUND = frozenset({FOLLOW_UP.id, HAZARD.id})  # what a walk found, to be seen to
_FREE = frozenset({*FOUND, OWN.id})  # made by a person or a finding, not by the pool's equipment


_CHOSEN = ("cadence", "minutes", "shock", "test_when", "order", "filter_by")


def chosen_of(pool: Pool) -> dict[str, Any]:
    """How the person chose to look after a pool, as kept with its settings."""
    held: dict[str, Any] = (pool.settings or {}).get("care", {})
    return held


def care_of(pool: Pool) -> Care:
    """How the person chose to look after a pool."""
    held = chosen_of(pool)
    season = checked_window(held.get("season_from", ""), held.get("season_to", ""))
    named = {n: held[n] for n in _CHOSEN if held.get(n)}
    return Care(**named, season=season)


def site_of(session: Session, pool: Pool) -> Site:
    """A pool as its work sees it, alone."""
    equipment = {e.kind: e.details for e in reversed(pool.equipment)}
    warranties = {
        str(e.id): KINDS[e.kind].label.lower() for e in pool.equipment if e.warranty_until is not None
    }
    setting, season = (pool.settings or {}).get("setting", "unknown"), queries.newest_season(session, pool.id)
    closed = season is not None and season.what == "closed"
    return Site(traits_of(pool), care_of(pool), equipment, warranties, setting, closed=closed)


def _among_others(session: Session, pool: Pool, site: Site) -> Site:
    """A pool's site with what hangs on the account's other pools."""
    first = session.scalar(
        select(Pool.id)
        .where(Pool.account_id == pool.account_id, Pool.archived_at.is_(None))
        .order_by(Pool.created_at, Pool.name, Pool.id)
        .limit(1)
    )
    before = queries.pools_before(session, pool) if site.care.is_technician else 0
    return replace(site, names_reagents=first == pool.id, in_round=before)


def window_of(season: str) -> Window | None:
    """A stored season."""
    opens, _, closes = season.partition("/")
    return checked_window(opens, closes)


def task_of(row: TaskRow) -> Task:
    """A task as the core sees it."""
    on = row.params.get("on")
    return Task(
        str(row.id),
        row.rule_id,
        row.anchor,  # type: ignore[arg-type]
        row.since,
        int(row.params.get("first_days", 0)),
        row.days,
        row.rrule,
        date.fromisoformat(on) if on else None,
        row.params,
        window_of(row.season),
    )


def check_task(anchor: str, rrule: str, days: int, params: dict[str, Any], season: str) -> None:
    """Whether a task as stored can come round. Raises InvalidInput."""
    window = window_of(season)
    if anchor == "completion":
        checked_days(days)
    elif anchor == "calendar":
        check_opens(checked_rule(rrule), date(2024, 1, 1), window)
    elif anchor == "once":
        checked_date(str(params.get("on", "")), date(2024, 1, 1), "on", past=False)
    elif str(params.get("adaptive") or "by_gauge") not in ADAPTIVE:
        raise InvalidInput(FieldProblem("params", "unknown_rule", "There is no such rule."))


def fit(session: Session, pool: Pool, now: datetime) -> None:
    """Give a pool the tasks that its equipment and its person's cadence ask for, and end those they do not.
    What the person set of one stays. Called, its row locked, whenever either changed.
    """
    session.flush()
    session.refresh(pool, ["equipment"])
    today = now.astimezone(ZoneInfo(pool.time_zone)).date()
    rows = queries.tasks(session, pool.id, ended=True)
    held = {(r.rule_id, str(r.params.get("equipment_id", ""))): r for r in rows if r.rule_id not in _FREE}
    care = care_of(pool)
    season = care.season.text if care.season else ""
    for one in wanted(_among_others(session, pool, site_of(session, pool))):
        row = held.pop((one.rule.id, one.part), None)
        if row is None:
            row = TaskRow(
                id=uuid5(pool.id, f"{one.rule.id}:{one.part}"),
                account_id=pool.account_id,
                pool_id=pool.id,
                pool=pool,
                rule_id=one.rule.id,
                revision=1,
                created_at=now,
                since=today,
                own=False,
                next_why="",
            )
            session.add(row)
            rows.append(row)
        elif row.ended_at is not None:
            row.ended_at, row.since = None, today
        _take_up(row, one, season if one.in_season else "")
    for row in held.values():
        row.ended_at = row.ended_at or now
    session.flush()
    _keep(session, pool, [r for r in rows if r.ended_at is None])


def fit_closed(session: Session, pool_id: UUID, now: datetime) -> None:
    """Fit a pool's tasks anew where its log has come to say that it was closed, or opened."""
    rows = queries.tasks(session, pool_id)
    season = queries.newest_season(session, pool_id)
    closed = season is not None and season.what == "closed"
    if any(BY_ID[r.rule_id].in_winter for r in rows) != closed and rows:
        fit(session, rows[0].pool, now)


def fit_all(session: Session, now: datetime, anew: bool = False) -> None:
    """Give tasks to every pool that has none yet: those of an earlier release, and the demo's. anew: fit all
    of them, as rules may have changed with the release.
    """
    have = select(TaskRow.pool_id).distinct()
    query = select(Pool) if anew else select(Pool).where(Pool.id.not_in(have))
    for pool in session.scalars(query.with_for_update()):
        fit(session, pool, now)


def _take_up(row: TaskRow, one: Wanted, season: str) -> None:
    """What the rule says of it, where the person said nothing else."""
    row.subject = one.rule.group
    if row.own:
        return
    extra = {"title": one.title} if one.title else {}
    params = {**one.params, **extra, **({"first_days": one.first_days} if one.first_days else {})}
    row.anchor, row.rrule, row.days, row.season = one.anchor, one.rrule, one.days, season
    row.params = params


# --- Moved by the log.


_KIND_OF = {"read": "water_test", "dose": "dose"}


def _kinds_of(rule: Rule) -> frozenset[str]:
    """Kinds of entry that can move a task of this rule."""
    kinds = {key.partition(".")[0] for key in rule.keys}
    told = {_KIND_OF.get(name, name) for name in kinds} | set(rule.params.get("events", ()))
    told |= {"pressure"} if rule.adaptive == "by_gauge" else set()
    told |= {"upkeep", "water_test"} if rule.adaptive == "by_deposit" else set()
    return frozenset(told | ({"upkeep", "inspection", "clear_up"} if rule.id in _FREE else set()))


_MOVED_BY = {rule.id: _kinds_of(rule) for rule in BY_ID.values()}
_ALL_KINDS = frozenset({"mark", "weather"}).union(*_MOVED_BY.values())


def moved(session: Session, pool_id: UUID, kinds: Iterable[str] | None = None) -> None:
    """Keep on each task's row when it is next due, after entries of these kinds (None: any) were written,
    corrected or deleted.
    """
    told = None if kinds is None else frozenset(kinds)
    if told is not None and not told & _ALL_KINDS:
        return
    rows = [
        row
        for row in queries.tasks(session, pool_id)
        if told is None or told & {"mark", "weather"} or told & _MOVED_BY[row.rule_id]
    ]
    if rows:
        _keep(session, rows[0].pool, rows)


def shelf_moved(session: Session, account_id: UUID) -> None:
    """Keep on the account's reminders of old reagents when they are due, after its shelf changed."""
    query = select(TaskRow).where(
        TaskRow.account_id == account_id, TaskRow.rule_id == "reagents", TaskRow.ended_at.is_(None)
    )
    for row in session.scalars(query):
        keep_task(session, row)


def keep_task(session: Session, row: TaskRow) -> None:
    """Keep on one task's row when it is next due."""
    _keep(session, row.pool, [row])


def _keep(session: Session, pool: Pool, rows: list[TaskRow]) -> None:
    for row, due in dues(session, pool, rows):
        row.next_due, row.next_why, row.next_lapses = due.on, due.why[:400], due.lapses


def dues(session: Session, pool: Pool, rows: list[TaskRow]) -> list[tuple[TaskRow, Due]]:
    """When each of a pool's tasks is next due, worked out from the log."""
    facts = facts_of(session, pool, rows)
    said = queries.said_of_tasks(session, [row.id for row in rows]) if rows else {}
    zone = ZoneInfo(pool.time_zone)
    found = []
    for row in rows:
        rule, task = BY_ID[row.rule_id], task_of(row)
        done = facts.done_by_task.get(task.id) if row.rule_id in _FREE else facts.done(rule.met_by)
        if row.params.get("opens") == "clear-up":  # algae found: seen to once they are fought
            done = facts.last.get("clear_up")
        heard = [_said(at, verb, value, zone) for at, verb, value in said.get(task.id, [])]
        skips = [s.at for s in heard if s.until is None]
        last = max([done, *skips], key=lambda at: at or datetime.min) if done or skips else None
        told = ADAPTIVE[_adaptive(row, rule)](task, last, facts) if task.anchor == "adaptive" else None
        found.append((row, next_due(task, done, heard, told)))
    return found


def _adaptive(row: TaskRow, rule: Rule) -> str:
    return str(row.params.get("adaptive") or rule.adaptive)


def _said(at: datetime, verb: str, value: str, zone: ZoneInfo) -> Said:
    local = at.astimezone(zone).replace(tzinfo=None)
    return Said(local, date.fromisoformat(value)) if verb == "snooze" else Said(local, None, value)


def facts_of(session: Session, pool: Pool, rows: list[TaskRow]) -> Facts:
    """What the log and the papers say, as far as these tasks need it."""
    rules = {row.rule_id: BY_ID[row.rule_id] for row in rows}.values()
    free = {f"upkeep.task_id={row.id}": str(row.id) for row in rows if row.rule_id in _FREE}
    adaptive = {_adaptive(row, BY_ID[row.rule_id]) for row in rows}
    events = {name for rule in rules for name in rule.params.get("events", ())}
    keys = frozenset().union(*(rule.keys for rule in rules)) | {*free} | (events - _BY_AMOUNT)
    keys |= {"clear_up"} if free else set()
    zone = ZoneInfo(pool.time_zone)
    found = {k: _local(at, zone) for k, at in queries.last_done(session, pool.id, keys).items()}
    return Facts(
        last=found,
        **_machines(session, pool, zone, adaptive),
        papers=_papers(session, pool) if {"by_paper", "after_paper"} & adaptive else {},
        done_by_task={free[key]: at for key, at in found.items() if key in free},
        events=_events(session, pool, events, found, zone) if events else {},
        pump_hours_day=_pump_hours_day(pool),
        weather=queries.newest_weather(session, pool.id, _WEATHER_DAYS) if _BY_WEATHER & adaptive else (),
    )


_BY_WEATHER, _WEATHER_DAYS = frozenset({"by_rain", "before_freeze"}), 40
# Events of which a little is none: how much of each calls for a look.
_BY_AMOUNT = frozenset({"rain", "refill", "drain"})


def _local(at: datetime, zone: ZoneInfo) -> datetime:
    return at.astimezone(zone).replace(tzinfo=None)


def _pump_hours_day(pool: Pool) -> float | None:
    pump = pool.known("pump")
    return float(pump.get("hours") or 0.0) + float(pump.get("hours_2") or 0.0) or None


def _machines(session: Session, pool: Pool, zone: ZoneInfo, adaptive: set[str]) -> dict[str, Any]:
    """What the rules of a filter and of a cell need to know."""
    told = _gauge(session, pool, zone) if "by_gauge" in adaptive else {}
    return told | ({"cell": cell_log(session, pool)} if "by_deposit" in adaptive else {})


def _gauge(session: Session, pool: Pool, zone: ZoneInfo) -> dict[str, Any]:
    """What was read of the filter's gauge and of the flow, and the pressure when clean at that speed."""
    read, held, pump = queries.newest_gauge(session, pool.id), pool.known("filter"), pool.known("pump")
    if read is None:
        return {"clean_kpa": held.get("clean")}
    details, at = read
    second = details.get("speed") == "second"
    told: dict[str, Any] = {"clean_kpa": held.get("clean_2" if second else "clean")}
    if "pressure" in details:
        told["gauge"] = (float(details["pressure"]), _local(at, zone))
    own = pump.get("flow_2" if second else "flow")
    if own and "flow" in details:
        told["flow"] = (float(details["flow"]) / float(own), _local(at, zone))
    return told


def _events(
    session: Session, pool: Pool, asked: set[str], found: dict[str, datetime], zone: ZoneInfo
) -> dict[str, datetime]:
    """What calls for a look, by the log and by the weather of the place."""
    much = _MUCH_WATER * pool.volume_l
    least = {("rain", "fell"): _HEAVY_RAIN_MM, ("refill", "added"): much, ("drain", "lost"): much}
    over = queries.last_over(session, pool.id, {k: v for k, v in least.items() if k[0] in asked})
    events = {n: at for n, at in found.items() if n in asked - _BY_AMOUNT}
    events |= {k: _local(at, zone) for k, at in over.items()}
    weather = queries.last_weather(session, pool.id, _HEAVY_RAIN_MM, _GALE_M_S)
    if weather is not None and weather[1] in asked:
        day, name = weather
        evening = datetime.combine(day, time(23, 59))
        events[name] = max(evening, events.get(name, evening))
    return events


def _papers(session: Session, pool: Pool) -> dict[str, date]:
    """Days that the pool's records and the account's shelf name."""
    papers = {f"warranty:{e.id}": e.warranty_until for e in pool.equipment if e.warranty_until is not None}
    for kind, field, name in (("openings", "cover_until", "drain_cover"), ("filter", "media", "media")):
        held = pool.known(kind).get(field)
        if isinstance(held, str):
            papers[name] = date.fromisoformat(held)
    oldest = session.scalar(
        select(func.min(ShelfItem.bought)).where(
            ShelfItem.account_id == pool.account_id,
            ShelfItem.removed_at.is_(None),
            ShelfItem.product_id.in_(REAGENTS),
        )
    )
    if oldest is not None:
        papers["reagents"] = date.fromordinal(oldest.toordinal() + REAGENTS_KEEP_DAYS)
    return papers


def ended_with(session: Session, event: Event, now: datetime) -> None:
    """End what was to be followed up of an entry that was deleted, or take it up again with it."""
    for row in queries.tasks(session, event.pool_id, ended=True):
        if row.rule_id in FOUND and row.params.get("event_id") == str(event.id):
            row.ended_at = now if event.deleted_at is not None else None
