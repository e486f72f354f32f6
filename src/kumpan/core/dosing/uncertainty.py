"""What a reading can be trusted for: how likely each verdict is, and how much may be poured before the next
test.

Assumptions, all our own working ones from common practice and shown with the plan:
errors normal and independent; the plus-minus of a method is 95 %; volume within 10 % unless proved; product
strength within 5 %.
"""

from dataclasses import dataclass
from functools import lru_cache
from statistics import NormalDist
from typing import Any

import numpy

from kumpan.core.chemistry import constants as k
from kumpan.core.chemistry.numeric import root
from kumpan.core.chemistry.solution import Totals, alkalinity_at, at_ph
from kumpan.core.guidance.targets import Band
from kumpan.core.water.state import MOST_MOL_L, Change, WaterState, totals_of

# 95 % of a normal distribution lies within this many standard deviations.
SIGMAS_95 = 1.959964
# An act may pass the far edge of its band in fewer than 1 in 20 cases; 1 in 25 leaves room for the draws' own
# error.
_SIZED_FOR = 0.04
# From here on a verdict is given as a word; under it the test cannot tell (our own: three in four).
SURE = 0.75
_DRAWS = 400
_DRAWN = ("fc", "ph", "ta", "ch", "cya", "salt", "volume", "strength")

Array = Any


@dataclass(frozen=True)
class Odds:
    """How likely the true value lies below, inside and above its band, given the reading and its method."""

    low: float
    fine: float
    high: float


def odds(value: float, u95: float, band: Band) -> Odds:
    """Chances of each verdict. u95: 95 %, 0 for an exact reading; normal errors, nothing below zero
    counted apart.

    Canonical units; shares of 1. Normal distribution.

    >>> odds(63, 30, Band("ta", 80, 100, 120, "")).low > 0.75
    True
    """
    if u95 <= 0:
        low = band.low is not None and value < band.low
        high = band.high is not None and value > band.high
        return Odds(float(low), float(not low and not high), float(high))
    true = NormalDist(value, u95 / SIGMAS_95)
    below = 0.0 if band.low is None else true.cdf(band.low)
    above = 0.0 if band.high is None else 1 - true.cdf(band.high)
    return Odds(below, 1 - below - above, above)


def sure_margin(u95: float) -> float:
    """How far past a limit a reading must lie for that verdict to be sure (three in four), from its 95 %
    error.

    In the error's own unit. Normal distribution; three in four is our own.
    """
    return NormalDist().inv_cdf(SURE) / SIGMAS_95 * u95


@lru_cache(maxsize=1)
def _normals() -> dict[str, Array]:
    """Standard normal draws, the same in every run: a Latin hypercube (McKay, Beckman & Conover 1979,
    Technometrics 21, 239).
    """
    inverse = NormalDist().inv_cdf
    strata = numpy.array([inverse((i + 0.5) / _DRAWS) for i in range(_DRAWS)])
    shuffled = numpy.random.default_rng(20_260_714)
    return {name: shuffled.permutation(strata) for name in _DRAWN}


@lru_cache(maxsize=1)
def _uniforms() -> Array:
    """Draws between 0 and 1, one a water: a Latin hypercube with the others."""
    shuffled = numpy.random.default_rng(20_261_126)
    return shuffled.permutation((numpy.arange(_DRAWS) + 0.5) / _DRAWS)


class Doubts:
    """The waters and pools that these readings, volume and strengths may stand for."""

    def __init__(
        self, water: WaterState, u95: dict[str, float], volume_95: float, strength_95: float
    ) -> None:
        self._water, self._u95 = water, u95
        z = _normals()
        # The true rise over the computed one: a stronger product, in a smaller pool.
        self._per_nominal = (1 + strength_95 / SIGMAS_95 * z["strength"]) / (
            1 + volume_95 / SIGMAS_95 * z["volume"]
        )
        self.exact = volume_95 == 0 and strength_95 == 0 and not any(u95.values())

    def drawn(self, measure: str, value: float) -> Array:
        """Values that a reading may stand for; at least zero."""
        sigma = self._u95.get(measure, 0.0) / SIGMAS_95
        return numpy.maximum(0.0, value + sigma * _normals()[measure])

    def _least_of(self, amounts: Array) -> float:
        return max(0.0, float(numpy.quantile(amounts, _SIZED_FOR)))

    def most_to_level(self, measure: str, value: float, rise_per_unit: float, edge: float) -> float:
        """Units after which a measure passes ``edge`` in fewer than 1 in 20 cases. rise_per_unit: of the
        computed pool, not zero.
        """
        return self._least_of((edge - self.drawn(measure, value)) / (rise_per_unit * self._per_nominal))

    def most_from_none(self, up_to: float, rise_per_unit: float, edge: float) -> float:
        """Units after which a measure that may be anywhere from none ``up_to`` a value, all alike, passes
        ``edge`` in fewer than 1 in 20 cases: a reading off the low end of its test.
        """
        anywhere = up_to * _uniforms()
        return self._least_of((edge - anywhere) / (rise_per_unit * self._per_nominal))

    def most_to_ph(self, others: Change, per_unit: Change, edge: float) -> float:
        """Units after which pH passes ``edge`` in fewer than 1 in 20 cases, everything else of the plan in
        (``others``).

        The amount that takes each drawn water to the edge: at the pH of the edge, the alkalinity asked for
        and the one left must meet. Needs ``has_ph_chemistry``.
        """
        totals = self._totals()
        scaled = self._per_nominal
        base = _added(totals, others, scaled)
        sign = 1.0 if per_unit.alk > 0 else -1.0

        def short(units: Array) -> Array:
            dosed = _added(base, per_unit, units)
            return sign * (dosed.alk - alkalinity_at(dosed, edge))

        first = short(numpy.zeros(_DRAWS))
        slope = abs(per_unit.alk)
        units = numpy.maximum(0.0, -first / slope)
        if per_unit.carbon or per_unit.b:  # what comes with the base moves the edge too
            most = numpy.full(_DRAWS, MOST_MOL_L / slope)
            units, _ = root(
                short, (numpy.zeros(_DRAWS), most), numpy.minimum(units, most), slope * 0.5, 1e-6 / slope
            )
            units = numpy.where(first < 0, units, 0.0)
        return self._least_of(units / scaled)

    def _totals(self) -> Totals:
        """Conserved totals of the drawn waters. Those that cannot be are taken without carbonate: the tests
        conflict there.
        """
        w = self._water
        nominal = totals_of(w)
        ta, cya, fc = (
            self.drawn(m, v)
            for m, v in (("ta", w.ta_ppm or 0.0), ("cya", w.cya_ppm or 0.0), ("fc", w.fc_ppm or 0.0))
        )
        if w.fc_ppm is None:
            fc = nominal.cl2 * 1000 * k.CL2
        tested = nominal._replace(
            alk=ta / k.TA_PPM_PER_EQ_L, cya=cya / 1000 / k.CYANURIC, cl2=fc / 1000 / k.CL2 + 0.0 * ta
        )
        ct = at_ph(tested, self.drawn("ph", w.ph or 7.5)).ct
        return tested._replace(ct=numpy.maximum(ct, 1e-6))


def _added(totals: Totals, change: Change, units: Array) -> Totals:
    """The totals after so many units of a change (a number, or one per drawn water)."""
    return totals._replace(
        alk=totals.alk + units * change.alk,
        ct=numpy.maximum(totals.ct + units * change.carbon, 1e-6),
        cya=totals.cya + units * change.cya,
        b=totals.b + units * change.b,
        cl2=numpy.maximum(totals.cl2 + units * change.cl2, 0.0),
    )
