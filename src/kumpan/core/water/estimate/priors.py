"""How measures move by themselves, before a pool's own readings say better: every prior of the estimate."""

# Of a drift's sigma, a root-day: seasons change it, and chlorine's the weather too.
_LEARNING, _LEARNING_FC = 0.05, 0.15


# Of a drift's prior sigma, what readings never take away, as no day is like the last, of chlorine least (our
# own, by simulated pools).
_LEAST_DRIFT, _LEAST_DRIFT_FC = 0.2, 0.5


_RATE_SPAN = (-0.3, 3.0)  # of chlorine lost a day


# About where pool water is in balance with the air; gas leaves no further (PHREEQC: 8.2 to 8.5 at 80 to 120
# ppm)
_AIR_PH = 8.3


_STRENGTH_95 = 0.05  # common practice


_BIAS = 0.25  # of a reading's variance is the kit's own and no number of readings averages it out: our own


_SURPRISE = 3.0  # sigmas from which a reading tells of something nobody logged


UNDER_COVER = 0.5  # share of chlorine still lost under a cover: our own


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


_CL2_PER_BATHER_G, _CL2_SIGMA = (
    4.0,
    0.8,
)  # a bather's demand in grams and its relative sigma: common practice, from memory


# A three-inch tablet is gone from a feeder in five to seven days (common practice): given off by the share,
# four days as its mean; what it gave may be off by a quarter (our own).
_TABLETS_LAST_DAYS, _PACE_OFF = 4.0, 0.25


# Water follows the weather by this share a day: an outdoor pool 1.4 m deep gives off about 28 W a square
# metre and degree (common practice of pool heating: 20 to 35); what it follows is known to so many degrees
# (our own).
_FOLLOWS_A_DAY, _BALANCE_OFF_C = 0.338, 3.0
