"""The saturation index as a target: whether it is off, and the least change that helps."""

import math
from dataclasses import replace

from kumpan.core.dosing.acts import AERATE, AERATE_TO_PH, Act, Pour, acid, kept_apart
from kumpan.core.dosing.findings import saturation_of
from kumpan.core.dosing.situation import Situation
from kumpan.core.dosing.uncertainty import sure_margin
from kumpan.core.guidance.targets import INDEX_HIGH, INDEX_HIGH_PUBLIC, INDEX_LOW
from kumpan.core.water.implausible import PH_WORK
from kumpan.core.water.state import amount_to_ph, apply

# The pH that acid may steer to against scale, the highest first: inside the ideal 7.4 to 7.6 where that does.
_PH_STEPS = (7.7, 7.6, 7.5, 7.4)
# Calcium is raised against soft water to here at most: the top of what plaster is aimed at (common practice).
_CH_MOST_PPM = 300.0


def index_of(s: Situation) -> float | None:
    """The saturation index of the water as tested; None where a reading it needs is missing.

    Plummer & Busenberg (1982), through ``findings.saturation_of``.
    """
    found = saturation_of(s.water)
    return None if found is None else sum(found.index) / 2


def off_index(s: Situation) -> float:
    """By how much the index lies over (positive) or under its band where it is a target, as far as the
    readings can tell; 0 where it does not or cannot be had.

    It waits while salt is being made up, and while calcium is under its band: that comes first.

    Band: -0.3 to +0.3 by common practice, public to +0.5 by ANSI/APSP/ICC-11 2019, from memory.
    """
    found = index_of(s) if s.traits.minds_index and not s.low("salt") and not s.low("ch") else None
    if found is None:
        return 0.0
    ta, ch = s.water.ta_ppm or 1.0, s.water.ch_ppm or 1.0
    # The index follows pH one for one, and the logarithm of alkalinity and calcium (its definition).
    u95 = math.hypot(s.u95("ph"), s.u95("ta") / ta / math.log(10), s.u95("ch") / ch / math.log(10))
    slack = max(0.02, sure_margin(u95))
    high = INDEX_HIGH_PUBLIC if s.traits.school == "public_code" else INDEX_HIGH
    if found > high + slack:
        return found - high
    return found - INDEX_LOW if found < INDEX_LOW - slack else 0.0


def index_act(s: Situation) -> Act | None:
    """The least change that brings the saturation index back toward its band, where surface, heater or cell
    make it a target: acid where it scales; alkalinity, calcium or air where it dissolves.

    Amounts g or mL. Common practice; the order is our own.
    """
    off = off_index(s)
    if off == 0.0 or s.held & PH_WORK:
        return None
    if off > 0:
        goal = _acid_goal(s)
        told = (s.water.ph or 0.0) - goal > max(s.u95("ph"), 0.05)
        return kept_apart(s, acid(s, goal)) if told else None
    return kept_apart(s, _against_soft_water(s))


def _acid_goal(s: Situation) -> float:
    """The highest pH, of those acid may steer to, at which the index is back in its band; the lowest where
    none is. The acid's own effect on alkalinity is counted.
    """
    pour = Pour(s, "lower_ph")
    for goal in _PH_STEPS:
        amount = amount_to_ph(s.water, pour.per, goal) if goal < (s.water.ph or 0.0) else None
        if amount is None:
            continue
        found = saturation_of(replace(apply(s.water, pour.per * amount), ph=goal))
        if found is not None and sum(found.index) / 2 <= INDEX_HIGH:
            return goal
    return _PH_STEPS[-1]


def _against_soft_water(s: Situation) -> Act | None:
    """Bicarbonate while alkalinity has room, else calcium while it has, else air; no base with pH in band."""
    ta, ch, ph = s.water.ta_ppm, s.water.ch_ppm, s.water.ph
    aim, top = s.bands["ta"].aim, min(s.bands["ch"].high or _CH_MOST_PPM, _CH_MOST_PPM)
    if ta is not None and aim is not None and aim - ta > max(s.u95("ta"), 5.0):
        pour = Pour(s, "raise_ta")
        return pour.act((aim - ta) / pour.rise("ta"), pour.most)
    if ch is not None and top - ch > max(s.u95("ch"), 10.0):
        pour = Pour(s, "raise_ch")
        return pour.act((top - ch) / pour.rise("ch"), pour.most)
    if ph is not None and AERATE_TO_PH - ph > max(s.u95("ph"), 0.1):
        return Act(AERATE, to_ph=AERATE_TO_PH)
    return None
