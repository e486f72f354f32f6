"""What can be measured: one row a measure holds all that is particular to it.

What else there is to know of a measure stands in the guidance: its bands by school and the reasons. Figures
without a named source are our own working assumptions from common practice.
"""

import dataclasses
from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

# In pool water mg/L and ppm are taken as equal (density within 0.5 %). Degrees and millimoles of hardness by
# definition: 1 mmol/L CaCO3 = 100.09 mg/L, 1 °dH = 17.848 mg/L CaCO3 (DIN 38409-6, from memory); acid
# capacity: 1 mmol/L = 50.04 mg/L CaCO3, from CaCO3's molar mass of 100.087 g/mol.
_PPM = {"ppm": ("ppm", 1.0), "mg_l": ("mg/L", 1.0)}
_DEGREES = {"dh": ("°dH", 17.848)}


class Worth(NamedTuple):
    """What a test method's reading of a measure is worth, in its canonical unit.

    u95: expanded uncertainty, 95 %; relative: the same as a share of the reading, where that is more. step:
    what an arrow key moves by (the method's resolution). per_drop: what a counted drop stands for. scale:
    from and to where the method can read at all; at an end the true value may lie beyond.
    """

    u95: float
    step: float
    per_drop: float | None = None
    scale: tuple[float, float] | None = None
    relative: float = 0.0


class Drift(NamedTuple):
    """How a measure moves by itself: so much a day (of free chlorine: the share lost a day), give or take
    (one sigma), and a random walk a root-day. Priors; a pool's own readings correct them.
    """

    a_day: float
    sigma: float
    walk: float


@dataclass(frozen=True)
class Measure:
    """One measure of pool water.

    field: its attribute of ``WaterState``; empty: only carried along. in_state: whether a water has it at all
    (total chlorine is free and combined). word: its name inside a sentence; headline: in a headline.

    least, most: what a test could ever show (canonical unit); outside is a typing slip. carry_days: how long
    a reading from the log may stand in for a missing one; 0 is never. tolerance: finer than any test can
    show. scale: the ends of its drawing. shown_from: the smallest move worth a line beside a step. slow: it
    does not change tenfold from one test to the next, nor unexplained.

    drift: its prior, and by how the pool is chlorinated where that matters. fill_sigma: how unsure tap water
    never tested is of it. worth: how much a wrong guess matters.

    roles: what products do to it. single_move: the largest step of the mixed water at once. dilutes: only
    fresh water brings it down. proves: whether a dose of it and its rise tell the volume. own: between which
    figures a person's own target may lie. usual: a band that holds whatever the school (low, aim, high).
    stains_from: the least that stains. assumed: what it counts as while never tested.

    headings, units: how other programs' tables name it and its units (label, factor to the canonical one).
    calc_default: what the calculator takes where it is not given. by: what each method's reading is worth.
    """

    id: str
    label: str
    short: str
    unit: str
    decimals: int
    field: str
    word: str
    least: float
    most: float
    drift: Drift
    tolerance: float
    scale: tuple[float, float]
    headings: tuple[str, ...]
    by: Mapping[str, Worth]
    headline: str = ""
    carry_days: int = 0
    in_state: bool = True
    shown_from: float = 0.5
    slow: bool = False
    drift_by_source: Mapping[str, Drift] = dataclasses.field(default_factory=dict)
    fill_sigma: float = 0.0
    worth: float = 0.0
    roles: tuple[str, ...] = ()
    single_move: float | None = None
    dilutes: bool = False
    proves: bool = False
    own: tuple[float, float] | None = None
    usual: tuple[float | None, float | None, float | None] | None = None
    stains_from: float | None = None
    assumed: float | None = None
    units: Mapping[str, tuple[str, float]] = dataclasses.field(default_factory=lambda: dict(_PPM))
    calc_default: float | None = None

    @property
    def name(self) -> str:
        """The label inside a sentence: ``total alkalinity``, ``pH``."""
        return self.label if self.label == "pH" else self.label[0].lower() + self.label[1:]

    @property
    def calc_key(self) -> str:
        """The calculator's key; its temperatures are Fahrenheit."""
        return "temp_f" if self.id == "temp" else self.key

    @property
    def key(self) -> str:
        """Its name with its canonical unit: ``fc_ppm``, ``temp_c``."""
        return self.field or f"{self.id}_{self.unit}"


# Phenol red turns between these; the stabilizer tube clouds over between those: common practice.
_PHENOL_RED, _TUBE = (6.8, 8.2), (30.0, 100.0)
# What feeds steadily replaces the chlorine that is lost: the level hardly falls, but who knows.
_FED = Drift(0.0, 0.25, 0.35)

# Uncertainties: common practice, read as 95 %, normal and independent. Scales' ends: from memory. Drifts, one
# sigma: chlorine 1 to 4 ppm a day in season of about 3 held; topping up brings calcium and alkalinity;
# backwash, splash and rain that nobody logs walk; gas leaves, so pH rises, more with a chlorinator; tablets
# bring 6 stabilizer and take 3.5 to 7 alkalinity for 10 ppm of chlorine (stoichiometry and common practice).
# How long a reading stands in for a missing one: the usual cadences of testing, common practice. Largest
# single moves: common practice and our own; a product's label wins if lower.
_ROWS = (
    Measure(
        "fc",
        "Free chlorine",
        "FC",
        "ppm",
        1,
        "fc_ppm",
        "free chlorine",
        0,
        100,
        Drift(0.6, 0.3, 0.3),
        0.05,
        (0, 12),
        (
            "free chlorine",
            "fc",
            "free cl",
            "free cl2",
            "chlorine free",
            "free available chlorine",
            "fac",
            "cl free",
        ),
        {
            "drops": Worth(0.5, 0.5, 0.5),
            "drops_25": Worth(0.2, 0.2, 0.2),
            "strip": Worth(1, 0.5, None, (0, 10)),
            "comparator": Worth(0.75, 0.5, None, (0, 5)),
            "photometer": Worth(0.2, 0.1, None, (0, 10)),
            "lab": Worth(0.2, 0.1),
        },
        headline="chlorine",
        shown_from=0.05,
        drift_by_source={"chlorinator": _FED, "tablets": _FED},
        worth=3.0,
        roles=("raise_fc", "lower_fc"),
        own=(0.5, 10.0),
        calc_default=0.0,
    ),
    Measure(
        "cc",
        "Combined chlorine",
        "CC",
        "ppm",
        1,
        "cc_ppm",
        "combined chlorine",
        0,
        50,
        Drift(0.0, 0.03, 0.08),
        0.05,
        (0, 2),
        ("combined chlorine", "cc", "chloramine", "chloramines", "bound chlorine", "cl combined"),
        {
            "drops": Worth(0.5, 0.5, 0.5),
            "drops_25": Worth(0.2, 0.2, 0.2),
            "strip": Worth(1.4, 0.5),
            "comparator": Worth(1.0, 0.5),
            "photometer": Worth(0.3, 0.1),
            "lab": Worth(0.3, 0.1),
        },
        worth=0.8,
        own=(0.0, 1.0),
        calc_default=0.0,
    ),
    Measure(
        "tc",
        "Total chlorine",
        "TC",
        "ppm",
        1,
        "",
        "total chlorine",
        0,
        100,
        Drift(0.6, 0.3, 0.3),
        0.05,
        (0, 12),
        ("total chlorine", "tc", "total cl", "total cl2", "chlorine total", "cl total"),
        {
            "drops": Worth(0.7, 0.5),
            "drops_25": Worth(0.3, 0.2),
            "strip": Worth(1, 0.5),
            "comparator": Worth(0.75, 0.5, None, (0, 5)),
            "photometer": Worth(0.3, 0.1),
            "lab": Worth(0.3, 0.1),
        },
        in_state=False,
    ),
    Measure(
        "ph",
        "pH",
        "pH",
        "",
        1,
        "ph",
        "pH",
        5.0,
        10.0,
        Drift(0.02, 0.02, 0.035),
        0.01,
        (6.8, 8.4),
        ("ph", "ph value", "p h"),
        {
            "drops": Worth(0.2, 0.1, None, _PHENOL_RED),
            "drops_25": Worth(0.2, 0.1, None, _PHENOL_RED),
            "strip": Worth(0.3, 0.2, None, (6.2, 8.4)),
            "comparator": Worth(0.2, 0.2, None, _PHENOL_RED),
            "photometer": Worth(0.1, 0.1),
            "lab": Worth(0.1, 0.1),
        },
        shown_from=0.02,
        fill_sigma=0.5,
        worth=2.0,
        roles=("lower_ph", "raise_ph"),
        own=(7.0, 8.0),
        drift_by_source={"chlorinator": Drift(0.04, 0.03, 0.06), "tablets": Drift(-0.01, 0.03, 0.06)},
        units={"": ("", 1.0)},
    ),
    Measure(
        "ta",
        "Total alkalinity",
        "TA",
        "ppm",
        0,
        "ta_ppm",
        "alkalinity",
        0,
        1000,
        Drift(0.0, 0.8, 2.0),
        1.0,
        (0, 240),
        ("total alkalinity", "ta", "alkalinity", "alk", "alkalinity total", "alkalinity m", "m alkalinity"),
        {
            "drops": Worth(10, 10, 10),
            "drops_25": Worth(10, 10, 10),
            "strip": Worth(30, 20, None, (0, 240)),
            "photometer": Worth(10, 1),
            "lab": Worth(10, 1),
        },
        carry_days=30,
        slow=True,
        drift_by_source={"tablets": Drift(-1.0, 0.8, 2.0)},
        fill_sigma=60.0,
        worth=1.0,
        roles=("raise_ta", "lower_ta"),
        single_move=40.0,
        own=(40, 240),
        units=_PPM | {"mmol_l": ("mmol/L", 50.04)} | _DEGREES,
    ),
    Measure(
        "ch",
        "Calcium hardness",
        "CH",
        "ppm",
        0,
        "ch_ppm",
        "calcium",
        0,
        3000,
        Drift(0.3, 0.5, 2.0),
        1.0,
        (0, 600),
        ("calcium hardness", "ch", "calcium", "hardness calcium", "hardness", "ca hardness"),
        {
            "drops": Worth(25, 25, 25),
            "drops_25": Worth(10, 10, 10),
            "strip": Worth(50, 50),
            "photometer": Worth(20, 1),
            "lab": Worth(20, 1),
        },
        carry_days=90,
        slow=True,
        fill_sigma=80.0,
        worth=0.6,
        roles=("raise_ch",),
        single_move=60.0,
        dilutes=True,
        proves=True,
        own=(0, 1000),
        units=_PPM | {"mmol_l": ("mmol/L", 100.09)} | _DEGREES,
        calc_default=0.0,
    ),
    Measure(
        "cya",
        "Stabilizer",
        "CYA",
        "ppm",
        0,
        "cya_ppm",
        "stabilizer",
        0,
        500,
        Drift(-0.2, 0.3, 1.0),
        0.5,
        (0, 120),
        ("stabilizer", "stabiliser", "cya", "cyanuric acid", "conditioner"),
        {
            "drops": Worth(10, 10, None, _TUBE),
            "drops_25": Worth(10, 10, None, _TUBE),
            "strip": Worth(25, 10),
            "photometer": Worth(10, 1),
            "lab": Worth(10, 1),
        },
        carry_days=90,
        slow=True,
        drift_by_source={"tablets": Drift(1.0, 0.6, 1.0)},
        fill_sigma=2.0,
        worth=1.0,
        roles=("raise_cya",),
        single_move=20.0,
        dilutes=True,
        proves=True,
        own=(0, 100),
        calc_default=0.0,
    ),
    Measure(
        "salt",
        "Salt",
        "Salt",
        "ppm",
        0,
        "salt_ppm",
        "salt",
        0,
        50_000,
        Drift(-3.0, 8.0, 15.0),
        10.0,
        (0, 5000),
        ("salt", "salinity", "nacl", "sodium chloride"),
        {
            "drops": Worth(200, 200, 200),
            "drops_25": Worth(200, 200, 200),
            "strip": Worth(400, 100),
            "photometer": Worth(200, 10),
            "lab": Worth(200, 10),
            "salt_meter": Worth(100, 10),
            "panel": Worth(400, 100),
        },
        carry_days=30,
        shown_from=5.0,
        slow=True,
        fill_sigma=80.0,
        worth=0.8,
        roles=("raise_salt",),
        single_move=1000.0,
        dilutes=True,
        proves=True,
        own=(500, 6500),
        calc_default=1000.0,
        units=_PPM | {"g_l": ("g/L", 1000.0), "ppt": ("ppt", 1000.0), "percent": ("%", 10_000.0)},
    ),
    Measure(
        "temp",
        "Water temperature",
        "Water",
        "°C",
        0,
        "temp_c",
        "water temperature",
        -2,
        45,
        Drift(0.0, 0.2, 0.8),
        0.5,
        (0, 40),
        ("temp", "temperature", "water temperature", "water temp", "pool temp", "water"),
        {"comparator": Worth(1, 1), "panel": Worth(2, 1), "thermometer": Worth(1, 1)},
        carry_days=7,
        units={"f": ("°F", 1.0), "c": ("°C", 1.0)},
        calc_default=25.0,
    ),
    Measure(
        "borate",
        "Borate",
        "Borate",
        "ppm",
        0,
        "borate_ppm",
        "borate",
        0,
        200,
        Drift(0.0, 0.05, 0.1),
        1.0,
        (0, 80),
        ("borate", "borates", "boron"),
        {
            "drops": Worth(10, 10),
            "drops_25": Worth(10, 10),
            "strip": Worth(20, 10),
            "photometer": Worth(10, 1),
            "lab": Worth(10, 1),
        },
        carry_days=90,
        fill_sigma=0.2,
        usual=(None, None, 50.0),
        assumed=0.0,
        calc_default=0.0,
    ),
    Measure(
        "phosphate",
        "Phosphate",
        "PO4",
        "ppb",
        0,
        "",
        "phosphate",
        0,
        20_000,
        Drift(0.0, 3.0, 15.0),
        5.0,
        (0, 500),
        ("phosphate", "phosphates", "po4", "orthophosphate"),
        {
            "strip": Worth(200, 100),
            "photometer": Worth(10, 1, relative=0.2),
            "lab": Worth(10, 1, relative=0.2),
            "comparator": Worth(200, 100),
        },
        carry_days=90,
        usual=(None, None, 100.0),
        fill_sigma=100.0,
        units={"ppb": ("ppb", 1.0), "ug_l": ("µg/L", 1.0), "ppm": ("ppm", 1000.0), "mg_l": ("mg/L", 1000.0)},
    ),
    Measure(
        "copper",
        "Copper",
        "Cu",
        "ppm",
        2,
        "",
        "copper",
        0,
        10,
        Drift(0.0, 0.003, 0.01),
        0.01,
        (0, 1),
        ("copper", "cu", "total copper"),
        {"strip": Worth(0.5, 0.1), "photometer": Worth(0.1, 0.01), "lab": Worth(0.1, 0.01)},
        carry_days=90,
        shown_from=0.02,
        usual=(None, None, 0.1),
        fill_sigma=0.1,
        stains_from=0.1,
    ),
    Measure(
        "iron",
        "Iron",
        "Fe",
        "ppm",
        2,
        "",
        "iron",
        0,
        10,
        Drift(0.0, 0.003, 0.01),
        0.01,
        (0, 1),
        ("iron", "fe", "total iron"),
        {"strip": Worth(0.5, 0.1), "photometer": Worth(0.1, 0.01), "lab": Worth(0.1, 0.01)},
        carry_days=90,
        shown_from=0.02,
        usual=(None, None, 0.1),
        fill_sigma=0.1,
        stains_from=0.1,
    ),
)

MEASURES: dict[str, Measure] = {m.id: m for m in _ROWS}
# Those a water has, in the order in which they are shown and read out.
IN_STATE: tuple[str, ...] = tuple(m.id for m in _ROWS if m.in_state)
# What each role of a product works on.
MEASURE_OF_ROLE: dict[str, str] = {role: m.id for m in _ROWS for role in m.roles}
