"""Calendars of what comes round that other programs read by their tokens."""

import hashlib
import secrets
from dataclasses import dataclass
from uuid import UUID

from uuid6 import uuid7

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict, NotFound
from kumpan.store import queries
from kumpan.store.tables.care import FeedRow
from kumpan.store.tables.pools import Pool

_MOST_FEEDS = 20


@dataclass(frozen=True)
class FeedView:
    """A calendar that can be read: since when. Its address is shown once, when it is made."""

    id: UUID
    name: str
    since: str


@dataclass(frozen=True)
class NewFeed:
    """A calendar just made. token: its secret, of which nothing but a digest is kept."""

    feed: FeedView
    token: str


def feed_views(context: Context, pool: Pool) -> tuple[FeedView, ...]:
    """The calendars that hold this pool's work."""
    held = queries.feeds(context.session, context.account.id)
    return tuple(_view(row, pool) for row in held if row.pool_id in (None, pool.id))


def _view(row: FeedRow, pool: Pool | None) -> FeedView:
    made = row.created_at
    name = "all pools" if row.pool_id is None or pool is None else pool.name
    return FeedView(row.id, name, f"{made.day} {made:%b %Y}")


def digest_of(token: str) -> str:
    """What is kept of a token. It is random and long: one round of SHA-256 gives nothing away."""
    return hashlib.sha256(token.encode()).hexdigest()


def make_feed(context: Context, feed_id: UUID, pool_id: UUID | None) -> NewFeed:
    """Make a calendar for one pool, or for all. Raises Conflict where its id is used: its token cannot be
    shown again.
    """
    pool = None if pool_id is None else queries.pool(context.session, context.account.id, pool_id)
    queries.lock_account(context.session, context.account.id)
    if context.session.get(FeedRow, feed_id) is not None:
        raise Conflict("id_taken", "This calendar was made already. Make it anew to see an address.")
    if len(queries.feeds(context.session, context.account.id)) >= _MOST_FEEDS:
        raise Conflict("too_many", f"At most {_MOST_FEEDS} calendars: take one back first.")
    token = secrets.token_urlsafe(32)
    row = FeedRow(
        id=feed_id,
        account_id=context.account.id,
        pool_id=pool_id,
        token_sha256=digest_of(token),
        created_at=context.now,
    )
    context.session.add(row)
    context.session.flush()
    return NewFeed(_view(row, pool), token)


def rotate_feed(context: Context, feed_id: UUID) -> NewFeed:
    """Give a calendar another address; the one before is read no more."""
    row = _feed(context, feed_id)
    pool_id = row.pool_id
    row.ended_at = context.now
    context.session.flush()
    return make_feed(context, uuid7(), pool_id)


def end_feed(context: Context, feed_id: UUID) -> FeedView:
    """Take a calendar back: its address is read no more."""
    row = _feed(context, feed_id)
    row.ended_at = context.now
    context.session.flush()
    return _view(row, None)


def _feed(context: Context, feed_id: UUID) -> FeedRow:
    row = context.session.get(FeedRow, feed_id)
    if row is None or row.account_id != context.account.id or row.ended_at is not None:
        raise NotFound("calendar")
    return row
