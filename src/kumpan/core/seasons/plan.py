"""A season's plan for one pool: rows of data, taken up by what stands at the pool, made a sheet's steps.

A row that is left out hands what it comes after to the rows that come after it, so that an order holds
whatever a pool has.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, datetime, time, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from kumpan.core.amounts import System
from kumpan.core.care.site import Site
from kumpan.core.units import L_PER_GAL
from kumpan.core.work.sheet import Act, Claim, Decide, Do, Look, MetBy, Pour, Step, Test, Words

Subject = Literal["opening", "closing", "drain"]
NAMES: dict[Subject, str] = {"opening": "Opening", "closing": "Closing", "drain": "Drain and restart"}
DAY_BEGINS = time(6)  # of a planned day (our own)
APART_MIN = 30.0  # between two winter products (common practice)

# What is taken off and put back: by its id, as a list names it.
PARTS: dict[str, str] = {
    "cover": "Winter cover",
    "ballast": "Cable, bags, clips, anchors",
    "pillow": "Cover pillow",
    "plugs": "Winter plugs, plate, gizzard",
    "blanket": "Floating blanket",
    "cleaner": "Cleaner, hose and pole",
    "steps": "Ladder, steps, flanges",
    "returns": "Return fittings and gaskets",
    "hoses": "Hoses and clamps",
    "small": "Drain plugs, gauge, sight glass, baskets",
    "pump": "Pump",
    "filter": "Filter, or its element",
    "heater": "Heater's drain plugs",
    "light": "Light",
    "feeder": "Feeder or floater",
    "mineral": "Mineral cell",
    "cell": "Chlorinator cell and flow switch",
    "shell": "The pool itself: liner, frame",
}


@dataclass(frozen=True)
class Asked:
    """What a plan is made for. day: of opening, of closing, or the first of a drain; chosen: schools and
    answers (``CHOICES``); places: where parts lie, by part; dusk: of that day on the pool's clock; pours:
    what is poured by a rule of the plan's own, by row; told: sums in words, by the name rows use them under.
    """

    site: Site
    day: date
    zone: ZoneInfo
    system: System = "us"
    chosen: Mapping[str, str] = field(default_factory=dict)
    places: Mapping[str, str] = field(default_factory=dict)
    dusk: time = time(20)
    pours: Mapping[str, Pour] = field(default_factory=dict)
    told: Mapping[str, str] = field(default_factory=dict)

    @property
    def above(self) -> bool:
        """Whether it stands above the ground; one nobody said of counts as in it, having more lines."""
        return self.site.traits.installation == "above_ground"

    @property
    def cover(self) -> str:
        """What covers it in winter; empty where nothing does."""
        return self.site.winter_cover

    def chose(self, name: str, answer: str) -> bool:
        """Whether a question was answered so; the first of its answers is the usual one."""
        return (self.chosen.get(name) or next(iter(CHOICES[name][1]))) == answer

    @property
    def words(self) -> dict[str, str]:
        """What rows may name."""
        warm = "18 °C" if self.system == "metric" else "65 °F"
        gallons = self.site.traits.volume_l / L_PER_GAL
        volume = f"{self.site.traits.volume_l:,.0f} L" if self.system == "metric" else f"{gallons:,.0f} gal"
        nylon = "nylon brush" if self.site.traits.surface in ("vinyl", "soft", "fibreglass") else "brush"
        return {"warm": warm, "volume": volume, "brush": nylon, **_USUAL_TOLD, **self.told}


# By name: the question, and its answers, the usual one first. Empty of a subject where it is not asked.
CHOICES: dict[str, tuple[str, dict[str, str]]] = {
    "school": (
        "Winter products",
        {
            "ahead": "Shock 5 days ahead, algaecide on the day",
            "kit": "A chlorine-free kit, all on the day",
        },
    ),
    "skimmer": ("Skimmer", {"plate": "Plate or door over it", "lower": "Water lowered under it"}),
    "pillow": ("Pillow under the cover", {"yes": "yes", "no": "no"}),
    "antifreeze": ("Antifreeze in the lines", {"no": "no", "yes": "yes, propylene glycol"}),
    "empty": ("How much goes", {"part": "A share, by the rules for this pool", "all": "All of it"}),
    "wash": ("A wash of the shell", {"no": "no", "trained": "yes, by trained people"}),
}
ASKED_FOR: dict[Subject, tuple[str, ...]] = {
    "opening": (),
    "closing": ("school", "skimmer", "pillow", "antifreeze"),
    "drain": ("empty", "wash"),
}
_USUAL_TOLD = {
    "antifreeze": "by the length of the lines", "pump_out": "by the pump's flow",
    "fill": "by the hose's flow", "share": "", "heat": "", "salt": "", "glycol": "",
}  # fmt: skip

Takes = Callable[[Asked], bool]
DO = Do()


@dataclass(frozen=True)
class Row:
    """A step as data. day: so many days from the plan's; after: rows before it; minutes: it takes; tool: to
    have at hand; helper: whether a second person is needed; part: what of ``PARTS`` it takes off, puts away
    or puts back; takes: for which pools; pours: whether its amount is the plan's own (``Asked.pours``); dusk:
    whether it waits for that; apart: other products' rows, half an hour at least from which this one keeps;
    and_salt: whether a test reads salt too where a cell stands; opens: the page where it is done.
    """

    key: str
    title: str
    how: str = ""
    caution: str = ""
    why: str = ""
    after: tuple[str, ...] = ()
    day: int = 0
    act: Act = DO
    minutes: float = 5.0
    tool: str = ""
    helper: bool = False
    part: str = ""
    takes: Takes = lambda asked: True
    may_skip: bool = True
    pours: bool = False
    dusk: bool = False
    wait_min: float = 0.0
    apart: tuple[str, ...] = ()
    and_salt: bool = False
    met_by: MetBy | None = None
    only_if: tuple[str, tuple[str, ...]] | None = None
    claims: frozenset[Claim] = frozenset()
    opens: str = ""
    reason_id: str = "season"


def stored(key: str, part: str, title: str, **more: object) -> Row:
    """A row that takes a part off and asks where it lies from then on."""
    asks = Look("Where does it lie now?", text=True)
    return Row(key, title, part=part, act=asks, **({"minutes": 10.0} | more))  # type: ignore[arg-type]


@dataclass(frozen=True)
class Planned:
    """A step of a plan for one pool, with what is shown beside it; place: where its part lies so far."""

    step: Step
    minutes: float
    tool: str
    helper: bool
    part: str
    opens: str
    place: str = ""


def planned(rows: Iterable[Row], asked: Asked) -> tuple[Planned, ...]:
    """The rows that this pool takes, as steps in their order."""
    every = tuple(rows)
    taken = {r.key for r in every if _takes(r, asked)}
    before = {r.key: r.after for r in every}
    return tuple(_planned(r, _reach(r.after, taken, before), taken, asked) for r in every if r.key in taken)


def _takes(row: Row, asked: Asked) -> bool:
    return row.takes(asked) and (not row.pours or row.key in asked.pours)


def _reach(after: tuple[str, ...], taken: set[str], before: Mapping[str, tuple[str, ...]]) -> tuple[str, ...]:
    """The rows that are taken up among those before, or behind those that are not. A row of another plan,
    which its neighbours name, is none.
    """
    found: dict[str, None] = {}
    for key in after:
        found |= dict.fromkeys((key,) if key in taken else _reach(before.get(key, ()), taken, before))
    return tuple(found)


def _planned(row: Row, after: tuple[str, ...], taken: set[str], asked: Asked) -> Planned:
    day = asked.day + timedelta(days=row.day)
    at = datetime.combine(day, DAY_BEGINS, asked.zone)
    words = asked.words
    how = row.how.format(**words)
    place = asked.places.get(row.part, "")
    if place:
        how = f"{how} By the last list: {place}.".strip()
    if row.tool:
        how = f"{how} At hand: {row.tool.format(**words)}.".strip()
    act = asked.pours[row.key] if row.pours else _said(row.act, words)
    met_by = row.met_by
    if row.and_salt and isinstance(act, Test) and asked.site.traits.has_chlorinator:
        act = Test((*act.measures, "salt"))
        met_by = MetBy("water_test", frozenset(act.measures))
    step = Step(
        row.key, act, Words(row.title.format(**words), how, row.caution, row.why), after,
        max(row.wait_min, APART_MIN if taken & {*row.apart} else 0.0),
        datetime.combine(day, asked.dusk, asked.zone) if row.dusk else None,
        row.claims, met_by, row.may_skip, row.reason_id, at, row.only_if,
    )  # fmt: skip
    return Planned(step, row.minutes, row.tool, row.helper, row.part, row.opens, place)


def _said(act: Act, words: Mapping[str, str]) -> Act:
    """A question with what it names filled in."""
    if isinstance(act, Decide):
        choices = tuple((id, label.format(**words), then) for id, label, then in act.choices)
        return replace(act, choices=choices)
    return act
