"""Add, change and archive pools; the volume from however it was given."""

from dataclasses import asdict, dataclass
from typing import Any
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.clock import is_time_zone
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.guidance.schools import DEFAULT_SCHOOL
from kumpan.core.pool.traits import POOL_CHOICES
from kumpan.core.pool.volume import Volume, VolumeInput, volume_of
from kumpan.core.pool.volume_by_dose import Estimate, combined
from kumpan.store import care, queries
from kumpan.store.tables.pools import Pool


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


def add_pool(context: Context, pool_id: UUID, answers: PoolInput) -> Pool:
    """Store a new pool. Sending it again returns the first result."""
    known = context.session.get(Pool, pool_id)
    if known is not None:
        if known.account_id != context.account.id:
            raise Conflict("id_taken", "This id is already used for something else.")
        return known
    pool = Pool(
        id=pool_id,
        account_id=context.account.id,
        school=DEFAULT_SCHOOL,
        revision=1,
        created_at=context.now,
        volume_input={},
    )
    _fill(pool, answers)
    context.session.add(pool)
    care.fit(context.session, pool, context.now)
    return pool


def change_pool(context: Context, pool_id: UUID, answers: PoolInput, revision: int) -> Pool:
    """Change a pool, if nobody changed it since. Accepted plans stay as given."""
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    check_revision(pool.revision, revision, "pool")
    stood = pool.latitude, pool.longitude, pool.time_zone
    _fill(pool, answers)
    if stood != (pool.latitude, pool.longitude, pool.time_zone):
        queries.forget_weather(context.session, pool.id)  # what was told of another place
    pool.revision += 1
    care.fit(context.session, pool, context.now)
    return pool


def archive_pool(context: Context, pool_id: UUID, away: bool) -> Pool:
    """Put a pool away, or bring it back (not ``away``). Nothing of it is dropped."""
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    if (pool.archived_at is None) == away:
        pool.archived_at = context.now if away else None
        pool.revision += 1
    context.session.flush()
    return pool


def _fill(pool: Pool, answers: PoolInput) -> None:
    problems = _problems(pool, answers)
    volume: Volume | None = None
    try:
        volume = volume_of(answers.volume)
    except InvalidInput as error:
        problems += error.fields
    if problems or volume is None:
        raise InvalidInput(*problems)
    values: dict[str, Any] = asdict(answers)
    weigh_volume(pool, values.pop("volume"), pool.volume_input.get("proofs", []))
    for name, value in values.items():
        setattr(pool, name, value.strip() if isinstance(value, str) else value)


def _problems(pool: Pool, answers: PoolInput) -> list[FieldProblem]:
    problems: list[FieldProblem] = []
    if answers.chlorine_source != "chlorinator" and any(e.kind == "chlorinator" for e in pool.equipment):
        problems.append(
            FieldProblem(
                "chlorine_source",
                "has_chlorinator",
                "A chlorinator is among its equipment: take it off there first.",
            )
        )
    if not answers.name.strip():
        problems.append(FieldProblem("name", "empty", "Give the pool a name you will know it by."))
    if not is_time_zone(answers.time_zone):
        problems.append(
            FieldProblem("time_zone", "unknown_zone", "Choose a time zone such as America/Chicago.")
        )
    for name, choices in POOL_CHOICES.items():
        chosen = next((c for c in choices if c.id == getattr(answers, name)), None)
        if chosen is None:
            problems.append(FieldProblem(name, "unknown_choice", "Choose one of the answers."))
        elif chosen.refused:
            problems.append(FieldProblem(name, "refused", chosen.refused))
    return problems


def weigh_volume(pool: Pool, answers: dict[str, Any], proofs: list[dict[str, Any]]) -> None:
    """Set the pool's volume from how it was given (the fields of ``VolumeInput``) and the proofs taken from
    its log.
    """
    stated = volume_of(VolumeInput(**answers))
    known = combined(
        [Estimate(stated.litres, stated.within), *(Estimate(p["litres"], p["within"]) for p in proofs)]
    )
    pool.volume_l = known.litres if proofs else stated.litres
    pool.volume_input = {**answers, "within": known.within, "proofs": proofs}


def volume_given(pool: Pool) -> dict[str, Any]:
    """How the pool's volume was given: the fields of ``VolumeInput``, as typed."""
    return {n: t for n, t in pool.volume_input.items() if n not in ("within", "proofs")}
