"""How measures move by themselves, before a pool's own readings say better: every prior of the estimate."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Drift:
    """How a measure moves by itself: so much a day (of chlorine: the share lost a day), give or take (one
    sigma), and a random walk a day.
    """

    a_day: float
    sigma: float
    walk: float


# Priors of one sigma, our own from common practice (chemistry: loss and growth; practice sections 4, 5, 9,
# 10); each pool's readings correct them. Free chlorine: 1 to 4 ppm a day in season of about 3 ppm held.
# Topping up brings calcium and alkalinity; backwash, splash and rain that nobody logs walk. Gas leaves: pH
# rises, more with a chlorinator. Tablets bring 6 stabilizer and take 3.5 to 7 alkalinity for 10 ppm.
_DRIFT = {
    "fc": Drift(0.6, 0.3, 0.3),
    "cc": Drift(0.0, 0.03, 0.08),
    "ph": Drift(0.02, 0.02, 0.035),
    "ta": Drift(0.0, 0.8, 2.0),
    "ch": Drift(0.3, 0.5, 2.0),
    "cya": Drift(-0.2, 0.3, 1.0),
    "salt": Drift(-3.0, 8.0, 15.0),
    "temp": Drift(0.0, 0.2, 0.8),
    "borate": Drift(0.0, 0.05, 0.1),
}


_DRIFT_BY_SOURCE: dict[str, dict[str, Drift]] = {
    # What feeds steadily replaces what is lost: the level hardly falls, but who knows.
    "chlorinator": {"fc": Drift(0.0, 0.25, 0.35), "ph": Drift(0.04, 0.03, 0.06)},
    "tablets": {
        "fc": Drift(0.0, 0.25, 0.35),
        "cya": Drift(1.0, 0.6, 1.0),
        "ta": Drift(-1.0, 0.8, 2.0),
        "ph": Drift(-0.01, 0.03, 0.06),
    },
}


_LEARNING = 0.05  # of a drift's sigma, a root-day: seasons change it


_RATE_SPAN = (-0.3, 3.0)  # of chlorine lost a day


# About where pool water is in balance with the air; gas leaves no further (PHREEQC: 8.2 to 8.5 at 80 to 120
# ppm)
_AIR_PH = 8.3


_STRENGTH_95 = 0.05  # practice section 4


_BIAS = 0.25  # of a reading's variance is the kit's own and no number of readings averages it out: our own


_SURPRISE = 3.0  # sigmas from which a reading tells of something nobody logged


_COVERED = 0.5  # share of chlorine still lost under a cover: our own


# Where pH is computed on: beyond, nothing is left to buffer it or the activity model ends. Our own, well past
# any pool.
_COMPUTED = {
    "ph": (5.5, 9.8),
    "ta_ppm": (5, 1500),
    "ch_ppm": (0, 4000),
    "cya_ppm": (0, 600),
    "salt_ppm": (0, 40_000),
    "fc_ppm": (0, 120),
    "borate_ppm": (0, 300),
    "temp_c": (0, 45),
}


_LEAST_TA = _COMPUTED["ta_ppm"][0]


_FILL_SPREAD = {
    "ta": 60.0,
    "ch": 80.0,
    "salt": 80.0,
    "cya": 2.0,
    "ph": 0.5,
    "borate": 0.2,
}  # sigma of tap water never tested: our own


_CL2_PER_BATHER_G, _CL2_SIGMA = (
    4.0,
    0.8,
)  # a bather's demand in grams and its relative sigma: common practice, from memory


# Kept at hand where nobody knows how deep the pool is on average.
MEAN_DEPTH_M = 1.4
