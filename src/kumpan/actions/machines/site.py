"""What every machine's view is worked out from, read once."""

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.core.amounts import System
from kumpan.core.guidance.targets import Band, bands_of
from kumpan.core.phrasing import terms
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.demand import Demand
from kumpan.core.water.estimate.chlorine import Fit, demand_at
from kumpan.core.water.estimate.present import Estimate, Present
from kumpan.store.machines import CellSetting, cell_setting
from kumpan.store.tables.pools import Pool
from kumpan.store.water import present_of, traits_of


@dataclass(frozen=True)
class Link:
    """A guide that can be begun: its subject, what the button says, and when it is worth it."""

    subject: str
    label: str
    why: str


class Known:
    """A pool with its water, its demand and its cell's setting, each read when it is asked for."""

    def __init__(self, context: Context, pool: Pool) -> None:
        self.context, self.pool = context, pool

    @property
    def system(self) -> System:
        """The person's units."""
        return self.context.unit_system

    @cached_property
    def here(self) -> datetime:
        """Now, on the pool's clock."""
        return self.context.now.astimezone(ZoneInfo(self.pool.time_zone))

    @cached_property
    def traits(self) -> PoolTraits:
        """The pool as the core sees it."""
        return traits_of(self.pool)

    @cached_property
    def present(self) -> Present:
        """Its water now."""
        return present_of(self.context.session, self.pool, self.context.now)

    def estimate(self, measure: str) -> Estimate | None:
        """What a measure is now; None where the log does not tell."""
        return self.present.measures.get(measure)

    @cached_property
    def temp_c(self) -> float | None:
        """The water's temperature, where it was read or the weather tells it of late."""
        temp = self.estimate("temp")
        return None if temp is None or not temp.usable else temp.value

    def band(self, measure: str) -> Band:
        """Where a measure should be here."""
        return bands_of(self.traits, self.present.water)[measure]

    @cached_property
    def setting(self) -> CellSetting | None:
        """What the cell runs at."""
        return cell_setting(self.context.session, self.pool)

    @property
    def cell_hours(self) -> float:
        """Hours a day the cell runs: by its setting, the equipment, the pump, else eight."""
        held = self.pool.known("chlorinator").get("hours_day") or self.pool.known("pump").get("hours")
        return self.setting.hours if self.setting and self.setting.hours else float(held or 8.0)

    @property
    def fit(self) -> Fit | None:
        """What the log says of its demand; None where it says less than the season does."""
        fit = self.present.fit
        return fit if fit is not None and fit.enough else None

    @cached_property
    def demand(self) -> Demand:
        """What a day takes: by the log where that tells, else the season's own."""
        return demand_at(self.fit, None, self.temp_c)

    @cached_property
    def demand_at_aim(self) -> Demand:
        """The same at the level that is aimed at."""
        return demand_at(self.fit, self.band("fc").aim, self.temp_c)

    def demand_words(self, demand: Demand) -> str:
        """A demand, with what it leans on."""
        by = (
            f"by this pool's log of {demand.days:.0f} days"
            if demand.days
            else "the season's usual: no log tells it yet"
        )
        return f"{demand.ppm_day:.1f} ppm a day, give or take {demand.u95:.1f}, {by}"

    def temp(self, temp_c: float) -> str:
        """A temperature in the person's units."""
        return terms.show_value("temp", temp_c, self.system)

    def when(self, at: datetime) -> str:
        """A day as it is said today."""
        return terms.day(self.here, at.astimezone(self.here.tzinfo))
