"""Readings that should be taken again before anything is poured on them: common practice, no source."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from kumpan.core.water.conflicts import BLEACHES_TESTS_FC_PPM
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS, at_scale_end
from kumpan.core.water.state import WaterState, value_of

# Panel and independent test this far apart: recalibrate or clean, do not pour (common practice).
PANEL_APART_PPM = 500.0
# A change this many standard deviations beyond what the log explains: our own, fewer than 1 in 300 by chance.
_UNEXPLAINED_SIGMAS = 3.0
_FLASH_BELOW_PPM = 0.3  # a bleached dye reads next to nothing: our own
PH_WORK = frozenset({"lower_ph", "raise_ph", "raise_ta", "lower_ta", "aerate"})


@dataclass(frozen=True)
class Doubtful:
    """A reading to take again. measure: whose; message: why and how; holds_back: the roles that
    wait for it.
    """

    measure: str
    message: str
    holds_back: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Read:
    """A reading as it is judged: its value (canonical), its method's id and its expanded
    uncertainty (95 %).
    """

    value: float
    method: str
    u95: float = 0.0


def doubtful_readings(
    water: WaterState, read: Mapping[str, Read], expected: Mapping[str, tuple[float, float]]
) -> list[Doubtful]:
    """What is implausible about readings, by measure. water: what they and the log make of it; expected: what
    the log made of a measure before, with its 95 % error. Readings that contradict each other outright are
    ``conflicts``.

    Values in canonical units, errors 95 %. Common practice; the three sigmas are our own.
    """
    signs = _bleached(water, read)
    for measure, r in read.items():
        signs += _off_scale(measure, r)
    for measure, (before, error) in expected.items():
        now = value_of(water, measure) if MEASURES[measure].dilutes else None
        if now is not None:
            signs += _unexplained(measure, now, before, error, read.get(measure))
    if _by_panel(read.get("salt")) and not any("raise_salt" in d.holds_back for d in signs):
        text = (
            "A chlorinator's panel only estimates salt. Test it with strips, drops or a meter before adding"
            " any."
        )
        signs.append(Doubtful("salt", text, frozenset({"raise_salt"})))
    return signs


def _by_panel(read: Read | None) -> bool:
    return read is not None and read.method == "panel"


def _bleached(water: WaterState, read: Mapping[str, Read]) -> list[Doubtful]:
    """Chlorine so high that it upsets the dyes of other tests, or of its own."""
    fc, signs = water.fc_ppm, []
    if fc is None:
        return []
    if fc > BLEACHES_TESTS_FC_PPM and (water.ph is not None or water.ta_ppm is not None):
        text = (
            "Chlorine above 10 ppm upsets the dyes of the pH and alkalinity tests. Take them again once it is"
            " down; no acid or base until then."
        )
        signs.append(Doubtful("ph", text, PH_WORK))
    if fc < _FLASH_BELOW_PPM and "fc" in read and METHODS[read["fc"].method].flashes:
        text = (
            "If the sample flashed pink and went clear, chlorine is very high, not none: thin the sample with"
            " bottled water and read again first."
        )
        signs.append(Doubtful("fc", text))
    return signs


def _unexplained(measure: str, now: float, before: float, error: float, read: Read | None) -> list[Doubtful]:
    """A slow measure that nothing in the log has moved so far; salt by a panel far from the test's."""
    apart = abs(now - before)
    if _by_panel(read) and measure == "salt":
        text = (
            f"The panel says {now:,.0f}, the last test and log {before:,.0f}: over 500 apart."
            " Recalibrate or clean the cell; do not pour."
        )
        return [Doubtful("salt", text, frozenset({"raise_salt"}))] if apart > PANEL_APART_PPM else []
    sigma = math.hypot(error, read.u95 if read else 0.0) / 1.96
    if apart <= _UNEXPLAINED_SIGMAS * sigma or apart <= 0.15 * max(before, 1.0):
        return []
    text = (
        f"{MEASURES[measure].label} reads {now:,.0f}; by the log it should be near {before:,.0f}."
        " Nothing logged explains it: test again first."
    )
    return [Doubtful(measure, text, frozenset({f"raise_{measure}"}))]


def _off_scale(measure: str, read: Read) -> list[Doubtful]:
    """A reading at or past the end of what its method can tell."""
    worth = METHODS[read.method].reads.get(measure) if read.method in METHODS else None
    end = at_scale_end(read.method, measure, read.value)
    if worth is None or worth.scale is None or end == 0:
        return []
    low, value = worth.scale[0], read.value
    label, by = MEASURES[measure].label, METHODS[read.method].label.lower()
    by_tube = measure == "cya"
    if end > 0 and by_tube:
        text = (
            f"{label} of {value:.0f} is at the end of the tube: mix the sample half and half with tap water,"
            " read again and double it."
        )
    elif end > 0 and measure == "ph":
        text = (
            f"pH of {value:g} is at the top of what a {by} shows: it may be higher. Only a meter or"
            " photometer tells."
        )
    elif end > 0:
        text = (
            f"{label} of {value:g} is at the top of what a {by} shows: it may be more. Thin the sample with"
            " tap water, or use another test."
        )
    elif by_tube and value < low:
        text = (
            f"A stabilizer tube cannot tell below {low:.0f}: {value:.0f} means somewhere from none to"
            f" {low:.0f}."
        )
    elif low > 0:
        text = f"{label} of {value:g} is at the bottom of what a {by} shows: it may be lower."
    else:
        return []
    return [Doubtful(measure, text)]
