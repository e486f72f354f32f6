"""Targets as data: what each measure should be in this pool, by school, surface, chlorine source and sun,
with the reason.

Schools and their figures: practice section 5 (common practice) and the published limits named in ``reasons``.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Literal

from kumpan.core.chemistry.chlorine import fc_for_hocl
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState

SchoolId = Literal["scaled_to_stabilizer", "flat_band", "public_code", "mineral_assisted"]
DEFAULT_SCHOOL: SchoolId = "scaled_to_stabilizer"


@dataclass(frozen=True)
class School:
    """A way of holding chlorine that practitioners follow. what: in a sentence; caution: what to know before
    choosing it.
    """

    id: SchoolId
    label: str
    what: str
    caution: str
    reason_id: str


SCHOOLS: dict[str, School] = {
    s.id: s
    for s in (
        School(
            "scaled_to_stabilizer",
            "scaled to stabilizer",
            "Free chlorine in proportion to stabilizer, so that the active part stays the same.",
            "",
            "fc_scaled",
        ),
        School(
            "flat_band",
            "flat band",
            "Free chlorine of 1 to 3 ppm whatever the stabilizer.",
            "It ignores that stabilizer binds chlorine: above about 30 ppm of it, 1 ppm may not keep algae"
            " off.",
            "fc_flat",
        ),
        School(
            "public_code",
            "public-pool code",
            "The limits that health codes set for public pools.",
            "Your local code always wins; Kumpan does not certify.",
            "fc_public",
        ),
        School(
            "mineral_assisted",
            "mineral-assisted",
            "Free chlorine of 0.5 to 1 ppm, copper, silver or ozone doing part of the work.",
            "Residential only, and it leaves little margin: test copper (0.2 to 0.4 ppm; above that it"
            " stains) and keep the maker's schedule.",
            "fc_mineral",
        ),
    )
}

# HOCl levels of the school (practice section 5, common practice), ppm.
HOCL_LEAST, HOCL_LEAST_STEADY, HOCL_AIM, HOCL_KILLS = 0.03, 0.02, 0.05, 0.3
SHOCK_FLOOR_PPM = 10.0
# pH and temperature at which the school's FC figures are stated, so that a target does not run after the
# reading: the pH every plan steers to, and the temperature at which the cyanurate constants are known.
PH_STATED, TEMP_STATED_C = 7.5, 25.0
CYA_FLOOR_PPM = 30.0  # below it the minimum and aim are those of 30
FC_FLOOR, FC_FLOOR_STABILIZED = 1.0, 2.0
FC_CAP = 10.0  # CDC Model Aquatic Health Code, from memory: the most one may swim in
DAILY_LOSS_PPM = 4.0  # upper end of ordinary demand in season, common practice


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

    volume_95: how far off the volume may be, as a fraction, 95 % (10 % unless proved: practice section 4).
    fill: its fill water, as far as tested; fill_metals: what of copper and iron it carries, ppm. hose_l_h:
    what the fill hose gives. cell_salt_ppm: the chlorinator's own salt range. feeder_held: what its feeder or
    floater has ever held (``FEEDER_HOLDS``).
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
    fill_metals: tuple[tuple[str, float], ...] = ()
    hose_l_h: float | None = None
    cell_salt_ppm: tuple[float, float] | None = None
    feeder_held: str | None = None

    @property
    def has_chlorinator(self) -> bool:
        """Whether a salt chlorinator feeds the pool."""
        return self.chlorine_source == "chlorinator"

    @property
    def protects_calcium(self) -> bool:
        """Whether the surface holds calcium that soft water would take. An unknown one is taken to."""
        return self.surface in ("plaster", "tile", "unknown")


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


# Metals of the fill water; a pool should hold none (practice section 5).
METALS = ("copper", "iron")
# Questions of the targets, answered on the Pool page once the pool is there.
SETTING_CHOICES: dict[str, tuple[Choice, ...]] = {
    "school": tuple(Choice(s.id, s.label) for s in SCHOOLS.values()),
    "sun": (
        Choice("part", "Some sun"),
        Choice("full", "Full sun all day"),
        Choice("shade", "Shade"),
        Choice("indoor", "Indoors"),
        Choice("unknown", "I don't know", costs="Stabilizer is then aimed as for some sun."),
    ),
    "setting": (
        Choice("unknown", "I don't know", costs="How often to skim is then a guess."),
        Choice("open", "Open ground"),
        Choice("trees", "Under trees"),
        Choice("dusty", "Dust or fields near"),
        Choice("coast", "By the sea"),
    ),
    "climate": (
        Choice("unknown", "I don't know", costs="Whether it must be closed before winter is then not known."),
        Choice("freezes", "Freezes in winter"),
        Choice("mild", "Never freezes"),
    ),
    "use": (
        Choice("unknown", "I don't know", costs="Chlorine demand is then taken as ordinary."),
        Choice("light", "Few bathers"),
        Choice("usual", "A family"),
        Choice("heavy", "Many bathers"),
    ),
}


@lru_cache(maxsize=512)
def chlorine_band(cya_ppm: float | None, traits: PoolTraits) -> Band:
    """Free chlorine's band for this much stabilizer, by the pool's school (practice section 5) or the
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
    soft = traits.surface == "soft"
    if public:
        ta = Band("ta", 60, 100, 180, "ta_public", act_above=180, high_reason_id="ta_high")
    elif traits.has_chlorinator:
        ta = Band("ta", 60, 80, 120, "ta_chlorinator", act_above=180, high_reason_id="ta_high")
    elif soft:
        ta = Band("ta", 100, 120, 150, "ta_soft", act_above=180, high_reason_id="ta_high")
    else:
        ta = Band("ta", 80, 100, 120, "ta_band", act_above=180, high_reason_id="ta_high")
    salt = Band("salt", 2700, 3200, 3400, "salt_cell", act_above=5000, high_reason_id="dilute")
    if traits.cell_salt_ppm is not None:
        low, high = traits.cell_salt_ppm
        salt = Band(
            "salt",
            low,
            (low + high) / 2,
            high,
            "salt_own_cell",
            act_above=max(5000, high),
            high_reason_id="dilute",
        )
    if not traits.has_chlorinator:
        salt = Band("salt", None, None, None, "salt_none")
    ch = (
        Band("ch", 200, 250, 400, "ch_plaster", act_above=1000, high_reason_id="dilute")
        if traits.protects_calcium
        else Band("ch", None, None, 400, "ch_vinyl", act_above=1000, high_reason_id="dilute")
    )
    # Public, CC action at 0.4, pH 7.0 to 7.8: CDC Model Aquatic Health Code, from memory.
    cc = Band("cc", None, None, 0.4 if public else 0.5, "cc_public" if public else "cc_band")
    ph = Band("ph", 7.0 if public else 7.2, 7.5, 7.8, "ph_public" if public else "ph_band")
    others = (cc, ph, ta, ch, _stabilizer_band(traits), salt)
    return {"fc": chlorine_band(cya_ppm, traits)} | {b.measure: _own(b, traits) for b in others}


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


# Targets beyond these are refused: no plan may steer there (practice sections 5 and 7; the published limits
# of the check values).
_OWN_WITHIN: dict[str, tuple[float, float]] = {
    "fc": (0.5, FC_CAP),
    "cc": (0.0, 1.0),
    "ph": (7.0, 8.0),
    "ta": (40, 240),
    "ch": (0, 1000),
    "cya": (0, 100),
    "salt": (500, 6500),
}


def checked_override(
    measure: str, low: float | None, aim: float | None, high: float | None, why: str, field: str
) -> Override:
    """A person's own target, if it can be one. Raises InvalidInput at ``{field}.low``, ``.aim`` or ``.high``.

    An aim left out is the middle. The aim lies between minimum and maximum, and nothing outside what any
    school would hold.
    """
    if measure not in _OWN_WITHIN:
        raise InvalidInput(FieldProblem(field, "unknown_measure", "This measure has no target to set."))
    label, (least, most) = MEASURES[measure].label, _OWN_WITHIN[measure]
    problems = [
        FieldProblem(
            f"{field}.{name}",
            "out_of_range",
            f"A target for {_lower(label)} lies between {least:g} and {most:g}.",
        )
        for name, value in (("low", low), ("aim", aim), ("high", high))
        if value is not None and not least <= value <= most
    ]
    if low is None and high is None and aim is None:
        problems.append(FieldProblem(f"{field}.low", "empty", "Type a minimum, a maximum or both."))
    if measure in ("ph", "ta") and (low is None or high is None):
        missing = "low" if low is None else "high"
        problems.append(
            FieldProblem(f"{field}.{missing}", "empty", f"{label} needs both a minimum and a maximum.")
        )
    if measure == "fc" and low is None:
        problems.append(
            FieldProblem(f"{field}.low", "empty", "Free chlorine needs a minimum: under it nobody swims.")
        )
    if low is not None and high is not None and low >= high:
        problems.append(
            FieldProblem(
                f"{field}.high",
                "below_minimum",
                f"The maximum ({high:g}) must be over the minimum ({low:g}).",
            )
        )
    elif aim is not None and ((low is not None and aim < low) or (high is not None and aim > high)):
        problems.append(
            FieldProblem(f"{field}.aim", "outside_band", "The aim lies between minimum and maximum.")
        )
    if problems:
        raise InvalidInput(*problems)
    if aim is None:
        aim = (low + high) / 2 if low is not None and high is not None else low if low is not None else None
    return Override(low, aim, high, why.strip())


def _lower(label: str) -> str:
    return label if label == "pH" else label.lower()


def swim_limits(traits: PoolTraits, cya_ppm: float | None) -> tuple[float, float]:
    """Free chlorine (ppm) between which people may swim: the school's minimum, and 10 (below 3 in the flat
    school).

    Practice section 7; at most 10: CDC Model Aquatic Health Code, from memory. Label and local code win where
    lower.
    """
    return chlorine_band(cya_ppm, traits).low or 0.0, 3.0 if traits.school == "flat_band" else FC_CAP


def shock_level_ppm(traits: PoolTraits, cya_ppm: float | None, cc_ppm: float | None = None) -> float:
    """Free chlorine (ppm) that a shock is taken to: what kills a bloom, and at least what combined chlorine
    asks for.

    Scaled: 0.3 ppm HOCl at pH 7.5, about 40 % of stabilizer; the other schools: 10 ppm. Never under 10, nor
    under 10 times combined chlorine. Practice section 7 and 5 (common practice; the 10 x CC is a practice
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


def overrides_of(stored: Mapping[str, Mapping[str, object]]) -> tuple[tuple[str, Override], ...]:
    """Stored targets as the core's, in a fixed order."""
    return tuple((m, Override(**stored[m])) for m in sorted(stored))  # type: ignore[arg-type]
