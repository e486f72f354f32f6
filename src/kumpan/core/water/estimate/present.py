"""What the estimate takes of the log, and what it answers."""

from dataclasses import dataclass
from datetime import datetime

from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.water.estimate.chlorine import Fit
from kumpan.core.water.evaporation import Air
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import Change, WaterState, with_measures

SIGMAS_80 = 1.281552


@dataclass(frozen=True)
class Observation:
    """One thing of the log.

    change: a dose, per litre; feeds: tablets, given off over days; replaced, rained: the share of the water
    that is fill or rain afterwards. topped: the share that had evaporated and was filled up again: what was
    dissolved had stayed, so nothing is diluted. bathers: heads; covered: on or off; cell_set: the
    chlorinator's setting changed; cell_ppm_day: what it makes at that, None where its rating or setting is
    not known; balance_c: what a day's weather draws the water toward; sun: that day's light against an
    ordinary summer's; evaporates: the air that took water that day.
    """

    at: datetime
    id: str = ""
    readings: tuple[Reading, ...] = ()
    change: Change | None = None
    feeds: Change | None = None
    replaced: float = 0.0
    topped: float = 0.0
    rained: float = 0.0
    bathers: float = 0.0
    covered: bool | None = None
    cell_set: bool = False
    cell_ppm_day: float | None = None
    balance_c: float | None = None
    sun: float | None = None
    evaporates: Air | None = None


@dataclass(frozen=True)
class Estimate:
    """One measure now: value and sigma, when it was last read. usable: recent and sure enough to dose on, or
    as old as this person's own cadence lets it get."""

    value: float
    sigma: float
    age_days: float
    usable: bool

    @property
    def u95(self) -> float:
        """95 %."""
        return self.sigma * SIGMAS_95

    @property
    def span_80(self) -> tuple[float, float]:
        """Four in five; nothing is below zero."""
        return max(0.0, self.value - SIGMAS_80 * self.sigma), self.value + SIGMAS_80 * self.sigma


@dataclass(frozen=True)
class Present:
    """The water at an instant: measures known to the log, by id. fit: what its chlorine is lost by, None
    before chlorine was read. ph_rise_a_day, ta_rise_a_day: how far they go by themselves in a day here, doses
    and fresh water apart; None before the log has told it.
    """

    at: datetime
    measures: dict[str, Estimate]
    fit: Fit | None = None
    ph_rise_a_day: float | None = None
    ta_rise_a_day: float | None = None

    @property
    def water(self) -> WaterState:
        """Every estimate as a water, usable or not."""
        return with_measures(WaterState(), {m: e.value for m, e in self.measures.items()})
