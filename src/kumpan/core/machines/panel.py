"""What a chlorinator's panel tells, judged: its lights by name, its salt never believed alone."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.core.machines.chlorinator import PANEL_APART_PPM

# Told so long ago it is old (our own).
LATE = timedelta(minutes=15)
# Lights that are known, in words; whatever else is lit is said to be unknown.
LIGHTS = {
    "low_salt": "low salt",
    "high_salt": "high salt",
    "no_flow": "no flow",
    "cold": "cold water",
    "check_cell": "check cell",
    "inspect": "inspect",
}


@dataclass(frozen=True)
class Told:
    """What a panel told. salt_ppm, temp_c: as it guesses and measures them, None where it does not;
    makes_now: whether it makes chlorine at this moment; lights: ids as it gives them.
    """

    at: datetime
    percent: float
    hours_day: float
    makes_now: bool
    salt_ppm: float | None = None
    temp_c: float | None = None
    cell_hours: float | None = None
    lights: tuple[str, ...] = ()


@dataclass(frozen=True)
class Says:
    """A sentence of what a panel tells, and its level: fine, watch or act."""

    text: str
    level: str


def judge(told: Told, tested_ppm: float | None, low_ppm: float, cutout_c: float, now: datetime) -> list[Says]:
    """What to make of it. tested_ppm: salt by an independent test of late; low_ppm: what the cell wants at
    least; cutout_c: where it stops for cold.

    Verify first (common practice): a low-salt light is a question, not an order.
    """
    lit = set(told.lights)
    cold = "cold" in lit or (told.temp_c is not None and told.temp_c < cutout_c)
    found = [] if now - told.at <= LATE else [_late(told, now)]
    if "no_flow" in lit:
        found.append(Says("No flow: pump, basket, filter, level, air. Never bypass the switch.", "act"))
    if cold:
        text = "The water is too cold for the cell: it makes nothing, and its salt reads low."
        found.append(Says(text, "watch"))
    found += _of_salt(told, tested_ppm, low_ppm, cold)
    if lit & {"check_cell", "inspect"}:
        found.append(Says("It wants its plates looked at: a reminder, or scale.", "act"))
    unknown = sorted(lit - LIGHTS.keys())
    if unknown:
        text = f"It shows {', '.join(unknown)}, which is not known here: its manual says what that is."
        found.append(Says(text, "watch"))
    return found or [Says("No light is on.", "fine")]


def _late(told: Told, now: datetime) -> Says:
    minutes = (now - told.at).total_seconds() / 60
    return Says(f"What it tells is {minutes:.0f} minutes old: not of now.", "watch")


def _of_salt(told: Told, tested_ppm: float | None, low_ppm: float, cold: bool) -> list[Says]:
    """What to make of its salt, light or figure."""
    if "low_salt" in told.lights:
        return [_low_salt(tested_ppm, low_ppm, cold)]
    if "high_salt" in told.lights:
        return [Says("High salt: test it; only fresh water lowers it.", "watch")]
    # In cold water its salt reads low: that was said, and is no fault.
    if cold or told.salt_ppm is None or tested_ppm is None:
        return []
    if abs(told.salt_ppm - tested_ppm) <= PANEL_APART_PPM:
        return []
    text = f"It says {told.salt_ppm:,.0f} ppm of salt, the test {tested_ppm:,.0f}:"
    return [Says(f"{text} recalibrate or clean, not pour.", "watch")]


def _low_salt(tested_ppm: float | None, low_ppm: float, cold: bool) -> Says:
    if cold:
        return Says("A low-salt light in cold water is usually false: test before any salt.", "watch")
    if tested_ppm is None:
        return Says("Low salt, it says: test it by strip, drops or meter before any salt.", "act")
    if tested_ppm >= low_ppm:
        text = f"Low salt, it says; the test says {tested_ppm:,.0f}: look at the plates, pour nothing."
        return Says(text, "act")
    return Says(f"Low salt, and the test agrees ({tested_ppm:,.0f} ppm): make it up.", "act")
