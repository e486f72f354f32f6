"""Pools, the account's measures, and volumes from shapes."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic import BaseModel

from kumpan.actions import keep_pools, keep_targets, prove_volume, read_log
from kumpan.actions.context import Context
from kumpan.actions.waters import traits_of
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES
from kumpan.api.schemas.bodies import (
    AccountChange,
    NewPool,
    PoolChange,
    ProofBody,
    SettingsBody,
    SettingsChange,
    VolumeBody,
)
from kumpan.core.dosing.view import band_words
from kumpan.core.errors import check_revision
from kumpan.core.guidance.schools import SCHOOLS
from kumpan.core.guidance.targets import bands_for, shock_level_ppm
from kumpan.core.pool.geometry import Flight, Floor, drawn
from kumpan.core.pool.traits import POOL_CHOICES
from kumpan.core.pool.volume import volume_of
from kumpan.core.units import l_to_gal
from kumpan.core.water.measures import MEASURES
from kumpan.store import queries
from kumpan.store.tables import Account, Pool

router = APIRouter(responses=RESPONSES, tags=["pools"])


class AccountView(BaseModel):
    """The account."""

    id: UUID
    name: str
    measures: str
    revision: int


class TargetView(BaseModel):
    """One target of the pool in words."""

    measure: str
    label: str
    band: str
    reason_id: str
    own: str | None = None


class PoolView(BaseModel):
    """A pool as stored and in words."""

    id: UUID
    name: str
    place: str
    time_zone: str
    latitude: float | None
    longitude: float | None
    volume: VolumeBody
    volume_text: str
    volume_within: float
    summary: str
    surface: str
    chlorine_source: str
    installation: str
    sanitizer: str
    school: str
    school_label: str
    school_caution: str
    settings: SettingsBody
    revision: int
    archived_at: datetime | None
    targets: list[TargetView]


class SolidView(BaseModel):
    """Steps or a bench as drawn, metres: treads from above as (from, to) along the length, half the width
    across; the section's line.
    """

    treads: list[tuple[float, float]]
    half_across: float
    section: list[tuple[float, float]]


class VolumeView(BaseModel):
    """A volume in the person's measures and how sure it is; plan and floor to scale, metres, where there is a
    shape.

    solids: steps at the shallow end, a bench at the far one: each from above (a rectangle) and in section (a
    closed line, depth down).
    """

    text: str
    note: str
    outline: list[tuple[float, float]] = []
    floor: list[tuple[float, float]] = []
    solids: list[SolidView] = []


def _volume_text(litres: float, account: Account) -> str:
    return f"{l_to_gal(litres):,.0f} US gal" if account.measures == "us" else f"{litres:,.0f} L"


def _label(question: str, answer: str) -> str:
    return next((c.label for c in POOL_CHOICES[question] if c.id == answer), answer)


def _view(pool: Pool, account: Account) -> PoolView:
    volume = _volume_text(pool.volume_l, account)
    source = _label("chlorine_source", pool.chlorine_source).lower()
    targets = [
        TargetView(
            measure=b.measure,
            label=MEASURES[b.measure].label,
            band=band_words(b) or "no target",
            reason_id=b.reason_id,
            own=b.own,
        )
        for b in bands_for(traits_of(pool), None).values()
    ]
    shock = TargetView(
        measure="shock",
        label="Shock to",
        band=f"{shock_level_ppm(traits_of(pool), None):.0f} ppm",
        reason_id="shock",
    )
    school = SCHOOLS[pool.school]
    return PoolView(
        **{
            n: getattr(pool, n)
            for n in (
                "id",
                "name",
                "place",
                "time_zone",
                "latitude",
                "longitude",
                "surface",
                "chlorine_source",
                "installation",
                "sanitizer",
                "revision",
                "archived_at",
            )
        },
        volume=VolumeBody(**keep_pools.volume_given(pool)),
        volume_text=volume,
        volume_within=pool.volume_input.get("within", 0.10),
        school=pool.school,
        school_label=school.label,
        school_caution=school.caution,
        settings=_settings(pool, "gal" if account.measures == "us" else "l"),
        targets=[*targets, shock],
        summary=f"{volume} · {_label('surface', pool.surface).lower()}, {source} · {school.label}",
    )


def _settings(pool: Pool, usual_unit: Literal["gal", "l"]) -> SettingsBody:
    """The settings as typed, so that a form shows what was put in."""
    stored = pool.settings or {}
    typed = stored.get("typed", {})
    return SettingsBody(
        school=pool.school,
        sun=stored.get("sun", "part"),
        borate_allowed=stored.get("borate_allowed", True),
        setting=stored.get("setting", "unknown"),
        climate=stored.get("climate", "unknown"),
        use=stored.get("use", "unknown"),
        targets=typed.get("targets", {}),
        fill=typed.get("fill", {}),
        hose=typed.get("hose", ""),
        hose_unit=typed.get("hose_unit", usual_unit),
    )


@router.get("/account")
def get_account(scope: InScope) -> AccountView:
    """The account and its measures."""
    return scope.run(lambda c: AccountView.model_validate(c.account, from_attributes=True))


@router.put("/account")
def put_account(body: AccountChange, scope: InScope) -> AccountView:
    """Change the person's measures. Stored values are never rewritten."""

    def work(context: Context) -> AccountView:
        check_revision(context.account.revision, body.revision, "setting")
        context.account.measures = body.measures
        context.account.revision += 1
        return AccountView.model_validate(context.account, from_attributes=True)

    return scope.run(work)


@router.get("/pools")
def list_pools(scope: InScope, archived: Annotated[bool, Query()] = False) -> list[PoolView]:
    """The account's pools by name."""
    return scope.run(
        lambda c: [_view(p, c.account) for p in queries.pools(c.session, c.account.id, archived)]
    )


@router.post("/pools", status_code=201)
def add_pool(body: NewPool, scope: InScope) -> PoolView:
    """Add a pool. Sending it again returns the first result."""
    return scope.run(lambda c: _view(keep_pools.add_pool(c, body.id, body.given()), c.account))


@router.get("/pools/{pool_id}")
def get_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """One pool."""
    return scope.run(lambda c: _view(queries.pool(c.session, c.account.id, pool_id), c.account))


@router.put("/pools/{pool_id}")
def put_pool(pool_id: UUID, body: PoolChange, scope: InScope) -> PoolView:
    """Change a pool; 409 if it was changed meanwhile."""
    return scope.run(
        lambda c: _view(keep_pools.change_pool(c, pool_id, body.given(), body.revision), c.account)
    )


@router.put("/pools/{pool_id}/settings")
def put_settings(pool_id: UUID, body: SettingsChange, scope: InScope) -> PoolView:
    """Change a pool's school, own targets and fill water; 409 if it was changed meanwhile."""
    return scope.run(
        lambda c: _view(keep_targets.change_settings(c, pool_id, body.given(), body.revision), c.account)
    )


@router.get("/pools/{pool_id}/volume-proofs")
def get_proofs(pool_id: UUID, scope: InScope) -> list[prove_volume.ProofView]:
    """What the pool's log proves of its volume: taken, then offered."""
    return scope.run(lambda c: prove_volume.volume_proofs(c, pool_id))


@router.post("/pools/{pool_id}/volume-proofs")
def take_proof(pool_id: UUID, body: ProofBody, scope: InScope) -> PoolView:
    """Let a proof count; 409 if the pool was changed meanwhile."""
    return scope.run(lambda c: _view(prove_volume.take_proof(c, pool_id, body.key, body.revision), c.account))


@router.post("/pools/{pool_id}/volume-proofs/leave-out")
def leave_out_proof(pool_id: UUID, body: ProofBody, scope: InScope) -> PoolView:
    """Let a proof count no longer; 409 if the pool was changed meanwhile."""
    return scope.run(
        lambda c: _view(prove_volume.leave_out_proof(c, pool_id, body.key, body.revision), c.account)
    )


@router.post("/pools/{pool_id}/archive")
def archive_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """Put a pool away. Nothing of it is dropped."""
    return scope.run(lambda c: _view(keep_pools.archive_pool(c, pool_id, True), c.account))


@router.post("/pools/{pool_id}/unarchive")
def unarchive_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """Bring an archived pool back."""
    return scope.run(lambda c: _view(keep_pools.archive_pool(c, pool_id, False), c.account))


@router.post("/volumes")
def compute_volume(body: VolumeBody, scope: InScope) -> VolumeView:
    """The volume of a shape as typed; stores nothing."""
    volume = volume_of(body.given())
    view = VolumeView(text="", note=volume.why)
    if volume.outline is not None and volume.floor is not None:
        view.outline, view.floor = list(drawn(volume.outline)), list(volume.floor.points)
        ends = ((volume.steps, 0.0, 1), (volume.bench, volume.outline.length_m, -1))
        view.solids = [
            _solid(flight, at, way, volume.floor) for flight, at, way in ends if flight is not None
        ]

    def work(context: Context) -> VolumeView:
        view.text = _volume_text(volume.litres, context.account)
        return view

    return scope.run(work)


def _solid(flight: Flight, wall_m: float, way: int, floor: Floor) -> SolidView:
    """Steps or a bench against an end wall at ``wall_m``, growing along ``way``. Longer than the wall is
    wide, it is drawn as wide.
    """
    profile = [(wall_m + way * out, floor.depth_at(wall_m) - high) for out, high in flight.profile()]
    foot = [(profile[-1][0], floor.depth_at(profile[-1][0])), (wall_m, floor.depth_at(wall_m))]
    tread = flight.out_m / flight.steps
    edges = [
        tuple(sorted((wall_m + way * i * tread, wall_m + way * (i + 1) * tread))) for i in range(flight.steps)
    ]
    return SolidView(
        treads=[(a, b) for a, b in edges], half_across=flight.along_m / 2, section=[*profile[:-1], *foot]
    )


@router.get("/pools/{pool_id}/today")
def get_today(pool_id: UUID, scope: InScope) -> read_log.Today:
    """The pool's run sheet."""
    return scope.run(lambda c: read_log.today(c, pool_id))
