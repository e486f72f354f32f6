"""Fill an empty database with the sample pools: fourteen months of their lives that end today. Nothing here
is real.
"""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions.care.settings import change_care
from kumpan.actions.context import Context
from kumpan.actions.panel.binding import STANDIN, bind
from kumpan.actions.plans.accept import NewPlan, accept_plan
from kumpan.actions.pools.equipment import add_equipment
from kumpan.actions.pools.pools import PoolInput, add_pool
from kumpan.actions.pools.targets import SettingsInput, change_settings
from kumpan.actions.shelf.items import ShelfInput, add_item
from kumpan.core.care.rules import BY_ID
from kumpan.core.dosing.request import Terms
from kumpan.core.log.kinds import checked_entry
from kumpan.core.log.poured import checked_dose
from kumpan.core.records import TypedField
from kumpan.core.simulation.keep import as_data
from kumpan.core.water.readings import read_test
from kumpan.demo.foretold import foretold_of
from kumpan.demo.lives import Entry, Life
from kumpan.demo.pools import POOLS, SHELF, DemoPool
from kumpan.demo.record import KEPT_EVERY, Recorded, date_of, day_of_life, read
from kumpan.demo.seasons import put_away, season_entries
from kumpan.store import care, queries
from kumpan.store.queries import first_account
from kumpan.store.tables.log import DoseRow, EntryRow, Event, ReadingRow
from kumpan.store.tables.pools import Pool

_SHOWN_DAYS = 426  # fourteen months
_LIVE_DAYS = 10  # lived when loaded, so that what goes on now goes on now
_ACCEPTED = "Fernway Court"  # this morning's test comes with an accepted plan: Today has work under way
_AWAY_NOTE = "Back after nine days away: green, and the pump had tripped."


def load_demo(engine: Engine, now: datetime) -> bool:
    """Fill an empty database with the sample pools; False if it already holds pools."""
    with Session(engine) as session:
        account = first_account(session)
        if account is None or session.scalar(select(func.count()).select_from(Pool)):
            return False
        account.name = "Larch Hollow (made-up sample)"
        context, recorded = Context(session, account, "", now), read()
        for demo in POOLS:
            mine = replace(context, actor=f"{demo.habits.who} (sample)")
            pool = _add(mine, demo)
            events = [_event(mine, pool, entry, at) for entry, at in _shown(demo, recorded[demo.name], now)]
            events += [_event(mine, pool, entry, at) for entry, at in _upkeep(demo, now)]
            events += [_event(mine, pool, entry, at) for entry, at in season_entries(events)]
            session.add_all(events)
            session.flush()
            _taken_up(mine, pool, demo, now)
            if demo.parts:
                put_away(mine, pool, demo.parts, events)
            tests = [e for e in events if e.kind == "water_test"]
            if demo.name == _ACCEPTED and tests:
                bind(mine, pool.id, STANDIN)
                then = replace(mine, now=tests[-1].at + timedelta(minutes=2))
                accept_plan(then, tests[-1], NewPlan(uuid7(), {}, Terms()))
        for product, known, bought in SHELF:
            item = ShelfInput(product, bought="" if bought is None else _day(now, bought), **known)  # type: ignore[arg-type]
            add_item(replace(context, actor="Mara (sample)", now=now - timedelta(hours=1)), uuid7(), item)
        session.flush()
        for pool in session.scalars(select(Pool)):
            queries.keep_forecasts(session, pool.id, foretold_of(session, pool, now))
        session.commit()
    return True


def _shown(demo: DemoPool, recorded: Recorded, now: datetime) -> list[tuple[Entry, datetime]]:
    """What the log shows, each entry with its instant: the recorded months, and the last days lived now."""
    zone = ZoneInfo(demo.site.zone)
    here = now.astimezone(zone)
    today = day_of_life(here.date())
    life, lately = _lived(demo, recorded, now)
    begins = _begins(demo, today)
    entries = [e for e in recorded.entries if today - _SHOWN_DAYS <= e.day < begins] + lately
    if demo.read_today:
        entries += life.read_now(today, max(0, here.hour * 60 + here.minute - 20))
        if demo.quiet_days:
            note = {"fields": {}, "note": _AWAY_NOTE}
            entries.append(Entry(today, max(0, here.hour * 60 + here.minute - 12), "note", note))
    midnight = here.replace(hour=0, minute=0, second=0, microsecond=0, tzinfo=None)
    placed = []
    for entry in entries:
        local = midnight - timedelta(days=today - entry.day) + timedelta(minutes=entry.minute)
        at = local.replace(tzinfo=zone).astimezone(UTC)
        if at <= now:
            placed.append((entry, at))
    return placed


def end_state(now: datetime, name: str = _ACCEPTED) -> dict[str, Any]:
    """The pool that the panel's stand-in goes on with: as it stands at an instant, with its place."""
    demo = next(one for one in POOLS if one.name == name)
    life = _lived(demo, read()[name], now)[0]
    place, site = demo.site.place, demo.site
    where = {"latitude": place.latitude, "longitude": place.longitude, "offset_h": site.offset_h}
    return {"at": now.isoformat(), "place": where} | as_data(life.sim, demo.water)


def _begins(demo: DemoPool, today: int) -> int:
    """The day from which on a life is lived anew: one whose state is kept."""
    return (today - max(_LIVE_DAYS, demo.quiet_days)) // KEPT_EVERY * KEPT_EVERY


def _lived(demo: DemoPool, recorded: Recorded, now: datetime) -> tuple[Life, list[Entry]]:
    """The life up to this hour, and the entries of its last days."""
    here = now.astimezone(ZoneInfo(demo.site.zone))
    today = day_of_life(here.date())
    begins = _begins(demo, today)
    life, entries = Life(demo, recorded.states[begins]), list[Entry]()
    for day in range(begins, today + 1):
        last = day == today
        nobody = "pump off" if day > today - demo.quiet_days else "away" if last and demo.read_today else ""
        entries += life.day(day, date_of(day), here.hour if last else 24, nobody)
    return life, entries


def _upkeep(demo: DemoPool, now: datetime) -> list[tuple[Entry, datetime]]:
    """The small things its person does every so many days, back over the months shown."""
    zone = ZoneInfo(demo.site.zone)
    done = []
    for kind, what, every, ago in demo.upkeep:
        found = {"found": ["fine", ""]} if kind == "inspection" else {}
        for days in range(ago, _SHOWN_DAYS, every):
            day = (now.astimezone(zone) - timedelta(days=days)).replace(hour=10, minute=10, second=0)
            entry = Entry(0, 0, kind, {"fields": {"what": [what, ""], **found}, "note": ""})
            done.append((entry, day.astimezone(UTC)))
    return done


def _taken_up(context: Context, pool: Pool, demo: DemoPool, now: datetime) -> None:
    """Its work, as if it had come round all these months."""
    change_care(context, pool.id, demo.care, pool.revision)
    season = queries.newest_season(context.session, pool.id)
    for row in queries.tasks(context.session, pool.id):
        row.since = (now - timedelta(days=_SHOWN_DAYS)).date()
        if BY_ID[row.rule_id].in_winter and season is not None:
            row.since = season.at.date()
    care.moved(context.session, pool.id)


def _event(context: Context, pool: Pool, entry: Entry, at: datetime) -> Event:
    """An entry as it is stored, checked as if typed."""
    event = Event(id=uuid7(), pool=pool, at=at, kind=entry.kind, performed_by=context.actor, created_at=at)
    data: dict[str, Any] = entry.data
    if "readings" in data:
        event.readings = ReadingRow.rows(read_test([(*reading, None) for reading in data["readings"]]))
    elif "dose" in data:
        product, text, unit = data["dose"]
        event.detail = DoseRow.of(checked_dose(product, None, text, unit))
    else:
        typed = {name: TypedField(*field) for name, field in data["fields"].items()}
        values = checked_entry(entry.kind, typed, data["note"], context.now.date())
        as_typed = {name: vars(t) for name, t in typed.items()}
        event.detail = EntryRow(details=values, typed=as_typed, note=data["note"])
    return event


def _add(context: Context, demo: DemoPool) -> Pool:
    """The pool with its settings and equipment, as a person would have entered them."""
    site = demo.site
    pool = add_pool(
        context,
        uuid7(),
        PoolInput(
            demo.name,
            site.name,
            site.zone,
            site.place.latitude,
            site.place.longitude,
            demo.volume,
            demo.surface,
            demo.source,
            demo.installation,
            "chlorine",
        ),
    )
    change_settings(context, pool.id, SettingsInput(demo.school, True, demo.settings), pool.revision)
    for piece, bought, until in demo.equipment:
        dates = ("" if days is None else _day(context.now, days) for days in (bought, until))
        first, second = dates
        add_equipment(context, pool.id, uuid7(), replace(piece, bought=first, warranty_until=second))
    return pool


def _day(now: datetime, days: int) -> str:
    return (now + timedelta(days=days)).date().isoformat()
