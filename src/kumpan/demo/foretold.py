"""What would have been foretold of a sample pool over the last weeks: the log replayed, each forecast from
what had been written by then alone.
"""

from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.core.forecast.ahead import Forecast, make
from kumpan.core.forecast.score import scored, scores
from kumpan.store.forecasts import HABITS, read_between
from kumpan.store.tables.pools import Pool
from kumpan.store.water import LOOK_BACK, begun, observed, traits_of

REPLAYED_DAYS = 42
_AFTER_TEST = timedelta(minutes=1)  # the worker hears of a test so soon


def foretold_of(session: Session, pool: Pool, now: datetime) -> list[Forecast]:
    """Forecasts once a test and once a day, as the worker makes them; no weather was known then."""
    traits, begins = traits_of(pool), now - timedelta(days=REPLAYED_DAYS)
    since = begins - LOOK_BACK
    log = sorted(observed(session, pool, traits, since, now), key=lambda e: (e.at, e.id))
    read = read_between(session, pool, begins, now)
    tests = {e.at for e in log if e.readings and e.at >= begins}
    walk, told, widened, i = begun(session, pool, traits, since), list[Forecast](), dict[str, float](), 0
    for at, is_test in _instants(pool, begins, now, tests):
        while i < len(log) and log[i].at <= at:
            walk.take(log[i])
            i += 1
        if is_test:
            results = scored(told, [one for one in read if one.at <= at], log[:i])
            widened = {m: one.widened for m, one in scores(results).items()}
        told += make(walk, [], [e for e in log[:i] if e.at >= at - HABITS], at, widened)
    return told


def _instants(
    pool: Pool, begins: datetime, now: datetime, tests: set[datetime]
) -> list[tuple[datetime, bool]]:
    """When something was foretold, and whether a test was what for: after each test, else in the morning."""
    zone = ZoneInfo(pool.time_zone)
    tested = {at.astimezone(zone).date() for at in tests}
    first = begins.astimezone(zone).date()
    days = (first + timedelta(days=i) for i in range(REPLAYED_DAYS + 1))
    mornings = (datetime.combine(day, time(7), zone).astimezone(UTC) for day in days if day not in tested)
    found = [(at + _AFTER_TEST, True) for at in tests] + [(at, False) for at in mornings]
    return sorted(one for one in found if begins <= one[0] <= now)
