"""A pool and its log as the core sees them."""

from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.core.guidance.own_targets import overrides_of
from kumpan.core.log.history import observations
from kumpan.core.log.kinds import water_kinds
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.records import Value
from kumpan.core.water.estimate.filter import present_water
from kumpan.core.water.estimate.present import Observation, Present
from kumpan.core.water.state import WaterState, with_measures
from kumpan.core.weather import observed_weather
from kumpan.store import queries
from kumpan.store.tables.pools import Pool

LOOK_BACK = timedelta(days=120)  # how much of its log an estimate starts from: our own
_VOLUME_95 = 0.10  # a volume that was not proved: common practice


def traits_of(
    pool: Pool, school: str | None = None, setting: tuple[float, float] | None = None
) -> PoolTraits:
    """The pool as the core sees it; under another school to compare. setting: what its cell runs at, percent
    and hours a day.
    """
    settings = pool.settings or {}
    cell, feeder = _details(pool, "chlorinator"), _details(pool, "feeder")
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
        heater=any(e.kind == "heater" for e in pool.equipment),
        low_ground_water=settings.get("ground_water") == "low",
        cell_g_day=_number(cell, "output"),
        cell_setting=setting,
    )


def _details(pool: Pool, kind: str) -> dict[str, Value]:
    """What is known of the first piece of a kind."""
    return next((e.details for e in pool.equipment if e.kind == kind), {})


def _number(details: dict[str, Value], name: str) -> float | None:
    value = details.get(name)
    return None if value is None else float(value)


def _pair(details: dict[str, Value], low: str, high: str) -> tuple[float, float] | None:
    first, second = _number(details, low), _number(details, high)
    return None if first is None or second is None else (first, second)


def present_of(session: Session, pool: Pool, now: datetime) -> Present:
    """The pool's water now, as its log and the weather make it."""
    traits = traits_of(pool)
    return present_water(traits, observed(session, pool, traits, now - LOOK_BACK, now), now)


def observed(
    session: Session, pool: Pool, traits: PoolTraits, since: datetime, until: datetime
) -> list[Observation]:
    """What the log and the weather tell of a pool's water between two instants, as the estimate takes it.

    Weather is left out indoors; its heat where a heater holds the water, its rain on days whose rain was
    written down.
    """
    log = [e for e in queries.log_since(session, pool.id, since, water_kinds()) if e.at <= until]
    told = observations(log, traits)
    if traits.sun == "indoor" or not log:
        return told
    zone = ZoneInfo(pool.time_zone)
    days = queries.weather_days(
        session, pool.id, log[0].at.astimezone(zone).date(), until.astimezone(zone).date()
    )
    logged = frozenset(e.at.astimezone(zone).date() for e in log if e.kind == "rain")
    weather = observed_weather(days, zone, logged, until)
    if traits.heater:
        weather = [replace(one, balance_c=None) for one in weather]
    return told + weather
