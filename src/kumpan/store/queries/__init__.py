"""Queries, one module a noun. Every one that reaches a pool names the account it must belong to."""

from kumpan.store.queries.accounts import first_account, lock_account
from kumpan.store.queries.base import found
from kumpan.store.queries.files import idle_files, photo
from kumpan.store.queries.jobs import ended_jobs, job, jobs
from kumpan.store.queries.log import (
    Page,
    Sought,
    all_events,
    event,
    events_page,
    first_event_at,
    kinds_counted,
    latest_event,
    latest_reading,
    log_since,
    marks_between,
    notes,
    readings_between,
    readings_by_event,
    repeated,
    with_details,
)
from kumpan.store.queries.plans import done_events, plan_step
from kumpan.store.queries.pools import equipment, pool, pools
from kumpan.store.queries.shelf import (
    at_hand,
    last_poured,
    left,
    poured,
    poured_since_count,
    products_poured,
    shelf,
    shelf_item,
    strength_now,
)

__all__ = [
    "Page",
    "Sought",
    "all_events",
    "at_hand",
    "done_events",
    "ended_jobs",
    "equipment",
    "event",
    "events_page",
    "first_account",
    "first_event_at",
    "found",
    "idle_files",
    "job",
    "jobs",
    "kinds_counted",
    "last_poured",
    "latest_event",
    "latest_reading",
    "left",
    "lock_account",
    "log_since",
    "marks_between",
    "notes",
    "photo",
    "plan_step",
    "pool",
    "pools",
    "poured",
    "poured_since_count",
    "products_poured",
    "readings_between",
    "readings_by_event",
    "repeated",
    "shelf",
    "shelf_item",
    "strength_now",
    "with_details",
]
