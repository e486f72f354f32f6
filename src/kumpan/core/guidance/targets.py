"""Targets as data: what each measure should be in this pool, by school, surface, chlorine source and sun,
with the reason.

Schools and their figures: common practice and the published limits named in ``reasons``.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from types import MappingProxyType

from kumpan.core.chemistry.chlorine import fc_for_hocl
from kumpan.core.guidance.schools import (
    CELL_SHARE,
    CYA_FLOOR_PPM,
    DAILY_LOSS_PPM,
    FC_AIM_MOST,
    FC_CAP,
    FC_FLOOR,
    FC_FLOOR_STABILIZED,
    HOCL_AIM,
    HOCL_KILLS,
    HOCL_LEAST,
    HOCL_LEAST_STEADY,
    LABEL_FC_PPM,
    PH_STATED,
    SCHOOLS,
    SHOCK_FLOOR_PPM,
    TEMP_STATED_C,
    School,
)
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState

SALT_AIM_PPM = 3200.0  # what most hold a cell's salt at (common practice)
# Where the saturation index lies where it is a target: -0.3 to +0.3 (common practice); public pools to +0.5
# (ANSI/APSP/ICC-11 2019, from memory).
INDEX_LOW, INDEX_HIGH, INDEX_HIGH_PUBLIC = -0.3, 0.3, 0.5


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


def swim_limit_ppm(traits: PoolTraits) -> float:
    """The most free chlorine (ppm) people may swim in: the lowest of the product's label, the school's and
    10.

    10: CDC Model Aquatic Health Code, from memory. A label that is not recorded counts as 4 ppm, which many
    name (from memory). The flat school waits for 3 (common practice). A local code wins where lower.
    """
    label = LABEL_FC_PPM if traits.label_fc_ppm is None else traits.label_fc_ppm
    return min(label, FC_CAP, 3.0 if traits.school == "flat_band" else FC_CAP)


def health_minimum_ppm(cya_ppm: float | None) -> float:
    """The least free chlorine (ppm) people may swim in: 1, and 2 with any stabilizer or where it is unknown.

    CDC Model Aquatic Health Code, from memory.
    """
    return FC_FLOOR if cya_ppm == 0 else FC_FLOOR_STABILIZED


def algae_minimum_ppm(cya_ppm: float | None, temp_c: float | None = None, fed: bool = False) -> float:
    """Free chlorine (ppm) that keeps algae off: HOCl of 0.03 ppm at pH 7.5, 0.02 where a cell feeds steadily.

    Common practice for the levels; O'Brien, Morris & Butler (1974) for the chlorine that holds them. Below 30
    ppm stabilizer, or with it unknown, that of 30. temp_c: None for 25 C.

    >>> round(algae_minimum_ppm(50), 1), round(algae_minimum_ppm(50, fed=True), 1)
    (3.6, 2.5)
    """
    least = HOCL_LEAST_STEADY if fed else HOCL_LEAST
    cya = max(CYA_FLOOR_PPM, cya_ppm or 0.0)
    return max(health_minimum_ppm(cya_ppm), fc_for_hocl(least, PH_STATED, cya, _at(temp_c)))


def _at(temp_c: float | None) -> float:
    """The temperature targets are stated at, to the degree: a target does not run after every reading."""
    return TEMP_STATED_C if temp_c is None else float(round(temp_c))


def chlorine_band(
    cya_ppm: float | None, traits: PoolTraits, temp_c: float | None = None, fed: bool | None = None
) -> Band:
    """Free chlorine's band for the stabilizer that is in the water now, by the pool's school (common
    practice) or the person's own target.

    Scaled: the minimum keeps algae off (``algae_minimum_ppm``), the aim holds HOCl at 0.05 ppm, or 7 % of
    stabilizer where a cell feeds steadily; at most 8 and the swim limit, never under the health minimum.
    Where algae ask for more than one may swim in, the band ends at the aim. temp_c: None for 25 C. fed:
    whether a cell feeds, None where nothing says that it does not.

    >>> pool = PoolTraits(60000, "vinyl", "liquid", "in_ground", label_fc_ppm=10)
    >>> [round(v, 1) for v in (chlorine_band(50, pool).low, chlorine_band(50, pool).aim)]
    [3.6, 5.6]
    """
    steady = traits.has_chlorinator if fed is None else fed
    return _own(_chlorine_band(cya_ppm, traits, _at(temp_c), steady), traits)


@lru_cache(maxsize=1024)
def _chlorine_band(cya_ppm: float | None, traits: PoolTraits, temp_c: float, fed: bool) -> Band:
    least, most = health_minimum_ppm(cya_ppm), swim_limit_ppm(traits)
    if traits.school == "flat_band":
        top = 3.0 if cya_ppm == 0 else 4.0
        return Band("fc", least, min(3.0, most), top, "fc_flat", high_reason_id="fc_flat")
    if traits.school == "public_code":
        # Ideal 2 to 4: ANSI/APSP/ICC-11 2019; at most 10: CDC Model Aquatic Health Code; from memory.
        return Band("fc", least, min(3.0, most), FC_CAP, "fc_public", high_reason_id="fc_public")
    if traits.school == "mineral_assisted":
        return Band(
            "fc", least, min(least + 0.5, most), least + 1.0, "fc_mineral", high_reason_id="fc_mineral"
        )
    cya = max(CYA_FLOOR_PPM, cya_ppm or 0.0)
    wanted = CELL_SHARE * cya if fed else fc_for_hocl(HOCL_AIM, PH_STATED, cya, temp_c)
    aim = max(least, min(wanted, FC_AIM_MOST, most))
    low = min(algae_minimum_ppm(cya_ppm, temp_c, fed), aim)
    return Band("fc", low, aim, min(FC_CAP, aim + DAILY_LOSS_PPM), "fc_scaled", high_reason_id="fc_high")


def bands_of(traits: PoolTraits, water: WaterState) -> Mapping[str, Band]:
    """Every band of this pool for the water that is in it: its stabilizer, its temperature, its cell on or
    off."""
    fed = traits.cell_feeds(water.salt_ppm, water.temp_c)
    return bands_for(traits, water.cya_ppm, None if water.temp_c is None else _at(water.temp_c), fed)


@lru_cache(maxsize=1024)
def bands_for(
    traits: PoolTraits, cya_ppm: float | None, temp_c: float | None = None, fed: bool | None = None
) -> Mapping[str, Band]:
    """Every band of this pool, the person's own targets over the school's. cya_ppm scales free chlorine; None
    if never tested.
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
    bands = {"fc": chlorine_band(cya_ppm, traits, temp_c, fed)} | {b.measure: _own(b, traits) for b in others}
    usual = {m.id: Band(m.id, *m.usual, m.usual_reason) for m in MEASURES.values() if m.usual}
    return MappingProxyType(bands | usual | _copper(traits))  # kept and shared: not to be changed


def _copper(traits: PoolTraits) -> dict[str, Band]:
    """A copper system holds 0.2 to 0.4 ppm on purpose; above that it stains (common practice)."""
    held = traits.school == "mineral_assisted"
    return {"copper": Band("copper", None, None, 0.4, "fc_mineral")} if held else {}


def _alkalinity_band(traits: PoolTraits) -> Band:
    if traits.school == "public_code":
        return Band("ta", 60, 100, 180, "ta_public", high_reason_id="ta_high")
    if traits.has_chlorinator:
        return Band("ta", 60, 80, 100, "ta_chlorinator", high_reason_id="ta_high")
    if traits.surface == "soft":
        return Band("ta", 100, 120, 150, "ta_soft", high_reason_id="ta_high")
    return Band("ta", 80, 100, 120, "ta_band", high_reason_id="ta_high")


def _calcium_band(traits: PoolTraits) -> Band:
    if traits.protects_calcium:
        return Band("ch", 200, 250, 400, "ch_plaster", act_above=1000, high_reason_id="dilute")
    return Band("ch", None, None, 400, "ch_vinyl", act_above=1000, high_reason_id="dilute")


def _salt_band(traits: PoolTraits) -> Band:
    """To the cell's recorded aim, else 3,200 where its range holds that, else the range's middle (our own);
    never under its minimum, else 2,700 (common practice).
    """
    if not traits.has_chlorinator:
        return Band("salt", None, None, None, "salt_none")
    low, high = traits.cell_salt_ppm or (2700.0, 3400.0)
    usual = SALT_AIM_PPM if low < SALT_AIM_PPM < high else (low + high) / 2
    aim = usual if traits.cell_salt_aim_ppm is None else min(high, max(low, traits.cell_salt_aim_ppm))
    reason = "salt_cell" if traits.cell_salt_ppm is None else "salt_own_cell"
    return Band("salt", low, aim, high, reason, act_above=max(5000, high), high_reason_id="dilute")


def _stabilizer_band(traits: PoolTraits) -> Band:
    """What lies inside any school's band is not low: 30 is the least of them. Over 90 the water is exchanged
    this week (our own ladder); a small soft-sided pool is filled anew past 50 (our own).
    """
    if traits.school == "public_code":
        return Band("cya", None, None, 90, "cya_public", act_above=90, high_reason_id="dilute")
    if traits.sun == "indoor":
        return Band("cya", None, None, 50, "cya_indoor", act_above=90, high_reason_id="dilute")
    if traits.is_small_soft:
        return Band("cya", 30, 40, 50, "cya_band", act_above=50, high_reason_id="dilute")
    if traits.has_chlorinator:
        return Band("cya", 30, 40, 80, "cya_chlorinator", act_above=90, high_reason_id="dilute")
    if traits.sun == "full":
        return Band("cya", 30, 75, 90, "cya_sun", act_above=90, high_reason_id="dilute")
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


def shock_level_ppm(
    traits: PoolTraits, cya_ppm: float | None, cc_ppm: float | None = None, temp_c: float | None = None
) -> float:
    """Free chlorine (ppm) that a shock is taken to: what kills a bloom, and at least what combined chlorine
    asks for.

    Scaled: 0.3 ppm HOCl at pH 7.5, about 40 % of stabilizer; the other schools: 10 ppm. Never under 10, nor
    under 10 times combined chlorine of 0.5 or more, which asks for 20 at most. Common practice (the 10 x CC
    is a practice margin, theory needs far less).

    >>> pool = PoolTraits(60000, "vinyl", "liquid", "in_ground")
    >>> [round(shock_level_ppm(pool, cya)) for cya in (None, 50, 80)]
    [12, 20, 31]
    """
    level = SHOCK_FLOOR_PPM
    if traits.school == "scaled_to_stabilizer":
        level = kill_level_ppm(cya_ppm, temp_c)
    return max(SHOCK_FLOOR_PPM, level, combined_asks_ppm(cc_ppm))


def combined_asks_ppm(cc_ppm: float | None) -> float:
    """Free chlorine (ppm) that combined chlorine asks for: ten times it from 0.5 on, at most 20; 0 under
    that.

    Common practice, a margin: theory needs far less.
    """
    return min(20.0, 10 * cc_ppm) if cc_ppm is not None and cc_ppm >= 0.5 else 0.0


def kill_level_ppm(cya_ppm: float | None, temp_c: float | None = None, hocl_ppm: float = HOCL_KILLS) -> float:
    """Free chlorine (ppm) that kills a bloom: so much HOCl at pH 7.5, 0.3 ppm being about 40 % of stabilizer;
    never under 10. Below 30 ppm stabilizer, or with it unknown, that of 30. temp_c: None for 25 C.

    Common practice for the 0.3 (mustard 0.5); O'Brien, Morris & Butler (1974) for the chlorine that holds it.

    >>> [round(kill_level_ppm(cya)) for cya in (0, 30, 50, 80)]
    [12, 12, 20, 31]
    """
    level = fc_for_hocl(hocl_ppm, PH_STATED, max(CYA_FLOOR_PPM, cya_ppm or 0.0), _at(temp_c))
    return max(SHOCK_FLOOR_PPM, level)


def school_of(traits: PoolTraits) -> School:
    """The pool's school."""
    return SCHOOLS[traits.school]
