"""The schools of clearing a pool, how bad a bloom is, and the figures a run is foretold from.

Standing of each figure beside it. What is foretold comes from here alone; the simulated pools only judge it.
"""

from dataclasses import dataclass
from typing import Literal

from kumpan.core.guidance.schools import HOCL_KILLS, HOCL_KILLS_MUSTARD

Aim = Literal["algae", "shock", "demand", "incident"]
SchoolId = Literal["hold", "bags", "every_other", "same_day", "once"]
KindId = Literal["green", "mustard", "black"]
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
        School(
            "every_other",
            "every other day",
            "About 7 ppm each second dusk (1 lb of dichlor in 10,000 gal), tablets in their feeder besides,"
            " or the same by liquid each dusk. Dead in three to seven days, clear in ten to fourteen.",
            "Nothing is poured while free chlorine reads 10 or more. Not for a swamp.",
        ),
        School(
            "same_day",
            "same day",
            "One raise to the level now, stir the floor, look at 30 minutes, a fresh cartridge at two"
            " hours and"
            " whenever it loads; the floor is seen next day.",
            "For a small pool with a cartridge. One chlorine product alone: granules and liquid together"
            " react"
            " violently. Compare with emptying it first.",
        ),
    )
}


@dataclass(frozen=True)
class Kind:
    """A kind of algae that a run may be on. hocl_ppm: active chlorine that kills it; held_h: hours that the
    level is held on once all else says it is over; week_days: days at raised chlorine after the kill; pace:
    how much longer it takes to kill than green (our own). what: of it, in a sentence.
    """

    id: KindId
    label: str
    hocl_ppm: float
    held_h: float
    week_days: int
    pace: float
    what: str


# 0.3 ppm kills a bloom and black, 0.5 mustard; a day more, a week more: common practice.
KINDS: dict[str, Kind] = {
    kind.id: kind
    for kind in (
        Kind("green", "Green", HOCL_KILLS, 0, 0, 1.0, "Floats, or sits on walls and floor."),
        Kind(
            "mustard",
            "Mustard",
            HOCL_KILLS_MUSTARD,
            24,
            0,
            1.7,
            "The level is higher and is held a day longer; what hung in the water is treated too.",
        ),
        Kind(
            "black",
            "Black",
            HOCL_KILLS,
            0,
            7,
            2.0,
            "A shock only bleaches its caps. After the kill a week of hard brushing follows, free chlorine"
            " raised each dusk.",
        ),
    )
}


@dataclass(frozen=True)
class Active:
    """What is in an algae product. says: what that means before a run, or after it."""

    id: str
    label: str
    says: str


_PREVENTS = "It prevents and does not cure: after the water is clear, while free chlorine reads under 5."
ACTIVES: dict[str, Active] = {
    a.id: a
    for a in (
        Active("polyquat", "Polyquat", f"{_PREVENTS} Prefer a high share: weak jugs are mostly water."),
        Active(
            "copper",
            "Copper",
            f"{_PREVENTS} Not with a copper system, nor where copper reads over 0.2: it stains.",
        ),
        Active(
            "bromide",
            "Sodium bromide",
            "Leave it: it turns the pool to bromine for good, which sun eats and no stabilizer holds.",
        ),
        Active(
            "ammonium",
            "An ammonium salt",
            "Leave it: 2 lb at 15,000 gal take 26 ppm of chlorine before any stays. If it went in"
            " already: no acid,"
            " dichlor, trichlor or oxidiser and no other school until combined chlorine reads 0.5 or less.",
        ),
        Active(
            "unknown",
            "The label does not say",
            "Leave it until you know. One that wants pH 7.8 or more, pulls pH down and foams is by its"
            " signs an"
            " ammonium one (from memory).",
        ),
    )
}  # common practice


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
# How much longer the kill takes by bags and every other day, and where somebody looks once a day (our own).
PACE, PACE_ONCE, PACE_TABLETS = {"bags": 1.5, "every_other": 4.0, "same_day": 0.5}, 1.5, 1.5
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

# Mustard: hours count between readings no further apart, at no less than this share of the level (our own).
HELD_SHARE, HELD_GAP_H = 0.5, 13.0
# Days that a day's hours at the level take, by how often it is topped up: the sun's do not count where
# it is not topped up under it (our own).
HOLDING_ON = {4: 1.2, 2: 2.4, 1: 2.6}
# Black's week: raised each dusk to this and never over it (from memory), so that the other is left next day
# (common practice).
WEEK_TO_PPM, WEEK_LEAST_PPM = 8.0, 3.0
# Every other day: 1 lb of dichlor per 10,000 gal is +6.6 (calc); nothing goes in from so much on (common
# practice).
SLOW_ROUND_PPM, SLOW_UNDER_PPM, SLOW_APART_H = 6.64, 10.0, 40.0
# Tablets beside it: six of 8 oz per 15,000 gal, two batches three days apart, only at so much of each (common
# practice).
BATCH_TABLETS, BATCH_PER_L, BATCHES, BATCH_APART_H = 6, 56_781.0, 2, 72.0
BATCH_CYA_MOST, BATCH_TA_LEAST, BATCH_PH_LEAST = 40.0, 80.0, 7.2
# Chlorine that does not hold: after so much, exchanging water is named (our own).
DEMAND_MOST_PPM = 40.0
# Same day: for pools up to this (common practice: small soft-sided ones end at 5,000 gal).
SAME_DAY_MOST_L = 18_927.0
# Algaecide goes in only when free chlorine reads under this (common practice): more destroys it.
ALGAECIDE_UNDER_PPM = 5.0
