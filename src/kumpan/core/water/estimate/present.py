"""What the estimate takes of the log, and what it answers."""

from dataclasses import dataclass
from datetime import datetime

from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import Change, WaterState, with_measures

SIGMAS_80 = 1.281552


@dataclass(frozen=True)
class Observation:
    """One thing of the log.

    change: a dose, per litre; feeds: tablets, given off over days; replaced, rained: the share of the water
    that is fill or rain afterwards. topped: the share that had evaporated and was filled up again: what was
    dissolved had stayed, so nothing is diluted. bathers: heads; covered: on or off; cell_set: the
    chlorinator's setting changed; balance_c: what a day's weather draws the water toward.
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
    balance_c: float | None = None


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
    """The water at an instant: measures known to the log, by id. fc_loss_a_day: the share of free chlorine
    lost a day, where chlorine is poured by hand and the log has told it; None before. ph_rise_a_day: how far
    pH goes by itself in a day here, doses and fresh water apart; None before the log has told it.
    """

    at: datetime
    measures: dict[str, Estimate]
    fc_loss_a_day: float | None = None
    ph_rise_a_day: float | None = None

    @property
    def water(self) -> WaterState:
        """Every estimate as a water, usable or not."""
        return with_measures(WaterState(), {m: e.value for m, e in self.measures.items()})
