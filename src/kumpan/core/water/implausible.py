"""Readings that should be taken again before anything is poured on them (practice section 4, common
practice).
"""

import math
from dataclasses import dataclass

from kumpan.core.water.conflicts import BLEACHES_TESTS_FC_PPM
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState

# Panel and independent test this far apart: recalibrate or clean, do not pour (practice section 4).
PANEL_APART_PPM = 500.0
# A change this many standard deviations beyond what the log explains (our own: fewer than 1 in 300 by
# chance).
_UNEXPLAINED_SIGMAS = 3.0
_SLOW = {"ch": "ch_ppm", "cya": "cya_ppm", "salt": "salt_ppm"}
PH_WORK = frozenset({"lower_ph", "raise_ph", "raise_ta", "lower_ta", "aerate"})


@dataclass(frozen=True)
class Doubtful:
    """A reading to take again. measure: whose; message: why and how; holds_back: the roles that
    wait for it.
    """

    measure: str
    message: str
    holds_back: frozenset[str] = frozenset()


def doubtful_readings(
    water: WaterState,
    methods: dict[str, str],
    expected: dict[str, tuple[float, float]],
    plus_minus: dict[str, float],
) -> list[Doubtful]:
    """What is implausible about these readings. methods: how each was read; expected: what the log makes of a
    measure, with its 95 % error. Readings that contradict each other outright are ``conflicts``.
    """
    found: list[Doubtful] = []
    fc = water.fc_ppm
    if fc is not None and fc > BLEACHES_TESTS_FC_PPM and (water.ph is not None or water.ta_ppm is not None):
        text = (
            "Chlorine above 10 ppm upsets the dyes of the pH and alkalinity tests. Take them again once it is"
            " down; no acid or base until then."
        )
        found.append(Doubtful("ph", text, PH_WORK))
    if (
        fc is not None
        and fc < 0.3
        and METHODS.get(methods.get("fc", ""))
        and methods["fc"] in ("comparator", "photometer", "drops", "drops_25")
    ):
        text = (
            "If the sample flashed pink and went clear, chlorine is very high, not none: thin the sample with"
            " tap water and read again first."
        )
        found.append(Doubtful("fc", text))
    for measure, method in methods.items():
        found += _off_scale(measure, method, water)
    for measure, (before, error) in expected.items():
        now = getattr(water, _SLOW[measure]) if measure in _SLOW else None
        if now is None:
            continue
        apart = abs(now - before)
        label = MEASURES[measure].label
        if measure == "salt" and methods.get("salt") == "panel":
            if apart > PANEL_APART_PPM:
                text = (
                    f"The panel says {now:,.0f}, the last test and log {before:,.0f}: over 500 apart."
                    " Recalibrate or clean the cell; do not pour."
                )
                found.append(Doubtful("salt", text, frozenset({"raise_salt"})))
        elif apart > _UNEXPLAINED_SIGMAS * math.hypot(
            error, plus_minus.get(measure, 0.0)
        ) / 1.96 and apart > 0.15 * max(before, 1.0):
            text = (
                f"{label} reads {now:,.0f}; by the log it should be near {before:,.0f}. Nothing logged"
                " explains it: test again first."
            )
            found.append(Doubtful(measure, text, frozenset({f"raise_{measure}"})))
    if methods.get("salt") == "panel" and not any("raise_salt" in d.holds_back for d in found):
        text = (
            "A chlorinator's panel only estimates salt. Test it with strips, drops or a meter before adding"
            " any."
        )
        found.append(Doubtful("salt", text, frozenset({"raise_salt"})))
    return found


_FIELDS = {"fc": "fc_ppm", "tc": "fc_ppm", "ph": "ph", "ta": "ta_ppm", "cya": "cya_ppm"}


def _off_scale(measure: str, method: str, water: WaterState) -> list[Doubtful]:
    """A reading at or past the end of what its method can tell."""
    scale = METHODS[method].scale.get(measure) if method in METHODS else None
    value = getattr(water, _FIELDS[measure]) if measure in _FIELDS else None
    if scale is None or value is None:
        return []
    low, high = scale
    label, by = MEASURES[measure].label, METHODS[method].label.lower()
    if value >= high and measure == "cya":
        text = (
            f"{label} of {value:.0f} is at the end of the tube: mix the sample half and half with tap water,"
            " read again and double it."
        )
    elif value >= high:
        text = (
            f"{label} of {value:g} is at the top of what a {by} shows: it may be more. Thin the sample with"
            " tap water, or use another test."
        )
        text = (
            text
            if measure != "ph"
            else (
                f"pH of {value:g} is at the top of what a {by} shows: it may be higher. Only a meter or"
                " photometer tells."
            )
        )
    elif value < low and measure == "cya":
        text = (
            f"A stabilizer tube cannot tell below {low:.0f}: {value:.0f} means somewhere from none to"
            f" {low:.0f}."
        )
    elif value <= low and low > 0:
        text = f"{label} of {value:g} is at the bottom of what a {by} shows: it may be lower."
    else:
        return []
    return [Doubtful(measure, text)]
