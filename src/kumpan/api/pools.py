"""Pools, the account's measures, and volumes from shapes."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from fastapi import Query
from pydantic import BaseModel, Field, StringConstraints

from kumpan.actions.context import Context
from kumpan.actions.pools import pools, proofs, targets
from kumpan.actions.pools.pools import PoolInput
from kumpan.actions.pools.targets import SettingsInput, TargetInput
from kumpan.api.bodies import Body, Id, Name, Revision, Text
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.core.dosing.view import band_words
from kumpan.core.guidance.schools import SCHOOLS
from kumpan.core.guidance.targets import bands_for, shock_level_ppm
from kumpan.core.pool.geometry import Flight, Floor, drawn
from kumpan.core.pool.traits import POOL_CHOICES, SETTINGS
from kumpan.core.pool.volume import VolumeInput, volume_of
from kumpan.core.units import l_to_gal
from kumpan.core.water.measures import MEASURES
from kumpan.store import queries
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.pools import Pool
from kumpan.store.water import traits_of

router = Routes("pools")


class TargetView(BaseModel):
    """One target of the pool in words."""

    measure: str
    label: str
    band: str
    reason_id: str
    own: str | None = None


class VolumeBody(Body):
    """The volume, however it is known; sizes as typed."""

    how: Literal["typed", "shape", "meter", "hose", "typical"]
    unit: Literal["gal", "l", "ft", "m", "ft3", "m3"] = "gal"
    amount: Text = ""
    sure: Literal["papers", "proved", "guess"] = "papers"
    plan: Literal["rectangle", "round", "oval", "kidney", "l", "free"] = "rectangle"
    bottom: Literal["level", "sloped", "hopper"] = "level"
    length: Text = ""
    width: Text = ""
    shallow: Text = ""
    deep: Text = ""
    typical: Id = ""
    width2: Text = ""
    leg_out: Text = ""
    leg_along: Text = ""
    widths: Annotated[str, StringConstraints(max_length=400)] = ""
    slope_from: Text = ""
    deep_from: Text = ""
    deep_to: Text = ""
    wall: Text = ""
    meter_from: Text = ""
    meter_to: Text = ""
    rate: Text = ""
    hours: Text = ""
    steps_along: Text = ""
    steps_out: Text = ""
    steps_high: Text = ""
    steps_count: Text = ""
    bench_along: Text = ""
    bench_out: Text = ""
    bench_high: Text = ""

    def fields(self) -> VolumeInput:
        """As the use case takes it."""
        return VolumeInput(**self.model_dump())


class TargetBody(Body):
    """One target as typed; empty: the school's."""

    low: Text = ""
    aim: Text = ""
    high: Text = ""
    why: Annotated[str, StringConstraints(max_length=200)] = ""


class SettingsBody(Body):
    """A pool's school, where it stands (answers by question), targets and fill water as typed."""

    school: Id
    answers: Annotated[dict[Id, Id], Field(max_length=30)] = {}
    borate_allowed: bool = True
    label_fc: Text = ""
    targets: Annotated[dict[Id, TargetBody], Field(max_length=12)] = {}
    fill: Annotated[dict[Id, Text], Field(max_length=12)] = {}
    hose: Text = ""
    hose_unit: Literal["gal", "l"] = "gal"

    def fields(self) -> SettingsInput:
        """As the use case takes it."""
        fields = self.model_dump(include=set(SettingsBody.model_fields))
        return SettingsInput(
            **(fields | {"targets": {m: TargetInput(**g) for m, g in fields["targets"].items()}})
        )


class PoolFields(Body):
    """A pool's description."""

    name: Name
    place: Annotated[str, StringConstraints(max_length=120)] = ""
    time_zone: Annotated[str, StringConstraints(max_length=64)]
    latitude: Annotated[float, Field(ge=-90, le=90)] | None = None
    longitude: Annotated[float, Field(ge=-180, le=180)] | None = None
    volume: VolumeBody
    surface: Id
    chlorine_source: Id
    installation: Id
    sanitizer: Id = "chlorine"

    def fields(self) -> PoolInput:
        """As the use case takes it."""
        values = {name: getattr(self, name) for name in PoolFields.model_fields}
        return PoolInput(**{**values, "volume": self.volume.fields()})


class PoolView(PoolFields):
    """A pool as stored and in words."""

    id: UUID
    volume_text: str
    volume_within: float
    summary: str
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


class NewPool(PoolFields):
    """A pool to add. id: a UUID version 7 made by the client."""

    id: UUID


class PoolChange(PoolFields):
    """A changed pool."""

    revision: Revision


class SettingsChange(SettingsBody):
    """Changed settings."""

    revision: Revision


class ProofBody(Body):
    """A proof of the volume to take or leave out."""

    key: Annotated[str, StringConstraints(max_length=120)]
    revision: Revision


def _volume_text(litres: float, account: Account) -> str:
    return f"{l_to_gal(litres):,.0f} US gal" if account.unit_system == "us" else f"{litres:,.0f} L"


def _label(question: str, answer: str) -> str:
    return next((c.label for c in POOL_CHOICES[question] if c.id == answer), answer)


def _view(context: Context, pool: Pool) -> PoolView:
    account = context.account
    cya = queries.latest_reading(context.session, pool.id, "cya")
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
        for b in bands_for(traits_of(pool), cya).values()
    ]
    shock = TargetView(
        measure="shock",
        label="Shock to",
        band=f"{shock_level_ppm(traits_of(pool), cya):.0f} ppm",
        reason_id="shock",
    )
    school = SCHOOLS[pool.school]
    return PoolView(
        **{n: getattr(pool, n) for n in PoolFields.model_fields if n != "volume"},
        id=pool.id,
        revision=pool.revision,
        archived_at=pool.archived_at,
        volume=VolumeBody(**pools.volume_given(pool)),
        volume_text=volume,
        volume_within=pool.volume_input.get("within", 0.10),
        school=pool.school,
        school_label=school.label,
        school_caution=school.caution,
        settings=_settings(pool, "gal" if account.unit_system == "us" else "l"),
        targets=[*targets, shock],
        summary=f"{volume} · {_label('surface', pool.surface).lower()}, {source} · {school.label}",
    )


def _settings(pool: Pool, usual_unit: Literal["gal", "l"]) -> SettingsBody:
    """The settings as typed, so that a form shows what was put in."""
    stored = pool.settings or {}
    typed = stored.get("typed", {})
    return SettingsBody(
        school=pool.school,
        answers={name: stored.get(name, question.usual) for name, question in SETTINGS.items()},
        borate_allowed=stored.get("borate_allowed", True),
        label_fc=typed.get("label_fc", ""),
        targets=typed.get("targets", {}),
        fill=typed.get("fill", {}),
        hose=typed.get("hose", ""),
        hose_unit=typed.get("hose_unit", usual_unit),
    )


@router.get("/pools")
def list_pools(scope: InScope, archived: Annotated[bool, Query()] = False) -> list[PoolView]:
    """The account's pools by name."""
    return scope.run(lambda c: [_view(c, p) for p in queries.pools(c.session, c.account.id, archived)])


@router.post("/pools", status_code=201)
def add_pool(body: NewPool, scope: InScope) -> PoolView:
    """Add a pool. Sending it again returns the first result."""
    return scope.create(body.id, lambda c: _view(c, pools.add_pool(c, body.id, body.fields())))


@router.get("/pools/{pool_id}")
def get_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """One pool."""
    return scope.run(lambda c: _view(c, queries.pool(c.session, c.account.id, pool_id)))


@router.put("/pools/{pool_id}")
def put_pool(pool_id: UUID, body: PoolChange, scope: InScope) -> PoolView:
    """Change a pool; 409 if it was changed meanwhile."""
    return scope.run(lambda c: _view(c, pools.change_pool(c, pool_id, body.fields(), body.revision)))


@router.put("/pools/{pool_id}/settings")
def put_settings(pool_id: UUID, body: SettingsChange, scope: InScope) -> PoolView:
    """Change a pool's school, own targets and fill water; 409 if it was changed meanwhile."""
    return scope.run(lambda c: _view(c, targets.change_settings(c, pool_id, body.fields(), body.revision)))


@router.get("/pools/{pool_id}/volume-proofs")
def get_proofs(pool_id: UUID, scope: InScope) -> list[proofs.ProofView]:
    """What the pool's log proves of its volume: taken, then offered."""
    return scope.run(lambda c: proofs.volume_proofs(c, pool_id))


@router.post("/pools/{pool_id}/volume-proofs")
def take_proof(pool_id: UUID, body: ProofBody, scope: InScope) -> PoolView:
    """Let a proof count; 409 if the pool was changed meanwhile."""
    return scope.run(lambda c: _view(c, proofs.take_proof(c, pool_id, body.key, body.revision)))


@router.post("/pools/{pool_id}/volume-proofs/exclude")
def exclude_proof(pool_id: UUID, body: ProofBody, scope: InScope) -> PoolView:
    """Let a proof count no longer; 409 if the pool was changed meanwhile."""
    return scope.run(lambda c: _view(c, proofs.exclude_proof(c, pool_id, body.key, body.revision)))


@router.post("/pools/{pool_id}/archive")
def archive_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """Put a pool away. Nothing of it is dropped."""
    return scope.run(lambda c: _view(c, pools.archive_pool(c, pool_id, True)))


@router.post("/pools/{pool_id}/unarchive")
def unarchive_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """Bring an archived pool back."""
    return scope.run(lambda c: _view(c, pools.archive_pool(c, pool_id, False)))


@router.post("/volumes")
def compute_volume(body: VolumeBody, scope: InScope) -> VolumeView:
    """The volume of a shape as typed; stores nothing."""
    volume = volume_of(body.fields())
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
