"""The sums of a season's work: antifreeze in lines, pumping out, salt for water that went."""

import math

# Inside diameters of PVC pipe, inches, by schedule and nominal size: ASTM D1785, from memory. ``bore`` is a
# pipe whose true bore is what it is named by. The usual size first.
BORES_IN: dict[str, dict[str, float]] = {
    "40": {"1.5": 1.610, "1": 1.049, "1.25": 1.380, "2": 2.067, "2.5": 2.469, "3": 3.068},
    "80": {"1.5": 1.500, "1": 0.957, "1.25": 1.278, "2": 1.939, "2.5": 2.323, "3": 2.900},
    "bore": {"1.5": 1.5, "1": 1.0, "1.25": 1.25, "2": 2.0, "2.5": 2.5, "3": 3.0},
}
_CM_PER_IN, CM_PER_FT = 2.54, 30.48


def pipe_holds_l(length_m: float, nominal_in: str, schedule: str) -> float:
    """What a pipe holds, litres: the cylinder of its bore. Raises KeyError for a size or schedule not listed.

    >>> round(pipe_holds_l(0.3048, "1.5", "40") / 3.785411784, 3)
    0.106
    """
    bore_cm = BORES_IN[schedule][nominal_in] * _CM_PER_IN
    return math.pi * bore_cm**2 / 4 * length_m * 100 / 1000


def hours_to_move(litres: float, flow_l_h: float) -> float:
    """How long so much water takes at a flow. Raises ZeroDivisionError without flow."""
    return litres / flow_l_h


def salt_lost_g(salt_ppm: float, drained_l: float, fill_ppm: float = 0.0) -> float:
    """Salt that goes with so much water, less what the fill brings back; never below nothing, g.

    >>> round(salt_lost_g(3200, 5000 * 3.785411784) / 453.59237)
    134
    """
    return max(0.0, salt_ppm - fill_ppm) * drained_l / 1000
