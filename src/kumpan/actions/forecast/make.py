"""Foretell every pool once a test and once a day, and store it: done by the worker, never by a look."""

from datetime import datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session, sessionmaker

from kumpan.store import database, queries
from kumpan.store.forecasts import foretell
from kumpan.store.tables.pools import Pool

# A pool nobody has tested for so long is not foretold (our own).
_TESTED_WITHIN = timedelta(days=60)


class Maker:
    """Foretells what is due. Where it found nothing to foretell it does not try again before something new is
    read, or another day.
    """

    def __init__(self, sessions: sessionmaker[Session]) -> None:
        self.sessions = sessions
        self.tried: dict[UUID, object] = {}

    def make_due(self, now: datetime) -> int:
        """Foretell every pool that is due. Returns of how many something was foretold."""
        due = database.run(self.sessions, lambda s: _due(s, now))
        made = 0
        for pool_id, since in due.items():
            if self.tried.get(pool_id) != since:
                made += database.run(self.sessions, lambda s, p=pool_id: _foretell(s, p, now))  # type: ignore[misc]
                self.tried[pool_id] = since
        return made


def _due(session: Session, now: datetime, pool_id: UUID | None = None) -> dict[UUID, object]:
    """The pools that are due, and by which test and on which day: tested since they were last foretold, or
    not foretold today, and not at rest for long.
    """
    due: dict[UUID, object] = {}
    for pool, zone_name, made_at, tested_at, written_at in queries.foretold_and_tested(session, pool_id):
        zone = ZoneInfo(zone_name)
        today = now.astimezone(zone).date()
        fresh = made_at is None or made_at < written_at or made_at.astimezone(zone).date() < today
        if fresh and now - tested_at <= _TESTED_WITHIN:
            due[pool] = (written_at, today)
    return due


def _foretell(session: Session, pool_id: UUID, now: datetime) -> bool:
    """Foretell a pool now, unless another worker just did. Whether there was anything to foretell."""
    pool = session.get(Pool, pool_id, with_for_update=True)
    if pool is None or not _due(session, now, pool_id):
        return False
    return foretell(session, pool, now) > 0
