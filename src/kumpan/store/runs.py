"""A clear-up run as the core follows it, from its sheet, its pool and the log."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.core.chemistry import constants as k
from kumpan.core.clearup.dose import Measures
from kumpan.core.clearup.follow import Followed, follow
from kumpan.core.clearup.prevention import PHOSPHATE, Past
from kumpan.core.clearup.run import Run, Site, Told, Value
from kumpan.core.log.entry import Dose, LogEntry
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.work.sheet import Mark
from kumpan.store import queries
from kumpan.store.stored_run import read_run
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.sheets import SheetRow
from kumpan.store.water import traits_of

# What a run looks at besides its own days: a filter cleaned the day before.
_BEFORE = timedelta(hours=24)
_WEEKS = timedelta(days=30)
_KINDS = ("water_test", "dose", "backwash", "filter_clean")


def run_of(event: Event) -> Run:
    """How a run began."""
    assert isinstance(event.detail, SheetRow)
    at = event.at.astimezone(ZoneInfo(event.pool.time_zone))
    return read_run(event.detail.inputs, str(event.id), at)


def site_of(pool: Pool) -> Site:
    """The pool as a run needs it: its filter, what its valve can, what feeds it."""
    held = next((e.details for e in pool.equipment if e.kind == "filter"), {})
    medium, valve = str(held.get("medium", "")), str(held.get("valve", ""))
    can: bool | None = valve == "multiport" if valve else False if medium == "cartridge" else None
    clean = held.get("clean")
    feeds = {"chlorinator": "cell", "tablets": "tablets"}.get(pool.chlorine_source, "")
    return Site(
        traits_of(pool),
        medium or "sand",
        can,
        None if clean is None else float(clean),
        feeds,
        in_line=feeds == "tablets" and pool.known("feeder").get("what") == "feeder",
        copper_system=pool.known("mineral").get("what") == "copper",
    )


def told_of(session: Session, pool: Pool, since: datetime) -> list[Told]:
    """The pool's log from an instant on, as a run sees it."""
    return [_told(e, pool.volume_l) for e in queries.log_since(session, pool.id, since, _KINDS)]


def _told(entry: LogEntry, volume_l: float) -> Told:
    readings = {r.measure: Value(r.value, r.method) for r in entry.readings}
    if isinstance(entry.payload, Dose):
        dose, product = entry.payload, PRODUCTS.get(entry.payload.product_id)
        brings = 0.0
        if product is not None and product.active is not None:
            change = product.change_per_unit(volume_l, dose.strength)
            brings = max(0.0, change.cl2 * dose.amount * 1000 * k.CL2)
        return Told(entry.id, entry.at, entry.kind, {}, dose.product_id, dose.amount, brings)
    return Told(entry.id, entry.at, entry.kind, readings)


def followed(session: Session, event: Event, now: datetime, measures: Measures | None = None) -> Followed:
    """A run at an instant."""
    run = run_of(event)
    told = told_of(session, event.pool, run.at - _BEFORE)
    marks = [
        Mark(str(id), at, mark.key, mark.verb, mark.value)
        for id, at, mark, _ in queries.marks_of(session, event.id)
    ]
    return follow(run, site_of(event.pool), (told, marks), now, measures)


def past_of(session: Session, pool: Pool, begun: datetime, now: datetime) -> Past:
    """What the log tells of the month before a run, and of phosphate until now."""
    read = queries.readings_between(session, pool.id, begun - _WEEKS, begun)
    pump = next((e.details for e in pool.equipment if e.kind == "pump"), {})
    hours = pump.get("hours")
    days = queries.weather_days(session, pool.id, (begun - timedelta(days=10)).date(), begun.date())
    phosphate = queries.readings_between(session, pool.id, begun - _WEEKS, now)
    return Past(
        begun,
        tuple((at, value) for m, at, value, _ in read if m == "fc" and at < begun - timedelta(hours=12)),
        _last(read, "cya"),
        None if hours is None else float(hours),
        max((d.rain_mm for d in days if not d.outlook), default=0.0),
        _last(phosphate, PHOSPHATE),
        any(m == "ph" and value >= 7.85 for m, _, value, _ in read),
        _last_over(session, pool, begun),
    )


def _last(read: list[tuple[str, datetime, float, str]], measure: str) -> float | None:
    values = [value for m, _, value, _ in read if m == measure]
    return values[-1] if values else None


def _last_over(session: Session, pool: Pool, begun: datetime) -> datetime | None:
    """When the last algae run before this one ended, within a month."""
    ended = []
    for other in queries.sheets_alive(session, pool.id, (begun - _WEEKS, begun)):
        row = other.detail
        if other.kind != "clear_up" or other.at >= begun or not isinstance(row, SheetRow):
            continue
        if row.ended_at is not None and row.ended_at < begun and run_of(other).aim == "algae":
            ended.append(row.ended_at)
    return max(ended, default=None)
