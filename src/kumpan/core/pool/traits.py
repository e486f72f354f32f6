"""What of a pool decides its targets, doses and cautions, and the answers its questions may have."""

from dataclasses import dataclass, field

from kumpan.core.guidance.schools import DEFAULT_SCHOOL
from kumpan.core.units import gal_to_l
from kumpan.core.water.state import WaterState

# A small pool, litres (5,000 US gal), and where a cell stops for cold (60 F): common practice.
SMALL_L, CELL_STOPS_C = gal_to_l(5000), 15.5


@dataclass(frozen=True)
class Override:
    """A person's own target for a measure. None: no limit on that side. why: their reason, in their words."""

    low: float | None
    aim: float | None
    high: float | None
    why: str = ""


@dataclass(frozen=True)
class PoolTraits:
    """What of a pool decides its targets, doses and cautions. Ids as in ``POOL_CHOICES``.

    volume_95: how far off the volume may be, as a fraction, 95 % (10 % unless proved: common practice).
    fill: its fill water, as far as tested. hose_l_h: what the fill hose gives. cell_salt_ppm,
    cell_salt_aim_ppm: the chlorinator's own salt range and aim. feeder_held: what its feeder or floater has
    ever held (``FEEDER_HOLDS``); feeder_dial: what its dial stands at, and its highest mark.
    label_fc_ppm: the most free chlorine its product's label lets one swim in, None where not recorded.
    heater: whether one stands in the water's way. low_ground_water: whether ground water is known to stand
    low. cell_g_day: the cell's rated output at 100 %; cell_setting: what it runs at, percent and hours a day;
    cell_hours: its usual hours; cell_stops_c: where it stops for cold. sun_ahead_h: the sun's time less UTC,
    by where the pool lies.
    """

    volume_l: float
    surface: str
    chlorine_source: str
    installation: str
    school: str = DEFAULT_SCHOOL
    sun: str = "part"
    overrides: tuple[tuple[str, Override], ...] = ()
    borate_allowed: bool = True
    volume_95: float = 0.10
    fill: WaterState = field(default_factory=WaterState)
    hose_l_h: float | None = None
    cell_salt_ppm: tuple[float, float] | None = None
    cell_salt_aim_ppm: float | None = None
    feeder_held: str | None = None
    feeder_dial: tuple[float, float] | None = None
    label_fc_ppm: float | None = None
    heater: bool = False
    low_ground_water: bool = False
    cell_g_day: float | None = None
    cell_setting: tuple[float, float] | None = None
    cell_hours: float | None = None
    cell_stops_c: float = CELL_STOPS_C
    sun_ahead_h: float | None = None

    def cell_feeds(self, salt_ppm: float | None, temp_c: float | None) -> bool:
        """Whether a cell feeds this pool: there is one, with salt at its minimum, in water warm enough.

        Below about 60 F cells throttle or stop (common practice). What was not tested counts as right.
        """
        least = 2700.0 if self.cell_salt_ppm is None else self.cell_salt_ppm[0]
        salted = salt_ppm is None or salt_ppm >= least - 1e-6
        return self.has_chlorinator and salted and (temp_c is None or temp_c >= CELL_STOPS_C)

    @property
    def is_small_soft(self) -> bool:
        """Whether it is a soft-sided pool under 5,000 gal, which has rules of its own (our own)."""
        return self.surface == "soft" and self.volume_l < SMALL_L

    @property
    def minds_index(self) -> bool:
        """Whether the saturation index is a target here: calcium in the surface, a heater or a cell."""
        return self.protects_calcium or self.heater or self.has_chlorinator

    @property
    def has_chlorinator(self) -> bool:
        """Whether a salt chlorinator feeds the pool."""
        return self.chlorine_source == "chlorinator"

    @property
    def protects_calcium(self) -> bool:
        """Whether the surface holds calcium that soft water would take. An unknown one is taken to."""
        return self.surface in ("plaster", "tile", "unknown")


@dataclass(frozen=True)
class Choice:
    """One answer to a question about the pool; refused says why Kumpan does not take it, costs what not
    knowing it means.
    """

    id: str
    label: str
    refused: str | None = None
    costs: str | None = None


POOL_CHOICES: dict[str, tuple[Choice, ...]] = {
    "surface": (
        Choice("plaster", "Plaster or concrete"),
        Choice("tile", "Tile"),
        Choice("vinyl", "Vinyl liner"),
        Choice("fibreglass", "Fibreglass"),
        Choice("soft", "Soft-sided"),
        Choice(
            "unknown",
            "I don't know",
            costs="Calcium is then held as plaster needs it: perhaps more than this pool does.",
        ),
    ),
    "chlorine_source": (
        Choice("liquid", "Liquid chlorine by hand"),
        Choice("granules", "Granules by hand"),
        Choice("tablets", "Tablets in a feeder or floater"),
        Choice("chlorinator", "Salt chlorinator"),
        Choice("unknown", "I don't know", costs="Plans then name liquid chlorine, and salt is not judged."),
    ),
    "installation": (
        Choice("in_ground", "In-ground"),
        Choice("above_ground", "Above-ground"),
        Choice("unknown", "I don't know", costs="Closing work differs by it; doses do not."),
    ),
    "sanitizer": (
        Choice("chlorine", "Chlorine (salt pools too)"),
        Choice(
            "bromine",
            "Bromine",
            "Kumpan does not dose bromine pools: stabilizer does not protect bromine, its levels and waits "
            "differ, and chlorine advice would be wrong. Follow the product labels.",
        ),
        Choice(
            "biguanide",
            "Biguanide",
            "Kumpan does not dose biguanide pools: chlorine reacts with biguanide and must never be "
            "added to it. Follow the product labels.",
        ),
    ),
}


@dataclass(frozen=True)
class Question:
    """What the Pool page asks of where a pool stands. usual: the answer until one is given."""

    label: str
    choices: tuple[Choice, ...]
    usual: str = "unknown"

    def allows(self, answer: str) -> bool:
        """Whether this is one of its answers."""
        return any(c.id == answer for c in self.choices)


# One row a question: API, form, store and open format follow from it; what decides by it names it in
# ``store.water``.
SETTINGS: dict[str, Question] = {
    "sun": Question(
        "Sun on the water",
        (
            Choice("part", "Some sun"),
            Choice("full", "Full sun all day"),
            Choice("shade", "Shade"),
            Choice("indoor", "Indoors"),
            Choice("unknown", "I don't know", costs="Stabilizer is then aimed as for some sun."),
        ),
        usual="part",
    ),
    "setting": Question(
        "What stands round it",
        (
            Choice("unknown", "I don't know", costs="How often to skim is then a guess."),
            Choice("open", "Open ground"),
            Choice("trees", "Under trees"),
            Choice("dusty", "Dust or fields near"),
            Choice("coast", "By the sea"),
        ),
    ),
    "climate": Question(
        "Winter",
        (
            Choice(
                "unknown", "I don't know", costs="Whether it must be closed before winter is then not known."
            ),
            Choice("freezes", "Freezes in winter"),
            Choice("mild", "Never freezes"),
        ),
    ),
    "ground_water": Question(
        "Ground water",
        (
            Choice("unknown", "I don't know", costs="Water is then exchanged by overflow, a third at most."),
            Choice("low", "Stands low all year"),
            Choice("high", "Stands high, or does after rain"),
        ),
    ),
    "use": Question(
        "Who swims",
        (
            Choice("unknown", "I don't know", costs="Chlorine demand is then taken as ordinary."),
            Choice("light", "Few bathers"),
            Choice("usual", "A family"),
            Choice("heavy", "Many bathers"),
        ),
    ),
}
