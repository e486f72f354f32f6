"""What a calculator's document may hold. Shapes and plain limits only; what it means is in ``commands``."""

from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from kumpan.core.pool.volume import LARGEST_L
from kumpan.core.products.product import Basis
from kumpan.core.units import c_to_f, l_to_gal
from kumpan.core.water.measures import MEASURES


def _within(measure: str) -> object:
    m = MEASURES[measure]
    return Field(ge=m.least, le=m.most, allow_inf_nan=False)


_TEMP = Field(ge=c_to_f(MEASURES["temp"].least), le=c_to_f(MEASURES["temp"].most), allow_inf_nan=False)
Ph = Annotated[float, _within("ph")]
Fc = Annotated[float, _within("fc")]
Cc = Annotated[float, _within("cc")]
Ta = Annotated[float, _within("ta")]
Ch = Annotated[float, _within("ch")]
Cya = Annotated[float, _within("cya")]
Salt = Annotated[float, _within("salt")]
Borate = Annotated[float, _within("borate")]
TempF = Annotated[float, _TEMP]
VolumeGal = Annotated[float, Field(gt=0, le=l_to_gal(LARGEST_L), allow_inf_nan=False)]
Measure = Literal["ph", "ta_ppm", "fc_ppm", "cc_ppm", "ch_ppm", "cya_ppm", "salt_ppm", "borate_ppm", "temp_f"]
Unit = Literal[
    "g",
    "kg",
    "oz",
    "lb",
    "ml",
    "l",
    "fl_oz",
    "cup",
    "qt",
    "gal",
    "bag_40lb",
    "bag_20kg",
    "tablet_3in",
    "tablet_1in",
]


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


class Water(_Document):
    """A pool's water. What is missing takes calc's defaults, pH and alkalinity excepted."""

    ph: Ph | None = None
    ta_ppm: Ta | None = None
    fc_ppm: Fc = 0.0
    cc_ppm: Cc = 0.0
    ch_ppm: Ch = 0.0
    cya_ppm: Cya = 0.0
    salt_ppm: Salt = 1000.0
    borate_ppm: Borate = 0.0
    temp_f: TempF = 77.0


class ProductSpec(_Document):
    """A product that is not at its usual strength."""

    id: str
    strength: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)] | None = None
    basis: Basis | None = None
    bulk_density_kg_l: Annotated[float, Field(ge=0.2, le=3, allow_inf_nan=False)] | None = None


# A bare id is the product at its usual strength.
Product = Annotated[
    ProductSpec, BeforeValidator(lambda spec: {"id": spec} if isinstance(spec, str) else spec)
]


class Addition(_Document):
    """One product poured."""

    product: Product
    amount: Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)]
    unit: Unit


class Speciation(_Document):
    """What ``speciation`` takes."""

    ph: Ph
    fc_ppm: Fc = 0.0
    cya_ppm: Cya = 0.0
    temp_f: TempF = 77.0


class Saturation(_Document):
    """What ``saturation`` takes."""

    ph: Ph
    ta_ppm: Ta
    ch_ppm: Annotated[float, Field(gt=0, le=MEASURES["ch"].most, allow_inf_nan=False)]
    fc_ppm: Fc = 0.0
    cc_ppm: Cc = 0.0
    cya_ppm: Cya = 0.0
    salt_ppm: Salt = 1000.0
    borate_ppm: Borate = 0.0
    temp_f: TempF = 77.0
    tds_ppm: Annotated[float, Field(gt=0, le=200_000, allow_inf_nan=False)] | None = None


class Effect(_Document):
    """What ``effect`` takes."""

    volume_gal: VolumeGal
    water: Water
    additions: Annotated[list[Addition], Field(max_length=100)]


class Dose(_Document):
    """What ``dose`` takes."""

    volume_gal: VolumeGal
    water: Water
    product: Product
    measure: Measure
    to: Annotated[float, Field(allow_inf_nan=False)]
    unit: Unit | None = None


class Dilute(_Document):
    """What ``dilute`` takes: ``fraction``, or ``measure`` and ``to``."""

    volume_gal: VolumeGal
    water: Water
    fill: Water
    method: Literal["drain", "overflow"]
    fraction: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = None
    measure: Measure | None = None
    to: Annotated[float, Field(allow_inf_nan=False)] | None = None


class Aerate(_Document):
    """What ``aerate`` takes."""

    water: Water
    pco2_uatm: Annotated[float, Field(ge=1, le=1e5, allow_inf_nan=False)] = 420.0


Positive = Annotated[float, Field(gt=0, le=1e9, allow_inf_nan=False)]
AnyNumber = Annotated[float, Field(allow_inf_nan=False)]


class KnownWater(_Document):
    """A pool's water as far as it was tested. What is missing is unknown: plans fill nothing in."""

    ph: Ph | None = None
    ta_ppm: Ta | None = None
    fc_ppm: Fc | None = None
    cc_ppm: Cc | None = None
    ch_ppm: Ch | None = None
    cya_ppm: Cya | None = None
    salt_ppm: Salt | None = None
    borate_ppm: Borate | None = None
    temp_f: TempF | None = None


class TestedWater(KnownWater):
    """The water a plan is for; total chlorine stands in where free chlorine is not read."""

    tc_ppm: Fc | None = None


class Target(_Document):
    """An own target; at least a minimum or a maximum."""

    low: AnyNumber | None = None
    aim: AnyNumber | None = None
    high: AnyNumber | None = None
    why: str = ""


class Pool(_Document):
    """The pool a plan is for."""

    volume_gal: VolumeGal
    surface: Literal["plaster", "tile", "vinyl", "fibreglass", "soft"]
    chlorine_source: Literal["liquid", "granules", "tablets", "chlorinator"]
    installation: Literal["in_ground", "above_ground"] = "in_ground"
    sun: Literal["part", "full", "shade", "indoor"] = "part"
    borate_allowed: bool = True
    volume_within: Annotated[float, Field(ge=0, le=0.5, allow_inf_nan=False)] = 0.10
    targets: dict[Measure, Target] = {}
    fill: KnownWater = KnownWater()
    hose_gal_h: Positive | None = None
    label_fc_ppm: Annotated[float, Field(ge=1, le=10, allow_inf_nan=False)] | None = None
    heater: bool = False
    ground_water: Literal["low", "high", "unknown"] = "unknown"
    cell_g_day: Positive | None = None
    tablets_3in_week: Positive | None = None
    feeder_dial: Annotated[float, Field(ge=0.5, le=50, allow_inf_nan=False)] | None = None
    feeder_dial_most: Annotated[float, Field(ge=1, le=50, allow_inf_nan=False)] = 10.0
    cell_percent: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] | None = None
    cell_hours: Annotated[float, Field(gt=0, le=24, allow_inf_nan=False)] | None = None


class Ready(_Document):
    """A product that stands ready. stock and pack in ``unit``; price of one pack."""

    id: str
    strength: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)] | None = None
    unit: Unit | None = None
    stock: Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)] | None = None
    pack: Positive | None = None
    price: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] | None = None


MethodId = Literal[
    "exact",
    "drops",
    "drops_25",
    "strip",
    "comparator",
    "photometer",
    "lab",
    "salt_meter",
    "panel",
    "thermometer",
]


VisitDays = Annotated[float, Field(gt=0, le=90, allow_inf_nan=False)]


class Plan(_Document):
    """What ``plan`` takes."""

    pool: Pool
    water: TestedWater
    methods: MethodId | dict[Measure, MethodId] = "exact"
    school: Literal["scaled_to_stabilizer", "flat_band", "public_code", "mineral_assisted"] = (
        "scaled_to_stabilizer"
    )
    products: Annotated[list[Ready], Field(max_length=100)] | None = None
    choose: dict[str, Product] = {}
    strength_within: Annotated[float, Field(ge=0, le=0.5, allow_inf_nan=False)] = 0.05
    seen: Annotated[list[str], Field(max_length=10)] = []
    stay_min: Annotated[int, Field(ge=1, le=600)] | None = None
    next_visits_days: Annotated[list[VisitDays], Field(min_length=1, max_length=10)] = [7.0]
    hold_days: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = 0.0
    closed_pool: bool = False
    drain_later: bool = False
    raise_calcium: bool = False
    season_temp_f: TempF | None = None
    at: str = "2026-07-01T12:00"
    measures: Literal["us", "metric"] = "us"
