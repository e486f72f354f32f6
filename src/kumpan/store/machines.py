"""A pool's machines as the core sees them, from its equipment and its log."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.core.care.deposits import CellLog, Look, index_log
from kumpan.core.machines.demand import Demand, Reading, demand_of_log
from kumpan.core.machines.output import cell_ppm_day, warm_share
from kumpan.core.pool.traits import CELL_STOPS_C
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState, apply
from kumpan.store import queries
from kumpan.store.tables.pools import Pool

# What of the log tells today's demand, and the index that plates live in (our own).
BALANCED, _INDEXED = timedelta(days=28), timedelta(days=200)
_CLEANINGS = ("cell_hand", "cell_bath")
_OF_INDEX = frozenset({"ph", "ta", "ch", "cya", "salt", "temp", "borate"})


@dataclass(frozen=True)
class CellSetting:
    """What a cell runs at: percent, hours a day, and since when."""

    percent: float
    hours: float
    since: datetime


def cell_setting(session: Session, pool: Pool) -> CellSetting | None:
    """What the cell runs at, by the log and the equipment; None where neither says."""
    found = cell_settings(session, pool, 1)
    return found[-1] if found else None


def cell_settings(session: Session, pool: Pool, most: int = 24) -> list[CellSetting]:
    """What the cell ran at, oldest first; hours by the equipment where an entry does not say."""
    usual = pool.known("chlorinator").get("hours_day")
    found = []
    for at, held in queries.entries_of(session, pool.id, "cell", most=most):
        hours = held.get("hours", usual)
        if "setting" in held and hours is not None:
            found.append(CellSetting(float(held["setting"]), float(hours), at))
    return found


def cell_log(session: Session, pool: Pool) -> CellLog:
    """What the log knows of the cell's plates, on the pool's clock."""
    zone = ZoneInfo(pool.time_zone)

    def local(at: datetime) -> datetime:
        return at.astimezone(zone).replace(tzinfo=None)

    looks = queries.entries_of(session, pool.id, "inspection", ("cell",))
    cleaned = queries.entries_of(session, pool.id, "upkeep", _CLEANINGS)
    last = max([at for at, _ in (*looks, *cleaned)], default=pool.created_at)
    readings = queries.readings_between(session, pool.id, last - _INDEXED, last + 10 * _INDEXED)
    read = [(local(at), m, value) for m, at, value, _ in readings if m in _OF_INDEX]
    index, ph, ch = index_log(read)
    return CellLog(
        tuple(Look(local(at), str(held["found"])) for at, held in looks if held.get("found")),
        tuple(local(at) for at, _ in cleaned),
        index,
        ph,
        ch,
        pool.known("chlorinator").get("self_cleaning") == "yes",
    )


def baths(session: Session, pool: Pool) -> list[datetime]:
    """When the cell was bathed in acid, oldest first."""
    return [at for at, _ in queries.entries_of(session, pool.id, "upkeep", ("cell_bath",), most=100)]


def demand_of(session: Session, pool: Pool, now: datetime) -> Demand | None:
    """What a fed pool uses a day by its log of four weeks; None where that does not tell."""
    since = now - BALANCED
    read = queries.readings_between(session, pool.id, since, now)
    readings = [
        Reading(at, value, METHODS[method].u95("fc", value) if method in METHODS else 1.0)
        for m, at, value, method in read
        if m == "fc"
    ]
    temps = [(at, value) for m, at, value, _ in read if m == "temp"]
    poured = [
        (at, ppm)
        for at, product, strength, amount in queries.chlorine_poured(session, pool.id, since)
        if (ppm := _chlorine_ppm(pool, product, strength, amount)) > 0
    ]
    return demand_of_log(readings, poured, _feeding(session, pool, since, temps))


def _chlorine_ppm(pool: Pool, product_id: str, strength: float | None, amount: float) -> float:
    product = PRODUCTS.get(product_id)
    if product is None or product.active is None:
        return 0.0
    change = product.change_per_unit(pool.volume_l, strength) * amount
    return 0.0 if change.cl2 <= 0 else apply(WaterState(fc_ppm=0), change).fc_ppm or 0.0


def _feeding(
    session: Session, pool: Pool, since: datetime, temps: Iterable[tuple[datetime, float]]
) -> list[tuple[datetime, float]]:
    """What the cell fed a day, each from when on; nothing while the water was too cold for it."""
    rated = pool.known("chlorinator").get("output")
    if rated is None or pool.chlorine_source != "chlorinator":
        return []
    settings, read = cell_settings(session, pool), sorted(temps)
    if not settings:
        return []
    stops = float(pool.known("chlorinator").get("cutout") or CELL_STOPS_C)
    steps = sorted({since, *(at for at, _ in read), *(s.since for s in settings if s.since > since)})
    fed = []
    for at in steps:
        held = next((s for s in reversed(settings) if s.since <= at), settings[0])
        temp = next((temp for when, temp in reversed(read) if when <= at), None)
        makes = cell_ppm_day(float(rated), held.percent, held.hours, pool.volume_l)
        fed.append((at, makes * warm_share(temp, stops)))
    return fed
