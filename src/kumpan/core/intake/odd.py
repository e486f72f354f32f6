"""Readings of a table that can be read but are hard to believe."""

import statistics

from kumpan.core.units import c_to_f
from kumpan.core.water.conflicts import conflict_of
from kumpan.core.water.implausible import Read, doubtful_readings
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import WaterState, with_measures

# Own threshold for a slipped decimal point: a tenth or ten times the rest, with room for what changed
_SLIP = 8.0


def implausible(readings: list[Reading]) -> list[tuple[str, str]]:
    """Which readings of a test make no sense, and why."""
    values = {r.measure: r.value for r in readings}
    water = with_measures(WaterState(), values)
    read = {r.measure: Read(r.value, r.method, r.u95) for r in readings}
    # A chlorine of nothing is worth a second look at the pool's side, but no doubt years later.
    oddities = [
        (d.measure, d.message)
        for d in doubtful_readings(water, read, {})
        if not (d.measure == "fc" and (water.fc_ppm or 0) < 0.3)
    ]
    if water.has_ph_chemistry and _may_conflict(water) and (conflict := conflict_of(water)):
        oddities.append(
            (next(m.id for m in MEASURES.values() if m.field == conflict.fields[0]), conflict.message)
        )
    return oddities


def _may_conflict(water: WaterState) -> bool:
    """A cheap look before ``conflict_of``: whether alkalinity is near what stabilizer, borate and chlorine
    alone could ever give (all of each ionised: 50.04 ppm a milliequivalent over its molar mass), or pH is so
    low that CO2 might fizz.
    """
    most_ta = 0.39 * (water.cya_ppm or 0.0) + 4.7 * (water.borate_ppm or 0.0) + 0.71 * (water.fc_ppm or 0.0)
    return (water.ta_ppm or 0.0) <= most_ta + 1 or (water.ph or 0.0) < 6.3


def odd_temperatures(read: list[tuple[int, Reading]]) -> list[tuple[int, str]]:
    """Celsius in a Fahrenheit column, or the other way about."""
    odd = [(line, r) for line, r in read if not 0 <= r.value <= 42]
    shown = [(line, c_to_f(r.value) if r.unit == "°F" else r.value, r.unit) for line, r in odd]
    return [
        (line, f"{value:g} {unit} as water temperature: is the unit right?") for line, value, unit in shown
    ]


def slipped(read: list[tuple[int, Reading]]) -> list[tuple[int, str]]:
    """A tenth or ten times the rest of their column. read: by line."""
    if len(read) < 4:
        return []
    middle = statistics.median(r.value for _, r in read)
    return [
        (line, f"{r.value:g} where the others are about {middle:,.0f}: a slip of the decimal point?")
        for line, r in read
        if r.value > 0 and middle and not middle / _SLIP < r.value < middle * _SLIP
    ]
