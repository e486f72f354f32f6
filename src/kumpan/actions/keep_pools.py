"""Add, change and archive pools; the volume from however it was given."""

from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any, Literal
from uuid import UUID
from zoneinfo import available_timezones

from sqlalchemy.orm import Session

from kumpan.core import basin
from kumpan.core import volume as v
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.guidance.bands import DEFAULT_SCHOOL, POOL_CHOICES
from kumpan.core.units import L_PER_GAL, M_PER_FT, parse_number
from kumpan.store import queries
from kumpan.store.tables import Account, Pool


@dataclass(frozen=True)
class VolumeInput:
    """The volume as given, sizes as typed text.

    how: typed (amount and unit), shape (sizes), meter (two readings), hose (a minute's worth and hours) or typical (an id). unit: gal or l; of
    a shape ft or m; of a meter also ft3 or m3. width2: a kidney's other lobe. leg_out, leg_along: an L's leg. widths: a free form's, at
    equal steps. slope_from, deep_from, deep_to, wall: where a hopper's floor breaks, and the depth at its far wall.
    """

    how: Literal["typed", "shape", "meter", "hose", "typical"]
    unit: str = "gal"
    amount: str = ""
    plan: Literal["rectangle", "round", "oval", "kidney", "l", "free"] = "rectangle"
    bottom: Literal["level", "sloped", "hopper"] = "level"
    length: str = ""
    width: str = ""
    shallow: str = ""
    deep: str = ""
    typical: str = ""
    width2: str = ""
    leg_out: str = ""
    leg_along: str = ""
    widths: str = ""
    slope_from: str = ""
    deep_from: str = ""
    deep_to: str = ""
    wall: str = ""
    meter_from: str = ""
    meter_to: str = ""
    rate: str = ""
    hours: str = ""


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


def volume_of(given: VolumeInput) -> v.Volume:
    """The volume from however it was given, and how sure it is. Raises InvalidInput at ``volume.<field>``."""
    within, why = v.WITHIN[given.how]
    if given.how == "typical":
        match = next((t for t in v.TYPICAL if t.id == given.typical), None)
        if match is None:
            raise InvalidInput(FieldProblem("volume.typical", "unknown_choice", "Choose the size that is nearest."))
        return v.Volume(match.volume_l, within, why)
    if given.how == "shape":
        return _from_shape(given)
    litres = {"gal": L_PER_GAL, "l": 1.0, "ft3": (M_PER_FT**3) * 1000, "m3": 1000.0}.get(given.unit)
    if litres is None or (given.how != "meter" and given.unit not in ("gal", "l")):
        raise InvalidInput(FieldProblem("volume.unit", "unknown_unit", "Volume is in US gallons or litres."))
    if given.how == "typed":
        return v.Volume(v.checked_volume_l(parse_number(given.amount, "volume.amount") * litres, "volume.amount"), within, why)
    problems: list[FieldProblem] = []
    names = ("meter_from", "meter_to") if given.how == "meter" else ("rate", "hours")
    first, second = (_size(given, name, 1.0, 1e9, "", problems) for name in names)
    if not problems and given.how == "meter" and second <= first:
        problems.append(FieldProblem("volume.meter_to", "meter_backwards", "The meter after filling reads more than before: swap the two?"))
    if problems:
        raise InvalidInput(*problems)
    amount = (second - first) if given.how == "meter" else first * 60 * second
    return v.Volume(v.checked_volume_l(amount * litres, f"volume.{names[1]}"), within, why)


def _size(given: VolumeInput, name: str, factor: float, most: float, unit: str, problems: list[FieldProblem], least: float = 0.0) -> float:
    """One typed size in metres (or as it is); what is wrong goes to ``problems``."""
    field = f"volume.{name}"
    try:
        value = parse_number(getattr(given, name), field) * factor
    except InvalidInput as error:
        problems += error.fields
        return 0.0
    if not least <= value <= most or (value == 0 and name not in ("meter_from",)):
        problems.append(FieldProblem(field, "out_of_range", f"Between {least / factor:,.0f} and {most / factor:,.0f} {unit}.".replace(" .", ".")))
    return value


def _from_shape(given: VolumeInput) -> v.Volume:
    if given.unit not in ("ft", "m"):
        raise InvalidInput(FieldProblem("volume.unit", "unknown_unit", "Sizes are in feet or metres."))
    factor, problems = M_PER_FT if given.unit == "ft" else 1.0, []  # type: ignore[var-annotated]

    def size(name: str, most: float = 150.0) -> float:
        return _size(given, name, factor, most, given.unit, problems)

    length, shallow = size("length"), size("shallow", 10.0)
    deep = size("deep", 10.0) if given.bottom != "level" else shallow
    width = size("width") if given.plan not in ("round", "free") else length
    outline, cuts, kind = basin.rectangle(length, width), (), "shape"  # type: tuple[basin.Outline, tuple[float, ...], str]
    if given.plan in ("round", "oval"):
        outline = basin.oval(length or 1.0, width)
    elif given.plan == "kidney":
        outline, kind = basin.kidney(length or 1.0, width, size("width2")), "kidney"
    elif given.plan == "l":
        out, along = size("leg_out"), size("leg_along")
        if not problems and along >= length:
            problems.append(FieldProblem("volume.leg_along", "past_the_wall", "The leg is as long as the pool: that is a wider rectangle."))
        outline, cuts = basin.l_shape(length, width, out, along), (length - along,)
    elif given.plan == "free":
        widths = _widths(given, factor, problems)
        kind = "free" if len(widths) >= 7 else "free_few"
        if not problems:
            outline = basin.free_form(length, widths)
    if not problems and given.bottom != "level" and deep < shallow:
        problems.append(FieldProblem("volume.deep", "depths_swapped", "The deep end is shallower than the shallow end: swap the two?"))
    floor = basin.sloped(shallow, deep, length)
    if given.bottom == "hopper":
        breaks = tuple(size(name) for name in ("slope_from", "deep_from", "deep_to"))
        wall = size("wall", 10.0)
        for name, before, here in zip(("deep_from", "deep_to"), breaks, breaks[1:], strict=False):
            if not problems and here < before:
                problems.append(FieldProblem(f"volume.{name}", "breaks_out_of_order", "The floor's breaks follow each other from the shallow end."))
        if not problems and breaks[-1] > length:
            problems.append(FieldProblem("volume.deep_to", "past_the_wall", "That is past the far wall."))
        floor = basin.hopper(shallow, deep, wall, (breaks[0], breaks[1], breaks[2]), length)
    if problems:
        raise InvalidInput(*problems)
    within, why = v.WITHIN[kind]
    return v.Volume(v.checked_volume_l(basin.volume_l(outline, floor, cuts), "volume.length"), within, why, outline, floor)


def _widths(given: VolumeInput, factor: float, problems: list[FieldProblem]) -> tuple[float, ...]:
    found = []
    try:
        parts = (part.strip(",") for part in given.widths.replace(";", " ").split())
        found = [parse_number(part, "volume.widths") * factor for part in parts if part]
    except InvalidInput as error:
        problems += error.fields
        return ()
    if len(found) < 3:
        problems.append(FieldProblem("volume.widths", "too_few", "At least three widths at equal steps, end to end, spaces between: 0 9 12 11 0."))
    elif not all(0 <= w <= 150 for w in found) or not any(found):
        problems.append(FieldProblem("volume.widths", "out_of_range", f"Widths between 0 and {150 / factor:,.0f} {given.unit}."))
    return tuple(found)


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
    volume: v.Volume | None = None
    try:
        volume = volume_of(given.volume)
    except InvalidInput as error:
        problems += error.fields
    if problems or volume is None:
        raise InvalidInput(*problems)
    pool.volume_l = volume.litres
    values: dict[str, Any] = asdict(given)
    pool.volume_input = {**values.pop("volume"), "within": volume.within}
    for name, value in values.items():
        setattr(pool, name, value.strip() if isinstance(value, str) else value)
