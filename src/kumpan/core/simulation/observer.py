"""Reading a simulated pool by a test method, with that method's error."""

from dataclasses import dataclass, field
from random import Random

from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState, value_of

_BLEACHES_PPM = 10.0  # FC over which dyes bleach and pH reads wrong (common practice)


@dataclass(frozen=True)
class Kit:
    """A kit and its owner's eye. bias: by how many of the method's sigmas each measure always reads off."""

    method: str
    bias: dict[str, float] = field(default_factory=dict)


def read(kit: Kit, water: WaterState, measure: str, rng: Random) -> float | None:
    """A reading of one measure in its canonical unit, rounded to the method's resolution and held to its
    scale; None where the method does not read it. Errors: normal, as the method's 95 % say.

    Over about 10 ppm a dye may flash and read none (one time in three), and pH reads high by half: our own.
    """
    method = METHODS[kit.method]
    worth = method.reads.get(measure)
    if worth is None:
        return None
    free, combined = water.fc_ppm or 0.0, water.cc_ppm or 0.0
    true = free + combined if measure == "tc" else value_of(water, measure)
    if true is None:
        return None
    if method.flashes and free > _BLEACHES_PPM and measure in ("fc", "tc") and rng.random() < 1 / 3:
        return 0.0
    if measure == "ph" and free > _BLEACHES_PPM:
        true += 0.5
    sigma = method.u95(measure, true) / SIGMAS_95
    value = true + sigma * (kit.bias.get(measure, 0.0) + rng.gauss(0.0, 1.0))
    value = round(value / worth.step) * worth.step
    low, high = worth.scale or (MEASURES[measure].least, MEASURES[measure].most)
    return round(min(high, max(low, value)), 6)


def read_all(kit: Kit, water: WaterState, measures: tuple[str, ...], rng: Random) -> dict[str, float]:
    """What the kit reads of these measures, by measure."""
    readings = {m: read(kit, water, m, rng) for m in measures}
    return {m: value for m, value in readings.items() if value is not None}
