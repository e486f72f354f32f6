"""The guides of a salt cell made for one pool, and what its output test comes to."""

import math
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from kumpan.core.machines import cell_rows
from kumpan.core.machines.bath import BathWords
from kumpan.core.machines.guide import Guide, Row
from kumpan.core.machines.light_rows import light_rows
from kumpan.core.machines.pad import Pad

_CELL = Pad(has_cell=True, cell_power=True)
# The cell lies on the bench: begun inside its look, which brings the pump back.
_ON_THE_BENCH = Pad(
    pump=False, auto=False, shut_off=True, has_cell=True, cell_in=False, scaled=True, pressure=False
)
_NAMES = {
    "cell": "The cell's plates",
    "cell_hand": "Deposits off by hand",
    "cell_bath": "Acid bath",
    "cell_light": "The chlorinator's light",
    "cell_output": "What the cell makes",
    "boost": "Boost",
    "spots": "Salt at several spots",
}
# Nights and a day's boost go on while nobody says anything.
_TWO_NIGHTS_MIN, _BOOST_MIN = 3 * 1440.0, 2 * 1440.0
# More baths than this within a day are refused: the coating goes with the scale (our own).
MOST_BATHS_A_DAY = 2


def _guide(subject: str, rows: tuple[Row, ...], pad: Pad, **more: float) -> Guide:
    return Guide(subject, _NAMES[subject], rows, pad, "cell_look", **more)


def look(pad: Pad = _CELL) -> Guide:
    """Taking the cell out, grading its plates, putting it back."""
    return _guide("cell", cell_rows.LOOK, pad)


def by_hand() -> Guide:
    """Deposits off by hand and hose; the cell is out already."""
    return _guide("cell_hand", cell_rows.BY_HAND, _ON_THE_BENCH)


def acid_bath(told: BathWords, parts: float, so_far: int) -> Guide:
    """The acid bath; the cell is out already."""
    return _guide("cell_bath", cell_rows.bath_rows(told, parts, so_far), _ON_THE_BENCH)


def light(cutout: str, salt: str) -> Guide:
    """What a light means, in the trade's order."""
    return _guide("cell_light", light_rows(cutout, salt), _CELL)


def output_test(nights: cell_rows.Nights, before: str) -> Guide:
    """Two nights, the cell off and at 100 %."""
    return _guide("cell_output", cell_rows.output_rows(nights, before), _CELL, idle_min=_TWO_NIGHTS_MIN)


def boost(before: str) -> Guide:
    """Full output for a day and a night."""
    return _guide("boost", cell_rows.boost_rows(before), _CELL, idle_min=_BOOST_MIN)


def spots() -> Guide:
    """Salt at several spots."""
    return Guide("spots", _NAMES["spots"], cell_rows.spot_rows(), Pad(), "mixing")


@dataclass(frozen=True)
class Night:
    """Free chlorine over a night, ppm, with 95 % of the two readings together, and its hours."""

    lost_ppm: float
    u95: float
    hours: float


def night(dusk: tuple[datetime, float, float], dawn: tuple[datetime, float, float]) -> Night:
    """A night from two readings, each (at, ppm, 95 %)."""
    hours = (dawn[0] - dusk[0]).total_seconds() / 3600
    return Night(dusk[1] - dawn[1], math.hypot(dusk[2], dawn[2]), hours)


@dataclass(frozen=True)
class OutputFound:
    """What two nights found. share: of its rated output that the cell makes, with its 95 %; verdict:
    ``fades``, ``sound`` or ``unsure``.
    """

    made_ppm_h: float
    rated_ppm_h: float
    share: float
    share_95: float
    verdict: Literal["fades", "sound", "unsure"]


# Under this share of its rated output a cell fades (our own).
FADED_SHARE = 0.7


def output_found(off: Night, full: Night, rated_ppm_h: float) -> OutputFound:
    """What the cell makes: what the night at 100 % gained, and what the night without it shows that the dark
    takes. rated_ppm_h: what it makes new, ppm an hour in this pool.

    A ratio of two differences: its error is that of the four readings over what is rated. Sound or fading is
    only said where the whole span lies at one side of seven tenths.

    >>> off, full = Night(0.6, 0.3, 10.0), Night(-2.0, 0.3, 10.0)
    >>> found = output_found(off, full, 0.3)
    >>> round(found.share, 2), round(found.share_95, 2), found.verdict
    (0.87, 0.14, 'sound')
    """
    dark = off.lost_ppm / off.hours
    made = -full.lost_ppm / full.hours + dark
    error = math.hypot(off.u95 / off.hours, full.u95 / full.hours)
    share, share_95 = made / rated_ppm_h, error / rated_ppm_h
    verdict: Literal["fades", "sound", "unsure"] = "unsure"
    if share + share_95 < FADED_SHARE:
        verdict = "fades"
    elif share - share_95 >= FADED_SHARE:
        verdict = "sound"
    return OutputFound(made, rated_ppm_h, share, share_95, verdict)
