"""Whether people may swim in a water as tested."""

from kumpan.core.dosing.findings import is_high, is_low
from kumpan.core.dosing.request import Swim
from kumpan.core.guidance.conditions import SEEN
from kumpan.core.guidance.targets import bands_for, swim_limits
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState


def swim_status(water: WaterState, traits: PoolTraits, seen: frozenset[str] = frozenset()) -> Swim:
    """Whether people may swim in this water as tested (common practice). The floor must be visible."""
    reasons = [c.closes for c in SEEN.values() if c.id in seen and c.closes]
    if not reasons and (water.fc_ppm is None or water.ph is None):
        missing = " and ".join(n for n, v in (("free chlorine", water.fc_ppm), ("pH", water.ph)) if v is None)
        return Swim(None, None, f"Swimming: test {missing} first.", (f"{missing} not tested",))
    reasons += _unfit(water, traits)
    if reasons:
        return Swim(False, None, f"No swimming: {' and '.join(reasons)}.", tuple(reasons))
    return Swim(True, None, "Swimming is fine while the floor is clearly visible.", ())


def _unfit(water: WaterState, traits: PoolTraits) -> list[str]:
    """What of the readings keeps people out."""
    reasons, bands = [], bands_for(traits, water.cya_ppm)
    least, most = swim_limits(traits, water.cya_ppm)
    if water.fc_ppm is not None and water.fc_ppm < least - MEASURES["fc"].tolerance:
        reasons.append("too little chlorine")
    if water.fc_ppm is not None and water.fc_ppm > most + MEASURES["fc"].tolerance:
        reasons.append(f"chlorine above {most:g} ppm")
    ph = bands["ph"]
    if water.ph is not None and (is_low(water.ph, ph) or is_high(water.ph, ph)):
        reasons.append(f"pH out of {ph.low or 7.0:.1f} to {ph.high or 7.8:.1f}")
    if traits.school == "public_code" and water.cc_ppm is not None and is_high(water.cc_ppm, bands["cc"]):
        reasons.append("combined chlorine above the code's 0.4 ppm")
    return reasons
