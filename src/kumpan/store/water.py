"""A pool and its log as the core sees them."""

from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from kumpan.core.guidance.own_targets import overrides_of
from kumpan.core.log.history import observations
from kumpan.core.log.kinds import water_kinds
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.estimate.filter import Present, present_water
from kumpan.core.water.state import WaterState, with_measures
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
    cell = next((e.details for e in pool.equipment if e.kind == "chlorinator"), {})
    feeder = next((e.details for e in pool.equipment if e.kind == "feeder"), {})
    dial, dial_most = feeder.get("dial"), feeder.get("dial_most")
    held = [e.details["holds"] for e in pool.equipment if e.kind == "feeder" and "holds" in e.details]
    low, high = cell.get("salt_low"), cell.get("salt_high")
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
        cell_salt_ppm=None if low is None or high is None else (float(low), float(high)),
        cell_salt_aim_ppm=None if (aim := cell.get("salt_aim")) is None else float(aim),
        feeder_held=str(held[0]) if held else None,
        feeder_dial=None if dial is None or dial_most is None else (float(dial), float(dial_most)),
        label_fc_ppm=settings.get("label_fc_ppm"),
        heater=any(e.kind == "heater" for e in pool.equipment),
        low_ground_water=settings.get("ground_water") == "low",
        cell_g_day=None if (rated := cell.get("output")) is None else float(rated),
        cell_setting=setting,
    )


def present_of(session: Session, pool: Pool, now: datetime) -> Present:
    """The pool's water now, as its log makes it."""
    log = queries.log_since(session, pool.id, now - LOOK_BACK, water_kinds())
    traits = traits_of(pool)
    return present_water(traits, observations([e for e in log if e.at <= now], traits), now)
