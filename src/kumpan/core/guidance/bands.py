"""Targets as data: school, band, reason. The school here is *scaled to stabilizer*."""

from dataclasses import dataclass

from kumpan.core.chemistry.chlorine import fc_for_hocl

SCHOOL = "scaled_to_stabilizer"
SCHOOL_LABEL = "scaled to stabilizer"

# HOCl levels of the school (practice section 5, common practice), ppm.
HOCL_LEAST, HOCL_LEAST_STEADY, HOCL_AIM = 0.03, 0.02, 0.05
# pH and temperature at which the school's FC figures are stated, so that a target does not run after the
# reading: the pH every plan steers to, and the temperature at which the cyanurate constants are known.
PH_STATED, TEMP_STATED_C = 7.5, 25.0
CYA_FLOOR_PPM = 30.0  # below it the minimum and aim are those of 30
FC_FLOOR, FC_FLOOR_STABILIZED = 1.0, 2.0
FC_CAP = 10.0  # CDC Model Aquatic Health Code, from memory: the most one may swim in
DAILY_LOSS_PPM = 4.0  # upper end of ordinary demand in season, common practice


@dataclass(frozen=True)
class PoolTraits:
    """What of a pool decides its targets and cautions. Ids as in ``POOL_CHOICES``."""

    volume_l: float
    surface: str
    chlorine_source: str
    installation: str

    @property
    def has_chlorinator(self) -> bool:
        """Whether a salt chlorinator feeds the pool."""
        return self.chlorine_source == "chlorinator"

    @property
    def protects_calcium(self) -> bool:
        """Whether the surface holds calcium that soft water would take."""
        return self.surface in ("plaster", "tile")


@dataclass(frozen=True)
class Band:
    """Where a measure should be. None: no limit on that side.

    aim: where a correction steers; act_above: beyond this a plan replaces water, between high
    and act_above the measure is watched. reason_id: why; high_reason_id: why it counts as high.
    """

    measure: str
    low: float | None
    aim: float | None
    high: float | None
    reason_id: str
    act_above: float | None = None
    high_reason_id: str | None = None
    school: str = SCHOOL


@dataclass(frozen=True)
class Choice:
    """One answer to a question about the pool; refused says why Kumpan does not take it."""

    id: str
    label: str
    refused: str | None = None


POOL_CHOICES: dict[str, tuple[Choice, ...]] = {
    "surface": (
        Choice("plaster", "Plaster or concrete"), Choice("tile", "Tile"), Choice("vinyl", "Vinyl liner"),
        Choice("fibreglass", "Fibreglass"), Choice("soft", "Soft-sided"),
    ),
    "chlorine_source": (
        Choice("liquid", "Liquid chlorine by hand"), Choice("granules", "Granules by hand"),
        Choice("tablets", "Tablets in a feeder or floater"), Choice("chlorinator", "Salt chlorinator"),
    ),
    "installation": (Choice("in_ground", "In-ground"), Choice("above_ground", "Above-ground")),
    "sanitizer": (
        Choice("chlorine", "Chlorine (salt pools too)"),
        Choice("bromine", "Bromine", "Kumpan does not dose bromine pools: stabilizer does not protect bromine, its levels and waits "
               "differ, and chlorine advice would be wrong. Follow the product labels."),
        Choice("biguanide", "Biguanide", "Kumpan does not dose biguanide pools: chlorine reacts with biguanide and must never be "
               "added to it. Follow the product labels."),
    ),
}  # fmt: skip


def chlorine_band(cya_ppm: float | None, traits: PoolTraits) -> Band:
    """Free chlorine's band in the scaled school (practice section 5).

    The minimum holds HOCl at 0.03 ppm (0.02 with a chlorinator) and the aim at 0.05, at pH 7.5; below 30 ppm
    stabilizer, or with it unknown, those of 30 apply. Never aimed under 1 ppm (2 with stabilizer) nor over 10.

    >>> pool = PoolTraits(60000, "vinyl", "liquid", "in_ground")
    >>> [round(v, 1) for v in (chlorine_band(50, pool).low, chlorine_band(50, pool).aim)]
    [3.6, 5.6]
    """
    cya = max(CYA_FLOOR_PPM, cya_ppm or 0.0)
    floor = FC_FLOOR_STABILIZED if cya_ppm else FC_FLOOR
    least_hocl = HOCL_LEAST_STEADY if traits.has_chlorinator else HOCL_LEAST
    low = min(FC_CAP, max(floor, fc_for_hocl(least_hocl, PH_STATED, cya, TEMP_STATED_C)))
    aim = min(FC_CAP, max(floor, low, fc_for_hocl(HOCL_AIM, PH_STATED, cya, TEMP_STATED_C)))
    return Band("fc", low, aim, min(FC_CAP, aim + DAILY_LOSS_PPM), "fc_scaled", high_reason_id="fc_high")


def bands_for(traits: PoolTraits, cya_ppm: float | None) -> dict[str, Band]:
    """Every band of this pool. cya_ppm scales free chlorine; None if never tested."""
    if traits.has_chlorinator:
        ta = Band("ta", 60, 80, 120, "ta_chlorinator", act_above=180, high_reason_id="ta_high")
        cya = Band("cya", 60, 70, 80, "cya_chlorinator", act_above=90, high_reason_id="dilute")
        salt = Band("salt", 2700, 3200, 3400, "salt_cell", act_above=5000, high_reason_id="dilute")
    else:
        soft = traits.surface == "soft"
        ta = Band("ta", 100 if soft else 80, 120 if soft else 100, 150 if soft else 120,
                  "ta_soft" if soft else "ta_band", act_above=180, high_reason_id="ta_high")  # fmt: skip
        cya = Band("cya", 30, 40, 50, "cya_band", act_above=90, high_reason_id="dilute")
        salt = Band("salt", None, None, None, "salt_none")
    ch = (
        Band("ch", 200, 250, 400, "ch_plaster", act_above=1000, high_reason_id="dilute")
        if traits.protects_calcium
        else Band("ch", None, None, 400, "ch_vinyl", act_above=1000, high_reason_id="dilute")
    )
    bands = (
        chlorine_band(cya_ppm, traits),
        Band("cc", None, None, 0.5, "cc_band"),
        Band("ph", 7.2, 7.5, 7.8, "ph_band"),
        ta, ch, cya, salt,
    )  # fmt: skip
    return {b.measure: b for b in bands}
