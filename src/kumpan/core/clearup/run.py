"""A run as it was begun, the pool it is on, and what the log tells of it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta, tzinfo

from kumpan.core.clearup import tables as t
from kumpan.core.guidance.schools import SHOCK_FLOOR_PPM
from kumpan.core.guidance.targets import combined_asks_ppm, kill_level_ppm, shock_level_ppm, swim_limit_ppm
from kumpan.core.pool.sun import sunrise_at, sunset_at
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.methods import METHODS, at_scale_end
from kumpan.core.water.state import WaterState

# With less of the night left than this, chlorine waits for the next dusk (our own).
_NIGHT_LEFT = timedelta(hours=2)


@dataclass(frozen=True)
class Run:
    """How a run began; it never changes. at: aware, in the pool's zone.

    cause: why a shock, or what it is taken to be; severity: of a bloom. looks: how often a day somebody can
    look: 1, 2 or 4. method: the kit that reads its chlorine. bag_g: what one bag holds where bags are at
    hand, g. level_ppm: what it was to be raised to when it began. place: latitude and longitude, None where
    not known. water: what was known of it when it began. back: whether the last run ended within a week.
    """

    id: str
    at: datetime
    aim: t.Aim
    school: t.SchoolId
    cause: str = ""
    means: t.Means = "chlorine"
    severity: t.SeverityId | None = None
    looks: int = 2
    method: str = "drops"
    product_id: str = "liquid-chlorine-12.5"
    strength: float | None = None
    bag_g: float | None = None
    level_ppm: float = 0.0
    place: tuple[float, float] | None = None
    water: WaterState = field(default_factory=WaterState)
    back: bool = False

    @property
    def kind(self) -> t.Kind:
        """The kind of algae it was begun for."""
        return t.KINDS.get(self.cause, t.KINDS["green"])

    def local(self, at: datetime) -> datetime:
        """An instant in the pool's zone."""
        return at.astimezone(self.at.tzinfo)

    def at_hour(self, day: date, hour: float) -> datetime:
        """A clock time of a local day."""
        return datetime.combine(day, time(int(hour), round(60 * (hour % 1))), self.at.tzinfo)

    def dusk(self, day: date) -> datetime:
        """When the sun is off the water on a local day: sunset at the pool's place, else a usual hour."""
        at = None if self.place is None else sunset_at(*self.place, day, self._zone)
        return at or self.at_hour(day, t.DUSK_H)

    def dawn(self, day: date) -> datetime:
        """When the sun is on the water again on a local day."""
        at = None if self.place is None else sunrise_at(*self.place, day, self._zone)
        return at or self.at_hour(day, t.DAWN_H)

    def next_dusk(self, after: datetime) -> datetime:
        """The next time from an instant on with the sun off the water: that instant, if it is night."""
        here = self.local(after)
        if here < self.dawn(here.date()) - _NIGHT_LEFT:
            return after
        return max(after, self.dusk(here.date()))

    @property
    def _zone(self) -> tzinfo:
        assert self.at.tzinfo is not None
        return self.at.tzinfo


@dataclass(frozen=True)
class Site:
    """The pool as a run needs it, at the moment of a look. feeds: what feeds it by itself: cell, tablets or
    empty. can_waste: whether its valve can send water to waste; None where not known. clean_kpa: its filter's
    clean pressure. in_line: whether its tablets lie in a feeder in the line. copper_system:
    whether copper is fed on purpose.
    """

    traits: PoolTraits
    filter_kind: str = "sand"
    can_waste: bool | None = None
    clean_kpa: float | None = None
    feeds: str = ""
    in_line: bool = False
    copper_system: bool = False

    @property
    def swim_most_ppm(self) -> float:
        """The most free chlorine people may swim in here."""
        return swim_limit_ppm(self.traits)


@dataclass(frozen=True)
class Value:
    """A reading: value in its canonical unit and the method it was read by."""

    value: float
    method: str

    def u95(self, measure: str) -> float:
        """Its 95 % error."""
        return METHODS[self.method].u95(measure, self.value) if self.method in METHODS else 0.0

    def at_top(self, measure: str) -> bool:
        """Whether it stands at the end of what its method can read: the water may hold more."""
        return at_scale_end(self.method, measure, self.value) == 1


@dataclass(frozen=True)
class Told:
    """An entry of the log as a run sees it. readings: of a test; fc_ppm: what a dose brought of free
    chlorine; product_id, amount (g or mL): of a dose.
    """

    id: str
    at: datetime
    kind: str
    readings: Mapping[str, Value] = field(default_factory=dict)
    product_id: str = ""
    amount: float = 0.0
    fc_ppm: float = 0.0

    def value(self, measure: str) -> float | None:
        """What it read of a measure; combined chlorine from total where that was read."""
        if measure in self.readings:
            return self.readings[measure].value
        if measure == "cc" and {"tc", "fc"} <= self.readings.keys():
            return max(0.0, self.readings["tc"].value - self.readings["fc"].value)
        return None


def level_of(
    run: Run,
    site: Site,
    cya_ppm: float | None,
    cc_ppm: float | None,
    temp_c: float | None,
) -> float:
    """Free chlorine (ppm) that a run holds or is taken to: what kills its kind of algae at this stabilizer,
    computed at pH 7.5; of a shock what the pool's school asks for. Never over 30.
    """
    if run.aim == "algae":
        level = max(kill_level_ppm(cya_ppm, temp_c, run.kind.hocl_ppm), combined_asks_ppm(cc_ppm))
    elif run.aim == "demand":
        # In steps: what eats it takes more than one raise (our own).
        level = max(SHOCK_FLOOR_PPM, combined_asks_ppm(cc_ppm))
    else:
        level = shock_level_ppm(site.traits, cya_ppm, cc_ppm, temp_c)
    return min(t.MOST_LEVEL_PPM, level)


def can_tell(method: str, level_ppm: float) -> bool:
    """Whether two readings of a kit can tell 1 ppm apart at a level: its scale reaches it, and both errors
    together are at most that.
    """
    worth = METHODS[method].reads.get("fc") if method in METHODS else None
    if worth is None or (worth.scale is not None and worth.scale[1] < level_ppm):
        return False
    return bool(2**0.5 * METHODS[method].u95("fc", level_ppm) <= t.NIGHT_LOSS_PPM + 1e-9)


def reads(method: str, measure: str) -> bool:
    """Whether a kit reads a measure."""
    return method in METHODS and measure in METHODS[method].reads
