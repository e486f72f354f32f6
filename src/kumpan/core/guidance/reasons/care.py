"""Recurring work: how often, and why."""

from kumpan.core.guidance.reasons.reason import ANY, CP, Reason

REASONS = (
    Reason(
        "care",
        "Why it comes round",
        "Pool work is missed because it is remembered. Each duty counts from the day the log says it was last"
        " done; work on fixed days does not move when it is done late. What was missed is due once, not"
        " many times.",
        ANY,
        "The intervals: common practice, no published source. Change any of them.",
    ),
    Reason(
        "care_tests",
        "How often to test",
        "Some test twice a week in season, some weekly with the rest monthly; technicians read chlorine"
        " and pH at"
        " each visit, alkalinity monthly, calcium every three months, stabilizer at the season's start; some"
        " once a quarter. More while one learns a pool, less once it is predictable. Salt monthly, and not by"
        " the panel, which estimates it.",
        "The cadence you chose",
        CP,
    ),
    Reason(
        "care_events",
        "Why after that",
        "Heavy rain dilutes salt, alkalinity and stabilizer; many bathers, fresh water, dust and leaves"
        " use chlorine"
        " up; a shock moves pH. What was known before is then not true any more. Heavy rain is an inch in"
        " a day; a"
        " gale is Beaufort 8; fresh water counts from a tenth of the pool. After two weeks the ordinary"
        " tests have"
        " told it.",
        ANY,
        "Common practice; the inch, the tenth and the two weeks are our own. Beaufort 8 from 17.2 m/s: WMO,"
        " from memory.",
    ),
    Reason(
        "care_tablets",
        "Why twice a week",
        "Tablets dissolve within days; a feeder that runs empty stops chlorine altogether. Open it"
        " upwind, pump"
        " off, and never put another product in. Between two visits something has to hold: tablets, the cell,"
        " or chlorine up to the swim limit.",
        ANY,
        CP,
    ),
    Reason(
        "care_shock",
        "Routine shock, or not",
        "Some shock every week or two as a matter of course; others on signs only: smell, a storm, a"
        " crowd, algae."
        " Where chlorine is held in proportion to stabilizer a routine shock is rarely needed; with a"
        " flat band it"
        " makes up for what the band leaves.",
        "Two schools",
        CP,
    ),
    Reason(
        "care_soft",
        "A small soft-sided pool",
        "Little water and many bathers: two tests a week, an oxidiser weekly, the cartridge hosed weekly"
        " and soaked"
        " monthly, skimmed and brushed every other day, covered at night.",
        ANY,
        CP,
    ),
    Reason(
        "care_clean",
        "The clean, and its order",
        "Skim, baskets, brush, water line, vacuum, rinse the salt off. Owners brush first, with the"
        " filter running;"
        " technicians vacuum first, since brushing stirs the dust up. Tests come on arrival, before"
        " anything is"
        " stirred, or after cleaning. In both the doses come last. An hour a week, half with an automatic"
        " cleaner.",
        "Two schools",
        CP,
    ),
    Reason(
        "care_look",
        "Why look first",
        "Weak jets, the level, leaves, algae, a loose drain cover or an open gate decide what comes next,"
        " and one of"
        " them may end the visit. In some regions what sits in a skimmer bites.",
        ANY,
        CP,
    ),
    Reason(
        "care_copper",
        "The copper system's programme",
        "It begins with a bag of salt for conductivity and the maker's starter, two days to dissolve; the"
        " pump"
        " runs 12 hours at least. Chlorine granules weekly, pre-dissolved, for the residual that copper does"
        " not give, sized from the reading and never past the swim limit (about 1 lb per 10,000 gal is what"
        " people use); enzyme as"
        " its label"
        " says, from twice a month to every two months; copper read, about 0.2 to 0.4 ppm: above that it"
        " stains. No copper algaecide besides. Homes alone: it leaves little margin.",
        "Mineral-assisted",
        "Common practice; every four weeks for the copper test is our own.",
    ),
    Reason(
        "care_gear",
        "Why the small things",
        "A dry O-ring draws air, a loose tripper stops the pump, a stuck gauge hides a full filter, a"
        " torn basket"
        " feeds the impeller. Each is two minutes, and each has cost a pump.",
        ANY,
        CP,
    ),
    Reason(
        "care_reagents",
        "Why reagents age",
        "Strips and reagents keep about a year, less in a hot van. What they read after that is wrong without"
        " looking wrong, and every dose with it.",
        ANY,
        CP,
    ),
    Reason(
        "care_safety",
        "Safety looks",
        "Drain covers, gate and clear water at every visit; the residual-current device monthly; fence,"
        " ladder,"
        " resuscitation chart and bonding yearly. Kumpan reminds, it does not certify: local code and"
        " licensed"
        " trades decide.",
        ANY,
        CP,
    ),
    Reason(
        "care_time",
        "How long it takes",
        "An hour of cleaning a week, half with an automatic cleaner, 4 to 25 minutes a technician's stop;"
        " drawn"
        " towards what your last ones took.",
        ANY,
        "Common practice. That the figure counts like two visits of yours is our own.",
    ),
    Reason(
        "care_away",
        "Before going away",
        "The classic green pool is a holiday with the pump off and no chlorine. Test and balance,"
        " chlorine to the"
        " upper end, clean, level, the timer proved, something that feeds for the days, a cover if there"
        " is one,"
        " somebody who looks in. Back again: look, test, and if it is green, a clear-up.",
        ANY,
        CP,
    ),
    Reason("care_own", "Your own work", "You added this.", ANY, "Yours."),
)
