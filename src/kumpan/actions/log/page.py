"""The Log as a stream: a page of it, a search, and what was written last of each kind."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.shown import LogEntryView, show_event
from kumpan.core.log.entry import Details
from kumpan.core.log.kinds import KINDS, entered_kinds
from kumpan.core.phrasing.entries import typed_fields
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.store import queries


@dataclass(frozen=True)
class LogPage:
    """A page of the Log, newest first; ``next`` asks for the following one."""

    events: tuple[LogEntryView, ...]
    next: str | None


@dataclass(frozen=True)
class PageOf:
    """What a page is of: after which entry, how many, of which kinds, and what is searched for."""

    cursor: UUID | None = None
    limit: int = 50
    kinds: tuple[str, ...] = ()
    search: str = ""


@dataclass(frozen=True)
class UsualEntries:
    """last: what was written last, by kind; most: every kind one may write, doses too, the most written
    first.
    """

    last: Mapping[str, "UsualEntry"]
    most: tuple[str, ...]


@dataclass(frozen=True)
class UsualEntry:
    """What was written last of a kind: in words and as typed."""

    text: str
    details: Mapping[str, Mapping[str, str]]


def log_page(context: Context, pool_id: UUID, of: PageOf) -> LogPage:
    """A page of the pool's live events, newest first; only of some kinds, or of those that hold what is
    searched.
    """
    session, account = context.session, context.account
    pool = queries.pool(session, account.id, pool_id)
    before = None
    if of.cursor:
        event = queries.event(session, account.id, of.cursor)
        before = (event.at, event.id)
    page = queries.Page(of.limit + 1, before, of.kinds, _sought(of.search))
    rows = queries.events_page(session, pool.id, page)
    more = str(rows[of.limit - 1].id) if len(rows) > of.limit else None
    return LogPage(tuple(show_event(context, e) for e in rows[: of.limit]), more)


def _sought(search: str) -> queries.Sought | None:
    """What a search means: notes and fields that hold the words, products and kinds named so."""
    text = search.strip().lower()
    if not text:
        return None
    products = tuple(p.id for p in PRODUCTS.values() if text in p.name.lower())
    return queries.Sought(text, products, tuple(k.id for k in KINDS.values() if text in k.label.lower()))


# How far back the kinds are counted that a pool's page offers first: a season and more (our own).
_COUNTED = timedelta(days=400)


def usual_entries(context: Context, pool_id: UUID) -> UsualEntries:
    """What was written last of each kind, to write the same again; and the kinds, most written first."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    usual = {}
    for kind in entered_kinds():
        last = queries.latest_event(context.session, pool.id, kind.id) if kind.fields else None
        held = last.entry.payload if last is not None else None
        if isinstance(held, Details) and held.typed:
            usual[kind.id] = UsualEntry(typed_fields(kind, held.typed), held.typed)
    counts = queries.kinds_counted(context.session, pool.id, context.now - _COUNTED)
    offered = ["dose", *(kind.id for kind in entered_kinds())]
    return UsualEntries(usual, tuple(sorted(offered, key=lambda k: (-counts.get(k, 0), offered.index(k)))))
