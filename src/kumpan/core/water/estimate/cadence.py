"""Which estimates may be dosed on: by their age, how sure they are, and how often this person tests."""

import math
from statistics import median

from kumpan.core.water.measures import MEASURES

# A person's own cadence: the middle one of the last three gaps between tests, a quarter over it still in
# time; readings within half a day are one test. Our own.
_GAPS, _LATE, _SAME_TEST_DAYS = 3, 1.25, 0.5


def with_gap(gaps_days: tuple[float, ...], gap_days: float) -> tuple[float, ...]:
    """The last gaps between readings of a measure, in days, once there is one more; one within the same test
    is none. Our own.

    >>> with_gap((30.0, 41.0, 38.0), 45.0), with_gap((30.0,), 0.1)
    ((41.0, 38.0, 45.0), (30.0,))
    """
    return gaps_days if gap_days < _SAME_TEST_DAYS else (*gaps_days, gap_days)[-_GAPS:]


def usable(measure: str, gaps_days: tuple[float, ...], u95: float, age_days: float) -> bool:
    """Whether an estimate may be dosed on: recent, and no less sure than one and a half of its coarsest
    tests; or no older than this person usually lets it get, at most twice that: a dose on it is sized for its
    doubt.

    u95 in the measure's canonical unit. Our own.
    """
    carry, worst = MEASURES[measure].carry_days, _coarsest(measure)
    if age_days <= carry and u95 <= 1.5 * worst:
        return True
    cadence = _LATE * median(gaps_days) if len(gaps_days) == _GAPS else 0.0
    return age_days <= min(cadence, 2 * carry) and u95 <= 2 * worst


def _coarsest(measure: str) -> float:
    """What the coarsest common test of a measure is worth, 95 %: nothing surer is asked of an estimate."""
    return max((worth.u95 for worth in MEASURES[measure].by.values()), default=math.inf)
