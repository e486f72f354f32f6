"""The shelf and what was poured."""

from collections.abc import Iterable
from datetime import datetime, timedelta
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from kumpan.core.dosing.request import AtHand
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.decay import ages, strength_today
from kumpan.store.queries.base import existing
from kumpan.store.tables.log import DoseRow, Event
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.shelf import ShelfItem


def shelf(session: Session, account_id: UUID) -> list[ShelfItem]:
    """What stands on the account's shelf, in the order it was put there."""
    query = select(ShelfItem).where(ShelfItem.account_id == account_id, ShelfItem.removed_at.is_(None))
    return list(session.scalars(query.order_by(ShelfItem.created_at, ShelfItem.id)))


def shelf_item(session: Session, account_id: UUID, item_id: UUID, lock: bool = False) -> ShelfItem:
    """One item of the account's shelf, taken off or not. Raises NotFound for any other."""
    query = select(ShelfItem).where(ShelfItem.id == item_id, ShelfItem.account_id == account_id)
    return existing(
        session.scalars(query.with_for_update() if lock else query).first(), "product on the shelf"
    )


_PHONE_BEHIND = timedelta(minutes=5)


def poured_since_count(session: Session, account_id: UUID, items: Iterable[ShelfItem]) -> dict[UUID, float]:
    """What was poured of each of these products of the account since it was last counted, by item: g or mL.

    A dose logged after the count but dated minutes before it draws too: the clock of a phone may be behind.
    """
    counted = [i for i in items if i.counted_at is not None]
    if not counted:
        return {}
    # From the oldest count on, by the index of the pools' doses; the few there are, are told apart here.
    since = min(i.counted_at for i in counted if i.counted_at is not None) - _PHONE_BEHIND
    query = (
        select(DoseRow.product_id, DoseRow.amount, Event.at, Event.created_at)
        .join(Event, Event.id == DoseRow.event_id)
        .where(Event.pool_id.in_(select(Pool.id).where(Pool.account_id == account_id)))
        .where(Event.kind == "dose", Event.deleted_at.is_(None), Event.at > since)
        .where(DoseRow.product_id.in_({i.product_id for i in counted}))
    )
    poured: dict[UUID, float] = {}
    for product_id, amount, at, created_at in session.execute(query):
        for item in counted:
            count = item.counted_at
            if item.product_id == product_id and count is not None:
                late = created_at > count and at > count - _PHONE_BEHIND
                if at > count or late:
                    poured[item.id] = poured.get(item.id, 0.0) + float(amount)
    return poured


def products_poured(session: Session, pool_id: UUID, since: datetime) -> set[str]:
    """The products poured into a pool from an instant on."""
    query = select(DoseRow.product_id).join(Event, Event.id == DoseRow.event_id)
    return set(
        session.scalars(
            query.where(Event.pool_id == pool_id, Event.at >= since, Event.deleted_at.is_(None)).distinct()
        )
    )


def last_poured(session: Session, pool_id: UUID, since: datetime) -> dict[str, datetime]:
    """When each product last went into a pool, from an instant on."""
    query = (
        select(DoseRow.product_id, func.max(Event.at))
        .join(Event, Event.id == DoseRow.event_id)
        .where(Event.pool_id == pool_id, Event.at >= since, Event.deleted_at.is_(None))
        .group_by(DoseRow.product_id)
    )
    return {product_id: at for product_id, at in session.execute(query)}


def poured_over(
    session: Session, pool_id: UUID, product_id: str, span: timedelta, now: datetime
) -> float | None:
    """What was poured of a product into a pool over the last span, g or mL; None where fewer than two loads
    or a log younger than the span cannot tell.
    """
    query = (
        select(func.count(), func.sum(DoseRow.amount))
        .join(Event, Event.id == DoseRow.event_id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), DoseRow.product_id == product_id)
        .where(Event.at > now - span, Event.at <= now)
    )
    loads, total = session.execute(query).one()
    begun = session.scalar(select(func.min(Event.at)).where(Event.pool_id == pool_id, Event.at <= now - span))
    return None if loads < 2 or begun is None else float(total)


def amounts_poured(session: Session, pool_id: UUID, since: datetime) -> list[tuple[str, datetime, float]]:
    """A pool's doses from an instant on, as product, instant and amount (g or mL), oldest first."""
    query = (
        select(DoseRow.product_id, Event.at, DoseRow.amount)
        .join(Event, Event.id == DoseRow.event_id)
        .where(Event.pool_id == pool_id, Event.deleted_at.is_(None), Event.at >= since)
        .order_by(Event.at, Event.id)
    )
    return [(product_id, at, amount) for product_id, at, amount in session.execute(query)]


def poured(session: Session, account_id: UUID, since: datetime) -> dict[str, float]:
    """What was poured into the account's pools after an instant, by product: g or mL."""
    query = (
        select(DoseRow.product_id, func.sum(DoseRow.amount))
        .join(Event, Event.id == DoseRow.event_id)
        .join(Pool, Pool.id == Event.pool_id)
        .where(Pool.account_id == account_id, Event.deleted_at.is_(None), Event.at > since)
        .group_by(DoseRow.product_id)
    )
    return {name: float(total) for name, total in session.execute(query)}


_USUALLY_KEPT_C = 25.0  # where nobody said: our own guess of a shed in season


def strength_now(item: ShelfItem, now: datetime) -> float | None:
    """Its strength today, as a fraction; None where it is the usual one and does not age."""
    product = PRODUCTS[item.product_id]
    if not ages(product) or item.bought is None:
        return item.strength
    days = max(0, (now.date() - item.bought).days)
    return strength_today(
        product, item.strength, days, _USUALLY_KEPT_C if item.kept_c is None else item.kept_c
    )


def left(item: ShelfItem, poured: dict[UUID, float]) -> float | None:
    """What is left (g or mL): the last count less what was poured since; None where nobody counted.

    So a dose corrected, deleted or brought back corrects the stock by itself. A dose dated before the count
    does not draw on it.
    """
    return None if item.stock is None else max(0.0, item.stock - poured.get(item.id, 0.0))


def at_hand(session: Session, account_id: UUID, now: datetime) -> tuple[AtHand, ...] | None:
    """What stands ready, as the planner takes it, at today's strength and stock; None where nothing is
    listed.
    """
    items = [i for i in shelf(session, account_id) if i.product_id in PRODUCTS]
    if not items:
        return None
    poured = poured_since_count(session, account_id, items)
    return tuple(
        AtHand(i.product_id, strength_now(i, now), left(i, poured), i.pack, i.price_minor) for i in items
    )
