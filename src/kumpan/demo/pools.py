"""The sample pools, their people and their habits: all made up.

A habit is how people do it, by thumb and not by plan: what the log of the demo holds follows from these and
from the simulated water, weather and kits.
"""

from dataclasses import dataclass, field

from kumpan.actions.care.settings import CareInput
from kumpan.actions.pools.equipment import EquipmentInput
from kumpan.core.pool.volume import VolumeInput, volume_of
from kumpan.core.records import TypedField
from kumpan.core.simulation.climate import Place, place_at
from kumpan.core.simulation.pool import Setup
from kumpan.core.simulation.priors import Nature
from kumpan.core.water.state import WaterState

LARCH_HOLLOW = place_at(34.0, -117.4)
CINDER_BEND = place_at(41.5, -93.6)
TAMARIND_KEY = place_at(21.3, -157.9)
WETHER_POINT = place_at(-34.9, 138.6)


@dataclass(frozen=True)
class Site:
    """A made-up place: its name, where its weather is, its zone, and its clock's hours over UTC in winter."""

    name: str
    place: Place
    zone: str
    offset_h: float


LARCH, CINDER = (
    Site("Larch Hollow", LARCH_HOLLOW, "America/Los_Angeles", -8),
    Site("Cinder Bend", CINDER_BEND, "America/Chicago", -6),
)
TAMARIND, WETHER = (
    Site("Tamarind Key", TAMARIND_KEY, "Pacific/Honolulu", -10),
    Site("Wether Point", WETHER_POINT, "Australia/Adelaide", 9.5),
)


@dataclass(frozen=True)
class Pour:
    """A habit of pouring: when a reading is past a level, so much of a product (text and unit); at most once
    in so many days.
    """

    measure: str
    over: float | None
    under: float | None
    product: str
    amount: str
    unit: str
    gap_days: int = 1


@dataclass(frozen=True)
class Habits:
    """How a person looks after a pool. Days of the week from 0, Monday; dates as (month, day).

    every_days, missed: how often they test, and the share they let go. each_time, now_and_then: measures at
    every test, and besides at every so manyth. pours: by what they read. regular: product, amount, unit,
    every so many days, whatever the test says. cleans_min, clean_days: minutes of the clean, and every so
    many days; lowered: share of the water let out at closing. backwash_over: times the clean pressure.
    cell: percent by month. season: opened and closed on; None all year. away: first day and days. bathers:
    usual in summer, a day's heads; parties: date and heads. tops_up: from the hose, weekly, where nothing
    does it by itself.
    """

    who: str
    kit: str
    every_days: int = 4
    missed: float = 0.1
    each_time: tuple[str, ...] = ("fc", "ph")
    now_and_then: tuple[str, ...] = ("cc", "ta", "ch", "cya")
    nth: int = 4
    pours: tuple[Pour, ...] = ()
    regular: tuple[tuple[str, str, str, int], ...] = ()
    cleans_min: int = 50
    clean_days: int = 7
    lowered: float = 0.0
    backwash_over: float = 1.75
    cell: tuple[int, ...] = ()
    season: tuple[tuple[int, int], tuple[int, int]] | None = None
    away: tuple[tuple[int, int, int], ...] = ()
    bathers: float = 3.0
    parties: tuple[tuple[int, int, int], ...] = ()
    tops_up: bool = False


@dataclass(frozen=True)
class DemoPool:
    """A sample pool: as it is asked for, as it is simulated, who looks after it, what stands at it.

    care: how its person looks after it (``actions.care``). upkeep: kind, what, every so many days, and how
    many days ago it was last done. restart: emptied and filled anew at each opening. quiet_days: days before
    today in which nothing is poured and the pump is off: it goes green. read_today: tested in full just now.
    parts: where its person put what was taken off at the last closing, by the plan's step.
    """

    name: str
    site: Site
    volume: VolumeInput
    surface: str
    source: str
    installation: str
    habits: Habits
    setup: Setup
    nature: Nature
    water: WaterState
    equipment: tuple[tuple[EquipmentInput, int | None, int | None], ...] = ()
    settings: dict[str, str] = field(default_factory=dict)
    school: str = "scaled_to_stabilizer"
    restart: bool = False
    quiet_days: int = 0
    read_today: bool = False
    care: CareInput = field(default_factory=lambda: CareInput("twice_week"))
    upkeep: tuple[tuple[str, str, int, int], ...] = ()
    parts: dict[str, str] = field(default_factory=dict)


def _shape(plan: str, length: float, width: float, shallow: float, deep: float) -> VolumeInput:
    bottom = "sloped" if deep else "level"
    texts = [f"{v:g}" if v else "" for v in (length, width, shallow, deep)]
    sizes = dict(zip(("length", "width", "shallow", "deep"), texts, strict=True))
    return VolumeInput("shape", "ft", plan=plan, bottom=bottom, **sizes)  # type: ignore[arg-type]


def _piece(
    kind: str, model: str, bought: int | None, until: int | None, **fields: str
) -> tuple[EquipmentInput, int | None, int | None]:
    """A piece of equipment; fields as ``text unit``; days from today it was bought and its warranty ends."""
    typed = {
        name: TypedField(*(text.rsplit(" ", 1) if " " in text else (text, "")))
        for name, text in fields.items()
    }
    return EquipmentInput(kind, typed, model), bought, until


def _setup(volume: VolumeInput, mean_depth_m: float, **more: object) -> Setup:
    litres = volume_of(volume).litres
    return Setup(litres, litres / 1000 / mean_depth_m, mean_depth_m, **more)  # type: ignore[arg-type]


_TAP = WaterState(0.3, 0.0, 7.8, 110, 130, 0, 60, 16.0, sulfate_ppm=0.0)
_HARD_TAP = WaterState(0.3, 0.0, 7.9, 110, 150, 0, 60, 18.0, sulfate_ppm=0.0)


def _water(*read: float) -> WaterState:
    """Chlorine, pH, alkalinity, calcium, stabilizer, salt (ppm) and temperature (C) it begins with."""
    fc, ph, ta, ch, cya, salt, temp_c = read
    return WaterState(fc, 0.1, ph, ta, ch, cya, salt, temp_c, sulfate_ppm=0.0)


_FERNWAY = _shape("rectangle", 32, 16, 3, 5.5)
_QUARRY = _shape("rectangle", 36, 18, 3, 8)
_THISTLE = _shape("round", 12, 0, 2.5, 0)
_MILL = _shape("oval", 30, 15, 3, 6)
_INN = VolumeInput("typed", "gal", "42,000")
_GARTH = _shape("round", 24, 0, 3.75, 0)
_SADDLE = VolumeInput("typed", "l", "48,000")

POOLS: tuple[DemoPool, ...] = (
    # A salt pool whose pH is let go: its cell scales.
    DemoPool(
        "Fernway Court", LARCH, _FERNWAY, "plaster", "chlorinator", "in_ground",
        Habits(
            "Mara", "drops", every_days=4, missed=0.15, now_and_then=("cc", "ta", "ch", "cya", "salt"), nth=5,
            pours=(
                Pour("ph", 7.85, None, "muriatic-31.45", "14", "fl_oz", 5),
                Pour("fc", None, 2.6, "liquid-chlorine-12.5", "0.5", "gal", 2),
                Pour("salt", None, 2750, "salt", "2", "bag_40lb", 20),
                Pour("cya", None, 45, "stabilizer", "3", "lb", 25),
                Pour("ta", None, 65, "baking-soda", "4", "lb", 20),
            ),
            cell=(30, 30, 35, 45, 60, 75, 85, 85, 65, 50, 35, 30), bathers=3,
            parties=((7, 4, 24), (8, 16, 14)), away=((8, 1, 9),),
        ),
        _setup(_FERNWAY, 1.30, sun=0.9, pump_hours=(8, 18), flow_l_h=8600, filter_kind="cartridge",
               filter_m2=9.0, clean_kpa=82.7, cell_g_day=635.0, fill=_HARD_TAP),
        Nature(demand=1.1, exchange=1.4), _water(4.0, 7.6, 80, 260, 62, 2950, 18.0),
        (
            _piece("chlorinator", "as on its plate", -500, 40, output="1.4 lb_day", hours_day="10 h",
                   salt_low="2700 ppm", salt_high="3400 ppm", self_cleaning="yes", cutout="60 f"),
            _piece("filter", "", -500, None, medium="cartridge", clean="12 psi"),
            _piece("pump", "", -1200, -470, speeds="variable", flow="38 gpm", hours="10 h",
                   run_by="automation"),
            _piece("openings", "", None, None, skimmers="2", drains="2"),
        ),
        {"sun": "full", "use": "usual", "climate": "mild"}, read_today=True,
        care=CareInput("twice_week"),
        upkeep=(("inspection", "breaker", 30, 12), ("inspection", "gate", 365, 190),
                ("inspection", "drain", 365, 190), ("upkeep", "orings", 91, 40), ("upkeep", "soak", 182, 70),
                ("upkeep", "gauge", 91, 40)),
    ),
    # Tablets all summer, until stabilizer passes 100.
    DemoPool(
        "Quarry Row 7", CINDER, _QUARRY, "vinyl", "tablets", "in_ground",
        Habits(
            "Tomas", "drops", every_days=8, missed=0.3, now_and_then=("ta", "ch", "cya"), nth=4,
            pours=(
                Pour("ph", None, 7.15, "soda-ash", "2", "lb", 7),
                Pour("ta", None, 75, "baking-soda", "6", "lb", 20),
                Pour("fc", None, 1.0, "liquid-chlorine-12.5", "1", "gal", 3),
            ),
            regular=(("trichlor-90", "3", "tablet_3in", 7), ("cal-hypo-65", "2", "lb", 28)),
            season=((4, 28), (10, 6)), lowered=0.2, bathers=4, parties=((6, 20, 18),),
            away=((7, 12, 15),), tops_up=True,
        ),
        _setup(_QUARRY, 1.65, sun=0.9, pump_hours=(9, 19), flow_l_h=11_000, filter_m2=0.29, levelled=False,
               fill=_TAP),
        Nature(), _water(2.5, 7.4, 90, 150, 45, 600, 8.0),
        (
            _piece("filter", "", None, None, medium="sand", clean="10 psi", valve="multiport",
                   media="2021-05-01"),
            _piece("feeder", "", None, None, what="feeder", holds="trichlor", dial="4", dial_most="8"),
            _piece("cover", "", None, None, what="safety"),
        ),
        {"sun": "full", "climate": "freezes"},
        parts={
            "feeder": "cellar, top shelf", "returns_below": "red crate in the shed",
            "filter": "stays; plug in the red crate", "small": "red crate in the shed",
            "notes": "Blower borrowed from next door: ask in September.",
        },
        care=CareInput("weekly", shock="two_weeks", season_from="04-28", season_to="10-06"),
        upkeep=(("inspection", "breaker", 60, 55), ("inspection", "gate", 365, 205),
                ("upkeep", "orings", 91, 60), ("upkeep", "gauge", 91, 60)),
    ),
    # A soft-sided pool put up for the summer.
    DemoPool(
        "Thistle Ring", CINDER, _THISTLE, "soft", "granules", "above_ground",
        Habits(
            "Oda", "strip", every_days=2, missed=0.2, now_and_then=("ta", "cya"), nth=3,
            pours=(
                Pour("fc", None, 1.2, "dichlor-56", "2", "oz", 1),
                Pour("ph", 7.8, None, "dry-acid-93.2", "3", "oz", 4),
                Pour("ph", None, 6.95, "baking-soda", "1", "lb", 4),
            ),
            cleans_min=20, backwash_over=1.5, season=((6, 5), (9, 4)), bathers=3, tops_up=True,
        ),
        _setup(_THISTLE, 0.76, sun=0.8, pump_hours=(8, 20), flow_l_h=2200, filter_kind="cartridge",
               filter_m2=0.6, clean_kpa=34.0, levelled=False, fill=_TAP),
        Nature(demand=1.3), _water(1.0, 7.6, 100, 130, 0, 60, 20.0),
        (_piece("filter", "", None, None, medium="cartridge"),),
        {"sun": "full"}, restart=True,
        care=CareInput("weekly", season_from="06-05", season_to="09-04"),
    ),
    # Shaded, left alone for nine days: going green now.
    DemoPool(
        "Old Mill Yard", TAMARIND, _MILL, "plaster", "liquid", "in_ground",
        Habits(
            "Ines", "drops", every_days=3, missed=0.1, now_and_then=("cc", "ta", "ch", "cya"), nth=5,
            pours=(
                Pour("fc", None, 3.0, "liquid-chlorine-12.5", "0.5", "gal", 1),
                Pour("ph", 7.85, None, "muriatic-31.45", "12", "fl_oz", 4),
                Pour("cya", None, 30, "stabilizer", "2", "lb", 25),
                Pour("ch", None, 200, "calcium-chloride-77", "5", "lb", 25),
                Pour("ta", None, 65, "baking-soda", "3", "lb", 20),
            ),
            bathers=2, away=((4, 2, 6),),
        ),
        _setup(_MILL, 1.37, sun=0.45, pump_hours=(8, 16), flow_l_h=9000, filter_m2=0.2, fill=_TAP),
        Nature(holds_hocl_ppm=(0.022, 0.045, 0.06)), _water(3.5, 7.5, 100, 240, 40, 700, 25.0),
        (
            _piece("filter", "", -900, None, medium="sand", clean="11 psi", valve="multiport",
                   media="2024-03-10"),
            _piece("pump", "", -900, 190, speeds="one", flow="40 gpm", hours="8 h", run_by="timer"),
        ),
        {"sun": "shade", "setting": "trees", "climate": "mild"}, quiet_days=9, read_today=True,
        care=CareInput("technician"),
        upkeep=(("inspection", "breaker", 30, 20), ("inspection", "gate", 365, 100),
                ("upkeep", "orings", 91, 30), ("upkeep", "gauge", 91, 30)),
    ),
    # A motel's pool under the public code, read every day.
    DemoPool(
        "Signal House Inn", TAMARIND, _INN, "tile", "liquid", "in_ground",
        Habits(
            "Bram", "photometer", every_days=1, missed=0.02, each_time=("fc", "cc", "ph"),
            now_and_then=("ta", "ch", "cya"), nth=7,
            pours=(
                Pour("fc", None, 3.6, "liquid-chlorine-12.5", "2", "gal", 1),
                Pour("ph", 7.65, None, "muriatic-31.45", "2", "qt", 2),
                Pour("ta", None, 75, "baking-soda", "15", "lb", 14),
                Pour("cya", None, 28, "stabilizer", "8", "lb", 25),
                Pour("ch", None, 220, "calcium-chloride-77", "20", "lb", 25),
            ),
            cleans_min=90, bathers=22, parties=((5, 24, 60),),
        ),
        _setup(_INN, 1.5, pump_hours=(0, 24), flow_l_h=27_000, filter_m2=0.9, fill=_TAP, heated_c=28.0),
        Nature(), _water(3.6, 7.5, 92, 260, 32, 900, 28.5),
        (
            _piece("filter", "", -2000, None, medium="sand", clean="13 psi", valve="multiport"),
            _piece("heater", "", -1100, 350, what="heat_pump", bypass="yes"),
            _piece("openings", "", None, None, skimmers="4", drains="2"),
        ),
        {"sun": "full", "use": "heavy", "climate": "mild"}, school="public_code",
        care=CareInput("daily"),
        upkeep=(("inspection", "breaker", 30, 4), ("inspection", "gate", 91, 30),
                ("inspection", "drain", 91, 30), ("upkeep", "orings", 91, 50), ("upkeep", "gauge", 91, 50)),
    ),
    # Above ground, closed for winter.
    DemoPool(
        "Upper Garth", CINDER, _GARTH, "vinyl", "liquid", "above_ground",
        Habits(
            "Lene", "drops", every_days=3, missed=0.2, now_and_then=("cc", "ta", "cya"), nth=4,
            pours=(
                Pour("fc", None, 2.5, "liquid-chlorine-10", "0.75", "gal", 1),
                Pour("ph", 7.85, None, "muriatic-14.5", "1", "qt", 4),
                Pour("cya", None, 25, "stabilizer", "2", "lb", 25),
                Pour("ta", None, 70, "baking-soda", "3", "lb", 20),
            ),
            season=((5, 9), (10, 18)), bathers=3, parties=((7, 19, 12),), tops_up=True,
        ),
        _setup(_GARTH, 1.14, sun=0.8, pump_hours=(9, 19), flow_l_h=7000, filter_kind="cartridge",
               filter_m2=8.0, clean_kpa=55.0, levelled=False, fill=_TAP),
        Nature(), _water(3.0, 7.5, 100, 120, 35, 500, 8.0),
        (_piece("filter", "", -800, None, medium="cartridge", clean="8 psi"),
         _piece("cover", "", -800, None, what="solid")),
        {"sun": "full", "climate": "freezes"},
        care=CareInput("twice_week", season_from="05-09", season_to="10-18"),
        upkeep=(("inspection", "gate", 365, 200), ("upkeep", "orings", 91, 90), ("upkeep", "soak", 182, 60)),
        parts={
            "returns": "blue box, garage shelf", "hoses": "hook by the garage door",
            "filter": "cellar, beside the boiler", "small": "blue box, garage shelf",
            "steps": "behind the garage", "notes": "The return's gasket is worn: a new one in spring.",
        },
    ),
    # A quarterly owner on the other side of the world.
    DemoPool(
        "Saddle House", WETHER, _SADDLE, "fibreglass", "chlorinator", "in_ground",
        Habits(
            "Wim", "lab", every_days=91, missed=0.0, each_time=("fc", "ph", "ta", "ch", "cya", "salt"),
            now_and_then=(), nth=99,
            pours=(
                Pour("ph", 7.8, None, "muriatic-31.45", "1.5", "qt", 60),
                Pour("salt", None, 3600, "salt", "3", "bag_20kg", 60),
                Pour("cya", None, 40, "stabilizer", "3", "lb", 60),
            ),
            cleans_min=60, clean_days=91, cell=(60, 55, 50, 40, 30, 25, 25, 30, 40, 50, 55, 60), bathers=3,
            parties=((12, 31, 16),),
        ),
        _setup(_SADDLE, 1.4, sun=0.9, pump_hours=(9, 17), flow_l_h=11_000, filter_m2=0.25, cell_g_day=900.0,
               cell_salt_ppm=3500.0, fill=_TAP),
        Nature(demand=0.9), _water(2.0, 7.6, 90, 180, 45, 4000, 14.0),
        (
            _piece("chlorinator", "", -700, 395, output="900 g_day", hours_day="8 h", salt_low="3500 ppm",
                   salt_high="4500 ppm", self_cleaning="yes"),
            _piece("filter", "", -700, None, medium="sand", clean="70 kpa", valve="multiport"),
            _piece("cleaner", "", -300, 430, what="robot"),
        ),
        {"sun": "full", "climate": "mild"},
        care=CareInput("quarterly"),
        upkeep=(("inspection", "breaker", 91, 40), ("inspection", "gate", 365, 120),
                ("upkeep", "orings", 91, 40), ("upkeep", "gauge", 91, 40)),
    ),
)  # fmt: skip


def _pack(stock: str, pack: str, price: str, **more: str) -> dict[str, str]:
    """What stands there and what a package costs: number and unit each."""
    (number, unit), (size, of) = stock.split(" "), pack.split(" ")
    known = {"stock": number, "stock_unit": unit, "pack": size, "pack_unit": of, "price": price}
    return known | more


# Product, what is known of it (fields of ``ShelfInput``), and the days from today it was bought.
SHELF: tuple[tuple[str, dict[str, str], int | None], ...] = (
    (
        "liquid-chlorine-12.5",
        _pack("3 gal", "1 gal", "5.50", kept="86", minimum="1", minimum_unit="gal"),
        -24,
    ),
    ("liquid-chlorine-10", _pack("2 gal", "1 gal", "4.20"), -12),
    ("trichlor-90", _pack("18 tablet_3in", "50 lb", "160.00"), None),
    ("dichlor-56", _pack("5 lb", "10 lb", "48.00"), None),
    ("cal-hypo-65", _pack("6 lb", "24 lb", "92.00"), None),
    ("muriatic-31.45", _pack("64 fl_oz", "1 gal", "9.00"), None),
    ("baking-soda", _pack("22 lb", "50 lb", "31.00"), None),
    ("salt", _pack("4 bag_40lb", "1 bag_40lb", "7.80"), None),
    ("stabilizer", _pack("1 lb", "4 lb", "22.00", minimum="2", minimum_unit="lb"), None),
    ("test-strips", {"stock": "1", "minimum": "1"}, -400),
    ("reagents", {"stock": "2", "minimum": "1"}, -120),
    ("o-ring", {"stock": "1", "minimum": "1"}, None),
    ("o-ring-lubricant", {"stock": "1"}, None),
    ("cartridge", {"stock": "0", "minimum": "1"}, None),
    ("algaecide-copper", {"stock": "1", "stock_unit": "qt", "rate": "6", "rate_unit": "fl_oz"}, None),
)
