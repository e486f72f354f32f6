"""Targets as data: what each measure should be in this pool, by school, surface, chlorine source and sun,
with the reason.

Schools and their figures: common practice and the published limits named in ``reasons``.
"""

from dataclasses import dataclass, replace
from functools import lru_cache

from kumpan.core.chemistry.chlorine import fc_for_hocl
from kumpan.core.guidance.schools import (
    CYA_FLOOR_PPM,
    DAILY_LOSS_PPM,
    FC_CAP,
    FC_FLOOR,
    FC_FLOOR_STABILIZED,
    HOCL_AIM,
    HOCL_KILLS,
    HOCL_LEAST,
    HOCL_LEAST_STEADY,
    PH_STATED,
    SCHOOLS,
    SHOCK_FLOOR_PPM,
    TEMP_STATED_C,
    School,
)
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.measures import MEASURES


@dataclass(frozen=True)
class Band:
    """Where a measure should be. None: no limit on that side.

    aim: where a correction steers; act_above: beyond this a plan replaces water, between high
    and act_above the measure is watched. reason_id: why; high_reason_id: why it counts as high. own: the
    person's reason where they set it themselves.
    """

    measure: str
    low: float | None
    aim: float | None
    high: float | None
    reason_id: str
    act_above: float | None = None
    high_reason_id: str | None = None
    own: str | None = None


@lru_cache(maxsize=512)
def chlorine_band(cya_ppm: float | None, traits: PoolTraits) -> Band:
    """Free chlorine's band for this much stabilizer, by the pool's school (common practice) or the
    person's own target.

    Scaled: the minimum holds HOCl at 0.03 ppm (0.02 with a chlorinator) and the aim at 0.05, at pH 7.5; below
    30 ppm stabilizer, or with it unknown, those of 30 apply. Never aimed under 1 ppm (2 with stabilizer) nor
    over 10.

    >>> pool = PoolTraits(60000, "vinyl", "liquid", "in_ground")
    >>> [round(v, 1) for v in (chlorine_band(50, pool).low, chlorine_band(50, pool).aim)]
    [3.6, 5.6]
    """
    return _own(_chlorine_band(cya_ppm, traits), traits)


def _chlorine_band(cya_ppm: float | None, traits: PoolTraits) -> Band:
    if traits.school == "flat_band":
        return Band("fc", 1.0, 2.0, 3.0, "fc_flat", high_reason_id="fc_flat")
    if traits.school == "public_code":
        # Ideal 2 to 4: ANSI/APSP/ICC-11 2019; at least 1, or 2 with stabilizer, at most 10: CDC Model Aquatic
        # Health Code; from memory.
        return Band("fc", 2.0 if cya_ppm else 1.0, 3.0, FC_CAP, "fc_public", high_reason_id="fc_public")
    if traits.school == "mineral_assisted":
        return Band("fc", 0.5, 1.0, 3.0, "fc_mineral", high_reason_id="fc_mineral")
    cya = max(CYA_FLOOR_PPM, cya_ppm or 0.0)
    floor = FC_FLOOR_STABILIZED if cya_ppm else FC_FLOOR
    least_hocl = HOCL_LEAST_STEADY if traits.has_chlorinator else HOCL_LEAST
    low = min(FC_CAP, max(floor, fc_for_hocl(least_hocl, PH_STATED, cya, TEMP_STATED_C)))
    aim = min(FC_CAP, max(floor, low, fc_for_hocl(HOCL_AIM, PH_STATED, cya, TEMP_STATED_C)))
    return Band("fc", low, aim, min(FC_CAP, aim + DAILY_LOSS_PPM), "fc_scaled", high_reason_id="fc_high")


@lru_cache(maxsize=512)
def bands_for(traits: PoolTraits, cya_ppm: float | None) -> dict[str, Band]:
    """Every band of this pool, the person's own targets over the school's. cya_ppm scales free chlorine; None
    if never tested.

    The answer is kept and shared: not to be changed.
    """
    public = traits.school == "public_code"
    # Public, CC action at 0.4, pH 7.0 to 7.8: CDC Model Aquatic Health Code, from memory.
    cc = Band("cc", None, None, 0.4 if public else 0.5, "cc_public" if public else "cc_band")
    ph = Band("ph", 7.0 if public else 7.2, 7.5, 7.8, "ph_public" if public else "ph_band")
    others = (
        cc,
        ph,
        _alkalinity_band(traits),
        _calcium_band(traits),
        _stabilizer_band(traits),
        _salt_band(traits),
    )
    bands = {"fc": chlorine_band(cya_ppm, traits)} | {b.measure: _own(b, traits) for b in others}
    return (
        bands
        | {m.id: Band(m.id, *m.usual, m.usual_reason) for m in MEASURES.values() if m.usual}
        | _copper(traits)
    )


def _copper(traits: PoolTraits) -> dict[str, Band]:
    """A copper system holds 0.2 to 0.4 ppm on purpose; above that it stains (common practice)."""
    held = traits.school == "mineral_assisted"
    return {"copper": Band("copper", None, None, 0.4, "fc_mineral")} if held else {}


def _alkalinity_band(traits: PoolTraits) -> Band:
    if traits.school == "public_code":
        return Band("ta", 60, 100, 180, "ta_public", act_above=180, high_reason_id="ta_high")
    if traits.has_chlorinator:
        return Band("ta", 60, 80, 120, "ta_chlorinator", act_above=180, high_reason_id="ta_high")
    if traits.surface == "soft":
        return Band("ta", 100, 120, 150, "ta_soft", act_above=180, high_reason_id="ta_high")
    return Band("ta", 80, 100, 120, "ta_band", act_above=180, high_reason_id="ta_high")


def _calcium_band(traits: PoolTraits) -> Band:
    if traits.protects_calcium:
        return Band("ch", 200, 250, 400, "ch_plaster", act_above=1000, high_reason_id="dilute")
    return Band("ch", None, None, 400, "ch_vinyl", act_above=1000, high_reason_id="dilute")


def _salt_band(traits: PoolTraits) -> Band:
    if not traits.has_chlorinator:
        return Band("salt", None, None, None, "salt_none")
    if traits.cell_salt_ppm is None:
        return Band("salt", 2700, 3200, 3400, "salt_cell", act_above=5000, high_reason_id="dilute")
    low, high = traits.cell_salt_ppm
    return Band(
        "salt",
        low,
        (low + high) / 2,
        high,
        "salt_own_cell",
        act_above=max(5000, high),
        high_reason_id="dilute",
    )


def _stabilizer_band(traits: PoolTraits) -> Band:
    if traits.school == "public_code":
        return Band("cya", None, None, 90, "cya_public", act_above=90, high_reason_id="dilute")
    if traits.has_chlorinator:
        return Band("cya", 60, 70, 80, "cya_chlorinator", act_above=90, high_reason_id="dilute")
    if traits.sun == "full":
        return Band("cya", 40, 75, 100, "cya_sun", act_above=100, high_reason_id="dilute")
    if traits.sun == "indoor":
        return Band("cya", None, None, 50, "cya_indoor", act_above=90, high_reason_id="dilute")
    return Band("cya", 30, 40, 50, "cya_band", act_above=90, high_reason_id="dilute")


def _own(band: Band, traits: PoolTraits) -> Band:
    own = dict(traits.overrides).get(band.measure)
    if own is None:
        return band
    beyond = None if band.act_above is None or own.high is None else max(band.act_above, own.high)
    return replace(
        band,
        low=own.low,
        aim=own.aim,
        high=own.high,
        act_above=beyond,
        reason_id="own_target",
        high_reason_id="own_target",
        own=own.why,
    )


def swim_limits(traits: PoolTraits, cya_ppm: float | None) -> tuple[float, float]:
    """Free chlorine (ppm) between which people may swim: the school's minimum, and 10 (below 3 in the flat
    school).

    Common practice; at most 10: CDC Model Aquatic Health Code, from memory. Label and local code win where
    lower.
    """
    return chlorine_band(cya_ppm, traits).low or 0.0, 3.0 if traits.school == "flat_band" else FC_CAP


def shock_level_ppm(traits: PoolTraits, cya_ppm: float | None, cc_ppm: float | None = None) -> float:
    """Free chlorine (ppm) that a shock is taken to: what kills a bloom, and at least what combined chlorine
    asks for.

    Scaled: 0.3 ppm HOCl at pH 7.5, about 40 % of stabilizer; the other schools: 10 ppm. Never under 10, nor
    under 10 times combined chlorine. Common practice (the 10 x CC is a practice
    margin, theory needs far less).

    >>> pool = PoolTraits(60000, "vinyl", "liquid", "in_ground")
    >>> [round(shock_level_ppm(pool, cya)) for cya in (None, 50, 80)]
    [12, 20, 31]
    """
    level = SHOCK_FLOOR_PPM
    if traits.school == "scaled_to_stabilizer":
        level = fc_for_hocl(HOCL_KILLS, PH_STATED, max(CYA_FLOOR_PPM, cya_ppm or 0.0), TEMP_STATED_C)
    return max(SHOCK_FLOOR_PPM, level, 10 * (cc_ppm or 0.0))


def school_of(traits: PoolTraits) -> School:
    """The pool's school."""
    return SCHOOLS[traits.school]
