"""Free chlorine in the estimate: its level, and the paces at which this pool loses and is fed it, fitted
together.

    dFC/dt = gain x fed - sun x S x FC - dark x 2^((T - 27)/10) x FC/(FC + 0.3),  and so much a bather

An extended Kalman filter (Kalman 1960, from memory) over the level, what tablets have left, and the
logarithms of five paces, each against what is usual: what the sun takes, what else takes it, what a bather
takes, what goes in for what was meant to (the volume, a product's strength, a cell's rating: one factor), and
how fast tablets dissolve. What the readings do not tell apart stays as unsure as its prior says, and is told
so.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

import numpy

from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.water.demand import AT_C, DOUBLES_C, SPREAD_95, Demand, usual_demand
from kumpan.core.water.estimate import priors as p

LEVEL, SUN, DARK, USE, GAIN, PACE, LEFT = range(7)
STATES, PACES = 7, (SUN, DARK, USE, GAIN, PACE)
DRIVERS = {SUN: "sun", DARK: "water", USE: "bathers"}
_STEP_DAYS, _MOST_STEPS = 0.25, 60
_NUDGE = 1e-3  # of a logarithm, for a slope
_NEAR_C = 2.5
_LAST_READS = 4
_LOG_MOST = 2.5  # a pace is believed within a factor of twelve of the usual (our own)


@dataclass(frozen=True)
class Span:
    """A stretch of time: days; what sun and all else take a day at their usual paces (a share, and ppm); ppm
    a day that is fed. told: whether what is fed is known, so that what is lost can be learned from it.
    """

    days: float
    sun_a_day: float
    dark_ppm_day: float
    fed_ppm_day: float
    told: bool


@dataclass(frozen=True)
class Held:
    """What chlorine's demand follows from: its level, how warm the water is, its stabilizer, the sunlight of
    a day against an ordinary summer's day, and what the bathers written down of late usually take a day.
    """

    level_ppm: float
    temp_c: float | None
    cya_ppm: float | None
    sun: float = 1.0
    bathers_ppm_day: float = 0.0


def stabilized_share(cya_ppm: float | None) -> float:
    """What sunlight takes, against water of 40 ppm stabilizer; untested counts as 40.

    Half-life at noon 50 min without stabilizer, 9 h of what it holds (common practice: 35 to 60 min, 6 to 10
    h); of 3 ppm at pH 7.5 about 1/(1 + 1.17 CYA) is free (fitted to the equilibria of O'Brien 1974 within a
    tenth from 20 to 100 ppm).

    >>> [round(stabilized_share(c), 1) for c in (0, 20, 40, 100)]
    [8.9, 1.2, 1.0, 0.9]
    """
    free = 1.0 / (1.0 + 1.17 * (40.0 if cya_ppm is None else max(0.0, cya_ppm)))
    return (free * p.FREE_FADES_H + (1 - free) * p.BOUND_FADES_H) / _FADES_AT_40_H


_FADES_AT_40_H = p.FREE_FADES_H / 47.8 + p.BOUND_FADES_H * 46.8 / 47.8


def sun_a_day(exposure: float, sun: float, cya_ppm: float | None) -> float:
    """The share that sunlight takes a day at its usual pace: exposure of the pool (0 to 1), the day's light
    against an ordinary summer's.
    """
    return p.SUN_A_DAY * exposure * sun * stabilized_share(cya_ppm)


def dark_ppm_day(temp_c: float | None) -> float:
    """What is taken without sun a day at its usual pace and plenty of chlorine, ppm: double for each 10 C."""
    return float(p.DARK_PPM_DAY * 2 ** (((AT_C if temp_c is None else temp_c) - AT_C) / DOUBLES_C))


@dataclass
class Chlorine:
    """The fit where it stands: logarithms of the paces, their covariance with the level and with what tablets
    have still to give, when chlorine was read last, when first, and the days between its last readings. The
    level itself is the water's, what is left in the feeder the filter's.
    """

    logs: list[float]
    cov: Any
    read_at: datetime
    began_at: datetime
    gaps_days: tuple[float, ...] = ()
    told: bool = True
    reads: int = 1
    surprised: tuple[bool, ...] = ()  # of the last readings, which were far from all that was expected

    @classmethod
    def first(cls, sigma_ppm: float, at: datetime, told: bool, source: str) -> "Chlorine":
        """At the first reading: the paces as usual."""
        cov = numpy.diag([sigma_ppm, *p.LOG_SIGMAS, 0.0, p.PACE_SIGMA, 0.0]) ** 2
        one = cls([0.0] * STATES, cov, at, at)
        one.set_told(told, source)
        return one

    def copy(self) -> "Chlorine":
        """Another that stands where this one does."""
        return replace(self, logs=list(self.logs), cov=self.cov.copy())

    def set_told(self, told: bool, source: str) -> None:
        """Whether what feeds it is known: the gain then says how right that is, else how wrong a guess."""
        self.told = told
        sigma = p.GAIN_BY.get(source, p.GAIN_POURED) if told else p.GAIN_UNTOLD
        self.logs[GAIN] = 0.0
        self._forget(GAIN, sigma**2)

    def unsure_of_feed(self, source: str) -> None:
        """The feed was changed: how right it is is nearly as unsure as at first."""
        least = (p.GAIN_BY.get(source, p.GAIN_POURED) / 2 if self.told else p.GAIN_UNTOLD) ** 2
        self.cov[GAIN, GAIN] = max(self.cov[GAIN, GAIN], least)

    @property
    def level_var(self) -> float:
        """Variance of the level."""
        return float(self.cov[LEVEL, LEVEL])

    @property
    def tablet_days(self) -> float:
        """How long a tablet lasts here, its mean."""
        return p.TABLETS_LAST_DAYS * math.exp(-self.logs[PACE])

    def loaded(self, ppm: float) -> None:
        """Tablets went in that will bring so much."""
        self.cov[LEFT, LEFT] += (p.STRENGTH_95 / SIGMAS_95 * ppm) ** 2

    def passed(self, fc_ppm: float, left_ppm: float, span: Span) -> float:
        """The level after a stretch of time; what all may be off by grows. left_ppm: what tablets had still
        to give at its beginning, of which the span's feed holds their share.
        """
        after = _after(fc_ppm, self.logs, span)
        turn = numpy.eye(STATES)
        turn[LEVEL, LEVEL] = (_after(fc_ppm + 0.01, self.logs, span) - after) / 0.01
        for i in (SUN, DARK, GAIN) if span.told else (GAIN,):
            nudged = list(self.logs)
            nudged[i] += _NUDGE
            turn[LEVEL, i] = (_after(fc_ppm, nudged, span) - after) / _NUDGE
        # What a tablet gives more now by a quicker pace, or by more being left, it lacks afterwards.
        pace, kept = span.days / self.tablet_days, math.exp(-span.days / self.tablet_days)
        turn[LEFT, LEFT], turn[LEFT, PACE] = kept, -left_ppm * pace * kept
        if span.told and left_ppm > 0:
            more = replace(span, fed_ppm_day=span.fed_ppm_day + 0.01)
            by_feed = (_after(fc_ppm, self.logs, more) - after) / 0.01 / span.days
            turn[LEVEL, LEFT], turn[LEVEL, PACE] = by_feed * (1 - kept), by_feed * left_ppm * pace * kept
        self.cov = turn @ self.cov @ turn.T
        uneven = p.TABLETS_UNEVEN * span.fed_ppm_day if left_ppm > 0 else 0.0
        walked = _walked(fc_ppm, self.logs, span, uneven)
        self.cov[LEVEL, LEVEL] = max(self.cov[LEVEL, LEVEL] + walked, p.TRACE_PPM**2)
        for i, pace in zip((SUN, DARK, USE, GAIN, PACE), p.LOG_WALKS, strict=True):
            self.cov[i, i] += pace**2 * span.days
        return after

    def added(self, ppm: float, off: float) -> float:
        """So much was poured: what of it arrived, ppm. off: its own relative sigma, apart from the gain."""
        gain = math.exp(self.logs[GAIN]) if self.told else 1.0
        if self.told:
            self._leans(GAIN, gain * ppm)
        self.cov[LEVEL, LEVEL] += (off * ppm) ** 2
        return gain * ppm

    def bathed(self, fc_ppm: float, usual_ppm: float) -> float:
        """What bathers leave, who usually take so much."""
        used = min(fc_ppm, math.exp(self.logs[USE]) * usual_ppm)
        self._leans(USE, -used)
        return fc_ppm - used

    def diluted(self, share: float, sigma_ppm: float) -> None:
        """A share of the water was exchanged."""
        self.cov[LEVEL, :] *= 1 - share
        self.cov[:, LEVEL] *= 1 - share
        self.cov[LEVEL, LEVEL] += (share * sigma_ppm) ** 2

    def joined(self, fc_ppm: float, left_ppm: float, read_ppm: float, sigma: float) -> tuple[float, float]:
        """The level once a reading has joined it, and what tablets have left; the paces follow by what they
        have to do with it.
        """
        surprise = read_ppm - fc_ppm
        surprised = abs(surprise) > p.SURPRISE * math.sqrt(self.level_var + sigma**2)
        self.surprised = (*self.surprised, surprised)[-_LAST_READS:]
        if surprised:
            self.cov[LEVEL, LEVEL] += surprise**2  # something nobody logged: believe the reading
        pull = self.cov[:, LEVEL] / (self.level_var + sigma**2)
        for i in PACES:
            self.logs[i] = min(_LOG_MOST, max(-_LOG_MOST, self.logs[i] + float(pull[i]) * surprise))
        self.cov = self.cov - numpy.outer(pull, self.cov[LEVEL, :])
        self.cov = (self.cov + self.cov.T) / 2
        least = ((p.LEAST_LOG * s) ** 2 for s in p.LOG_SIGMAS)
        floors = (p.BIAS * sigma**2, *least, p.LEAST_PACE**2)
        for i, floor in zip((LEVEL, SUN, DARK, USE, PACE), floors, strict=True):
            self.cov[i, i] = max(self.cov[i, i], floor)
        self.reads += 1
        left = max(0.0, left_ppm + float(pull[LEFT]) * surprise)
        return max(0.0, fc_ppm + float(pull[LEVEL]) * surprise), left

    def _leans(self, on: int, slope: float) -> None:
        """The level moved by so much for each unit of one of the paces; nothing else did."""
        turn = numpy.eye(STATES)
        turn[LEVEL, on] = slope
        self.cov = turn @ self.cov @ turn.T

    def _forget(self, state: int, variance: float) -> None:
        self.cov[state, :] = self.cov[:, state] = 0.0
        self.cov[state, state] = variance


@dataclass(frozen=True)
class Driver:
    """A driver of demand: ppm a day, one sigma. apart: whether the log tells it apart from the rest."""

    id: str
    ppm_day: float
    sigma: float
    apart: bool


@dataclass(frozen=True)
class Fit:
    """What the log says of a pool's demand. held: as it is now; exposure: how much of the sun reaches the
    water; days, reads: of log it leans on; told: whether what feeds it is known; surprises: of its last
    readings, how many were far from all that was expected.
    """

    logs: tuple[float, ...]
    cov: tuple[tuple[float, ...], ...]
    held: Held
    exposure: float
    days: float
    told: bool
    covered: bool = False
    reads: int = 0
    surprises: int = 0

    def demand(self, level_ppm: float | None = None, temp_c: float | None = None) -> Demand:
        """What a day takes at a level (ppm) and in water so warm; as it is now where not given."""
        parts = self._parts(self._held(level_ppm, temp_c))
        slopes = numpy.zeros(STATES)
        for i, ppm in parts.items():
            slopes[i] = ppm
        sigma = math.sqrt(max(0.0, float(slopes @ numpy.array(self.cov) @ slopes)))
        level = self.held.level_ppm if level_ppm is None else level_ppm
        return Demand(sum(parts.values()), SIGMAS_95 * sigma, level, self.days)

    @property
    def enough(self) -> bool:
        """Whether it says more than the season: over a week of three readings or more, what is fed known, and
        surer than the season's usual (our own).
        """
        demand = self.demand()
        told = self.told and self.days >= p.LEAST_DAYS and self.reads >= p.LEAST_READINGS
        return told and demand.u95 <= SPREAD_95 * demand.ppm_day

    def at_level(self, level_ppm: float | None) -> "Fit":
        """The same pool held at another level."""
        return self if level_ppm is None else replace(self, held=replace(self.held, level_ppm=level_ppm))

    @property
    def contradicts(self) -> bool:
        """Whether its last readings contradict what was written down: half of them or more (our own)."""
        return self.surprises >= _LAST_READS // 2

    def drivers(self) -> tuple[Driver, ...]:
        """Sun, what else takes it, and bathers where any were written down, at today's level; each apart only
        where its own sigma is at most half of its prior's.
        """
        parts = self._parts(self.held)
        found = []
        for i, ppm in parts.items():
            log_sigma = math.sqrt(self.cov[i][i])
            apart = self.enough and log_sigma <= p.CLOSED * p.LOG_SIGMAS[i - 1]
            found.append(Driver(DRIVERS[i], ppm, ppm * log_sigma, apart))
        return tuple(found)

    def bather_g(self) -> tuple[float, float, bool]:
        """What a bather takes, grams, its sigma, and whether the log tells it."""
        sigma = math.sqrt(self.cov[USE][USE])
        grams = p.BATHER_CL2_G * math.exp(self.logs[USE])
        return grams, grams * sigma, sigma <= p.CLOSED * p.LOG_SIGMAS[USE - 1]

    def _held(self, level_ppm: float | None, temp_c: float | None) -> Held:
        held = self.held if level_ppm is None else replace(self.held, level_ppm=level_ppm)
        return held if temp_c is None else replace(held, temp_c=temp_c)

    def _parts(self, held: Held) -> dict[int, float]:
        level, sun = max(0.0, held.level_ppm), held.sun * (p.UNDER_COVER if self.covered else 1.0)
        share = math.exp(self.logs[SUN]) * sun_a_day(self.exposure, sun, held.cya_ppm)
        dark = math.exp(self.logs[DARK]) * dark_ppm_day(held.temp_c)
        parts = {SUN: share * level, DARK: dark * level / (level + p.HALF_PACE_PPM)}
        if held.bathers_ppm_day > 0:
            parts[USE] = math.exp(self.logs[USE]) * held.bathers_ppm_day
        return parts


def demand_at(fit: Fit | None, level_ppm: float | None, temp_c: float | None) -> Demand:
    """What a day takes at a level and in water so warm: by the log where it tells, else the season's usual.
    More than 2.5 C from the water it was learned in, it stays between half and twice that usual (our own).
    """
    usual = usual_demand(temp_c)
    if fit is None or not fit.enough:
        return usual
    demand, was = fit.demand(level_ppm, temp_c), fit.held.temp_c
    if temp_c is None or was is None or abs(temp_c - was) <= _NEAR_C:
        return demand
    return replace(demand, ppm_day=min(2 * usual.ppm_day, max(0.5 * usual.ppm_day, demand.ppm_day)))


def held_ppm_day(fc_ppm: float, logs: list[float], span: Span) -> float:
    """What has to be fed a day for a level to stay."""
    if fc_ppm <= 0:
        return 0.0
    dark = math.exp(logs[DARK]) * span.dark_ppm_day
    return fc_ppm * (math.exp(logs[SUN]) * span.sun_a_day + dark / (fc_ppm + p.HALF_PACE_PPM))


def _after(fc_ppm: float, logs: list[float], span: Span) -> float:
    """The level after a stretch of time: exact for a pace that stands over each step of it."""
    *_, (after, _, _) = _along(fc_ppm, logs, span)
    return after


def _walked(fc_ppm: float, logs: list[float], span: Span, uneven_ppm: float) -> float:
    """The variance of the level by what nobody saw: no day is like the last, and something takes or spares
    some of what there is. What it did to begin with is forgotten as the level falls.
    """
    walk, variance = p.WALK_PPM if span.told else p.WALK_UNTOLD_PPM, 0.0
    for level, dt, kept in _along(fc_ppm, logs, span):
        variance = variance * kept**2 + ((walk * min(1.0, level / p.WALK_AT_PPM)) ** 2 + uneven_ppm**2) * dt
    return variance


def _along(fc_ppm: float, logs: list[float], span: Span) -> Iterator[tuple[float, float, float]]:
    """The level after each step of a stretch of time, the step's days, and what a little more at its
    beginning would still be at its end.
    """
    steps = min(_MOST_STEPS, max(1, math.ceil(span.days / _STEP_DAYS)))
    dt, half = span.days / steps, p.HALF_PACE_PPM
    sun = math.exp(logs[SUN]) * span.sun_a_day
    dark = math.exp(logs[DARK]) * span.dark_ppm_day
    fed = math.exp(logs[GAIN]) * span.fed_ppm_day
    for _ in range(steps):
        rate = sun + dark / (fc_ppm + half) + 1e-9
        kept, more = math.exp(-rate * dt), math.exp(-(sun + dark * half / (fc_ppm + half) ** 2) * dt)
        fc_ppm = fc_ppm * kept + fed * (1 - kept) / rate
        yield fc_ppm, dt, more
