"""Add, change and archive pools; the volume from however it was given."""

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any, Literal
from uuid import UUID
from zoneinfo import available_timezones

from sqlalchemy.orm import Session

from kumpan.core import volume as v
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.guidance.bands import DEFAULT_SCHOOL, POOL_CHOICES
from kumpan.core.units import M_PER_FT, gal_to_l, parse_number
from kumpan.store import queries
from kumpan.store.tables import Account, Pool


@dataclass(frozen=True)
class VolumeInput:
    """The volume as given. how: typed (amount + unit), shape (sizes as typed) or typical (an id)."""

    how: Literal["typed", "shape", "typical"]
    unit: str = "gal"  # typed: gal or l; shape: ft or m
    amount: str = ""
    plan: Literal["rectangle", "round", "oval"] = "rectangle"
    bottom: Literal["level", "sloped"] = "level"
    length: str = ""
    width: str = ""
    shallow: str = ""
    deep: str = ""
    typical: str = ""


@dataclass(frozen=True)
class PoolInput:
    """A pool as sent."""

    name: str
    place: str
    time_zone: str
    latitude: float | None
    longitude: float | None
    volume: VolumeInput
    surface: str
    chlorine_source: str
    installation: str
    sanitizer: str


def volume_of(given: VolumeInput) -> float:
    """Litres from however the volume was given. Raises InvalidInput at ``volume.<field>``."""
    if given.how == "typical":
        match = next((t for t in v.TYPICAL if t.id == given.typical), None)
        if match is None:
            raise InvalidInput(FieldProblem("volume.typical", "unknown_choice", "Choose the size that is nearest."))
        return match.volume_l
    if given.how == "typed":
        if given.unit not in ("gal", "l"):
            raise InvalidInput(FieldProblem("volume.unit", "unknown_unit", "Volume is in US gallons or litres."))
        amount = parse_number(given.amount, "volume.amount")
        return v.checked_volume_l(gal_to_l(amount) if given.unit == "gal" else amount, "volume.amount")
    if given.unit not in ("ft", "m"):
        raise InvalidInput(FieldProblem("volume.unit", "unknown_unit", "Sizes are in feet or metres."))
    factor = M_PER_FT if given.unit == "ft" else 1.0
    names = ["length", "shallow"]
    names += ["width"] if given.plan != "round" else []
    names += ["deep"] if given.bottom == "sloped" else []
    sizes: dict[str, float] = {"width": 0.0, "deep": 0.0}
    problems: list[FieldProblem] = []
    for name in names:
        field = f"volume.{name}"
        most = 150 if name in ("length", "width") else 10
        try:
            sizes[name] = parse_number(getattr(given, name), field) * factor
            if not 0 < sizes[name] <= most:
                text = f"Between 0 and {most / factor:,.0f} {given.unit}."
                problems.append(FieldProblem(field, "out_of_range", text))
        except InvalidInput as error:
            problems += error.fields
    if not problems and given.bottom == "sloped" and sizes["deep"] < sizes["shallow"]:
        problems.append(FieldProblem("volume.deep", "depths_swapped", "The deep end is shallower than the shallow end: swap the two?"))
    if problems:
        raise InvalidInput(*problems)
    litres = v.basin_volume_l(given.plan, sizes["length"], sizes["width"], given.bottom, sizes["shallow"], sizes["deep"])
    return v.checked_volume_l(litres, "volume.length")


def add_pool(session: Session, account: Account, pool_id: UUID, given: PoolInput, now: datetime) -> Pool:
    """Store a new pool. Sending it again returns the first result."""
    known = session.get(Pool, pool_id)
    if known is not None:
        if known.account_id != account.id:
            raise Conflict("id_taken", "This id is already used for something else.")
        return known
    pool = Pool(id=pool_id, account_id=account.id, school=DEFAULT_SCHOOL, revision=1, created_at=now)
    _fill(pool, given)
    session.add(pool)
    session.flush()
    return pool


def change_pool(session: Session, account: Account, pool_id: UUID, given: PoolInput, revision: int) -> Pool:
    """Change a pool, if nobody changed it since. Accepted plans stay as given."""
    pool = queries.pool(session, account.id, pool_id, lock=True)
    check_revision(pool.revision, revision, "pool")
    _fill(pool, given)
    pool.revision += 1
    session.flush()
    return pool


def archive_pool(session: Session, account: Account, pool_id: UUID, now: datetime | None) -> Pool:
    """Put a pool away (now) or bring it back (None). Nothing of it is dropped."""
    pool = queries.pool(session, account.id, pool_id, lock=True)
    if (pool.archived_at is None) != (now is None):
        pool.archived_at = now
        pool.revision += 1
    session.flush()
    return pool


def _fill(pool: Pool, given: PoolInput) -> None:
    problems: list[FieldProblem] = []
    if not given.name.strip():
        problems.append(FieldProblem("name", "empty", "Give the pool a name you will know it by."))
    if given.time_zone not in available_timezones():
        problems.append(FieldProblem("time_zone", "unknown_zone", "Choose a time zone such as America/Chicago."))
    for name, choices in POOL_CHOICES.items():
        chosen = next((c for c in choices if c.id == getattr(given, name)), None)
        if chosen is None:
            problems.append(FieldProblem(name, "unknown_choice", "Choose one of the answers."))
        elif chosen.refused:
            problems.append(FieldProblem(name, "refused", chosen.refused))
    try:
        pool.volume_l = volume_of(given.volume)
    except InvalidInput as error:
        problems += error.fields
    if problems:
        raise InvalidInput(*problems)
    values: dict[str, Any] = asdict(given)
    pool.volume_input = values.pop("volume")
    for name, value in values.items():
        setattr(pool, name, value.strip() if isinstance(value, str) else value)
