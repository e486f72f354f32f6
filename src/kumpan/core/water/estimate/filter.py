"""The present water, from the log alone: every measure carried forward on the real chemistry, its uncertainty
growing with age.

A filter in the plain statistical sense (Kalman 1960, from memory), one for each measure: a value, how fast it
drifts in this pool, and what both may be off by. Doses, fresh water and rain move the values as they move the
water; a reading pulls value and drift towards it by what its method is worth. Pure and repeatable: the same
events give the same answer in whatever order they came in.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from kumpan.core.chemistry import constants as k
from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.errors import KumpanError
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.air import rain_water
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.estimate.cadence import usable, with_gap
from kumpan.core.water.estimate.present import Estimate, Observation, Present
from kumpan.core.water.estimate.priors import (
    _AIR_PH,
    _BALANCE_OFF_C,
    _BIAS,
    _CL2_PER_BATHER_G,
    _CL2_SIGMA,
    _COMPUTED,
    _FOLLOWS_A_DAY,
    _LEARNING,
    _LEARNING_FC,
    _LEAST_DRIFT,
    _LEAST_DRIFT_FC,
    _LEAST_TA,
    _PACE_OFF,
    _RATE_SPAN,
    _STRENGTH_95,
    _SURPRISE,
    _TABLETS_LAST_DAYS,
    UNDER_COVER,
)
from kumpan.core.water.measures import IN_STATE, MEASURES, Drift
from kumpan.core.water.methods import at_scale_end
from kumpan.core.water.readings import combined_chlorine_ppm
from kumpan.core.water.state import (
    Change,
    WaterState,
    apply,
    changed,
    chlorine_spent,
    evaporated,
    largest_amount,
    mixed,
    value_of,
    with_measures,
)
from kumpan.core.water.untested import allowing_for

_PACE_TOLD = 0.5  # the log has told a pace when its sigma is down to this share of the prior's: our own


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


def present_water(traits: PoolTraits, log: Iterable[Observation], now: datetime) -> Present:
    """The best estimate of every measure at ``now`` from the entries up to it."""
    return estimates(traits, log, [now])[0]


def estimates(traits: PoolTraits, log: Iterable[Observation], times: list[datetime]) -> list[Present]:
    """The estimate at each of these instants (ascending), each from the entries up to it alone."""
    entries = sorted(log, key=lambda e: (e.at, e.id))
    state, answers, i = Filter(traits), [], 0
    for at in times:
        while i < len(entries) and entries[i].at <= at:
            state.take(entries[i])
            i += 1
        answers.append(state.at(at))
    return answers


class Filter:
    """Walks through the log. ``water`` holds the values, ``tracks`` what they may be off by."""

    def __init__(self, traits: PoolTraits) -> None:
        self.traits = traits
        source = traits.chlorine_source
        self.priors = {m: MEASURES[m].drift_by_source.get(source, MEASURES[m].drift) for m in IN_STATE}
        self.by_hand = source not in MEASURES["fc"].drift_by_source
        self.water, self.tracks, self.covered = WaterState(), dict[str, Track](), False
        self.now: datetime | None = None
        self.feeder: Change | None = None  # what tablets have still to give, once the log knows of any

    def copy(self) -> "Filter":
        """Another that stands where this one does."""
        tracks = {m: replace(t) for m, t in self.tracks.items()}
        return Filter.standing(self.traits, self.water, tracks, (self.covered, self.now, self.feeder))

    @classmethod
    def standing(
        cls,
        traits: PoolTraits,
        water: WaterState,
        tracks: dict[str, Track],
        so_far: tuple[bool, datetime | None, Change | None],
    ) -> "Filter":
        """One that stands where another of the same pool did. so_far: covered, until when, and the feeder."""
        other = cls(traits)
        other.water, other.tracks = water, tracks
        other.covered, other.now, other.feeder = so_far
        if other.feeder is not None:
            other.priors |= other._counted()
        return other

    def at(self, when: datetime) -> Present:
        """The estimate at a later instant; the filter itself stays where it is."""
        ahead = self.copy()
        ahead._pass(when)
        measures = {}
        for m in IN_STATE:
            track, value = ahead.tracks.get(m), value_of(ahead.water, m)
            if track is None or value is None:
                continue
            sigma, age = math.sqrt(track.value_var), (when - track.read_at).total_seconds() / 86400
            measures[m] = Estimate(value, sigma, age, usable(m, track.gaps_days, sigma * SIGMAS_95, age))
        return Present(when, measures, self._pace("fc") if self.by_hand else None, self._pace("ph"))

    def _pace(self, measure: str) -> float | None:
        """The drift of a measure, once readings have halved what its prior left open."""
        track = self.tracks.get(measure)
        if track is None or track.drift_var > (_PACE_TOLD * self.priors[measure].sigma) ** 2:
            return None
        return track.drift

    def take(self, entry: Observation) -> None:
        """Pass the time to an entry and let it act."""
        if entry.balance_c is not None:
            self._follow_weather(entry.balance_c)
            if not entry.rained:  # temperature alone: nothing else need be worked out for it
                return
        self._pass(entry.at)
        if entry.change is not None:
            self._dose(entry.change)
        if entry.feeds is not None:
            self._load_feeder(entry.feeds)
        self._exchange(entry)
        if entry.bathers:
            self._bathe(entry.bathers)
        if entry.covered is not None:
            self.covered = entry.covered
        if entry.cell_set and "fc" in self.tracks:
            self.tracks["fc"].drift_var = max(self.tracks["fc"].drift_var, self.priors["fc"].sigma ** 2)
        if entry.readings:
            self._read(entry)

    def _exchange(self, entry: Observation) -> None:
        """Rain, fill water in place of what was lost, and fill in place of what evaporated."""
        if entry.rained:
            self._mix(rain_water(25.0 if self.water.temp_c is None else self.water.temp_c), entry.rained, {})
        if entry.replaced:
            self._mix(self._fill(), entry.replaced, self._unsure_of_fill())
        if entry.topped:
            self._moved(evaporated(self._leaning(), min(0.5, entry.topped)), 0.0)
            self._mix(self._fill(), min(0.5, entry.topped), self._unsure_of_fill())

    def _bathe(self, heads: float) -> None:
        """What bathers use of the chlorine there is."""
        if self.water.fc_ppm is None or "fc" not in self.tracks:
            return
        used = min(self.water.fc_ppm, heads * _CL2_PER_BATHER_G * 1000 / self.traits.volume_l)
        self._spend(used)
        self.tracks["fc"].value_var += (_CL2_SIGMA * used) ** 2

    def _pass(self, when: datetime) -> None:
        """Let time go by: drift, loss of chlorine, growing doubt."""
        days = 0.0 if self.now is None else (when - self.now).total_seconds() / 86400
        self.now = when
        if days <= 0:
            return
        moved: dict[str, float] = {}
        for m, t in self.tracks.items():
            value, prior = value_of(self.water, m), self.priors[m]
            if value is None or m == "fc":
                continue
            # Unlogged care keeps a measure near where it is held: drift does not run away over months.
            span = min(days, 30.0)
            change = t.drift * span
            if m == "ph":
                change = min(change, max(0.0, _AIR_PH - value))
            t.value_var += 2 * span * t.covariance + span * span * t.drift_var + prior.walk**2 * days
            t.covariance += span * t.drift_var
            t.drift_var += (_LEARNING * prior.sigma) ** 2 * days
            moved[m] = max(0.0, value + change)
        self.water = with_measures(self.water, moved)
        if self.feeder is not None:
            self._feed(self.feeder, days)
        if (track := self.tracks.get("fc")) is not None and self.water.fc_ppm is not None:
            self._lose_chlorine(track, self.water.fc_ppm, days)

    def _follow_weather(self, balance_c: float) -> None:
        """A day's weather draws the water's temperature toward what it would come to; no drift beside it."""
        track, temp = self.tracks.get("temp"), self.water.temp_c
        if track is None or temp is None:
            return
        moved = temp + _FOLLOWS_A_DAY * (balance_c - temp)
        track.value_var = (1 - _FOLLOWS_A_DAY) ** 2 * track.value_var + (_FOLLOWS_A_DAY * _BALANCE_OFF_C) ** 2
        track.drift, track.drift_var, track.covariance = 0.0, 0.0, 0.0
        self.water = with_measures(self.water, {"temp": moved})

    def _load_feeder(self, tablets: Change) -> None:
        """Tablets go in. From the first that are written down, what they bring is counted, and no longer
        guessed by the drifts of a pool fed with them.
        """
        if self.feeder is None:
            counted = self._counted()
            for m in counted.keys() & self.tracks.keys():
                self.tracks[m].drift += counted[m].a_day - self.priors[m].a_day
            self.priors |= counted
        self.feeder = tablets if self.feeder is None else self.feeder + tablets

    @staticmethod
    def _counted() -> dict[str, Drift]:
        """How measures drift where what tablets bring is counted: all but chlorine, which what feeds it holds
        at a level that only readings tell.
        """
        return {m: MEASURES[m].drift for m in IN_STATE if m != "fc"}

    def _feed(self, feeder: Change, days: float) -> None:
        """What tablets gave off meanwhile, its chlorine spent as it came: stabilizer up, alkalinity down."""
        share = -math.expm1(-days / _TABLETS_LAST_DAYS)
        start, brought = self._leaning(), feeder.spent * share
        if start.ta_ppm is not None and start.ta_ppm + brought.alk * k.TA_PPM_PER_EQ_L < _LEAST_TA:
            start = changed(start, ph=None)
        self._moved(apply(start, brought), _PACE_OFF)
        self.feeder = feeder * (1 - share)

    def _lose_chlorine(self, t: Track, fc_ppm: float, days: float) -> None:
        """A share a day: the value falls to zero, and with it what it may be off by."""
        time, prior = days * (UNDER_COVER if self.covered else 1.0), self.priors["fc"]
        kept = math.exp(-t.drift * time)
        by_rate = -fc_ppm * time * kept
        t.value_var = (
            kept * kept * t.value_var + 2 * kept * by_rate * t.covariance + by_rate * by_rate * t.drift_var
        )
        # What walks does so in proportion to what is there.
        t.value_var += min(1.0, kept) * (prior.walk * min(fc_ppm, 4.0) / 3.0) ** 2 * min(time, 4.0)
        t.covariance = kept * t.covariance + by_rate * t.drift_var
        t.drift_var += (_LEARNING_FC * prior.sigma) ** 2 * days
        lost = fc_ppm * (1 - kept)
        if (
            lost > 0
        ):  # of what feeds, only what it does not put back: the rest is used as it comes, acid and all
            self._spend(min(lost, fc_ppm))
        else:
            self.water = with_measures(self.water, {"fc": max(0.0, fc_ppm - lost)})

    def _spend(self, fc_ppm: float) -> None:
        start = self._leaning()
        if (
            start.ta_ppm is not None and start.ta_ppm - fc_ppm < _LEAST_TA
        ):  # a ppm of chlorine takes 0.7 of alkalinity
            start = changed(start, ph=None)
        self._moved(chlorine_spent(start, fc_ppm), 0.0)

    def _dose(self, change: Change) -> None:
        off = math.hypot(self.traits.volume_95, _STRENGTH_95) / SIGMAS_95
        start = self._leaning()
        if largest_amount(change) < 1.0 or (
            start.ta_ppm is not None and start.ta_ppm + change.alk * k.TA_PPM_PER_EQ_L < _LEAST_TA
        ):
            start = changed(
                start, ph=None
            )  # past what the chemistry holds for: amounts add up, pH is anyone's guess
        try:
            self._moved(apply(start, change), off)
        except KumpanError:  # more neutraliser than the chlorine thought to be there: it is gone
            self.water = with_measures(self.water, {"fc": 0.0})

    def _leaning(self) -> WaterState:
        """The water for chemistry; without its pH where the readings cannot all be true, so that only amounts
        add up.
        """
        return _possible(allowing_for(self.water) if _within(self.water) else self.water)

    def _moved(self, after: WaterState, off: float) -> None:
        """Take what chemistry makes of the water; a share ``off`` of each change is doubtful. An uncomputable
        pH stays, in doubt.
        """
        for m, t in self.tracks.items():
            before, value = value_of(self.water, m), value_of(after, m)
            if before is not None and value is not None:
                t.value_var += (off * (value - before)) ** 2
        if after.ph is None and self.water.ph is not None:
            after = changed(after, ph=self.water.ph)
            self.tracks["ph"].value_var += 0.15**2
        self.water = changed(after, allowed_for=None)

    def _fill(self) -> WaterState:
        """The fill water: as tested; what is not, as tap water is (no stabilizer, salt or chlorine) or as the
        pool itself.
        """
        fill, pool = self.traits.fill, self.water
        own = {m: value_of(pool, m) for m in ("ph", "ta", "ch", "temp")}
        own |= dict.fromkeys(("fc", "cc", "cya"), 0.0) | {"salt": 100.0}
        return with_measures(fill, {m: value for m, value in own.items() if value_of(fill, m) is None})

    def _unsure_of_fill(self) -> dict[str, float]:
        """Sigma of what the fill water was not tested for; what counts as some value untested stays
        unsure.
        """
        fill = self.traits.fill
        return {
            m: MEASURES[m].fill_sigma
            for m in IN_STATE
            if MEASURES[m].fill_sigma and value_of(fill, m) == MEASURES[m].assumed
        }

    def _mix(self, other: WaterState, share: float, spread: dict[str, float]) -> None:
        share = min(1.0, share)
        for m, t in self.tracks.items():
            t.value_var = t.value_var * (1 - share) ** 2 + (share * spread.get(m, 0.0)) ** 2
            t.covariance *= 1 - share
        after = mixed(self._leaning(), _possible(other), share)
        kept = {m: value_of(self.water, m) for m in self.tracks if value_of(after, m) is None}
        self.water = changed(with_measures(after, kept), allowed_for=None)

    def _read(self, entry: Observation) -> None:
        values = {r.measure: (r.value, r.u95 / SIGMAS_95) for r in entry.readings if r.measure in IN_STATE}
        cc = combined_chlorine_ppm(list(entry.readings))
        if cc is not None and "cc" not in values:
            values["cc"] = (
                cc,
                max((r.u95 for r in entry.readings if r.measure == "tc"), default=0.0) / SIGMAS_95,
            )
        off_scale = {r.measure for r in entry.readings if at_scale_end(r.method, r.measure, r.value)}
        for m, (value, sigma) in values.items():
            least = (
                0.03 if m == "ph" else max(0.05, 0.02 * abs(value))
            )  # no reading is exact, whatever its method claims
            sigma = max(sigma, least) * (2.0 if m in off_scale else 1.0)
            self.water = with_measures(self.water, {m: self._joined(m, value, sigma, entry.at)})

    def _joined(self, m: str, value: float, sigma: float, at: datetime) -> float:
        """The estimate once a reading has joined it, by what either is worth."""
        prior, track, before = self.priors[m], self.tracks.get(m), value_of(self.water, m)
        if track is None or before is None:
            self.tracks[m] = Track(sigma**2, 0.0, prior.sigma**2, prior.a_day, at)
            return value
        surprise = value - before
        if abs(surprise) > _SURPRISE * math.sqrt(track.value_var + sigma**2):
            track.value_var += surprise**2  # something nobody logged: believe the reading
        total = track.value_var + sigma**2
        pull = track.value_var / total
        low, high = (
            _RATE_SPAN if m == "fc" else (prior.a_day - 4 * prior.sigma, prior.a_day + 4 * prior.sigma)
        )
        track.drift = min(max(track.drift + track.covariance / total * surprise, low), high)
        least = _LEAST_DRIFT_FC if m == "fc" else _LEAST_DRIFT
        track.drift_var = max(track.drift_var - track.covariance**2 / total, (least * prior.sigma) ** 2)
        track.covariance *= 1 - pull
        track.value_var = max(track.value_var * (1 - pull), _BIAS * sigma**2)
        track.covariance = math.copysign(
            min(abs(track.covariance), 0.99 * math.sqrt(track.value_var * track.drift_var)), track.covariance
        )
        track.gaps_days = with_gap(track.gaps_days, (at - track.read_at).total_seconds() / 86400)
        track.read_at = at
        return max(0.0, before + pull * surprise)


def _possible(water: WaterState) -> WaterState:
    """The water, without its pH where that cannot be computed on."""
    sound = water.has_ph_chemistry and _within(water) and conflict_of(water) is None
    return water if sound else changed(water, ph=None)


def _within(water: WaterState) -> bool:
    """Whether what is known lies where pH is computed."""
    for name, (low, high) in _COMPUTED.items():
        value = getattr(water, name)
        if value is not None and not low <= value <= high:
            return False
    return True
