"""Pools, the account's measures, and volumes from shapes."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic import BaseModel

from kumpan.actions import keep_pools, keep_products, keep_targets, read_log
from kumpan.actions.waters import traits_of
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES
from kumpan.api.schemas.bodies import (
    AccountChange,
    NewPool,
    PoolChange,
    ProductAtHand,
    ProductsBody,
    SettingsBody,
    SettingsChange,
    VolumeBody,
)
from kumpan.core.errors import check_revision
from kumpan.core.guidance.bands import POOL_CHOICES, SCHOOLS, bands_for, shock_level_ppm
from kumpan.core.planning.view import band_words
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


class VolumeView(BaseModel):
    """A volume in the person's measures and how sure it is."""

    text: str
    note: str


def _volume_text(litres: float, account: Account) -> str:
    return f"{l_to_gal(litres):,.0f} US gal" if account.measures == "us" else f"{litres:,.0f} L"


def _label(question: str, answer: str) -> str:
    return next((c.label for c in POOL_CHOICES[question] if c.id == answer), answer)


def _view(pool: Pool, account: Account) -> PoolView:
    volume = _volume_text(pool.volume_l, account)
    source = _label("chlorine_source", pool.chlorine_source).lower()
    targets = [
        TargetView(measure=b.measure, label=MEASURES[b.measure].label, band=band_words(b) or "no target", reason_id=b.reason_id, own=b.own)
        for b in bands_for(traits_of(pool), None).values()
    ]
    shock = TargetView(measure="shock", label="Shock to", band=f"{shock_level_ppm(traits_of(pool), None):.0f} ppm", reason_id="shock")
    school = SCHOOLS[pool.school]
    return PoolView(
        **{n: getattr(pool, n) for n in ("id", "name", "place", "time_zone", "latitude", "longitude", "surface",
           "chlorine_source", "installation", "sanitizer", "revision", "archived_at")},
        volume=VolumeBody(**pool.volume_input), volume_text=volume, school=pool.school, school_label=school.label,
        school_caution=school.caution, settings=_settings(pool), targets=[*targets, shock],
        summary=f"{volume} · {_label('surface', pool.surface).lower()}, {source} · {school.label}",
    )  # fmt: skip


def _settings(pool: Pool) -> SettingsBody:
    """The settings as typed, so that a form shows what was put in."""
    stored = pool.settings or {}
    typed = stored.get("typed", {})
    return SettingsBody(
        school=pool.school, sun=stored.get("sun", "part"), borate_allowed=stored.get("borate_allowed", True),
        volume_proved=stored.get("volume_proved", False), targets=typed.get("targets", {}), fill=typed.get("fill", {}), hose=typed.get("hose", ""),
    )  # fmt: skip


@router.get("/account")
def get_account(scope: InScope) -> AccountView:
    """The account and its measures."""
    return scope.run(lambda session, account: AccountView.model_validate(account, from_attributes=True))


@router.put("/account")
def put_account(body: AccountChange, scope: InScope) -> AccountView:
    """Change the person's measures. Stored values are never rewritten."""

    def work(session: object, account: Account) -> AccountView:
        check_revision(account.revision, body.revision, "setting")
        account.measures = body.measures
        account.revision += 1
        return AccountView.model_validate(account, from_attributes=True)

    return scope.run(work)


@router.get("/pools")
def list_pools(scope: InScope, archived: Annotated[bool, Query()] = False) -> list[PoolView]:
    """The account's pools by name."""
    return scope.run(lambda s, account: [_view(p, account) for p in queries.pools(s, account.id, archived)])


@router.post("/pools", status_code=201)
def add_pool(body: NewPool, scope: InScope) -> PoolView:
    """Add a pool. Sending it again returns the first result."""
    return scope.run(lambda s, a: _view(keep_pools.add_pool(s, a, body.id, body.given(), scope.now), a))


@router.get("/pools/{pool_id}")
def get_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """One pool."""
    return scope.run(lambda s, a: _view(queries.pool(s, a.id, pool_id), a))


@router.put("/pools/{pool_id}")
def put_pool(pool_id: UUID, body: PoolChange, scope: InScope) -> PoolView:
    """Change a pool; 409 if it was changed meanwhile."""
    return scope.run(lambda s, a: _view(keep_pools.change_pool(s, a, pool_id, body.given(), body.revision), a))


@router.put("/pools/{pool_id}/settings")
def put_settings(pool_id: UUID, body: SettingsChange, scope: InScope) -> PoolView:
    """Change a pool's school, own targets and fill water; 409 if it was changed meanwhile."""
    return scope.run(lambda s, a: _view(keep_targets.change_settings(s, a, pool_id, body.given(), body.revision), a))


class ProductsView(BaseModel):
    """The products that stand ready, as typed; None: nobody said."""

    products: list[ProductAtHand] | None
    revision: int


def _products(account: Account) -> ProductsView:
    rows = account.at_hand
    shown = None if rows is None else [ProductAtHand(**{k: v for k, v in r.items() if k != "canonical"}) for r in rows]
    return ProductsView(products=shown, revision=account.revision)


@router.get("/products-at-hand")
def get_products(scope: InScope) -> ProductsView:
    """What stands ready."""
    return scope.run(lambda s, a: _products(a))


@router.put("/products-at-hand")
def put_products(body: ProductsBody, scope: InScope) -> ProductsView:
    """Replace what stands ready; 409 if it was changed meanwhile."""
    given = None if body.products is None else [keep_products.ProductInput(**p.model_dump()) for p in body.products]
    return scope.run(lambda s, a: _products(keep_products.keep_products(s, a, given, body.revision)))


@router.post("/pools/{pool_id}/archive")
def archive_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """Put a pool away. Nothing of it is dropped."""
    return scope.run(lambda s, a: _view(keep_pools.archive_pool(s, a, pool_id, scope.now), a))


@router.post("/pools/{pool_id}/unarchive")
def unarchive_pool(pool_id: UUID, scope: InScope) -> PoolView:
    """Bring an archived pool back."""
    return scope.run(lambda s, a: _view(keep_pools.archive_pool(s, a, pool_id, None), a))


@router.post("/volumes")
def compute_volume(body: VolumeBody, scope: InScope) -> VolumeView:
    """The volume of a shape as typed; stores nothing."""
    litres = keep_pools.volume_of(body.given())
    note = "A guess by size: doses may be off by a third. Measure when you can." if body.how == "typical" else "Taken as right within 10 %."
    return scope.run(lambda s, a: VolumeView(text=_volume_text(litres, a), note=note))


@router.get("/pools/{pool_id}/today")
def get_today(pool_id: UUID, scope: InScope) -> read_log.Today:
    """The pool's run sheet."""
    return scope.run(lambda s, a: read_log.today(s, a, pool_id, scope.now))
