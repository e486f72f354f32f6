"""Forecasts on simulated pools: the fit finds their demand, four-in-five spans hold the truth four times in five
three and seven days ahead, and they are narrower than what is known without the pool's record.

204 pools by hand, tablets and chlorinator, with bathers nobody writes down, kits that read off, and gaps; their
natures are drawn where no rule can look (``core.simulation.priors``), by the rules' own version. Pools in which
algae can be seen are left out: a clear-up is under way there.
"""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import timedelta
from functools import cache
from statistics import median

import pytest

from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.forecast.ahead import RULE_VERSION
from kumpan.core.water.air import sunlit_days
from kumpan.core.water.estimate.filter import Filter
from kumpan.core.water.estimate.present import SIGMAS_80, Observation, Present
from kumpan.core.water.estimate.walk import estimates
from kumpan.core.water.state import value_of
from lived import AHEAD_DAYS, DAYS, JUNE, SOURCES, TROUBLES, Person, lived

FORETOLD = ("fc", "ph", "ta", "ch", "cya", "salt")
FITTED_DAYS = 14  # the last of a life, over which its true demand is counted
# How wide a span is at most against that of the bare prior, which knows the last reading of each measure and all
# that was done since, but has learned nothing: medians. Stated beforehand; for stabilizer and salt the gain is in
# several readings against one.
NARROWER = {"fc": 0.55, "ph": 0.75, "cya": 0.96, "salt": 0.90}


def every_pool() -> Iterator[Person]:
    for source in SOURCES:
        for trouble in TROUBLES:
            yield from lived(source, trouble, RULE_VERSION)


@dataclass(frozen=True)
class Told:
    """A forecast against the truth: how many sigmas off, how wide, and how wide with nothing learned."""

    off: float
    sigma: float
    bare: float


@cache
def foretold() -> dict[tuple[str, int], list[tuple[str, Told]]]:
    """By measure and days ahead, each with its pool's source: from the log so far, the pool then left alone."""
    found: dict[tuple[str, int], list[tuple[str, Told]]] = defaultdict(list)
    for person in every_pool():
        seen = sorted(person.seen, key=lambda e: (e.at, e.id))
        stands, taken = Filter(person.traits), 0
        for left in person.left:
            known = [e for e in seen if e.at <= left.at]
            for entry in known[taken:]:
                stands.take(entry)
            taken, bare = len(known), Filter(person.traits)
            for entry in _last_readings(known):
                bare.take(entry)
            for days, water in left.later.items():
                at = left.at + timedelta(days=days)
                told, plain = stands.at(at).measures, bare.at(at).measures
                for m in FORETOLD:
                    off = abs((value_of(water, m) or 0.0) - told[m].value) / told[m].sigma
                    found[m, days].append((person.source, Told(off, told[m].sigma, plain[m].sigma)))
    return found


def _last_readings(log: list[Observation]) -> list[Observation]:
    """The same log with no more than the last reading of each measure."""
    last = {r.measure: e.at for e in log for r in e.readings}
    return [
        replace(e, readings=tuple(r for r in e.readings if last[r.measure] == e.at)) if e.readings else e
        for e in log
    ]


@pytest.mark.parametrize("days", AHEAD_DAYS)
@pytest.mark.parametrize("measure", FORETOLD)
def test_four_in_five_hold_ahead(measure: str, days: int) -> None:
    told = foretold()[measure, days]
    held = [(source, one.off < SIGMAS_80) for source, one in told]
    share = sum(inside for _, inside in held) / len(held)
    by = {
        s: round(sum(i for src, i in held if src == s) / max(1, sum(src == s for src, _ in held)), 2)
        for s in SOURCES
    }
    print(f"{measure} {days} days ahead: {share:.2f} of {len(held)}; {by}")
    assert len(held) > 200
    # Alkalinity and calcium are not asked for to be so narrow: a little shy is let pass there.
    assert 0.70 <= share <= (0.90 if measure in NARROWER else 0.97), (share, by)
    assert min(by.values()) >= 0.55, by


@pytest.mark.parametrize("measure", NARROWER)
def test_the_pools_record_tells_more_than_the_bare_prior(measure: str) -> None:
    for days in AHEAD_DAYS:
        told = [one for _, one in foretold()[measure, days] if one.bare > 0.06]  # of some doubt at all
        ratio = median(one.sigma / one.bare for one in told)
        print(f"{measure} {days} days ahead: {ratio:.2f} of the bare prior's span, {len(told)} forecasts")
        assert ratio <= NARROWER[measure], (measure, days, ratio)


@cache
def demands() -> dict[str, list[tuple[float, float, float]]]:
    """By source: the demand told over the last two weeks of a life, its sigma, and what was truly spent a day."""
    found: dict[str, list[tuple[float, float, float]]] = defaultdict(list)
    half = timedelta(hours=4)
    for person in every_pool():
        if any(person.green[-FITTED_DAYS - 1 :]):
            continue
        end = JUNE + timedelta(days=DAYS)
        times = [end - timedelta(hours=8 * i + 4) for i in range(3 * FITTED_DAYS, 0, -1)]
        path = estimates(person.traits, person.seen, [*times, end])

        def told(present: Present, person: Person = person) -> float:
            assert present.fit is not None
            held = present.fit.held
            lit = 3 * sunlit_days(present.at - half, present.at + half, person.traits.sun_ahead_h)
            return replace(present.fit, held=replace(held, sun=held.sun * lit)).demand().ppm_day

        ppm = sum(told(one) for one in path[:-1]) / len(times)
        fit = path[-1].fit
        assert fit is not None
        level = sum(one.measures["fc"].value for one in path[:-1]) / len(times)
        relative = fit.demand(level).u95 / SIGMAS_95 / fit.demand(level).ppm_day
        spent = (person.spent_ppm[-1] - person.spent_ppm[-1 - FITTED_DAYS]) / FITTED_DAYS
        found[person.source].append((ppm, relative * ppm, spent))
    return found


def test_the_fit_finds_the_demand_that_was() -> None:
    """What was truly spent lies in the fit's own four-in-five span four times in five, over all pools; hand, tablets
    and chlorinator alike.
    """
    inside = {
        s: [abs(told - true) < SIGMAS_80 * sigma for told, sigma, true in ones]
        for s, ones in demands().items()
    }
    shares = {s: round(sum(i) / len(i), 2) for s, i in inside.items()}
    every = [i for ones in inside.values() for i in ones]
    print(f"demand: {sum(every) / len(every):.2f} of {len(every)}; {shares}")
    assert len(every) > 130 and set(shares) == set(SOURCES)
    assert 0.70 <= sum(every) / len(every) <= 0.90, shares
    assert min(shares.values()) >= 0.60, shares
    # It says something: pools differ more than threefold, and most are told within a fifth.
    true = [t for ones in demands().values() for _, _, t in ones]
    off = [abs(told - t) / t for ones in demands().values() for told, _, t in ones]
    assert max(true) > 3 * min(true) and median(off) < 0.12, median(off)
