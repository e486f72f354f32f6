"""The estimate kept of a pool."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import bindparam, delete, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from kumpan.store.tables.estimates import EstimateRow
from kumpan.store.tables.pools import Pool

# Columns alone, here and below: a row of this table in a session could be older than what a writer left.
_COLUMNS = EstimateRow.__table__.c
_KEPT = select(*_COLUMNS).where(_COLUMNS.pool_id == bindparam("pool"))


def estimate_kept(session: Session, pool_id: UUID) -> dict[str, Any] | None:
    """What is kept of a pool's estimate, by column; None where nothing is."""
    row = session.execute(_KEPT, {"pool": pool_id}).mappings().first()
    return None if row is None else dict(row)


def keep_estimate(session: Session, kept: dict[str, Any]) -> None:
    """Keep a pool's estimate in place of the last. The pool's row must be locked (``lock_free_pool``) since
    before the log was read.
    """
    query = insert(EstimateRow).values(kept)
    session.execute(query.on_duplicate_key_update({n: query.inserted[n] for n in kept if n != "pool_id"}))


def lock_free_pool(session: Session, pool_id: UUID) -> bool:
    """Lock a pool's row until the end of the transaction, unless another holds it: False, and no waiting."""
    query = select(Pool.id).where(Pool.id == pool_id).with_for_update(skip_locked=True)
    return session.scalar(query) is not None


def forget_estimate(session: Session, pool_id: UUID, since: datetime) -> None:
    """Keep no estimate of a pool that reaches past an instant: what the log says of then has changed. The
    pool's row must be locked, or one who read the log before could keep an older one again.
    """
    session.execute(delete(EstimateRow).where(EstimateRow.pool_id == pool_id, EstimateRow.upto_at > since))
