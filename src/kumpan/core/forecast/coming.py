"""What the days to come ask for: chlorine over a month or a season, what each day's weather does, and where
tablets lead stabilizer.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date

from kumpan.core.machines.feeder import weeks_until
from kumpan.core.water.estimate.chlorine import Fit, demand_at
from kumpan.core.water.estimate.present import Observation, Present
from kumpan.core.water.state import value_of

# What rain dilutes, and the least of each that is worth a word (canonical units; our own).
_DILUTED = {"salt": 30.0, "cya": 1.0, "ta": 2.0, "ch": 5.0}
_MARKED = 0.25  # a day's demand so much over or under today's is worth a word (our own)


@dataclass(frozen=True)
class Need:
    """Free chlorine that so many days take, ppm, with its 95 %."""

    days: int
    ppm: float
    u95: float


def chlorine_need(
    fit: Fit | None, level_ppm: float | None, days_c: Iterable[tuple[float | None, float | None]]
) -> Need:
    """What days take at a level, each in water so warm (C) and in so much sunlight (against an ordinary
    summer's day); None: not known, as today. Their errors are one error: the pace that was learned, or the
    season's usual.
    """
    days = [demand_at(_in_light(fit, sun), level_ppm, temp) for temp, sun in days_c]
    return Need(len(days), sum(d.ppm_day for d in days), sum(d.u95 for d in days))


def _in_light(fit: Fit | None, sun: float | None) -> Fit | None:
    return fit if fit is None or sun is None else replace(fit, held=replace(fit.held, sun=sun))


@dataclass(frozen=True)
class DayAhead:
    """A day of the outlook: the water's warmth at its evening, what it takes (ppm), how that stands to
    today's (``more``, ``less``, empty), and what its rain dilutes (measure -> ppm).
    """

    day: date
    water_c: float | None
    demand_ppm: float
    against_today: str
    diluted: dict[str, float]


def days_ahead(
    path: Sequence[Present], outlook: Sequence[Observation], now: Present, level_ppm: float | None
) -> list[DayAhead]:
    """What each day of the outlook does. path: the water at the evenings of the outlook, in their order."""
    usual, found = _demand(now.fit, now, level_ppm), []
    for present, weather in zip(path, outlook, strict=True):
        takes = _demand(now.fit, present, level_ppm)
        more = "more" if takes > (1 + _MARKED) * usual else "less" if takes < (1 - _MARKED) * usual else ""
        diluted = {
            m: weather.rained * value
            for m, least in _DILUTED.items()
            if (value := value_of(present.water, m)) is not None and weather.rained * value >= least
        }
        found.append(DayAhead(weather.at.date(), present.water.temp_c, takes, more, diluted))
    return found


def _demand(fit: Fit | None, then: Present, level_ppm: float | None) -> float:
    """What a day takes by the pace of today, in that day's water and sunlight."""
    if fit is None or not fit.enough or then.fit is None:
        return demand_at(None, level_ppm, then.water.temp_c).ppm_day
    return replace(fit, held=then.fit.held).demand(level_ppm).ppm_day


@dataclass(frozen=True)
class Reach:
    """Where tablets lead stabilizer. stop_weeks: until they should give way to liquid; limit_weeks: until it
    passes what a pool may hold; drain_share: of the water that then has to go, to be back at the aim.
    """

    a_week_ppm: float
    stop_ppm: float
    stop_weeks: float | None
    limit_ppm: float
    limit_weeks: float | None
    drain_share: float


def reach(cya_ppm: float, a_week_ppm: float, stop_ppm: float, limit_ppm: float, aim_ppm: float) -> Reach:
    """Weeks from here at this use. The share drained (not overflowed) brings the limit down to the aim.

    >>> r = reach(40, 5, 50, 90, 45)
    >>> r.stop_weeks, r.limit_weeks, r.drain_share
    (2.0, 10.0, 0.5)
    """
    at_limit = max(limit_ppm, cya_ppm)
    return Reach(
        a_week_ppm,
        stop_ppm,
        weeks_until(cya_ppm, stop_ppm, a_week_ppm),
        limit_ppm,
        weeks_until(cya_ppm, limit_ppm, a_week_ppm),
        max(0.0, 1 - aim_ppm / at_limit),
    )
