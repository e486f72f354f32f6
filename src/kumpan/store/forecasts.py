"""What is foretold of a pool, and how what was foretold came out."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from kumpan.core.forecast.ahead import MOST_DAYS, habits, make, path_ahead
from kumpan.core.forecast.score import Read, Scored, scored, scores
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.present import Observation, Present
from kumpan.core.water.methods import METHODS
from kumpan.store import queries
from kumpan.store.tables.pools import Pool
from kumpan.store.water import filter_of, observed, outlook_of, traits_of

# A score looks back so far, habits so far (our own).
SCORED_DAYS = timedelta(days=120)
HABITS = timedelta(days=35)


def foretell(session: Session, pool: Pool, now: datetime) -> int:
    """Foretell a pool at an instant and store it; how much there was to. The log up to then is all it
    sees.
    """
    widened = {m: one.widened for m, one in scores(results_of(session, pool, now)).items()}
    stands, outlook = filter_of(session, pool, now), outlook_of(session, pool, now, MOST_DAYS)
    told = make(stands, outlook, _lately(session, pool, now), now, widened)
    queries.keep_forecasts(session, pool.id, told)
    return len(told)


def results_of(session: Session, pool: Pool, now: datetime) -> list[Scored]:
    """What was foretold of a pool in the last months against what was read."""
    stored = queries.forecasts_since(session, pool.id, now - SCORED_DAYS)
    if not stored:
        return []
    first = stored[0].made_at
    return scored(
        stored, read_between(session, pool, first, now), observed(session, pool, traits_of(pool), first, now)
    )


def read_between(session: Session, pool: Pool, first: datetime, last: datetime) -> list[Read]:
    """What was read of a pool between two instants, with its method's error."""
    return [
        Read(m, at, value, METHODS[method].u95(m, value))
        for m, at, value, method in queries.readings_between(session, pool.id, first, last)
        if method in METHODS
    ]


def way_ahead(
    session: Session, pool: Pool, stands: Filter, times: Sequence[datetime]
) -> tuple[list[Present], list[Observation]]:
    """The water at these instants from where its filter stands at the first, as wide as the newest stored
    forecast was made; and the outlook it goes by. Nothing of it is stored: it is what a look shows.
    """
    now = times[0]
    outlook = outlook_of(session, pool, now, MOST_DAYS)
    by_habit = habits(_lately(session, pool, now), now) if _has_habits(stands) else []
    widened = queries.newest_widening(session, pool.id)
    path = path_ahead(stands, [*outlook, *by_habit], times)
    return [_wider(one, widened) for one in path], outlook


def _has_habits(stands: Filter) -> bool:
    """Whether anything may go on by itself: only then is the log of weeks read for it."""
    return stands.around.feeder is not None or stands.around.heads_day > 0


def _lately(session: Session, pool: Pool, now: datetime) -> list[Observation]:
    return observed(session, pool, traits_of(pool), now - HABITS, now)


def _wider(present: Present, widened: Mapping[str, float]) -> Present:
    measures = {m: replace(e, sigma=e.sigma * widened.get(m, 1.0)) for m, e in present.measures.items()}
    return replace(present, measures=measures)
