"""A pool's machines as the core sees them, from its equipment and its log."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.core.care.deposits import CellLog, Look, index_log
from kumpan.store import queries
from kumpan.store.tables.pools import Pool

# What of the log tells the index that plates live in (our own).
_INDEXED = timedelta(days=200)
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
