"""What an untested measure could be, where pH chemistry leans on it. No value is ever made up: both ends are
allowed for.
"""

from dataclasses import fields, replace
from itertools import product

from kumpan.core.chemistry.solution import alkalinity_at
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.state import AllowedFor, WaterState, totals_of, with_fields

# The span an untested measure may lie in (our own, wide on purpose): pool water in use.
SPANS: dict[str, tuple[float, float]] = {
    "fc_ppm": (0.0, 10.0),
    "ch_ppm": (0.0, 600.0),
    "salt_ppm": (200.0, 6000.0),
    "temp_c": (5.0, 35.0),
}
_TOWARD_PH = 7.5  # where corrections steer


def untested(water: WaterState) -> tuple[str, ...]:
    """Measures whose span would be allowed for: those of ``SPANS`` that are not known."""
    return tuple(f for f in SPANS if getattr(water, f) is None)


def ends(water: WaterState) -> list[AllowedFor]:
    """Every corner of what the untested measures could be; a single one where all are known."""
    sides = [SPANS[f] if getattr(water, f) is None else (SPANS[f][0],) for f in SPANS]
    names = [f.name for f in fields(AllowedFor)]
    return [AllowedFor(**dict(zip(names, corner, strict=True))) for corner in product(*sides)]


def allowing_for(water: WaterState) -> WaterState:
    """The water, leaning on the corner of the untested measures that asks for the least acid or base.

    So what was not tested makes a dose smaller, never larger; the re-test after it decides the rest.
    Unchanged where pH, alkalinity or stabilizer is missing: the chemistry then cannot be had at all.

    Spans: our own, wide on purpose.
    """
    if water.ph is None or water.ta_ppm is None or water.cya_ppm is None or not untested(water):
        return water
    corners = [replace(water, allowed_for=corner) for corner in ends(water)]
    possible = [w for w in corners if conflict_of(w) is None] or corners

    def needed(w: WaterState) -> float:
        totals = totals_of(w)
        return abs(float(alkalinity_at(totals, _TOWARD_PH) - totals.alk))

    return min(possible, key=needed)


def standing_in(water: WaterState) -> list[WaterState]:
    """The water with its untested measures at every corner of what they could be: itself alone where all are
    known.
    """
    missing = untested(water)
    return [with_fields(water, {f: getattr(corner, f) for f in missing}) for corner in ends(water)]
