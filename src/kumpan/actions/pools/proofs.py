"""The volume that the log proves: offered, taken by the person, left out again. Accepted plans stay as they
were.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.actions.context import Context
from kumpan.actions.pools.pools import volume_given, weigh_volume
from kumpan.core.errors import NotFound, check_revision
from kumpan.core.log.kinds import kinds_that_move_water
from kumpan.core.pool.volume import VolumeInput, volume_of
from kumpan.core.pool.volume_by_dose import (
    MOST_DAYS,
    Estimate,
    Proof,
    agree,
    combined,
    logged,
    proofs,
    raises_a_proving_measure,
)
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import l_to_gal
from kumpan.core.water.measures import MEASURES
from kumpan.store import queries
from kumpan.store.tables.pools import Pool

_LOOK_BACK = timedelta(days=800)  # two seasons
_LATELY = timedelta(days=7)  # how long Today offers a proof


@dataclass(frozen=True)
class Span:
    """A volume as drawn: from, at and to, as a share of the picture's width from 0 to 1, and its words."""

    low: float
    at: float
    high: float
    text: str


@dataclass(frozen=True)
class ProofView:
    """One proof in words. key: to take it or leave it out; taken: it counts already; doubt: where it
    contradicts what was known.
    """

    key: str
    text: str
    taken: bool
    doubt: str
    known: Span
    implied: Span
    together: Span


def volume_proofs(context: Context, pool_id: UUID) -> list[ProofView]:
    """What the log proves of this pool's volume: proofs taken first, then offers, the newest first."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    taken = {p["key"]: Estimate(p["litres"], p["within"]) for p in pool.volume_input.get("proofs", [])}
    texts = {p["key"]: p["text"] for p in pool.volume_input.get("proofs", [])}
    recorded = volume_of(VolumeInput(**volume_given(pool)))
    stated, zone, system = (
        Estimate(recorded.litres, recorded.within),
        ZoneInfo(pool.time_zone),
        context.unit_system,
    )
    views = []
    for key, implied in taken.items():
        others = combined([stated, *(e for k, e in taken.items() if k != key)])
        views.append(_view(key, texts[key], (others, implied), system, taken=True))
    known = combined([stated, *taken.values()])
    offers = [p for p in reversed(_found(context.session, pool)) if _key(p) not in taken]
    return views + [_view(_key(p), _words(p, zone, system), (known, p.implied), system) for p in offers]


def offered_lately(context: Context, pool: Pool) -> str:
    """In words, that a test of the last days proves the volume and was not taken yet; empty where
    none does.
    """
    since = context.now - _LATELY - timedelta(days=MOST_DAYS)
    # Most days nothing was poured that could prove anything: one small query then, as Today is opened all the
    # time.
    poured = queries.products_poured(context.session, pool.id, since)
    if not any(raises_a_proving_measure(PRODUCTS[name]) for name in poured if name in PRODUCTS):
        return ""
    taken = {p["key"] for p in pool.volume_input.get("proofs", [])}
    log = queries.log_since(context.session, pool.id, since, _kinds())
    offers = [
        p for p in proofs([logged(e) for e in log]) if p.at >= context.now - _LATELY and _key(p) not in taken
    ]
    return _words(offers[-1], ZoneInfo(pool.time_zone), context.unit_system) if offers else ""


def take_proof(context: Context, pool_id: UUID, key: str, revision: int) -> Pool:
    """Let a proof count from now on. Raises NotFound if the log no longer holds it."""
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    check_revision(pool.revision, revision, "pool")
    taken = pool.volume_input.get("proofs", [])
    proof = next((p for p in _found(context.session, pool) if _key(p) == key), None)
    if proof is None:
        raise NotFound("proof in the log")
    if key not in {p["key"] for p in taken}:
        words = _words(proof, ZoneInfo(pool.time_zone), context.unit_system)
        weigh_volume(
            pool,
            volume_given(pool),
            [
                *taken,
                {"key": key, "text": words, "litres": proof.implied.litres, "within": proof.implied.within},
            ],
        )
        pool.revision += 1
    context.session.flush()
    return pool


def exclude_proof(context: Context, pool_id: UUID, key: str, revision: int) -> Pool:
    """Let a proof count no longer."""
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    check_revision(pool.revision, revision, "pool")
    kept = [p for p in pool.volume_input.get("proofs", []) if p["key"] != key]
    weigh_volume(pool, volume_given(pool), kept)
    pool.revision += 1
    context.session.flush()
    return pool


def _found(session: Session, pool: Pool) -> list[Proof]:
    newest = queries.latest_event(session, pool.id, "water_test")
    if newest is None:
        return []
    log = queries.log_since(session, pool.id, newest.at - _LOOK_BACK, _kinds())
    return proofs([logged(e) for e in log])


def _kinds() -> tuple[str, ...]:
    return ("water_test", "dose", "step_done", *kinds_that_move_water())


def _key(proof: Proof) -> str:
    return f"{proof.measure}:{proof.before}:{proof.after}"


def _volume(litres: float, system: str) -> str:
    """A volume to three figures: no proof is worth more."""
    value = litres if system == "metric" else l_to_gal(litres)
    step = 10 ** max(0, len(str(int(value))) - 3)
    return f"{round(value / step) * step:,.0f} {'L' if system == 'metric' else 'US gal'}"


def _words(proof: Proof, zone: ZoneInfo, system: str) -> str:
    label, added = MEASURES[proof.measure].label, [p.words for p in proof.poured]
    day: datetime = proof.at.astimezone(zone)
    rose = (
        f"{label} rose by {proof.rise:,.0f} ppm (give or take {proof.error:,.0f}) by {day.day} {day:%b %Y},"
        f" after {' and '.join(added)}"
    )
    return (
        f"{rose}. So that went into {_volume(proof.implied.litres, system)}, within"
        f" {100 * proof.implied.within:.0f} %."
    )


def _view(
    key: str, text: str, volumes: tuple[Estimate, Estimate], system: str, taken: bool = False
) -> ProofView:
    """volumes: known without this proof, and implied by it."""
    known, implied = volumes
    together = combined([known, implied])
    doubt = (
        ""
        if agree(known, implied)
        else (
            "This contradicts what was known. Was water lost or added between, or are the sizes wrong?"
            " Measure again before it counts."
        )
    )
    low, high = min(known.span[0], implied.span[0]), max(known.span[1], implied.span[1])

    def span(e: Estimate) -> Span:
        start, at, end = ((v - low) / (high - low) for v in (e.span[0], e.litres, e.span[1]))
        return Span(start, at, end, f"{_volume(e.litres, system)}, within {100 * e.within:.0f} %")

    return ProofView(key, text, taken, doubt, span(known), span(implied), span(together))
