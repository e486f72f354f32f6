"""The present water, from the log alone: every measure carried forward on the real chemistry, its uncertainty
growing with age.

A filter in the plain statistical sense (Kalman 1960, from memory), one for each measure: a value, how fast it
drifts in this pool, and what both may be off by. Doses, fresh water and rain move the values as they move the
water; a reading pulls value and drift towards it by what its method is worth. Pure and repeatable: the same
events give the same answer in whatever order they came in.
"""

import math
from dataclasses import replace
from datetime import datetime, timedelta

from kumpan.core.chemistry import constants as k
from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.errors import KumpanError
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.air import rain_water, rest_ph, risen
from kumpan.core.water.estimate import priors as p
from kumpan.core.water.estimate.cadence import usable, with_gap
from kumpan.core.water.estimate.chlorine import (
    Chlorine,
    Fit,
    Held,
    Span,
    dark_ppm_day,
    held_ppm_day,
    sun_a_day,
)
from kumpan.core.water.estimate.present import Estimate, Observation, Present
from kumpan.core.water.estimate.tracks import (
    Around,
    Track,
    chlorine_of,
    fill_water,
    possible,
    unsure_of_fill,
    within,
    worth_of,
)
from kumpan.core.water.evaporation import Air, evaporated_share
from kumpan.core.water.measures import IN_STATE, MEASURES
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

TRACKED = tuple(m for m in IN_STATE if m != "fc")
# How measures drift where what tablets bring is counted.
_COUNTED = {m: MEASURES[m].drift for m in TRACKED}
# What topping up brings is in the drift of these until the weather tells how much evaporates.
_LEFT_BEHIND = {"ch"}
_DAY, _SINGLE_DAYS = timedelta(days=1), 10  # our own
_COLD_DOUBT_C = 4.0  # a temperature off by more tells no pace (our own)


Rest = tuple[Around, Chlorine | None, datetime | None]  # what acts on the water, the fit, the instant


class Filter:
    """Walks through the log. ``water`` holds the values, ``tracks`` what they may be off by; free chlorine
    has a fit of its own (``chlorine``), of its level and its paces.
    """

    def __init__(self, traits: PoolTraits) -> None:
        self.traits = traits
        source = traits.chlorine_source
        self.priors = {m: MEASURES[m].drift_by_source.get(source, MEASURES[m].drift) for m in TRACKED}
        self.water, self.tracks, self.around = WaterState(), dict[str, Track](), Around()
        self.chlorine: Chlorine | None = None
        self.now: datetime | None = None

    def copy(self) -> "Filter":
        """Another that stands where this one does."""
        other = Filter(self.traits)
        other.priors, other.water, other.now = dict(self.priors), self.water, self.now
        other.tracks = {m: replace(t) for m, t in self.tracks.items()}
        other.around = replace(self.around)
        other.chlorine = None if self.chlorine is None else self.chlorine.copy()
        return other

    @classmethod
    def standing(
        cls, traits: PoolTraits, water: WaterState, tracks: dict[str, Track], rest: Rest
    ) -> "Filter":
        """One that stands where another of the same pool did."""
        other = cls(traits)
        other.water, other.tracks = water, tracks
        other.around, other.chlorine, other.now = rest
        if other.around.feeder is not None:
            other.priors |= _COUNTED
        if other.around.counts_air:
            other._count_air()
        return other

    def at(self, when: datetime) -> Present:
        """The estimate at a later instant; the filter itself stays where it is."""
        return self.copy().go_on_to(when)

    def go_on_to(self, when: datetime) -> Present:
        """Pass the time to a later instant, and the estimate there."""
        self._pass(when)
        measures = {}
        for m in IN_STATE:
            read, value = self._read_of(m), value_of(self.water, m)
            if read is None or value is None:
                continue
            variance, read_at, gaps = read
            sigma, age = math.sqrt(variance), (when - read_at).total_seconds() / 86400
            measures[m] = Estimate(value, sigma, age, usable(m, gaps, sigma * SIGMAS_95, age))
        return Present(when, measures, self._fit(when), self._ph_rise(), self._pace("ta"))

    def _ph_rise(self) -> float | None:
        """How far pH goes by itself in a day from where it stands, once the log has told its pace."""
        pace, ph = self._pace("ph"), self.water.ph
        if pace is None or ph is None:
            return None
        return risen(ph, pace, 1.0, rest_ph(self.water.ta_ppm, self.water.cya_ppm))[0] - ph

    def _read_of(self, m: str) -> tuple[float, datetime, tuple[float, ...]] | None:
        """A measure's variance, when it was read last, and the days between its last readings."""
        if m == "fc":
            c = self.chlorine
            return None if c is None else (c.level_var, c.read_at, c.gaps_days)
        t = self.tracks.get(m)
        return None if t is None else (t.value_var, t.read_at, t.gaps_days)

    def _fit(self, when: datetime) -> Fit | None:
        """What the log says of demand."""
        c = self.chlorine
        if c is None:
            return None
        temp, around = self._temp_c(), self.around
        used = self._usually_takes(around.heads_day)
        held = Held(self.water.fc_ppm or 0.0, temp, self.water.cya_ppm, around.sun, used)
        cov = tuple(tuple(float(v) for v in row) for row in c.cov)
        days = (when - c.began_at).total_seconds() / 86400
        return Fit(
            tuple(c.logs), cov, held, self._exposure, days, c.told, around.covered, c.reads, sum(c.surprised)
        )

    @property
    def _exposure(self) -> float:
        return p.EXPOSURE.get(self.traits.sun, p.EXPOSURE["unknown"])

    def _temp_c(self) -> float | None:
        """How warm the water is, where that is known well enough for a pace to follow from it."""
        track = self.tracks.get("temp")
        return None if track is None or math.sqrt(track.value_var) > _COLD_DOUBT_C else self.water.temp_c

    def _pace(self, measure: str) -> float | None:
        """The drift of a measure, once readings have told it."""
        track = self.tracks.get(measure)
        return None if track is None else track.told(self.priors[measure])

    def take(self, entry: Observation) -> None:
        """Pass the time to an entry and let it act."""
        if entry.balance_c is not None or entry.sun is not None:
            self._follow_weather(entry)
            if not entry.rained:  # nothing else need be worked out for it
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
            self.around.covered = entry.covered
        if entry.cell_set:
            self.around.cell_ppm_day = entry.cell_ppm_day
            if self.chlorine is not None:
                self.chlorine.unsure_of_feed(self.traits.chlorine_source)
        for m, (value, sigma) in worth_of(entry.readings).items():
            self.water = with_measures(self.water, {m: self._joined(m, value, sigma, entry.at)})

    def _exchange(self, entry: Observation) -> None:
        """Rain, fill water in place of what was lost, and fill in place of what evaporated."""
        if entry.rained:
            self._mix(rain_water(25.0 if self.water.temp_c is None else self.water.temp_c), entry.rained, {})
        if entry.replaced:
            self._mix(fill_water(self.traits, self.water), entry.replaced, unsure_of_fill(self.traits))
        if entry.topped:
            self.around.tops_up = True
            self._moved(evaporated(self._leaning(), min(0.5, entry.topped)), 0.0)
            fill = fill_water(self.traits, self.water)
            self._mix(fill, min(0.5, entry.topped), unsure_of_fill(self.traits))

    def _bathe(self, heads: float) -> None:
        """What bathers use of the chlorine there is."""
        if self.water.fc_ppm is None or self.chlorine is None:
            return
        self.around.heads_day += heads / p.BATHED_DAYS
        left = self.chlorine.bathed(self.water.fc_ppm, self._usually_takes(heads))
        self._spend(self.water.fc_ppm - left)

    def _usually_takes(self, heads: float) -> float:
        return heads * p.BATHER_CL2_G * 1000 / self.traits.volume_l

    def _pass(self, when: datetime) -> None:
        """Let time go by; while tablets give acid and air takes it away, a day at a time, for a while."""
        if self.around.feeder is not None and self.now is not None:
            for _ in range(_SINGLE_DAYS):
                if when - self.now <= _DAY:
                    break
                self._pass_even(self.now + _DAY)
        self._pass_even(when)

    def _pass_even(self, when: datetime) -> None:
        """Let time go by at an even pace: drift, loss of chlorine, growing doubt."""
        days = 0.0 if self.now is None else (when - self.now).total_seconds() / 86400
        sun_days = self.around.sunlit(self.now, when, self.traits.sun_ahead_h)
        self.now, self.around.sun_days = when, 0.0
        if days <= 0:
            return
        self.around.heads_day *= math.exp(-days / p.BATHED_DAYS)
        # First what chlorine does to pH, then what air does: of a long stretch it is spent early.
        feeder = self.around.feeder
        if feeder is not None:
            self._feed(feeder, days)
        if self.chlorine is not None and self.water.fc_ppm is not None:
            self._lose_chlorine(self.chlorine, days, sun_days / days, chlorine_of(feeder))
        held = ((m, t, value_of(self.water, m)) for m, t in self.tracks.items())
        rests = {"ph": rest_ph(self.water.ta_ppm, self.water.cya_ppm)}
        moved = {m: t.passed(v, days, self.priors[m], rests.get(m)) for m, t, v in held if v is not None}
        self.water = with_measures(self.water, moved)

    def _follow_weather(self, entry: Observation) -> None:
        """A day's weather: its sunlight; what evaporated and was filled up again, which leaves what the fill
        holds; and how it draws the water's temperature toward what it would come to; no drift beside it.
        """
        if entry.sun is not None:
            self.around.sun = entry.sun
            self.around.sunlit(self.now, entry.at, self.traits.sun_ahead_h)
        if entry.evaporates is not None and not self.around.tops_up:
            self._evaporate(entry.evaporates)
        track, temp = self.tracks.get("temp"), self.water.temp_c
        if track is None or temp is None or entry.balance_c is None:
            return
        moved = track.drawn(temp, entry.balance_c)
        self.water = with_measures(self.water, {"temp": moved})

    def _evaporate(self, air: Air) -> None:
        """A day's evaporation, filled up again by hose or leveller: what the fill holds stays. From the first
        on it is counted, and no longer guessed by calcium's drift.
        """
        if not self.around.counts_air:
            self.around.counts_air = True
            for m in _LEFT_BEHIND & self.tracks.keys():
                self.tracks[m].drift -= self.priors[m].a_day
            self._count_air()
        share = evaporated_share(air, self.water.temp_c, self.around.covered)
        fill, left = fill_water(self.traits, self.water), {}
        for m, t in self.tracks.items():
            value, brought = value_of(self.water, m), value_of(fill, m)
            if m in ("ta", "ch", "salt") and value is not None and brought is not None:
                left[m] = value + share * brought
                t.value_var += (p.EVAPORATION_OFF * share * brought) ** 2
        self.water = with_measures(self.water, left)

    def _count_air(self) -> None:
        self.priors |= {m: self.priors[m]._replace(a_day=0.0) for m in _LEFT_BEHIND}

    def _load_feeder(self, tablets: Change) -> None:
        """Tablets go in. From the first that are written down, what they bring is counted, and no longer
        guessed by the drifts of a pool fed with them.
        """
        around = self.around
        if around.feeder is None:
            for m in self.tracks:
                self.tracks[m].drift += _COUNTED[m].a_day - self.priors[m].a_day
            self.priors |= _COUNTED
            if around.counts_air:
                self._count_air()
        around.feeder = tablets if around.feeder is None else around.feeder + tablets
        around.fed_at = self.now
        if self.chlorine is not None:
            self.chlorine.loaded(chlorine_of(tablets))

    def _feed(self, feeder: Change, days: float) -> None:
        """What tablets gave off meanwhile, its chlorine spent as it came: stabilizer up, alkalinity down."""
        last = p.TABLETS_LAST_DAYS if self.chlorine is None else self.chlorine.tablet_days
        share = -math.expm1(-days / last)
        start, brought = self._leaning(), feeder.spent * share
        if start.ta_ppm is not None and start.ta_ppm + brought.alk * k.TA_PPM_PER_EQ_L < p.LEAST_TA:
            start = changed(start, ph=None)
        self._moved(apply(start, brought), p.PACE_OFF)
        self.around.feeder = feeder * (1 - share)

    def _lose_chlorine(self, c: Chlorine, days: float, sun: float, left_ppm: float) -> None:
        """What is lost, and fed, meanwhile. sun: of a day, on average; left_ppm: in tablets, before."""
        around, fc_ppm = self.around, self.water.fc_ppm or 0.0
        brought = (left_ppm - chlorine_of(around.feeder)) / days
        fed = around.fed_ppm_day(self.traits, self._temp_c(), brought, self.now)
        if (fed is not None) != c.told:
            c.set_told(fed is not None, self.traits.chlorine_source)
        lit = sun_a_day(self._exposure, sun * (p.UNDER_COVER if around.covered else 1.0), self.water.cya_ppm)
        span = Span(days, lit, dark_ppm_day(self._temp_c()), fed or 0.0, c.told)
        if fed is None:
            span = replace(span, fed_ppm_day=held_ppm_day(fc_ppm, c.logs, span))
        after = c.passed(fc_ppm, left_ppm, span)
        if after < fc_ppm:
            # Of what feeds, only what it does not put back: the rest is used as it comes, acid and all.
            self._spend(fc_ppm - after)
        else:
            self.water = with_measures(self.water, {"fc": after})

    def _spend(self, fc_ppm: float) -> None:
        start = self._leaning()
        # A ppm of chlorine takes 0.7 of alkalinity.
        if start.ta_ppm is not None and start.ta_ppm - fc_ppm < p.LEAST_TA:
            start = changed(start, ph=None)
        self._moved(chlorine_spent(start, fc_ppm), 0.0)

    def _dose(self, change: Change) -> None:
        off = math.hypot(self.traits.volume_95, p.STRENGTH_95) / SIGMAS_95
        held = self.water.fc_ppm
        start = self._leaning()
        if largest_amount(change) < 1.0 or (
            start.ta_ppm is not None and start.ta_ppm + change.alk * k.TA_PPM_PER_EQ_L < p.LEAST_TA
        ):
            # Past what the chemistry holds for: amounts add up, pH is anyone's guess.
            start = changed(start, ph=None)
        try:
            # What salt its chlorine leaves once spent counts at once: that is a matter of days.
            salt = None if start.salt_ppm is None else start.salt_ppm + change.salt_later_ppm
            self._moved(apply(changed(start, salt_ppm=salt), change), off)
            if self.chlorine is not None and held is not None:
                rise = (self.water.fc_ppm or 0.0) - held
                arrived = self.chlorine.added(rise, p.STRENGTH_95 / SIGMAS_95)
                self.water = with_measures(self.water, {"fc": max(0.0, held + arrived)})
        except KumpanError:  # more neutraliser than the chlorine thought to be there: it is gone
            self.water = with_measures(self.water, {"fc": 0.0})

    def _leaning(self) -> WaterState:
        """The water for chemistry; without its pH where the readings cannot all be true, so that only amounts
        add up.
        """
        return possible(allowing_for(self.water) if within(self.water) else self.water)

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

    def _mix(self, other: WaterState, share: float, spread: dict[str, float]) -> None:
        share = min(1.0, share)
        for m, t in self.tracks.items():
            t.value_var = t.value_var * (1 - share) ** 2 + (share * spread.get(m, 0.0)) ** 2
            t.covariance *= 1 - share
        if self.chlorine is not None:
            self.chlorine.diluted(share, spread.get("fc", 0.0))
        after = mixed(self._leaning(), possible(other), share)
        known = [*self.tracks, *(["fc"] if self.chlorine else [])]
        kept = {m: value_of(self.water, m) for m in known if value_of(after, m) is None}
        self.water = changed(with_measures(after, kept), allowed_for=None)

    def _joined(self, m: str, value: float, sigma: float, at: datetime) -> float:
        """The estimate once a reading has joined it, by what either is worth."""
        if m == "fc":
            return self._chlorine_joined(value, sigma, at)
        prior, track, before = self.priors[m], self.tracks.get(m), value_of(self.water, m)
        if track is not None and before is not None:
            return track.joined(before, value, sigma, prior, at)
        self.tracks[m] = Track(sigma**2, 0.0, prior.sigma**2, prior.a_day, at)
        return value

    def _chlorine_joined(self, value: float, sigma: float, at: datetime) -> float:
        c, before = self.chlorine, self.water.fc_ppm
        if c is None or before is None:
            fed = self.around.fed_ppm_day(self.traits, None, 0.0, self.now)
            self.chlorine = Chlorine.first(sigma, at, fed is not None, self.traits.chlorine_source)
            return value
        left_ppm = chlorine_of(self.around.feeder)
        joined, left = c.joined(before, left_ppm, value, sigma)
        if self.around.feeder is not None and left_ppm > 0:
            self.around.feeder = self.around.feeder * (left / left_ppm)
        c.gaps_days = with_gap(c.gaps_days, (at - c.read_at).total_seconds() / 86400)
        c.read_at = at
        return joined
