"""What the readings mean against this pool's targets."""

import math
from dataclasses import dataclass

from kumpan.core.chemistry.chlorine import forms_of
from kumpan.core.chemistry.saturation import dissolved_solids_ppm, langelier_index, other_alkalinity_ppm
from kumpan.core.dosing.request import Finding, Level, Verdict
from kumpan.core.dosing.uncertainty import SURE, odds, sure_margin
from kumpan.core.guidance.schools import FC_CAP, TEMP_STATED_C
from kumpan.core.guidance.targets import Band, bands_of, shock_level_ppm
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.implausible import Read
from kumpan.core.water.measures import IN_STATE, MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState, solution_of, value_of
from kumpan.core.water.untested import standing_in

# Calcium under this is soft water (common practice).
_SOFT_PPM = 150.0


def diagnose(
    water: WaterState,
    traits: PoolTraits,
    u95: dict[str, float] | None = None,
    methods: dict[str, str] | None = None,
) -> tuple[Finding, ...]:
    """Judge every known measure: low, fine or high, and whether it wants action now; or that this test cannot
    tell.

    u95: 95 % error of each reading, none being exact. methods: how each was read, for what to test
    with instead.

    Bands and their sources: ``guidance.targets``.
    """
    bands = bands_of(traits, water)
    findings, shock = [], shock_level_ppm(traits, water.cya_ppm, water.cc_ppm, water.temp_c)
    for measure in IN_STATE:
        value = value_of(water, measure)
        if value is not None and measure in bands and value != MEASURES[measure].assumed:
            error = (u95 or {}).get(measure, 0.0)
            fill = value_of(traits.fill, measure) or 0.0
            findings.append(
                _judge(Read(value, (methods or {}).get(measure, ""), error), bands[measure], fill, shock)
            )
    return tuple(findings)


def slack(band: Band, u95: float) -> float:
    """How far past a limit a reading must lie to count as past it: its rounding, and what its method can
    tell.

    Chlorine under its minimum counts as read: safety does not wait for a better test.

    In the measure's canonical unit. Our own.
    """
    return max(MEASURES[band.measure].tolerance, sure_margin(u95))


# Under their band by no more than their method's error these are left: nothing is dosed on less than a test
# can tell, and they can wait (our own).
_PATIENT = ("ta", "ch", "cya")


def is_low(value: float, band: Band, u95: float = 0.0) -> bool:
    """Whether a reading is under the band, as far as its method can tell; chlorine as read.

    Canonical units. How sure a verdict must be is our own.
    """
    margin = MEASURES["fc"].tolerance if band.measure == "fc" else slack(band, u95)
    if band.measure in _PATIENT:
        margin = max(margin, u95)
    return band.low is not None and value < band.low - margin


def is_high(value: float, band: Band, u95: float = 0.0) -> bool:
    """Whether a reading is over the band, as far as its method can tell. CC is high at its limit.

    Canonical units. How sure a verdict must be is our own.
    """
    if band.high is None:
        return False
    if band.measure == "cc" and sure_margin(u95) == 0:
        return value >= band.high - 1e-9
    return value > band.high + slack(band, u95)


def must_dilute(value: float, band: Band, u95: float = 0.0) -> bool:
    """Whether only fresh water helps and the reading is beyond leaving alone, as far as its method
    can tell.

    ppm. Limits: ``guidance.targets``.
    """
    dilutable = MEASURES[band.measure].dilutes and band.act_above is not None
    return dilutable and value > (band.act_above or 0.0) + max(1e-9, sure_margin(u95))


def dilution_share(value: float, target: float, fill: float = 0.0) -> float:
    """Share of the water to drain and refill so that ``value`` falls to ``target`` with water that holds
    ``fill``.

    (value - target) / (value - fill) (mass balance; check values, dilution). The fill water holds less than
    the target.

    >>> round(dilution_share(100, 60), 2)
    0.4
    """
    return (value - target) / (value - fill)


def dilution_goal(band: Band, fill: float = 0.0) -> float | None:
    """What to bring a measure down to with this fill water: its band's top, or, with fill water over that,
    where leaving alone begins.

    None where the fill water holds too much even for that.

    ppm. Our own.
    """
    return next((goal for goal in (band.high, band.act_above) if goal is not None and fill < goal), None)


def overflow_share(value: float, target: float) -> float:
    """Volumes of clean water to run through, mixing as it overflows, so that ``value`` falls to ``target``.

    ln(value/target) (continuous exchange, fully mixed; check values, dilution).

    Both ppm, above 0.

    >>> round(overflow_share(100, 60), 2)
    0.51
    """
    return math.log(value / target)


def _judge(read: Read, band: Band, fill: float, shock_ppm: float) -> Finding:
    """One reading against its band. fill: what the fill water holds; shock_ppm: what a shock goes to."""
    measure, value, u95 = band.measure, read.value, read.u95
    label = MEASURES[measure].label
    level: Level = "fine"
    verdict: Verdict = "fine"
    sentence, reason = f"{label} is fine.", band.reason_id
    if band.low is None and band.high is None:
        return Finding(
            measure,
            value,
            "none",
            "no target",
            band,
            f"{label} has no target in this pool.",
            reason,
            u95,
        )
    if is_low(value, band, u95):
        level, verdict = "act", "low"
        sentence = f"{label} is low: at least {band.low:.{MEASURES[measure].decimals}f} wanted."
    elif is_high(value, band, u95):
        verdict, reason = "high", band.high_reason_id or band.reason_id
        level, sentence = _judge_high(read, band, fill, shock_ppm)
    elif u95 and odds(value, u95, band).fine < SURE:
        return _cannot_tell(read, band)
    elif measure == "ch" and band.low is None and value < _SOFT_PPM:
        sentence = "Calcium is low, which does not matter on this surface."
    return Finding(measure, value, level, verdict, band, sentence, reason, u95)


def _cannot_tell(read: Read, band: Band) -> Finding:
    """Between two verdicts, none of them sure."""
    measure, value, u95, method = band.measure, read.value, read.u95, read.method
    m, by = MEASURES[measure], METHODS[method].label.lower() if method in METHODS else "this test"
    chance = odds(value, u95, band)
    words = [w for w, p in (("low", chance.low), ("fine", chance.fine), ("high", chance.high)) if p > 0.1]
    name = m.name
    span = f"{max(m.least, value - u95):,.{m.decimals}f} to {value + u95:,.{m.decimals}f}"
    if method in METHODS and METHODS[method].coarse:
        finer = "a salinity meter or drops" if measure == "salt" else "a drop test"
        text = f"By {by} {name} may be {span}: {' or '.join(words)}. Use {finer} before dosing on it."
        return Finding(measure, value, "watch", "cannot tell", band, text, "cannot_tell", u95)
    text = (
        f"{name[0].upper() + name[1:] if measure != 'ph' else name} is at the edge: it may be {span}. Leave"
        " it and test again."
    )
    return Finding(measure, value, "watch", "edge", band, text, "cannot_tell", u95)


def _judge_high(read: Read, band: Band, fill: float, shock_ppm: float) -> tuple[Level, str]:
    """How much a reading over its band matters, and what is to be done."""
    measure, value = band.measure, read.value
    label = MEASURES[measure].label
    assert band.high is not None
    if MEASURES[measure].dilutes:
        goal = dilution_goal(band, fill)
        if goal is None or goal >= value:
            text = (
                f"{label} is high, and the fill water holds {fill:,.0f} itself: only softer water, hauled or"
                " treated, brings it into its band."
            )
            return "watch", text
        text = (
            f"{label} is high. Only fresh water lowers it: replacing {dilution_share(value, goal, fill):.0%}"
            f" brings {goal:,g}."
        )
        return ("act" if must_dilute(value, band, read.u95) else "watch"), text
    if MEASURES[measure].when_high:
        limit = f"{band.high:.{MEASURES[measure].decimals}f} {MEASURES[measure].unit}"
        return "watch", f"{label} is over {limit}. {MEASURES[measure].when_high}"
    if measure == "ta":
        return "watch", "Alkalinity is high; leave it while pH holds, each acid dose lowers it a little."
    if measure == "fc":
        if value > FC_CAP:
            return "act", "Chlorine is above 10 ppm: no swimming, and add none."
        return "watch", "Chlorine is above its band: add none, sun and time take it down."
    if measure == "cc":
        return (
            "act",
            (
                f"Combined chlorine is high: a shock at dusk, to {shock_ppm:.0f} ppm free, clears it:"
                " begin one under Clear-up."
            ),
        )
    return "act", f"{label} is high: at most {band.high:.{MEASURES[measure].decimals}f} wanted."


def does_not_matter(finding: Finding) -> bool:
    """Whether a reading is low and of no account here: calcium on a surface that holds none."""
    band = finding.band
    return finding.measure == "ch" and band is not None and band.low is None and finding.value < _SOFT_PPM


def hypochlorous_acid_ppm(water: WaterState) -> float | None:
    """HOCl in ppm as Cl2, or None where FC, pH or stabilizer is unknown. 25 C where no temperature
    is known.

    O'Brien, Morris & Butler (1974); Morris (1966).
    """
    if water.fc_ppm is None or water.ph is None or water.cya_ppm is None:
        return None
    temp_c = TEMP_STATED_C if water.temp_c is None else water.temp_c
    return forms_of(water.fc_ppm, water.ph, water.cya_ppm, temp_c).hocl_ppm


@dataclass(frozen=True)
class Saturation:
    """Calcite saturation index from the equilibrium, and Langelier's. Each a (low, high): one figure unless
    salt or chlorine was not tested and stands for all it could be."""

    index: tuple[float, float]
    langelier: tuple[float, float]


def saturation_of(water: WaterState) -> Saturation | None:
    """Both indices, or None where pH, alkalinity, stabilizer, calcium or temperature is unknown, calcium is
    none, or the readings conflict.

    Dimensionless. Plummer & Busenberg (1982); Langelier (1936).
    """
    ph, ta, ch, cya, temp_c = water.ph, water.ta_ppm, water.ch_ppm, water.cya_ppm, water.temp_c
    if ph is None or ta is None or not ch or cya is None or temp_c is None:
        return None
    index, langelier = [], []
    for w in standing_in(water):
        assert w.fc_ppm is not None and w.salt_ppm is not None
        s = solution_of(w)
        corrected = ta - other_alkalinity_ppm(ph, temp_c, cya, w.borate_ppm, w.fc_ppm)
        if s.ct <= 0 or corrected <= 0:
            return None
        tds = dissolved_solids_ppm(ta, ch, cya, w.salt_ppm, w.borate_ppm)
        index.append(float(s.si_calcite))
        langelier.append(langelier_index(ph, temp_c, ch, corrected, tds))
    return Saturation((min(index), max(index)), (min(langelier), max(langelier)))
