"""What the readings mean against this pool's targets."""

import math
from dataclasses import dataclass

from kumpan.core.chemistry.chlorine import forms_of
from kumpan.core.chemistry.saturation import corrected_alkalinity_ppm, dissolved_solids_ppm, langelier_index
from kumpan.core.guidance.bands import FC_CAP, TEMP_STATED_C, Band, PoolTraits, bands_for
from kumpan.core.planning.model import FIELD_OF, Finding, Level, Swim, value_of
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState, solution_of
from kumpan.core.water.uncertain import standing_in

# What these share: the reading is never compared more finely than any test can show.
TOLERANCE = {"fc": 0.05, "cc": 0.05, "ph": 0.01, "ta": 1.0, "ch": 1.0, "cya": 0.5, "salt": 10.0}


def diagnose(water: WaterState, traits: PoolTraits) -> tuple[Finding, ...]:
    """Judge every known measure: low, fine or high, and whether it wants action now."""
    bands = bands_for(traits, water.cya_ppm)
    findings = []
    for measure in FIELD_OF:
        value = value_of(water, measure)
        if value is not None and measure in bands:
            findings.append(_judge(measure, value, bands[measure], traits))
    return tuple(findings)


def is_low(value: float, band: Band) -> bool:
    """Whether a reading is under the band, by more than its rounding."""
    return band.low is not None and value < band.low - TOLERANCE[band.measure]


def is_high(value: float, band: Band) -> bool:
    """Whether a reading is over the band, by more than its rounding. CC is high at its limit."""
    if band.high is None:
        return False
    if band.measure == "cc":
        return value >= band.high - 1e-9
    return value > band.high + TOLERANCE[band.measure]


def must_dilute(value: float, band: Band) -> bool:
    """Whether only fresh water helps and the reading is beyond leaving alone."""
    return band.measure in ("cya", "ch", "salt") and band.act_above is not None and value > band.act_above + 1e-9


def dilution_share(value: float, target: float) -> float:
    """Share of the water to drain and refill so that ``value`` falls to ``target`` with clean water.

    1 - target/value (mass balance; check values, dilution).

    >>> round(dilution_share(100, 60), 2)
    0.4
    """
    return 1 - target / value


def overflow_share(value: float, target: float) -> float:
    """Volumes of clean water to run through, mixing as it overflows, so that ``value`` falls to ``target``.

    ln(value/target) (continuous exchange, fully mixed; check values, dilution).

    >>> round(overflow_share(100, 60), 2)
    0.51
    """
    return math.log(value / target)


def _judge(measure: str, value: float, band: Band, traits: PoolTraits) -> Finding:
    label = MEASURES[measure].label
    level: Level = "fine"
    word, sentence, reason = "fine", f"{label} is fine.", band.reason_id
    if band.low is None and band.high is None:
        return Finding(measure, value, "none", "no target", band, f"{label} has no target in this pool.", reason)
    if is_low(value, band):
        level, word = "act", "low"
        sentence = f"{label} is low: at least {band.low:.{MEASURES[measure].decimals}f} wanted."
    elif is_high(value, band):
        word, reason = "high", band.high_reason_id or band.reason_id
        level, sentence = _judge_high(measure, value, band, label)
    elif measure == "ch" and band.low is None and value < 150:
        sentence = "Calcium is low, which does not matter on this surface."
    return Finding(measure, value, level, word, band, sentence, reason)


def _judge_high(measure: str, value: float, band: Band, label: str) -> tuple[Level, str]:
    assert band.high is not None
    if measure in ("cya", "ch", "salt"):
        share = dilution_share(value, band.high)
        text = f"{label} is high. Only fresh water lowers it: replacing {share:.0%} brings {band.high:g}."
        return ("act" if must_dilute(value, band) else "watch"), text
    if measure == "ta" and band.act_above is not None and value <= band.act_above:
        return "watch", "Alkalinity is high; leave it while pH holds, each acid dose lowers it a little."
    if measure == "fc":
        if value > FC_CAP:
            return "act", "Chlorine is above 10 ppm: no swimming, and add none. Sun and time take it down."
        return "watch", "Chlorine is above its band: add none, sun and time take it down."
    if measure == "cc":
        return "act", "Combined chlorine is high: a shock at dusk clears it. Kumpan does not plan shocks yet."
    return "act", f"{label} is high: at most {band.high:.{MEASURES[measure].decimals}f} wanted."


def active_chlorine_ppm(water: WaterState) -> float | None:
    """HOCl in ppm as Cl2, or None where FC, pH or stabilizer is unknown. 25 C where no temperature is known."""
    if water.fc_ppm is None or water.ph is None or water.cya_ppm is None:
        return None
    temp_c = TEMP_STATED_C if water.temp_c is None else water.temp_c
    return forms_of(water.fc_ppm, water.ph, water.cya_ppm, temp_c).hocl_ppm


@dataclass(frozen=True)
class Saturation:
    """Calcite saturation index from the equilibrium, and Langelier's. Each a (low, high): one figure unless salt or
    chlorine was not tested and stands for all it could be."""

    index: tuple[float, float]
    langelier: tuple[float, float]


def saturation_of(water: WaterState) -> Saturation | None:
    """Both indices, or None where pH, alkalinity, stabilizer, calcium or temperature is unknown, calcium is none, or the
    readings conflict."""
    ph, ta, ch, cya, temp_c = water.ph, water.ta_ppm, water.ch_ppm, water.cya_ppm, water.temp_c
    if ph is None or ta is None or not ch or cya is None or temp_c is None:
        return None
    index, langelier = [], []
    for w in standing_in(water):
        assert w.fc_ppm is not None and w.salt_ppm is not None
        s = solution_of(w)
        corrected = corrected_alkalinity_ppm(ta, ph, temp_c, cya, w.borate_ppm, w.fc_ppm)
        if s.ct <= 0 or corrected <= 0:
            return None
        tds = dissolved_solids_ppm(ta, ch, cya, w.salt_ppm, w.borate_ppm)
        index.append(float(s.calcite))
        langelier.append(langelier_index(ph, temp_c, ch, corrected, tds))
    return Saturation((min(index), max(index)), (min(langelier), max(langelier)))


def swim_status(water: WaterState, traits: PoolTraits) -> Swim:
    """Whether people may swim in this water as tested (practice section 7). The floor must be visible."""
    bands = bands_for(traits, water.cya_ppm)
    if water.fc_ppm is None or water.ph is None:
        missing = " and ".join(n for n, v in (("free chlorine", water.fc_ppm), ("pH", water.ph)) if v is None)
        return Swim(None, None, f"Swimming: test {missing} first.", (f"{missing} not tested",))
    reasons = []
    if is_low(water.fc_ppm, bands["fc"]):
        reasons.append("too little chlorine")
    if water.fc_ppm > FC_CAP:
        reasons.append("chlorine above 10 ppm")
    if is_low(water.ph, bands["ph"]) or is_high(water.ph, bands["ph"]):
        reasons.append("pH out of 7.2 to 7.8")
    if reasons:
        return Swim(False, None, f"No swimming: {' and '.join(reasons)}.", tuple(reasons))
    return Swim(True, None, "Swimming is fine while the floor is clearly visible.", ())
