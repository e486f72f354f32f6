"""How measures move by themselves, before a pool's own readings say better: every prior of the estimate."""

# --- Chlorine's paces (``chlorine``), each with the sigma of its logarithm. Common practice: 1 to 4 ppm a day
# in season, of about 3 held; half-life at noon 35 to 60 min without stabilizer, 6 to 10 h of what it holds.
FREE_FADES_H, BOUND_FADES_H = 0.83, 0.077  # 1/h at noon: 50 min and 9 h
# The share that an ordinary summer's day in full sun takes at 40 ppm stabilizer: about six hours of noon.
SUN_A_DAY = 0.50
DARK_PPM_DAY = 1.0  # all else at 27 C (our own, so that both make 2 ppm a day at 3 ppm and some sun)
HALF_PACE_PPM = 0.3  # at which what takes chlorine otherwise runs at half its pace (our own)
BATHER_CL2_G = 4.0  # a bather's demand, g (common practice, from memory)
LOG_SIGMAS = (0.45, 0.60, 0.60)  # sun, all else, bathers: our own, about those 1 to 4 ppm
# A root-day: of the sun by season, of all else by leaves and what grows, none, by plates that scale, by a
# dial somebody turned (our own).
LOG_WALKS = (0.02, 0.035, 0.0, 0.01, 0.04)
# Of those sigmas, and of the log of a tablet's pace, what readings never take away (our own).
LEAST_LOG, LEAST_PACE = 0.1, 0.25
BATHED_DAYS = 14.0  # over which bathers written down are a day's usual: its mean (our own)
# What goes in against what was meant to: by hand a volume and strength never proved; a cell's rating, a
# tablet's pace; where what feeds is not known, a guess that holds the level. Our own.
GAIN_BY = {"chlorinator": 0.10, "tablets": 0.06}
GAIN_POURED, GAIN_UNTOLD = 0.06, 0.35
# What a day takes or spares that nothing tells, ppm a root-day at so much of it or more (our own).
WALK_PPM, WALK_UNTOLD_PPM, WALK_AT_PPM = 0.40, 0.45, 3.0
TABLETS_UNEVEN = 0.15  # of what tablets give, likewise: the pump's hours, how they lie (our own)
TRACE_PPM = 0.05  # no level is known better (our own)
EXPOSURE = {"full": 1.0, "part": 0.7, "shade": 0.3, "indoor": 0.0, "unknown": 0.7}  # of the sun (our own)
SUMMER_MJ_M2 = 22.0  # sunlight of an ordinary summer's day (common figures of mid latitudes, from memory)
UNDER_COVER = 0.5  # share of the sun that a cover passes: our own
# A fit tells after so many days and readings, a driver apart with half of what was open closed (our own).
LEAST_DAYS, LEAST_READINGS, CLOSED = 7.0, 3, 0.5
# Tablets older than so are used up: whoever feeds with them does not write them down (our own).
TABLETS_GONE_DAYS = 15.0

# Of a drift's sigma, a root-day: seasons change it.
LEARNING = 0.05
# Of a drift's prior sigma, what readings never take away, as no day is like the last (our own, by simulated
# pools).
LEAST_DRIFT = 0.2
REST_OFF = 0.05  # pH at which water comes to rest with the air is known to so much (our own)
STRENGTH_95 = 0.05  # common practice
BIAS = 0.35  # of a reading's variance is the kit's own and no number of readings averages it out: our own
SURPRISE = 3.0  # sigmas from which a reading tells of something nobody logged

# Where pH is computed on: beyond, nothing is left to buffer it or the activity model ends. Our own, well past
# any pool.
COMPUTED = {
    "ph": (5.5, 9.8),
    "ta_ppm": (5, 1500),
    "ch_ppm": (0, 4000),
    "cya_ppm": (0, 600),
    "salt_ppm": (0, 40_000),
    "fc_ppm": (0, 120),
    "borate_ppm": (0, 300),
    "temp_c": (0, 45),
}
LEAST_TA = COMPUTED["ta_ppm"][0]

# A three-inch tablet is gone from a feeder in five to seven days (common practice): given off by the share,
# four days as its mean, with the sigma of its logarithm; what it gave may be off by a quarter (our own).
TABLETS_LAST_DAYS, PACE_SIGMA, PACE_OFF = 4.0, 0.6, 0.25

# What evaporates by the weather may be off by half: wind over the water is not the wind of the place (our
# own).
EVAPORATION_OFF = 0.5

# Water follows the weather by this share a day: an outdoor pool 1.4 m deep gives off about 28 W a square
# metre and degree (common practice of pool heating: 20 to 35); what it follows is known to so many degrees
# (our own).
FOLLOWS_A_DAY, BALANCE_OFF_C = 0.338, 3.0
