"""The test methods, assembled from what the measures' rows say of each."""

from dataclasses import dataclass
from functools import cached_property

from kumpan.core.water.measures import MEASURES, Worth


@dataclass(frozen=True)
class Method:
    """A way to read measures. strict: it reads what the measures' rows name and nothing else. coarse: a
    common finer one beats it. flashes: very high chlorine bleaches its dye, so that it reads none.
    """

    id: str
    label: str
    strict: bool = False
    coarse: bool = False
    flashes: bool = False

    @cached_property
    def reads(self) -> dict[str, Worth]:
        """What its readings are worth, by measure."""
        return {m.id: m.by[self.id] for m in MEASURES.values() if self.id in m.by}

    def u95(self, measure: str, value: float) -> float:
        """Expanded uncertainty (95 %) of a reading in the measure's canonical unit; 0 where none is
        stated.
        """
        worth = self.reads.get(measure)
        return 0.0 if worth is None else max(worth.u95, worth.relative * abs(value))


METHODS: dict[str, Method] = {
    m.id: m
    for m in (
        Method("drops", "Drop kit", flashes=True),
        Method("drops_25", "Drop kit, 25 mL sample", flashes=True),
        Method("strip", "Test strip", coarse=True),
        Method("comparator", "Colour comparator", strict=True, coarse=True, flashes=True),
        Method("photometer", "Photometer", flashes=True),
        Method("lab", "Shop laboratory"),
        Method("salt_meter", "Salinity meter", strict=True),
        Method("panel", "Chlorinator panel", strict=True, coarse=True),
        Method("thermometer", "Thermometer", strict=True),
    )
}


def at_scale_end(method: str, measure: str, value: float) -> int:
    """-1 or 1 where a reading lies at or past the low or high end of what its method can read, else 0.

    There the true value may lie beyond. 0 as well where the method or its scale is not known.

    Canonical unit. Scales: from memory, beside each measure's row.

    >>> at_scale_end("drops", "cya", 100), at_scale_end("drops", "ph", 7.4)
    (1, 0)
    """
    worth = METHODS[method].reads.get(measure) if method in METHODS else None
    if worth is None or worth.scale is None:
        return 0
    low, high = worth.scale
    return 1 if value >= high else -1 if value <= low else 0
