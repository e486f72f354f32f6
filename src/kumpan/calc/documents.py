"""What a calculator's document may hold. Shapes and plain limits only; what it means is in ``commands``."""

from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from kumpan.core.products.catalogue import Basis
from kumpan.core.units import c_to_f, l_to_gal
from kumpan.core.volume import LARGEST_L
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
Unit = Literal["g", "kg", "oz", "lb", "ml", "l", "fl_oz", "cup", "qt", "gal", "bag_40lb", "bag_20kg", "tablet_3in", "tablet_1in"]


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
Product = Annotated[ProductSpec, BeforeValidator(lambda given: {"id": given} if isinstance(given, str) else given)]


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
