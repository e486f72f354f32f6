"""Whether people may swim in a water as tested."""

from kumpan.core.dosing.findings import is_high, is_low
from kumpan.core.dosing.request import Swim
from kumpan.core.guidance.conditions import SEEN
from kumpan.core.guidance.targets import Band, bands_of, health_minimum_ppm, swim_limit_ppm
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState

_BRING_STABILIZER = ("granules", "tablets")


def swim_limits(traits: PoolTraits, cya_ppm: float | None) -> tuple[float, float]:
    """Free chlorine (ppm) between which people may swim: the health minimum and the pool's swim limit.

    No stabilizer by a test counts as some where granules or tablets feed the pool: they bring it, and a tube
    cannot tell under 30.
    """
    some = traits.chlorine_source in _BRING_STABILIZER
    return health_minimum_ppm(cya_ppm or None if some else cya_ppm), swim_limit_ppm(traits)


def closed_by(seen: frozenset[str]) -> list[str]:
    """What is seen that keeps people out whatever the water reads, in words."""
    return [c.closes for c in SEEN.values() if c.id in seen and c.closes]


def swim_status(water: WaterState, traits: PoolTraits, seen: frozenset[str] = frozenset()) -> Swim:
    """Whether people may swim in this water as tested (common practice). The floor must be visible."""
    reasons = closed_by(seen)
    if not reasons and (water.fc_ppm is None or water.ph is None):
        missing = " and ".join(n for n, v in (("free chlorine", water.fc_ppm), ("pH", water.ph)) if v is None)
        return Swim(None, None, f"Swimming: test {missing} first.", (f"{missing} not tested",))
    reasons += unfit(water, traits)
    if reasons:
        return Swim(False, None, f"No swimming: {' and '.join(reasons)}.", tuple(reasons))
    cc = bands_of(traits, water)["cc"]
    smells = water.cc_ppm is not None and is_high(water.cc_ppm, cc)
    smell = " Combined chlorine is high: it may sting." if smells else ""
    return Swim(True, None, f"Swimming is fine while the floor is clearly visible.{smell}", ())


def unfit(water: WaterState, traits: PoolTraits) -> list[str]:
    """What of the readings keeps people out. Public, combined chlorine too."""
    reasons, bands = [], bands_of(traits, water)
    least, most = swim_limits(traits, water.cya_ppm)
    if water.fc_ppm is not None and water.fc_ppm < least - MEASURES["fc"].tolerance:
        reasons.append(f"chlorine under {least:g} ppm")
    if water.fc_ppm is not None and water.fc_ppm > most + MEASURES["fc"].tolerance:
        whose = " (the label's limit; enter yours)" if traits.label_fc_ppm is None and most == 4 else ""
        reasons.append(f"chlorine above {most:g} ppm{whose}")
    # Read pH 7.2 to 7.8, public 7.0 to 7.8 (CDC Model Aquatic Health Code, from memory): not a person's own
    # band.
    ph = Band("ph", 7.0 if traits.school == "public_code" else 7.2, None, 7.8, "ph_band")
    if water.ph is not None and (is_low(water.ph, ph) or is_high(water.ph, ph)):
        reasons.append(f"pH out of {ph.low:.1f} to {ph.high:.1f}")
    if traits.school == "public_code" and water.cc_ppm is not None and is_high(water.cc_ppm, bands["cc"]):
        reasons.append("combined chlorine at or above the code's 0.4 ppm")
    return reasons
