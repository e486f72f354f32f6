"""Going away: what chlorine will be on the day of return, by what feeds it meanwhile."""

from dataclasses import dataclass

from kumpan.core.water.demand import Demand

MOST_DAYS = 120
_STEPS_A_DAY = 8
# What is fed while nobody looks may be off by so much: a pump that trips, a cell that fades (our own).
_FED_OFF = 0.2
_LITTLE_PPM = 0.1  # at which what does not go with the level runs at half its pace (our own)


@dataclass(frozen=True)
class Return:
    """Free chlorine on the day of return, ppm: as expected, and where 95 % lie; gone_days: after how many
    days it is expected under the minimum, None while away not.
    """

    fc_ppm: float
    low: float
    high: float
    gone_days: float | None


def on_return(
    leave_ppm: float, fed_ppm_day: float, demand: Demand, days: float, minimum_ppm: float
) -> Return:
    """Free chlorine after ``days`` of feeding so much and using so much. Half of what a pool uses goes with
    its level (``demand``), so that it settles where the two meet.

    Integrated in eighths of a day; the span takes demand at its 95 % ends and the feed a fifth off.
    """
    level = demand.level_ppm or max(1.0, leave_ppm)
    most = max(0.0, demand.ppm_day - demand.u95)
    expected = _days(leave_ppm, fed_ppm_day, demand.ppm_day, level, days)
    low = _days(leave_ppm, fed_ppm_day * (1 - _FED_OFF), demand.ppm_day + demand.u95, level, days)
    high = _days(leave_ppm, fed_ppm_day * (1 + _FED_OFF), most, level, days)
    gone = next((i for i, fc in enumerate(expected) if fc < minimum_ppm), None)
    gone_days = None if gone is None else gone / _STEPS_A_DAY
    return Return(expected[-1], low[-1], high[-1], gone_days)


def _days(fc_ppm: float, fed: float, used: float, level: float, days: float) -> list[float]:
    """Free chlorine from now on, an eighth of a day apart."""
    run, step_days = [fc_ppm], 1 / _STEPS_A_DAY
    for _ in range(round(days * _STEPS_A_DAY)):
        # What goes with the level and what does not, neither without chlorine; implicit, so never under zero.
        share = used * (0.5 / (fc_ppm + _LITTLE_PPM) + 0.5 / level)
        fc_ppm = (fc_ppm + fed * step_days) / (1 + share * step_days)
        run.append(fc_ppm)
    return run
