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
    stains_from: the least that stains. assumed: what it counts as while never tested. extra: not asked for at
    every test. usual_method: how it is read where the kit at hand does not read it.

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
    usual_reason: str = ""
    when_high: str = ""
    extra: bool = False
    usual_method: str = "drops"
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
_FED = Drift(0.0, 0.25, 0.45)

# Uncertainties: common practice, read as 95 %, normal and independent. Scales' ends: from memory. Drifts, one
# sigma: chlorine 1 to 4 ppm a day in season of about 3 held; topping up brings calcium and alkalinity;
# backwash, splash and rain that nobody logs walk; gas leaves, so pH rises, more with a chlorinator; tablets
# bring 6 stabilizer and take 3.5 to 7 alkalinity for 10 ppm of chlorine (stoichiometry and common practice).
# How long a reading stands in for a missing one: the usual cadences of testing, common practice. Largest
# single moves: common practice and our own; a product's label wins if lower.
_ROWS = (
    Measure(
        id="fc", label="Free chlorine", short="FC", unit="ppm", decimals=1, field="fc_ppm",
        word="free chlorine", least=0, most=100, drift=Drift(0.7, 0.3, 0.35), tolerance=0.05, scale=(0, 12),
        headings=(
            "free chlorine", "fc", "free cl", "free cl2", "chlorine free", "free available chlorine", "fac",
            "cl free",
        ),
        by={
            "drops": Worth(0.5, 0.5, 0.5), "drops_25": Worth(0.2, 0.2, 0.2),
            "strip": Worth(1, 0.5, None, (0, 10)), "comparator": Worth(0.75, 0.5, None, (0, 5)),
            "photometer": Worth(0.2, 0.1, None, (0, 10)), "lab": Worth(0.2, 0.1),
        },
        headline="chlorine", shown_from=0.05, drift_by_source={"chlorinator": _FED, "tablets": _FED},
        worth=3.0, roles=("raise_fc", "lower_fc"), own=(0.5, 10.0), calc_default=0.0,
    ),
    Measure(
        id="cc", label="Combined chlorine", short="CC", unit="ppm", decimals=1, field="cc_ppm",
        word="combined chlorine", least=0, most=50, drift=Drift(0.0, 0.03, 0.08), tolerance=0.05,
        scale=(0, 2),
        headings=("combined chlorine", "cc", "chloramine", "chloramines", "bound chlorine", "cl combined"),
        by={
            "drops": Worth(0.5, 0.5, 0.5), "drops_25": Worth(0.2, 0.2, 0.2), "strip": Worth(1.4, 0.5),
            "comparator": Worth(1.0, 0.5), "photometer": Worth(0.3, 0.1), "lab": Worth(0.3, 0.1),
        },
        worth=0.8, own=(0.0, 1.0), calc_default=0.0,
    ),
    Measure(
        id="tc", label="Total chlorine", short="TC", unit="ppm", decimals=1, field="",
        word="total chlorine", least=0, most=100, drift=Drift(0.7, 0.3, 0.35), tolerance=0.05, scale=(0, 12),
        headings=("total chlorine", "tc", "total cl", "total cl2", "chlorine total", "cl total"),
        by={
            "drops": Worth(0.7, 0.5), "drops_25": Worth(0.3, 0.2), "strip": Worth(1, 0.5),
            "comparator": Worth(0.75, 0.5, None, (0, 5)), "photometer": Worth(0.3, 0.1),
            "lab": Worth(0.3, 0.1),
        },
        in_state=False,
    ),
    Measure(
        id="ph", label="pH", short="pH", unit="", decimals=1, field="ph", word="pH", least=5.0, most=10.0,
        drift=Drift(0.03, 0.025, 0.02), tolerance=0.01, scale=(6.8, 8.4),
        headings=("ph", "ph value", "p h"),
        by={
            "drops": Worth(0.2, 0.1, None, _PHENOL_RED), "drops_25": Worth(0.2, 0.1, None, _PHENOL_RED),
            "strip": Worth(0.3, 0.2, None, (6.2, 8.4)), "comparator": Worth(0.2, 0.2, None, _PHENOL_RED),
            "photometer": Worth(0.1, 0.1), "lab": Worth(0.1, 0.1),
        },
        shown_from=0.02, fill_sigma=0.5, worth=2.0, roles=("lower_ph", "raise_ph"), own=(7.0, 8.0),
        drift_by_source={"chlorinator": Drift(0.05, 0.025, 0.03), "tablets": Drift(-0.01, 0.03, 0.06)},
        units={"": ("", 1.0)},
    ),
    Measure(
        id="ta", label="Total alkalinity", short="TA", unit="ppm", decimals=0, field="ta_ppm",
        word="alkalinity", least=0, most=1000, drift=Drift(0.0, 0.8, 2.0), tolerance=1.0, scale=(0, 240),
        headings=(
            "total alkalinity", "ta", "alkalinity", "alk", "alkalinity total", "alkalinity m",
            "m alkalinity",
        ),
        by={
            "drops": Worth(10, 10, 10), "drops_25": Worth(10, 10, 10),
            "strip": Worth(30, 20, None, (0, 240)), "photometer": Worth(10, 1), "lab": Worth(10, 1),
        },
        carry_days=30, slow=True, drift_by_source={"tablets": Drift(-1.0, 0.8, 2.0)}, fill_sigma=60.0,
        worth=1.0, roles=("raise_ta", "lower_ta"), single_move=40.0, own=(40, 240),
        units=_PPM | {"mmol_l": ("mmol/L", 50.04)} | _DEGREES,
    ),
    Measure(
        id="ch", label="Calcium hardness", short="CH", unit="ppm", decimals=0, field="ch_ppm",
        word="calcium", least=0, most=3000, drift=Drift(0.3, 0.5, 2.0), tolerance=1.0, scale=(0, 600),
        headings=("calcium hardness", "ch", "calcium", "hardness calcium", "hardness", "ca hardness"),
        by={
            "drops": Worth(25, 25, 25), "drops_25": Worth(10, 10, 10), "strip": Worth(50, 50),
            "photometer": Worth(20, 1), "lab": Worth(20, 1),
        },
        carry_days=90, slow=True, fill_sigma=80.0, worth=0.6, roles=("raise_ch",), single_move=60.0,
        dilutes=True, proves=True, own=(0, 1000), units=_PPM | {"mmol_l": ("mmol/L", 100.09)} | _DEGREES,
        calc_default=0.0,
    ),
    Measure(
        id="cya", label="Stabilizer", short="CYA", unit="ppm", decimals=0, field="cya_ppm",
        word="stabilizer", least=0, most=500, drift=Drift(-0.2, 0.2, 0.6), tolerance=0.5, scale=(0, 120),
        headings=("stabilizer", "stabiliser", "cya", "cyanuric acid", "conditioner"),
        by={
            "drops": Worth(10, 10, None, _TUBE), "drops_25": Worth(10, 10, None, _TUBE),
            "strip": Worth(25, 10), "photometer": Worth(10, 1), "lab": Worth(10, 1),
        },
        carry_days=90, slow=True, drift_by_source={"tablets": Drift(1.0, 0.6, 1.0)}, fill_sigma=2.0,
        worth=1.0, roles=("raise_cya",), single_move=30.0, dilutes=True, proves=True, own=(0, 100),
        calc_default=0.0,
    ),
    Measure(
        id="salt", label="Salt", short="Salt", unit="ppm", decimals=0, field="salt_ppm", word="salt",
        least=0, most=50_000, drift=Drift(-1.0, 2.5, 8.0), tolerance=10.0, scale=(0, 5000),
        headings=("salt", "salinity", "nacl", "sodium chloride"),
        by={
            "drops": Worth(200, 200, 200), "drops_25": Worth(200, 200, 200), "strip": Worth(400, 100),
            "photometer": Worth(200, 10), "lab": Worth(200, 10), "salt_meter": Worth(100, 10),
            "panel": Worth(400, 100),
        },
        drift_by_source={"chlorinator": Drift(-3.0, 4.5, 20.0)}, carry_days=30, shown_from=5.0, slow=True,
        fill_sigma=80.0, worth=0.8, roles=("raise_salt",),
        single_move=1000.0, dilutes=True, proves=True, own=(500, 6500), calc_default=1000.0,
        units=_PPM | {"g_l": ("g/L", 1000.0), "ppt": ("ppt", 1000.0), "percent": ("%", 10_000.0)},
    ),
    Measure(
        id="temp", label="Water temperature", short="Water", unit="°C", decimals=0, field="temp_c",
        word="water temperature", least=-2, most=45, drift=Drift(0.0, 0.2, 0.8), tolerance=0.5,
        scale=(0, 40),
        headings=("temp", "temperature", "water temperature", "water temp", "pool temp", "water"),
        by={"panel": Worth(2, 1), "thermometer": Worth(1, 1)}, carry_days=7,
        units={"f": ("°F", 1.0), "c": ("°C", 1.0)}, calc_default=25.0, usual_method="thermometer",
    ),
    Measure(
        id="borate", label="Borate", short="Borate", unit="ppm", decimals=0, field="borate_ppm",
        word="borate", least=0, most=200, drift=Drift(0.0, 0.05, 0.1), tolerance=1.0, scale=(0, 80),
        headings=("borate", "borates", "boron"),
        by={
            "drops": Worth(10, 10), "drops_25": Worth(10, 10), "strip": Worth(20, 10),
            "photometer": Worth(10, 1), "lab": Worth(10, 1),
        },
        carry_days=90, fill_sigma=0.2, usual=(None, None, 50.0), assumed=0.0, calc_default=0.0,
        usual_reason="borate", when_high="More slows algae no further; only fresh water lowers it.",
        extra=True,
    ),
    Measure(
        id="phosphate", label="Phosphate", short="PO4", unit="ppb", decimals=0, field="", word="phosphate",
        least=0, most=20_000, drift=Drift(0.0, 3.0, 15.0), tolerance=5.0, scale=(0, 500),
        headings=("phosphate", "phosphates", "po4", "orthophosphate"),
        by={
            "strip": Worth(200, 100), "photometer": Worth(10, 1, relative=0.2),
            "lab": Worth(10, 1, relative=0.2), "comparator": Worth(200, 100),
        },
        carry_days=90, usual=(None, None, 100.0), fill_sigma=100.0,
        units={
            "ppb": ("ppb", 1.0), "ug_l": ("µg/L", 1.0), "ppm": ("ppm", 1000.0), "mg_l": ("mg/L", 1000.0),
        },
        usual_reason="phosphate",
        when_high=(
            "It feeds algae only where chlorine is short. A remover by its label lowers it and"
            " loads the filter."
        ),
        extra=True, usual_method="lab",
    ),
    Measure(
        id="copper", label="Copper", short="Cu", unit="ppm", decimals=2, field="", word="copper", least=0,
        most=10, drift=Drift(0.0, 0.003, 0.01), tolerance=0.01, scale=(0, 1),
        headings=("copper", "cu", "total copper"),
        by={"strip": Worth(0.5, 0.1), "photometer": Worth(0.1, 0.01), "lab": Worth(0.1, 0.01)},
        carry_days=90, shown_from=0.02, usual=(None, None, 0.1), fill_sigma=0.1, stains_from=0.1,
        usual_reason="metals",
        when_high=(
            "It stains. Find where it comes from; a sequestrant by its label holds it, fresh water"
            " lowers it."
        ),
        extra=True, usual_method="lab",
    ),
    Measure(
        id="iron", label="Iron", short="Fe", unit="ppm", decimals=2, field="", word="iron", least=0,
        most=10, drift=Drift(0.0, 0.003, 0.01), tolerance=0.01, scale=(0, 1),
        headings=("iron", "fe", "total iron"),
        by={"strip": Worth(0.5, 0.1), "photometer": Worth(0.1, 0.01), "lab": Worth(0.1, 0.01)},
        carry_days=90, shown_from=0.02, usual=(None, None, 0.1), fill_sigma=0.1, stains_from=0.1,
        usual_reason="metals",
        when_high=(
            "It stains, more so after a shock. A sequestrant by its label holds it; fill through a"
            " hose filter."
        ),
        extra=True, usual_method="lab",
    ),
    Measure(
        id="ammonia", label="Ammonia", short="NH3-N", unit="ppm", decimals=1, field="", word="ammonia",
        least=0, most=50, drift=Drift(0.0, 0.1, 0.5), tolerance=0.05, scale=(0, 5),
        headings=("ammonia", "nh3", "nh4", "ammonia nitrogen", "total ammonia"),
        by={
            "strip": Worth(0.5, 0.2), "comparator": Worth(0.3, 0.1), "photometer": Worth(0.1, 0.01),
            "lab": Worth(0.1, 0.01),
        },
        carry_days=3, shown_from=0.2, usual=(None, None, 0.2), fill_sigma=0.3, usual_reason="demand",
        when_high="It takes chlorine at once, about 7.6 ppm for each ppm of it, until it is gone.",
        extra=True, usual_method="lab",
    ),
)  # fmt: skip

MEASURES: dict[str, Measure] = {m.id: m for m in _ROWS}
# Those a water has, in the order in which they are shown and read out.
IN_STATE: tuple[str, ...] = tuple(m.id for m in _ROWS if m.in_state)
# What each role of a product works on.
MEASURE_OF_ROLE: dict[str, str] = {role: m.id for m in _ROWS for role in m.roles}
