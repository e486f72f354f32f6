"""What the log says of measures the present test leaves out. A simple fold; not yet an estimate.

Each measure is carried from its last reading through the doses logged since, no longer than
its ``carry_days``; chlorine and pH are never carried.
"""

from dataclasses import dataclass
from datetime import datetime

from kumpan.core.water.measures import MEASURES, Reading
from kumpan.core.water.state import Change, WaterState, apply, diluted, with_measures

CARRIED = {"ta": "ta_ppm", "ch": "ch_ppm", "cya": "cya_ppm", "salt": "salt_ppm", "temp": "temp_c",
           "borate": "borate_ppm"}  # fmt: skip


@dataclass(frozen=True)
class Happened:
    """One thing in the log: a test's readings, a dose's change, or the fraction of water replaced."""

    at: datetime
    readings: tuple[Reading, ...] = ()
    change: Change | None = None
    fraction: float | None = None


@dataclass(frozen=True)
class Carried:
    """Carried values in ``water`` and how old each is, days; plus_minus of its last reading."""

    water: WaterState
    age_days: dict[str, float]
    plus_minus: dict[str, float]


def carry(log: list[Happened], now: datetime) -> Carried:
    """Fold the log, oldest first, into the measures that may stand in for missing ones."""
    water = WaterState()
    read: dict[str, Reading] = {}
    read_at: dict[str, datetime] = {}
    for happened in log:
        for reading in happened.readings:
            if reading.measure in CARRIED:
                water = with_measures(water, {CARRIED[reading.measure]: reading.value})
                read[reading.measure], read_at[reading.measure] = reading, happened.at
        if happened.change is not None:
            water = apply(water, happened.change.spent)
        if happened.fraction is not None:
            water = diluted(water, happened.fraction)
    ages = {m: (now - at).total_seconds() / 86400 for m, at in read_at.items()}
    kept = {m: max(0.0, age) for m, age in ages.items() if age <= MEASURES[m].carry_days}
    values = {CARRIED[m]: getattr(water, CARRIED[m]) for m in kept}
    known = {m: age for m, age in kept.items() if values[CARRIED[m]] is not None}
    values["borate_ppm"] = water.borate_ppm  # none until tested or dosed, and it stays
    return Carried(with_measures(WaterState(), values), known, {m: read[m].plus_minus for m in known})
