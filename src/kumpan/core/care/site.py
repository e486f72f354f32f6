"""What of a pool and its person decides which work comes round."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from kumpan.core.care.recur import Window
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.records import Value


@dataclass(frozen=True)
class Cadence:
    """How often a person chose to look after a pool. what: in a sentence (common practice)."""

    id: str
    label: str
    what: str


CADENCES: dict[str, Cadence] = {
    c.id: c
    for c in (
        Cadence("daily", "Every day", "Read every day, as public pools are."),
        Cadence("learning", "Learning this pool", "A test every other day until it is predictable."),
        Cadence("twice_week", "Owner, twice a week", "Two or three quick tests and one clean a week."),
        Cadence("weekly", "Owner, weekly", "Chlorine and pH weekly, the rest monthly, one clean a week."),
        Cadence(
            "technician",
            "A technician's round",
            "One visit a week: chlorine and pH each time, alkalinity monthly, calcium every three months,"
            " stabilizer at the season's start.",
        ),
        Cadence(
            "quarterly",
            "Once a quarter",
            "A shop's sample, the filter and the robot every three months; silent in between, except after a"
            " storm.",
        ),
    )
}
USUAL_CADENCE = "twice_week"
# An hour of cleaning a week, half with an automatic cleaner; 4 to 25 minutes a technician's stop (cp).
CLEAN_MINUTES, CLEAN_MINUTES_ROBOT, STOP_MINUTES = 60.0, 30.0, 20.0
SHOCKS = {"none": "on signs only", "weekly": "every week", "two_weeks": "every two weeks"}
SHOCK_DAYS = {"none": 0, "weekly": 7, "two_weeks": 14}
FILTER_BY = {
    "rise": "by the gauge alone",
    "four_weeks": "by the gauge, and every four weeks",
    "two_weeks": "by the gauge, and every two weeks",
}
TEST_WHEN = {"first": "on arrival, before anything is stirred", "after": "after cleaning"}
ORDERS = {
    "brush_first": "brush, then vacuum (filter running)",
    "vacuum_first": "vacuum, then brush (brushing first stirs the dust up)",
}


@dataclass(frozen=True)
class Care:
    """How a person looks after a pool, as they chose. minutes: what they have for a visit; shock: routine, of
    ``SHOCKS``; test_when, order: schools of the weekly clean; filter_by: of the filter's; empty as is usual;
    season: when the pool is in use, None all year.
    """

    cadence: str = USUAL_CADENCE
    minutes: float | None = None
    shock: str = ""
    test_when: str = ""
    order: str = ""
    filter_by: str = ""
    season: Window | None = None

    @property
    def is_technician(self) -> bool:
        """Whether the pool is one of a round."""
        return self.cadence == "technician"

    @property
    def tests_first(self) -> bool:
        """Whether the test comes before the clean: the technician's way unless chosen otherwise."""
        return (self.test_when or ("first" if self.is_technician else "after")) == "first"

    @property
    def brushes_first(self) -> bool:
        """Whether brushing comes before vacuuming: the owner's way unless chosen otherwise."""
        return (self.order or ("vacuum_first" if self.is_technician else "brush_first")) == "brush_first"


@dataclass(frozen=True)
class Site:
    """A pool as its work sees it. equipment: what is known of the first piece of each kind; warranties: piece
    by id, in words; setting: what stands round it; names_reagents: whether the account's dated reagents are
    told here; in_round: how many of the round's pools come before it.
    """

    traits: PoolTraits
    care: Care = field(default_factory=Care)
    equipment: Mapping[str, Mapping[str, Value]] = field(default_factory=dict)
    warranties: Mapping[str, str] = field(default_factory=dict)
    setting: str = "unknown"
    names_reagents: bool = False
    in_round: int = 0
    closed: bool = False

    def has(self, kind: str, **details: str) -> bool:
        """Whether a kind of equipment stands here, of which these things are known."""
        held = self.equipment.get(kind)
        return held is not None and all(held.get(name) == value for name, value in details.items())

    @property
    def medium(self) -> str:
        """What the filter filters with: sand, cartridge, de or empty."""
        return str(self.equipment.get("filter", {}).get("medium", ""))

    @property
    def winter_cover(self) -> str:
        """What covers it in winter; empty where nothing does that is known."""
        what = str(self.equipment.get("cover", {}).get("what", ""))
        return "" if what == "bubble" else what

    @property
    def shock(self) -> str:
        """How often it is shocked as a matter of course: every two weeks with the flat band, which leaves
        little that kills; only on signs where chlorine follows stabilizer (our own).
        """
        return self.care.shock or ("two_weeks" if self.traits.school == "flat_band" else "none")

    @property
    def indoor(self) -> bool:
        """Whether no leaf, rain or sun comes to it."""
        return self.traits.sun == "indoor"

    @property
    def leafy(self) -> bool:
        """Whether leaves or dust make it want more than the weekly clean."""
        return self.setting in ("trees", "dusty") and not self.indoor

    @property
    def small_soft(self) -> bool:
        """Whether it is a small soft-sided pool with a rhythm of its own, in an owner's hands."""
        return self.traits.is_small_soft and self.care.cadence not in ("technician", "quarterly", "daily")
