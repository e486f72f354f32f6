"""The schools of clearing a pool, how bad a bloom is, and the figures a run is foretold from.

Standing of each figure beside it. What is foretold comes from here alone; the simulated pools only judge it.
"""

from dataclasses import dataclass
from typing import Literal

Aim = Literal["algae", "shock"]
SchoolId = Literal["hold", "bags", "once"]
Means = Literal["chlorine", "oxidiser", "boost"]
SeverityId = Literal["tint", "steps", "hidden"]


@dataclass(frozen=True)
class School:
    """A way to kill a bloom. what: in a sentence; limits: what it asks for."""

    id: SchoolId
    label: str
    what: str
    limits: str


SCHOOLS: dict[str, School] = {
    s.id: s
    for s in (
        School(
            "hold",
            "hold the level",
            "Raise free chlorine to the level that kills at this stabilizer, read it every few hours,"
            " top up"
            " each time. Quickest, and it proves that it is over.",
            "Asks for a kit that can tell 1 ppm at that level.",
        ),
        School(
            "bags",
            "timed bags",
            "The same amount at 0, 12 and 24 hours, about 10 ppm each, then look. Little to measure.",
            "Blind between the rounds: some pools take more, and only a reading can say so.",
        ),
    )
}


@dataclass(frozen=True)
class Severity:
    """How bad a bloom is, by sight. takes_ppm: free chlorine that the living and the dead use up in all, over
    what sun and an ordinary day take; kill_days: until nothing lives while the level is held; clear_days:
    until what is dead is filtered out, by sand. All our own, within common practice: a light bloom a day or
    two, a swamp three to fourteen.
    """

    id: SeverityId
    label: str
    seen: str
    takes_ppm: float
    kill_days: float
    clear_days: float


SEVERITIES: dict[str, Severity] = {
    s.id: s
    for s in (
        Severity("tint", "a tint", "green or dull, the floor still plain", 5.0, 0.5, 0.7),
        Severity("steps", "steps only", "only the steps can be made out", 14.0, 0.9, 1.7),
        Severity("hidden", "a swamp", "the floor cannot be seen", 28.0, 1.6, 2.9),
    )
}

# A filter's pace against sand's (our own): DE catches most of what passes, sand a quarter.
FILTER_PACE = {"sand": 1.0, "cartridge": 0.75, "de": 0.55}
# Of the level, what goes in a day besides, by how often it is topped up, in full sun (our own, about a
# half-life of 8 h in sun at ordinary levels, shorter at these: the more is held, the more goes).
DAILY_SHARE = {4: 1.35, 2: 0.65, 1: 0.55}
SUN_SHARE = {"full": 1.0, "part": 0.75, "shade": 0.45, "indoor": 0.25}
# How much longer the kill takes by timed bags, and where somebody looks once a day (our own).
PACE_BAGS, PACE_ONCE = 1.5, 1.5
# Three rounds take a day, whatever dies meanwhile (common practice), two where somebody looks once a day.
BAGS_LEAST_DAYS = 1.3
# A person sees that it is clear, and a night, or two clear days, prove it (our own).
PROVE_DAYS, PROVE_DAYS_STRIP = 1.1, 2.6
# What of three rounds of bags a bloom may take before more go in (our own).
BAGS_SPARE_PPM = 6.0
# The 80 % span round what is foretold: from and to, as factors; at most a factor of three apart.
SPAN_DAYS, SPAN_CHLORINE = (0.70, 1.60), (0.78, 1.40)

# No shock level is held above this: dilute first (common practice).
MOST_LEVEL_PPM = 30.0
# A round of timed bags, and the most in all before a finer reading where only strips are at hand (common
# practice: two 1-lb bags of 65 % at 15,000 gal are 10.4 ppm).
ROUND_PPM, ROUND_MOST_PPM, BLIND_MOST_PPM, ROUNDS = 10.0, 10.5, 31.5, 3
ROUND_H = 12.0
# The end: combined chlorine, loss over a night (common practice), and what a night's reading has to hold of
# the level to count (our own).
CC_END_PPM, NIGHT_LOSS_PPM, NIGHT_SHARE = 0.5, 1.0, 0.75
# By strips alone: clear and nothing new for so long, and this much left next morning (our own).
STRIP_CLEAR_H, STRIP_FC_PPM = 48.0, 3.0
# Minutes until a pour has mixed enough to be read at all, and until it is asked for (common practice).
MIXED_MIN, CHECK_MIN = 20, 60
# Two readings nearer than this are one check, the last counts (our own).
SAME_CHECK_MIN = 20
# Dusk and dawn where the pool's place is not known (our own).
DUSK_H, DAWN_H = 20.5, 6.0
# Over this free chlorine pH does not read true, and a dye may bleach (common practice).
PH_UNREAD_OVER_PPM = 10.0
# Phosphate over which its remover is a help (common practice), ppb.
PHOSPHATE_PPB = 100.0
# Stabilizer over which water goes before a swamp is treated (common practice), ppm.
CYA_DRAIN_PPM = 90.0
