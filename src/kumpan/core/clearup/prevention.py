"""Why it grew, by what the log says, and what to change; told after a run."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from kumpan.core.clearup import tables as t
from kumpan.core.guidance.targets import algae_minimum_ppm
from kumpan.core.pool.traits import PoolTraits

PHOSPHATE = "phosphate"
_HOURS_LEAST = 8.0  # one turnover a day (common practice)
_BACK_DAYS = 8.0  # within a week or so it never was over (common practice)
_STORM_MM = 15.0
_UNTESTED_DAYS = 7.0
_CYA_HIGH = 70.0


@dataclass(frozen=True)
class Past:
    """What the log tells of the weeks before a run. fc: (at, ppm) as read, oldest first; cya_ppm: as last
    read; pump_hours: a day, None where not recorded; rain_mm: the most on one day; last_over: when the last
    run ended.
    """

    begun: datetime
    fc: Sequence[tuple[datetime, float]] = ()
    cya_ppm: float | None = None
    pump_hours: float | None = None
    rain_mm: float = 0.0
    phosphate_ppb: float | None = None
    ph_high: bool = False
    last_over: datetime | None = None


@dataclass(frozen=True)
class Why:
    """One thing that may have let it in, the change it asks for, the test that follows up."""

    id: str
    found: str
    change: str
    follow_up: str = ""


def why_it_grew(past: Past, traits: PoolTraits) -> tuple[Why, ...]:
    """What may have let the algae in, the likeliest first (common practice). Empty where the log tells
    nothing.
    """
    found = [
        _back(past),
        _under(past, traits),
        _untested(past),
        _pump(past),
        _stabilizer(past),
        _storm(past),
        _phosphate(past),
        _ph(past),
    ]
    return tuple(one for one in found if one is not None)


def is_back(past: Past) -> bool:
    """Whether it came back within about a week of the last run."""
    return past.last_over is not None and (past.begun - past.last_over).total_seconds() < _BACK_DAYS * 86400


def _back(past: Past) -> Why | None:
    if not is_back(past) or past.last_over is None:
        return None
    days = (past.begun - past.last_over).total_seconds() / 86400
    return Why(
        "back",
        f"It is back {days:.0f} days after the last run: it was never over.",
        "Test phosphate first; hold the level to its end, then the hidden places: lights, ladder,"
        " skimmer, filter.",
        "A night's reading a week after the end.",
    )


def _under(past: Past, traits: PoolTraits) -> Why | None:
    least = algae_minimum_ppm(past.cya_ppm)
    low = [v for _, v in past.fc if v < least - 0.25]
    if not low:
        return None
    return Why(
        "under",
        f"{len(low)} of {len(past.fc)} readings before it were under {least:.1f} ppm, the least that"
        " keeps algae"
        f" off{_at(past.cya_ppm)}.",
        "Hold the aim of this stabilizer: raise the setting, more hours, or dose midweek.",
        "Free chlorine twice a week for a month.",
    )


def _at(cya_ppm: float | None) -> str:
    return "" if cya_ppm is None else f" at {cya_ppm:.0f} ppm stabilizer"


def _untested(past: Past) -> Why | None:
    last = past.fc[-1][0] if past.fc else None
    days = None if last is None else (past.begun - last).total_seconds() / 86400
    if days is not None and days <= _UNTESTED_DAYS:
        return None
    found = (
        "No test in the month before it."
        if days is None
        else f"Nothing was read for {days:.0f} days before it."
    )
    return Why("untested", found, "Test twice a week in season; after rain and heavy use at once.")


def _pump(past: Past) -> Why | None:
    if past.pump_hours is None or past.pump_hours >= _HOURS_LEAST:
        return None
    return Why(
        "pump",
        f"The pump runs {past.pump_hours:g} hours a day.",
        "At least 8 hours, one turnover; jets turned down against dead spots.",
    )


def _stabilizer(past: Past) -> Why | None:
    if past.cya_ppm is None or past.cya_ppm <= _CYA_HIGH:
        return None
    return Why(
        "stabilizer",
        f"Stabilizer at {past.cya_ppm:.0f} ppm binds the chlorine.",
        "Exchange water to 30 to 50; tablets stop, liquid from here.",
        "Stabilizer after the exchange.",
    )


def _storm(past: Past) -> Why | None:
    if past.rain_mm < _STORM_MM:
        return None
    return Why(
        "storm",
        f"{past.rain_mm / 25.4:.1f} in of rain on one day before it.",
        "After a storm: net, test and dose the same day.",
    )


def _phosphate(past: Past) -> Why | None:
    if past.phosphate_ppb is None or past.phosphate_ppb <= t.PHOSPHATE_PPB:
        return None
    return Why(
        "phosphate",
        f"Phosphate at {past.phosphate_ppb:.0f} ppb feeds what chlorine misses.",
        "Remover by its label once it is clear: about 8 fl oz per 10,000 gal. It loads the filter:"
        " watch the gauge.",
        "Phosphate a week after.",
    )


def _ph(past: Past) -> Why | None:
    if not past.ph_high:
        return None
    return Why(
        "ph",
        "pH read 7.9 or more before it.",
        "Acid weekly: at high pH the same chlorine does half the work.",
    )
