"""What the estimate knows of each measure beside its value, and what acts on the water meanwhile."""

import math
from dataclasses import dataclass
from datetime import datetime

from kumpan.core.chemistry import constants as k
from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.machines.output import warm_share
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.air import risen, sunlit_days
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.estimate import priors as p
from kumpan.core.water.estimate.cadence import with_gap
from kumpan.core.water.measures import IN_STATE, MEASURES, Drift
from kumpan.core.water.methods import at_scale_end
from kumpan.core.water.readings import Reading, combined_chlorine_ppm
from kumpan.core.water.state import Change, WaterState, changed, value_of, with_measures


@dataclass
class Track:
    """A measure's filter: the drift, the variances of value and drift with their covariance, when it was
    read, and the days between its last readings.
    """

    value_var: float
    covariance: float
    drift_var: float
    drift: float
    read_at: datetime
    gaps_days: tuple[float, ...] = ()

    def passed(self, value: float, days: float, prior: Drift, rest_ph: float | None) -> float:
        """The value after so many days; what it and its drift may be off by grows. rest_ph: of pH, where it
        goes to.
        """
        # Unlogged care keeps a measure near where it is held: drift does not run away over months.
        span = min(days, 30.0)
        after, kept, lean = value + self.drift * span, 1.0, span
        if rest_ph is not None:
            after, kept, lean = risen(value, self.drift, span, rest_ph)
        self.value_var = (
            kept**2 * self.value_var + 2 * kept * lean * self.covariance + lean**2 * self.drift_var
        )
        self.value_var += prior.walk**2 * days + ((1 - kept) * p.REST_OFF) ** 2
        self.covariance = kept * self.covariance + lean * self.drift_var
        self.drift_var += (p.LEARNING * prior.sigma) ** 2 * days
        return max(0.0, after)

    def told(self, prior: Drift) -> float | None:
        """The drift, once readings have halved what its prior left open (our own)."""
        return self.drift if self.drift_var <= (p.CLOSED * prior.sigma) ** 2 else None

    def drawn(self, temp_c: float, balance_c: float) -> float:
        """The water's temperature after a day that draws it toward another; no drift beside it."""
        share = p.FOLLOWS_A_DAY
        self.value_var = (1 - share) ** 2 * self.value_var + (share * p.BALANCE_OFF_C) ** 2
        self.drift, self.drift_var, self.covariance = 0.0, 0.0, 0.0
        return temp_c + share * (balance_c - temp_c)

    def joined(self, before: float, value: float, sigma: float, prior: Drift, at: datetime) -> float:
        """The estimate once a reading has joined it, by what either is worth."""
        surprise = value - before
        if abs(surprise) > p.SURPRISE * math.sqrt(self.value_var + sigma**2):
            self.value_var += surprise**2  # something nobody logged: believe the reading
        total = self.value_var + sigma**2
        pull = self.value_var / total
        low, high = prior.a_day - 4 * prior.sigma, prior.a_day + 4 * prior.sigma
        self.drift = min(max(self.drift + self.covariance / total * surprise, low), high)
        self.drift_var = max(self.drift_var - self.covariance**2 / total, (p.LEAST_DRIFT * prior.sigma) ** 2)
        self.covariance *= 1 - pull
        self.value_var = max(self.value_var * (1 - pull), p.BIAS * sigma**2)
        self.covariance = math.copysign(
            min(abs(self.covariance), 0.99 * math.sqrt(self.value_var * self.drift_var)), self.covariance
        )
        self.gaps_days = with_gap(self.gaps_days, (at - self.read_at).total_seconds() / 86400)
        self.read_at = at
        return max(0.0, before + pull * surprise)


@dataclass
class Around:
    """What acts on the water as far as the log and the weather have told: a cover; what tablets have still to
    give, and when the last went in; what the cell is set to make, ppm a day; the sunlight of a day against an
    ordinary summer's, and how much of it, in days, fell since the filter's own instant, up to another;
    whether whoever tops it up writes that down; how many bathers a day were written down of late; whether
    what evaporates is counted by the weather.
    """

    covered: bool = False
    feeder: Change | None = None
    fed_at: datetime | None = None
    cell_ppm_day: float | None = None
    sun: float = 1.0
    sun_days: float = 0.0
    sun_at: datetime | None = None
    heads_day: float = 0.0
    tops_up: bool = False
    counts_air: bool = False

    def sunlit(self, since: datetime | None, when: datetime, sun_ahead_h: float | None) -> float:
        """Ordinary summer's days of sunlight from an instant up to another; kept count of."""
        begins = self.sun_at or since
        if begins is not None and when > begins:
            self.sun_days += self.sun * sunlit_days(begins, when, sun_ahead_h)
        self.sun_at = when if begins is None else max(begins, when)
        return self.sun_days

    def fed_ppm_day(
        self, traits: PoolTraits, temp_c: float | None, brought_ppm_day: float, now: datetime | None
    ) -> float | None:
        """Free chlorine that is fed a day, what tablets brought in it; None where something feeds the pool
        and nobody knows how much.
        """
        if traits.chlorine_source == "chlorinator":
            made = self.cell_ppm_day
            return None if made is None else made * warm_share(temp_c, traits.cell_stops_c) + brought_ppm_day
        if traits.chlorine_source == "tablets" and (
            self.fed_at is None or now is None or (now - self.fed_at).days >= p.TABLETS_GONE_DAYS
        ):
            return None
        return brought_ppm_day


def worth_of(readings: tuple[Reading, ...]) -> dict[str, tuple[float, float]]:
    """What readings say of each measure a water has, with their sigma: combined chlorine from total where it
    was not read; no reading is exact, whatever its method claims, and one at its scale's end may lie beyond.
    """
    values = {r.measure: (r.value, r.u95 / SIGMAS_95) for r in readings if r.measure in IN_STATE}
    cc = combined_chlorine_ppm(list(readings))
    if cc is not None and "cc" not in values:
        of_total = max((r.u95 for r in readings if r.measure == "tc"), default=0.0)
        values["cc"] = cc, of_total / SIGMAS_95
    off_scale = {r.measure for r in readings if at_scale_end(r.method, r.measure, r.value)}
    worth = {}
    for m, (value, sigma) in values.items():
        least = 0.03 if m == "ph" else max(0.05, 0.02 * abs(value))
        worth[m] = value, max(sigma, least) * (2.0 if m in off_scale else 1.0)
    return worth


def fill_water(traits: PoolTraits, pool: WaterState) -> WaterState:
    """The fill water: as tested; what is not, as tap water is (no stabilizer, salt or chlorine) or as the
    pool itself.
    """
    own = {m: value_of(pool, m) for m in ("ph", "ta", "ch", "temp")}
    own |= dict.fromkeys(("fc", "cc", "cya"), 0.0) | {"salt": 100.0}
    return with_measures(traits.fill, {m: v for m, v in own.items() if value_of(traits.fill, m) is None})


def unsure_of_fill(traits: PoolTraits) -> dict[str, float]:
    """Sigma of what the fill water was not tested for; what counts as some value untested stays unsure."""
    return {
        m: MEASURES[m].fill_sigma
        for m in IN_STATE
        if MEASURES[m].fill_sigma and value_of(traits.fill, m) == MEASURES[m].assumed
    }


def chlorine_of(feeder: Change | None) -> float:
    """The chlorine of tablets, ppm."""
    return 0.0 if feeder is None else feeder.cl2 * 1000 * k.CL2


def possible(water: WaterState) -> WaterState:
    """The water, without its pH where that cannot be computed on."""
    sound = water.has_ph_chemistry and within(water) and conflict_of(water) is None
    return water if sound else changed(water, ph=None)


def within(water: WaterState) -> bool:
    """Whether what is known lies where pH is computed."""
    for name, (low, high) in p.COMPUTED.items():
        value = getattr(water, name)
        if value is not None and not low <= value <= high:
            return False
    return True
