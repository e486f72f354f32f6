"""Making a run's steps: what every part of it needs of its course and its kit."""

from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

from kumpan.core.clearup import tables as t
from kumpan.core.clearup import words
from kumpan.core.clearup.course import Course
from kumpan.core.clearup.dose import Measures, Raise, raise_by
from kumpan.core.clearup.run import Told, reads
from kumpan.core.dosing.acts import Act as DoseAct
from kumpan.core.products.catalogue import is_acid
from kumpan.core.work.merge import apart_min
from kumpan.core.work.sheet import Claim, Decide, Do, Pour, Step, Test, Words

FILTERED = ("backwash", "filter_clean")
MORNING_H = 7.0
EVENING_MIN = 30  # after sunset a night's reading is asked for, and as long before sunrise (our own)
LEAST_APART = timedelta(minutes=90)
# Before sunset, so that a top-up is mixed and read while the night is young (our own).
_BEFORE_DUSK = timedelta(minutes=75)
# Green so often, and no night read for so long: a night is read to tell whether anything lives (our own).
_GREEN_LOOKS, _NIGHT_LASTS = 3, timedelta(days=2)
_REASONS = {"incident": "incident", "demand": "demand"}
WATER: frozenset[Claim] = frozenset({"water", "pump_on"})


@dataclass
class Live:
    """Steps, the entries that are them, and the amounts of the pours. acid: what pH asks for before the first
    chlorine, None for nothing. owed: whether the run changed something
    at the pad that is not put back.
    """

    steps: list[Step] = field(default_factory=list)
    met: dict[str, str] = field(default_factory=dict)
    raises: dict[str, Raise] = field(default_factory=dict)
    acid: DoseAct | None = None
    owed: bool = False
    given_up_at: datetime | None = None

    def has(self, key: str) -> bool:
        """Whether a step is among them."""
        return any(step.key == key for step in self.steps)


class Walk:
    """A run's steps as they are put together, in their order."""

    def __init__(self, course: Course, measures: Measures, live: Live) -> None:
        self.course, self.measures, self.live = course, measures, live
        self.run, self.site, self.now = course.run, course.site, course.now
        self.level = course.level_ppm
        self.reason = _REASONS.get(course.run.aim, "clear_up")

    def add(self, step: Step, by: Told | None = None) -> None:
        """A step at the end, and the entry that is it."""
        self.live.steps.append(step)
        if by is not None:
            self.live.met[step.key] = by.id

    def do(self, key: str, said: Words, at: datetime, skip: bool = True) -> Step:
        """A thing to do."""
        return Step(key, Do(), said, not_before=at, may_skip=skip, reason_id=self.reason)

    def test(
        self, key: str, said: Words, at: datetime, measures: tuple[str, ...], skip: bool = False
    ) -> Step:
        """A test to type."""
        reason = "clear_up_check" if self.reason == "clear_up" else self.reason
        return Step(key, Test(measures), said, not_before=at, may_skip=skip, reason_id=reason)

    def pour(self, key: str, dose: Raise, at: datetime, said: Words) -> Step:
        """Chlorine to pour."""
        self.live.raises[key] = dose
        act = Pour(self.run.product_id, self.run.strength, dose.amount.canonical)
        return Step(key, act, said, not_before=at, claims=WATER, reason_id="shock")

    def poured(self, key: str, one: Told, number: int, by: words.By) -> None:
        """Chlorine that went in."""
        said = words.pour(self.level, None, number, "", by)
        act = Pour(one.product_id, None, one.amount)
        self.add(Step(key, act, said, not_before=one.at, claims=WATER, reason_id="shock"), one)

    def asked(self, key: str, act: Decide, said: Words, at: datetime) -> Step:
        """A question that decides how it goes on."""
        return Step(key, act, said, not_before=at, reason_id=self.reason)

    def in_order(self) -> None:
        """What comes before the kill first, the rest by when it was done or is due."""
        self.live.steps.sort(key=self._place)

    def _place(self, step: Step) -> tuple[bool, datetime]:
        if _before_kill(step.key):
            return step.key == "shop", self.run.at if step.key != "shop" else self.now
        by = self.live.met.get(step.key)
        told = next((e.at for e in self.course.told if e.id == by), None)
        said = next((m.at for m in reversed(self.course.marks) if m.key == step.key), None)
        return True, told or said or step.not_before or self.now

    def check(self, number: int, at: datetime, kind: str) -> Step:
        """A reading of the run. kind: as ``words.check`` has it."""
        return self.test(f"check:{number}", words.check(self.level, kind), at, self._measures())

    def checked(self, number: int, test: Told, kind: str) -> None:
        """A reading of the run that was made."""
        said = words.check(self.level, kind)
        self.add(self.test(f"check:{number}", said, test.at, ("fc",)), test)

    def read_again(self, number: int) -> bool:
        """Ask for the newest test again, thinned, where it is in doubt and nothing was poured on it."""
        newest = self.course.tests[-1] if self.course.tests else None
        if newest is None or newest.id not in self.course.doubtful:
            return False
        if any(p.at > newest.at for p in self.course.pours):
            return False
        self.add(self.test(f"check:{number}", words.AGAIN, newest.at, ("fc",)))
        return True

    def ready(self) -> tuple[str, ...]:
        """Keys of what comes before the kill, which a first pour comes after."""
        return tuple(s.key for s in self.live.steps if _before_kill(s.key))

    def first_reading(self) -> Told | None:
        """The last reading before any chlorine of the run."""
        before = [e for e in self.course.tests if not any(p.at <= e.at for p in self.course.pours)]
        return before[-1] if before else None

    def raise_to(self, level_ppm: float, last: Told | None, most_ppm: float | None = None) -> Raise | None:
        """What brings a reading to a level; None where it holds or nothing was read. most_ppm: never over."""
        if last is None:
            return None
        reading = last.readings["fc"]
        short = level_ppm - reading.value
        if short <= max(1.0, reading.u95("fc"), 0.05 * level_ppm):
            return None
        most = short * 1.15 if most_ppm is None else most_ppm - reading.value
        return raise_by(self.run, self.site.traits.volume_l, short, most, self.measures)

    def first_at(self, read_at: datetime) -> datetime:
        """When the first chlorine may go in: at dusk, the acid apart; in one day, at once."""
        ready = max(self.acid_over(), read_at, self.run.at)
        return ready if self.course.school == "same_day" else self.run.next_dusk(ready)

    def acid_over(self) -> datetime:
        """When acid that went in leaves chlorine free to follow."""
        poured = [e for e in self.course.told if e.at >= self.run.at and is_acid(e.product_id)]
        waits = (e.at + timedelta(minutes=apart_min(e.product_id, self.run.product_id)) for e in poured)
        return max(waits, default=self.run.at)

    def first_entry(self, since: datetime, kinds: tuple[str, ...]) -> Told | None:
        """The first entry of these kinds from an instant on."""
        return next((e for e in self.course.told if e.at >= since and e.kind in kinds), None)

    def after(self, step: Step, *keys: str, wait_min: float = 0.0) -> Step:
        """The step, behind others and a wait."""
        return replace(step, after=keys, wait_min=wait_min)

    # --- When to read.

    @property
    def proving(self) -> bool:
        """Whether a night may end it: clear by the last look, combined chlorine not known to be high, and the
        level not to be held on; or whether one is to tell if anything lives at all.
        """
        if self._in_question:
            return True
        cc = self.course.latest("cc", self.run.at)
        low = cc is None or cc[0] <= t.CC_END_PPM + 1e-9
        held_on = self.course.kind.held_h > 0 and self.course.held_since(self.now) is not None
        return self.course.look == "clear" and low and not self.course.by_strip and not held_on

    @property
    def _in_question(self) -> bool:
        """Green on three mornings, the floor seen, and no night read of late: copper looks so too."""
        course = self.course
        if course.look != "green" or course.green_looks < _GREEN_LOOKS or course.by_strip:
            return False
        night = course.last_night
        return night is None or self.now - night.dawn.at > _NIGHT_LASTS

    def is_evening(self, at: datetime) -> bool:
        """Whether the sun is off the water and most of the night is to come."""
        here = self.run.local(at)
        dusk = self.run.dusk(here.date()) - timedelta(minutes=EVENING_MIN)
        return here >= dusk or here < self.run.dawn(here.date()) - timedelta(hours=3)

    def kind_of(self, at: datetime, poured_at: datetime | None) -> str:
        """What a reading that was made was for."""
        if poured_at is not None and at - poured_at < timedelta(minutes=2 * t.CHECK_MIN):
            return "first"
        here = self.run.local(at)
        if not self.is_evening(at) and here <= self.run.dawn(here.date()) + timedelta(minutes=EVENING_MIN):
            return "dawn"
        return "day"

    def next_time(
        self, after: datetime, hours: tuple[float, ...], dusks: bool, proving: bool | None = None
    ) -> tuple[datetime, str]:
        """The next time to read, from an hour and a half after an instant on: at these hours of the day, at
        dusk, and where a night may end it after sunset and before sunrise. proving: whether it may, None for
        by the last look.
        """
        proving = self.proving if proving is None else proving
        times: list[tuple[datetime, str]] = []
        first = self.run.local(after).date()
        for day in (first + timedelta(days=n) for n in range(3)):
            times += [(self.run.at_hour(day, h), "day") for h in hours]
            dusk = self.run.dusk(day)
            if proving:
                times.append((dusk - _BEFORE_DUSK, "day"))
                times.append((dusk + timedelta(minutes=EVENING_MIN), "evening"))
                times.append((self.run.dawn(day) - timedelta(minutes=EVENING_MIN), "dawn"))
            elif dusks:
                times.append((dusk, "day"))
        return min(one for one in times if one[0] >= after + LEAST_APART)

    def _measures(self) -> tuple[str, ...]:
        """What a check reads: combined chlorine too once the green is gone."""
        if self.course.look not in ("clear", "grey", "off"):
            return ("fc",)
        if self.run.method == "strip":
            return ("fc", "tc")
        return ("fc", "cc") if reads(self.run.method, "cc") else ("fc",)


def _before_kill(key: str) -> bool:
    return ":" not in key or key.endswith(":0")


def answered(course: Course, key: str) -> bool:
    """Whether a step was done, by the last word on it."""
    last = next((m for m in reversed(course.marks) if m.key == key), None)
    return last is not None and last.verb == "answer"


def closed(course: Course, key: str) -> bool:
    """Whether anything was said of a step that closes it."""
    return any(m.key == key and m.verb in ("answer", "skip") for m in course.marks)


def fc_of(test: Told | None) -> float | None:
    """The free chlorine a test read."""
    return None if test is None else test.readings["fc"].value
