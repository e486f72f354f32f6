"""Pools and equipment."""

from functools import cache
from uuid import UUID

from sqlalchemy import Select, bindparam, func, or_, select
from sqlalchemy.orm import Session

from kumpan.store.queries.base import AS_IT_IS_NOW, existing
from kumpan.store.tables.pools import EquipmentRow, Pool


def pools(session: Session, account_id: UUID, archived: bool = False) -> list[Pool]:
    """The account's pools by name; archived ones only when asked for."""
    query = select(Pool).where(Pool.account_id == account_id).order_by(Pool.name, Pool.id)
    return list(session.scalars(query if archived else query.where(Pool.archived_at.is_(None))))


def pool(session: Session, account_id: UUID, pool_id: UUID, lock: bool = False) -> Pool:
    """One pool of the account. Raises NotFound for any other."""
    query = _locked_pool() if lock else _pool()
    return existing(session.scalars(query, {"id": pool_id, "account": account_id}).first(), "pool")


@cache
def _pool() -> Select[Pool]:
    return select(Pool).where(Pool.id == bindparam("id"), Pool.account_id == bindparam("account"))


@cache
def _locked_pool() -> Select[Pool]:
    return _pool().with_for_update().execution_options(**AS_IT_IS_NOW)


def equipment(session: Session, account_id: UUID, equipment_id: UUID, lock: bool = False) -> EquipmentRow:
    """One piece of equipment of the account, taken off or not. Raises NotFound for any other."""
    query = (
        select(EquipmentRow)
        .join(Pool, Pool.id == EquipmentRow.pool_id)
        .where(EquipmentRow.id == equipment_id, Pool.account_id == account_id)
    )
    if lock:
        query = query.with_for_update(of=EquipmentRow).execution_options(**AS_IT_IS_NOW)
    return existing(session.scalars(query).first(), "piece of equipment")


def pools_before(session: Session, pool: Pool) -> int:
    """How many pools in a technician's care the account had before this one."""
    earlier = or_(
        Pool.created_at < pool.created_at, (Pool.created_at == pool.created_at) & (Pool.id < pool.id)
    )
    query = select(func.count()).where(
        Pool.account_id == pool.account_id,
        Pool.archived_at.is_(None),
        func.json_value(Pool.settings, "$.care.cadence") == "technician",
        earlier,
    )
    return int(session.scalar(query) or 0)
