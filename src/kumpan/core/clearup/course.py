"""What a run came to by an instant: its readings, pours, looks and nights, and whether the kill is over."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import cached_property
from itertools import pairwise

from kumpan.core.clearup import tables as t
from kumpan.core.clearup.run import Run, Site, Told, can_tell, level_of
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import value_of
from kumpan.core.work.sheet import Mark

_STRIP = METHODS["strip"]

# Looks, the better the further down.
LOOKS = (
    ("hidden", "Green, the floor cannot be seen"),
    ("green", "Still green, the floor is seen"),
    ("grey", "Grey or cloudy, no green left"),
    ("off", "Clear, but the brush brought some off"),
    ("clear", "Clear to the floor, nothing came off"),
)
GREEN = ("hidden", "green", "off")
_BEFORE_START = timedelta(hours=2)  # a test of the same visit counts as the run's first (our own)
_CC_FRESH, _NIGHT_FRESH = timedelta(hours=30), timedelta(hours=40)
_MORNING_H = 11
_DOSE_FREE = timedelta(hours=8)  # so long without a pour is "next morning without a dose" (our own)
_SUN_SLACK = timedelta(minutes=30)
_STANDS = 0.9  # of the level (our own)
_AGAIN, _DAY, _NONE_PPM = timedelta(hours=3), timedelta(hours=24), 0.5
_HOUR = timedelta(hours=1)  # what a reading may come early (our own)


@dataclass(frozen=True)
class Seen:
    """How the water looked."""

    at: datetime
    value: str


@dataclass(frozen=True)
class Night:
    """Free chlorine after sunset and before sunrise, nothing poured between: what the night took, ppm."""

    evening: Told
    dawn: Told
    loss_ppm: float

    @property
    def holds(self) -> bool:
        """Whether nothing is left that eats chlorine at night."""
        return self.loss_ppm <= t.NIGHT_LOSS_PPM + 1e-9


@dataclass(frozen=True)
class Criterion:
    """One thing that ends the kill, whether it is met, and how it stands in words."""

    id: str
    label: str
    met: bool
    words: str


class Course:
    """A run as its log tells it up to an instant. told, marks: in any order."""

    def __init__(
        self, run: Run, site: Site, told: Iterable[Told], marks: Iterable[Mark], now: datetime
    ) -> None:
        self.run, self.site, self.now = run, site, now
        self.told = sorted((e for e in told if e.at <= now), key=lambda e: (e.at, e.id))
        self.marks = sorted((m for m in marks if m.at <= now), key=lambda m: (m.at, m.id))

    @cached_property
    def tests(self) -> list[Told]:
        """Tests of the run that read free chlorine, those of one check as one: the last counts."""
        read = [e for e in self.told if "fc" in e.readings and e.at >= self.run.at - _BEFORE_START]
        kept: list[Told] = []
        for test in read:
            again = bool(kept) and test.at - kept[-1].at < timedelta(minutes=t.SAME_CHECK_MIN)
            again = again and kept[-1].readings["fc"].value > _NONE_PPM
            if again and not any(kept[-1].at < p.at <= test.at for p in self.pours):
                kept.pop()
            kept.append(test)
        return kept

    @cached_property
    def doubtful(self) -> frozenset[str]:
        """Tests that read next to no chlorine where much went in or stood a while ago: above 10 ppm a dye
        bleaches and reads none. The one that reads it again, thinned, is believed.
        """
        doubted: list[Told] = []
        open_at: datetime | None = None  # of a doubt that nothing has answered yet
        known, at = 0.0, self.run.at
        for one in sorted([*self.pours, *self.tests], key=lambda e: (e.at, e.id)):
            if one.fc_ppm > 0:
                known, at, open_at = known + one.fc_ppm, one.at, None
                continue
            fc = one.readings["fc"]
            again = open_at is not None and one.at - open_at < _AGAIN
            bleached = fc.value <= _NONE_PPM and known > t.PH_UNREAD_OVER_PPM and one.at - at < _DAY
            if bleached and not again and fc.method != "lab":
                doubted.append(one)
                open_at = one.at
            else:
                known, at, open_at = fc.value, one.at, None
        return frozenset(e.id for e in doubted)

    @property
    def checks(self) -> list[Told]:
        """Tests that tell the level: mixed, and not in doubt."""
        return [e for e in self.tests if self.mixed(e) and e.id not in self.doubtful]

    @cached_property
    def pours(self) -> list[Told]:
        """Chlorine poured since the run began."""
        return [e for e in self.told if e.fc_ppm > 0 and e.at >= self.run.at and _lifts(e.product_id)]

    @cached_property
    def begun_at(self) -> datetime | None:
        """When the kill began: at the first pour, or a reading that stood at the level without one."""
        if self.pours:
            return self.pours[0].at
        stood = (e.at for e in self.tests if e.readings["fc"].value >= _STANDS * self.level_ppm)
        return next(stood, None)

    @cached_property
    def looks(self) -> list[Seen]:
        """How the water looked, in order."""
        return [
            Seen(m.at, m.value)
            for m in self.marks
            if m.verb == "answer" and m.key.startswith("look:") and m.value
        ]

    @property
    def look(self) -> str:
        """How it looked last; empty before anybody looked."""
        return self.looks[-1].value if self.looks else ""

    @property
    def green_looks(self) -> int:
        """How often it was seen green with its floor in sight."""
        return sum(s.value == "green" for s in self.looks)

    @cached_property
    def school(self) -> t.SchoolId:
        """The school as last decided."""
        told = [m.value for m in self.marks if m.key == "school" and m.verb == "decide"]
        known = [one for one in told if one in t.SCHOOLS]
        return known[-1] if known else self.run.school  # type: ignore[return-value]

    @cached_property
    def follows_level(self) -> bool:
        """Whether the level is read and topped up each time: held, or in a day where the kit can tell it."""
        can = can_tell(self.run.method, self.level_ppm)
        return self.school == "hold" or (self.school == "same_day" and can)

    @cached_property
    def kind(self) -> t.Kind:
        """The kind of algae as last decided."""
        told = [m.value for m in self.marks if m.key == "cause" and m.verb == "decide"]
        known = [t.KINDS[one] for one in told if one in t.KINDS]
        return known[-1] if known else self.run.kind

    def latest(self, measure: str, since: datetime | None = None) -> tuple[float, Told] | None:
        """The last reading of a measure, and the test it is from."""
        for test in reversed(self.told):
            value = test.value(measure)
            if value is not None and (since is None or test.at >= since):
                return value, test
        return None

    @cached_property
    def level_ppm(self) -> float:
        """The level ahead: by the newest stabilizer and temperature read."""
        run = replace(self.run, cause=self.kind.id) if self.run.aim == "algae" else self.run
        return level_of(run, self.site, self.known("cya"), self._combined_ppm, self.known("temp"))

    def known(self, measure: str) -> float | None:
        """A measure as last read, else as it was known when the run began."""
        latest = self.latest(measure)
        return value_of(self.run.water, measure) if latest is None else latest[0]

    @property
    def _combined_ppm(self) -> float | None:
        """Combined chlorine as it stood when the run began (a raise that clears it must not end by doing so),
        by a kit that can tell it. Where chlorine does not hold, as it stands: it comes of what is poured.
        """
        told = self.tests if self.run.aim != "demand" else reversed(self.tests)
        first = next((e for e in told if e.value("cc") is not None), None)
        if first is None or METHODS.get(first.readings["fc"].method, _STRIP).coarse:
            return None
        return first.value("cc")

    @property
    def poured_ppm(self) -> float:
        """Free chlorine that went in, in all."""
        return sum(p.fc_ppm for p in self.pours)

    def mixed(self, test: Told) -> bool:
        """Whether a reading came late enough after the last pour to tell anything."""
        before = [p for p in self.pours if p.at <= test.at]
        return not before or test.at - before[-1].at >= timedelta(minutes=t.MIXED_MIN)

    @cached_property
    def nights(self) -> list[Night]:
        """Every night that was read at both ends with a kit that can tell, nothing poured in it."""
        found = []
        for dawn in self.checks:
            here = self.run.local(dawn.at)
            if here.hour >= _MORNING_H + 1 or here > self.run.dawn(here.date()) + _SUN_SLACK:
                continue
            dusk = self.run.dusk(here.date() - timedelta(days=1)) - _SUN_SLACK
            evening = [e for e in self.checks if dusk <= e.at < dawn.at - timedelta(hours=4)]
            pours = [p.at for p in self.pours if p.at <= dawn.at]
            clean = [e for e in evening if not any(p > e.at for p in pours)]
            for first in clean[:1]:
                night = self._night(first, dawn)
                found += [night] if night is not None else []
        return found

    @property
    def last_night(self) -> Night | None:
        """The last night read at both ends."""
        return self.nights[-1] if self.nights else None

    def _night(self, evening: Told, dawn: Told) -> Night | None:
        first, last = evening.readings["fc"], dawn.readings["fc"]
        telling = can_tell(first.method, first.value) and can_tell(last.method, first.value)
        least = t.NIGHT_SHARE * self.level_ppm if self.follows_level else t.STRIP_FC_PPM
        if not telling or first.at_top("fc") or first.value < least:
            return None
        return Night(evening, dawn, first.value - last.value)

    # --- The end of the kill.

    @cached_property
    def by_strip(self) -> bool:
        """Whether this run's readings cannot tell a night's loss, so that it ends by its own rule: neither
        its kit can, nor the one that read it twice lately.
        """
        if can_tell(self.run.method, t.STRIP_FC_PPM):
            return False
        lately = [e.readings["fc"].method for e in self.tests[-2:]]
        return len(lately) < 2 or not all(can_tell(one, t.STRIP_FC_PPM) for one in lately)

    @cached_property
    def killed_at(self) -> datetime | None:
        """When everything that ends the kill was first met at once; None before."""
        if self.run.aim != "algae" or self.begun_at is None:
            return None
        return next((at for at in self._instants if all(c.met for c in self.criteria(at))), None)

    @cached_property
    def over_at(self) -> datetime | None:
        """When the kill was over, and of black the week after it: its days gone, and no head left by the last
        brush.
        """
        if self.killed_at is None or not self.kind.week_days:
            return self.killed_at
        gone = self.killed_at + timedelta(days=self.kind.week_days) - timedelta(hours=12)
        brushed = (m for m in self.marks if m.key.startswith("spots:") and m.verb == "answer")
        return next((m.at for m in brushed if m.at >= gone and m.value == "none"), None)

    @cached_property
    def _instants(self) -> list[datetime]:
        """When anything was read or seen."""
        return sorted([e.at for e in self.tests] + [s.at for s in self.looks])

    def criteria(self, at: datetime | None = None) -> tuple[Criterion, ...]:
        """What ends the kill, as it stood at an instant. Once the level is held on, the rest is as it was
        when that began.
        """
        when = self.now if at is None else at
        if not self.kind.held_h:
            return self._signs(when)
        since = self.held_since(when)
        return (*self._signs(since or when), self._held(since, when))

    def _signs(self, at: datetime) -> tuple[Criterion, ...]:
        """What tells that nothing lives, of any kind."""
        return self._strip_rule(at) if self.by_strip else self._night_rule(at)

    def held_since(self, at: datetime) -> datetime | None:
        """Since when, as it stood at an instant, the level is held on: nothing seemed to live then, and was
        not seen to since.
        """
        since = None
        for instant, signs in self._told_by:
            if instant > at:
                break
            looks = [s for s in self.looks if s.at <= instant]
            seen = since is not None and bool(looks) and looks[-1].value != "clear"
            since = None if seen else since or (instant if signs else None)
        return since

    @cached_property
    def _told_by(self) -> list[tuple[datetime, bool]]:
        """When anything was read or seen, and whether all told then that nothing lives."""
        return [(at, all(c.met for c in self._signs(at))) for at in self._instants]

    def held_h(self, since: datetime, at: datetime) -> float:
        """Hours at the level: those between two readings half a day apart at most, of which the first, with
        what was poured on it, and the second stood at no less than half of it (our own).
        """
        least, hours = t.HELD_SHARE * self.level_ppm, 0.0
        for one, then in pairwise(e for e in self.checks if since <= e.at <= at):
            gap = (then.at - one.at) / _HOUR
            soon = (p.fc_ppm for p in self.pours if one.at <= p.at <= one.at + _HOUR)
            stood = one.readings["fc"].value + sum(soon) >= least and then.readings["fc"].value >= least
            hours += gap if stood and gap <= t.HELD_GAP_H else 0.0
        return hours

    def _held(self, since: datetime | None, at: datetime) -> Criterion:
        hours = self.kind.held_h
        held = 0.0 if since is None else self.held_h(since, at)
        words = f"{held:.0f} of {hours:.0f} h" if since is not None else "not begun"
        return Criterion("held", f"Level held {hours:.0f} h more", held >= hours - 1, words)

    def _night_rule(self, at: datetime) -> tuple[Criterion, ...]:
        looks = [s for s in self.looks if s.at <= at]
        clear = bool(looks) and looks[-1].value == "clear"
        cc, read_at = self._combined_at(at)
        low = cc is not None and cc <= t.CC_END_PPM + 1e-9 and at - read_at <= _CC_FRESH
        night = next((n for n in reversed(self.nights) if n.dawn.at <= at), None)
        held = night is not None and night.holds and at - night.dawn.at <= _NIGHT_FRESH
        cc_words = "not read yet" if cc is None else f"{cc:.1f} ppm"
        took = "no night read at both ends" if night is None else f"last night took {night.loss_ppm:.1f}"
        return (
            Criterion("clear", "Clear to the floor", clear, _look_words(looks)),
            Criterion("cc", "Combined chlorine 0.5 or less", low, cc_words),
            Criterion("night", "A night takes 1 ppm or less", held, took),
        )

    def _combined_at(self, at: datetime) -> tuple[float | None, datetime]:
        """Combined chlorine as last read in the run before an instant, and when."""
        for test in reversed(self.told):
            cc = test.value("cc")
            if self.run.at <= test.at <= at and cc is not None:
                return cc, test.at
        return None, at

    def _strip_rule(self, at: datetime) -> tuple[Criterion, ...]:
        looks = [s for s in self.looks if s.at <= at]
        since = _clear_since(looks)
        hours = (looks[-1].at - since).total_seconds() / 3600 if since is not None else 0.0
        morning = next((e for e in reversed(self.checks) if e.at <= at and self._morning(e)), None)
        left = morning.readings["fc"].value if morning is not None else 0.0
        cc = morning.value("cc") if morning is not None else None
        return (
            Criterion(
                "clear",
                "Clear, nothing new for 48 h",
                hours >= t.STRIP_CLEAR_H - 1,
                f"{hours:.0f} of 48 h" if since is not None else _look_words(looks),
            ),
            Criterion(
                "morning",
                "3 ppm or more next morning, nothing poured",
                left >= t.STRIP_FC_PPM - 1e-9,
                "no such morning yet" if morning is None else f"{left:g} ppm",
            ),
            Criterion(
                "total",
                "Total less free chlorine is none",
                cc is not None and cc <= 0.25,
                "not read yet" if cc is None else f"{cc:g} ppm",
            ),
        )

    def _morning(self, test: Told) -> bool:
        here = self.run.local(test.at)
        before = [p.at for p in self.pours if p.at <= test.at]
        return here.hour <= _MORNING_H and bool(before) and test.at - before[-1] >= _DOSE_FREE


def _lifts(product_id: str) -> bool:
    return product_id in PRODUCTS and PRODUCTS[product_id].form != "tablet"


def _look_words(looks: Sequence[Seen]) -> str:
    return dict(LOOKS).get(looks[-1].value, "").lower() if looks else "not looked yet"


def _clear_since(looks: Sequence[Seen]) -> datetime | None:
    """When the stretch of clear looks that lasts until now began."""
    first = None
    for seen in reversed(looks):
        if seen.value != "clear":
            break
        first = seen.at
    return first
