"""The estimate at instants along a log."""

from collections.abc import Iterable
from datetime import datetime

from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.present import Observation, Present


def present_water(traits: PoolTraits, log: Iterable[Observation], now: datetime) -> Present:
    """The best estimate of every measure at ``now`` from the entries up to it."""
    return estimates(traits, log, [now])[0]


def estimates(traits: PoolTraits, log: Iterable[Observation], times: list[datetime]) -> list[Present]:
    """The estimate at each of these instants (ascending), each from the entries up to it alone."""
    return along(Filter(traits), log, times)


def along(state: Filter, log: Iterable[Observation], times: list[datetime]) -> list[Present]:
    """The same from where a filter stands, which walks along."""
    entries = sorted(log, key=lambda e: (e.at, e.id))
    answers, i = list[Present](), 0
    for at in times:
        while i < len(entries) and entries[i].at <= at:
            state.take(entries[i])
            i += 1
        answers.append(state.at(at))
    return answers
