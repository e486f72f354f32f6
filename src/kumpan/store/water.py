"""A pool and its log as the core sees them."""

import hashlib
from collections.abc import Iterable
from dataclasses import replace
from datetime import UTC, datetime, time, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.core.guidance.own_targets import overrides_of
from kumpan.core.log.entry import Details, LogEntry
from kumpan.core.log.history import REFILLED_WITHIN, observations
from kumpan.core.log.kinds import losing_kinds, water_kinds
from kumpan.core.pool.traits import CELL_STOPS_C, PoolTraits
from kumpan.core.records import Value
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.kept import ESTIMATE_VERSION, as_data, from_data
from kumpan.core.water.estimate.present import Observation, Present
from kumpan.core.water.state import WaterState, with_measures
from kumpan.core.weather import foretold_weather, observed_weather
from kumpan.store import queries
from kumpan.store.tables.pools import Pool

# How much of its log an estimate starts from, and up to a month more (our own).
LOOK_BACK = timedelta(days=120)
_VOLUME_95 = 0.10  # a volume that was not proved: common practice


def traits_of(
    pool: Pool, school: str | None = None, setting: tuple[float, float] | None = None
) -> PoolTraits:
    """The pool as the core sees it; under another school to compare. setting: what its cell runs at, percent
    and hours a day.
    """
    settings = pool.settings or {}
    cell, feeder = pool.known("chlorinator"), pool.known("feeder")
    held = [e.details["holds"] for e in pool.equipment if e.kind == "feeder" and "holds" in e.details]
    return PoolTraits(
        pool.volume_l,
        pool.surface,
        pool.chlorine_source,
        pool.installation,
        school=school or pool.school,
        sun=settings.get("sun", "part"),
        overrides=overrides_of(settings.get("targets", {})),
        borate_allowed=settings.get("borate_allowed", True),
        volume_95=pool.volume_input.get("within", _VOLUME_95),
        fill=with_measures(WaterState(), settings.get("fill", {})),
        hose_l_h=settings.get("hose_l_h"),
        cell_salt_ppm=_pair(cell, "salt_low", "salt_high"),
        cell_salt_aim_ppm=_number(cell, "salt_aim"),
        feeder_held=str(held[0]) if held else None,
        feeder_dial=_pair(feeder, "dial", "dial_most"),
        label_fc_ppm=settings.get("label_fc_ppm"),
        heater=_heated(pool),
        low_ground_water=settings.get("ground_water") == "low",
        cell_g_day=_number(cell, "output"),
        cell_setting=setting,
        cell_hours=_number(cell, "hours_day") or _number(pool.known("pump"), "hours"),
        cell_stops_c=_number(cell, "cutout") or CELL_STOPS_C,
        sun_ahead_h=None if pool.longitude is None else pool.longitude / 15,
    )


def _heated(pool: Pool) -> bool:
    return any(e.kind == "heater" for e in pool.equipment)


def _number(details: dict[str, Value], name: str) -> float | None:
    value = details.get(name)
    return None if value is None else float(value)


def _pair(details: dict[str, Value], low: str, high: str) -> tuple[float, float] | None:
    first, second = _number(details, low), _number(details, high)
    return None if first is None or second is None else (first, second)


def present_of(session: Session, pool: Pool, now: datetime, ahead: timedelta = timedelta()) -> Present:
    """The pool's water now, as its log and the weather make it; or so far ahead, left to itself.

    Most of the log lies days back and does not change: where the filter stood then is kept, and only what
    came since is walked through. Whatever changes before deletes what is kept (``estimate_moved``).
    """
    return filter_of(session, pool, now).at(now + ahead)


def filter_of(session: Session, pool: Pool, now: datetime) -> Filter:
    """The pool's filter where it stands now, the log and the weather so far taken."""
    traits = traits_of(pool)
    since = _begins(pool, now)
    until, walk = _kept_filter(session, pool, traits, since, now)
    for entry in _in_order(observed(session, pool, traits, until, now), until, None):
        walk.take(entry)
    return walk


def outlook_of(session: Session, pool: Pool, now: datetime, days: int) -> list[Observation]:
    """The weather to come, as the estimate takes it; none indoors, its heat not where a heater holds the
    water.
    """
    if traits_of(pool).sun == "indoor":
        return []
    zone = ZoneInfo(pool.time_zone)
    today = now.astimezone(zone).date()
    told = queries.weather_days(session, pool.id, today, today + timedelta(days=days))
    weather = foretold_weather(told, zone, now)
    return [replace(one, balance_c=None) for one in weather] if _heated(pool) else weather


def estimate_moved(session: Session, pool_id: UUID, kinds: Iterable[str] | None, *instants: datetime) -> None:
    """Forget an estimate that reaches past entries of these kinds (None: any) that were written, corrected,
    deleted or brought back, or weather that was told. The pool's row is locked by now.
    """
    if kinds is None or set(kinds) & set(water_kinds()):
        queries.forget_estimate(session, pool_id, min(instants))


def _kept_filter(
    session: Session, pool: Pool, traits: PoolTraits, since: datetime, now: datetime
) -> tuple[datetime, Filter]:
    """The filter where it stood a few days back, and when that was: as kept, else made of the log and
    kept.
    """
    of_pool = hashlib.sha256(repr(traits).encode()).hexdigest()
    made_by = {"rule_version": ESTIMATE_VERSION, "of_pool": of_pool, "since_at": since}
    newest = _midnight(pool, now - timedelta(days=_SETTLED_DAYS[0]))

    def read() -> tuple[datetime, Filter]:
        kept = queries.estimate_kept(session, pool.id)
        if kept is None or kept["upto_at"] > newest or any(kept[n] != v for n, v in made_by.items()):
            return since, begun(session, pool, traits, since)
        return kept["upto_at"], from_data(traits, kept["state"])

    began, walk = read()
    if began == newest:
        return began, walk
    mine = queries.lock_free_pool(session, pool.id)
    if mine:  # from here on nothing of its log changes; until here it may have
        began, walk = read()
    until = max(began, _settled(session, pool, now, since))
    for entry in _in_order(observed(session, pool, traits, began, until), began, until):
        walk.take(entry)
    if mine and began < until:
        state = {"pool_id": pool.id, "upto_at": until, "state": as_data(walk)}
        queries.keep_estimate(session, made_by | state)
    return until, walk


_SETTLED_DAYS = range(2, 15)


def begun(session: Session, pool: Pool, traits: PoolTraits, since: datetime) -> Filter:
    """A filter that begins at an instant, and knows what the cell ran at before."""
    fresh = Filter(traits)
    held = queries.entry_before(session, pool.id, "cell", since) if traits.has_chlorinator else None
    if held is not None:
        for entry in observations([LogEntry("", held[0], "cell", Details(held[1]))], traits):
            fresh.take(entry)
    return fresh


def _begins(pool: Pool, now: datetime) -> datetime:
    """Where an estimate begins: with a month, so that what is kept of one holds for a month."""
    first = (now - LOOK_BACK).astimezone(ZoneInfo(pool.time_zone)).replace(day=1)
    return _midnight(pool, first)


def _settled(session: Session, pool: Pool, now: datetime, since: datetime) -> datetime:
    """Midnight a few days ago, before which no loss of water still waits for its refill; ``since`` where
    there is none: then nothing is kept.
    """
    losses = queries.instants_of(
        session, pool.id, now - timedelta(days=_SETTLED_DAYS[-1] + 4), losing_kinds()
    )
    for days in _SETTLED_DAYS:
        until = _midnight(pool, now - timedelta(days=days))
        if not any(until - REFILLED_WITHIN <= at < until for at in losses):
            return until
    return since


def _midnight(pool: Pool, at: datetime) -> datetime:
    return datetime.combine(at.astimezone(zone := ZoneInfo(pool.time_zone)).date(), time(), zone).astimezone(
        UTC
    )


def _in_order(entries: list[Observation], first: datetime, before: datetime | None) -> list[Observation]:
    """Entries from one instant on and before another, in the order in which the estimate takes them."""
    kept = (e for e in entries if first <= e.at and (before is None or e.at < before))
    return sorted(kept, key=lambda e: (e.at, e.id))


def observed(
    session: Session, pool: Pool, traits: PoolTraits, since: datetime, until: datetime
) -> list[Observation]:
    """What the log and the weather tell of a pool's water between two instants, as the estimate takes it.

    Weather is left out indoors; its heat where a heater holds the water, its rain on days whose rain was
    written down.
    """
    log = [e for e in queries.log_since(session, pool.id, since, water_kinds()) if e.at <= until]
    told = observations(log, traits)
    if traits.sun == "indoor":
        return told
    zone = ZoneInfo(pool.time_zone)
    days = queries.weather_days(
        session, pool.id, since.astimezone(zone).date(), until.astimezone(zone).date()
    )
    logged = frozenset(e.at.astimezone(zone).date() for e in log if e.kind == "rain")
    weather = observed_weather(days, zone, logged, until)
    if traits.heater:
        weather = [replace(one, balance_c=None) for one in weather]
    return told + weather
