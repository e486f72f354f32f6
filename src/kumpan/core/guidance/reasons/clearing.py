"""Why mustard and black, demand, incidents and complaints are led as they are."""

from kumpan.core.guidance.reasons.reason import ANY, CP, Reason

REASONS = (
    Reason(
        "clear_up_kinds",
        "Why mustard and black ask for more",
        "Mustard bears what kills green: its level is that of 0.5 ppm active chlorine, half of stabilizer"
        " and a"
        " little more, held a day on once all else says it is over, and what hung in the water is treated"
        " with"
        " it. Black sits under a cap with its roots in the plaster: a shock bleaches the cap alone. The"
        " cap is"
        " brushed off each day, the kill is green's, and free chlorine then stands above 3 ppm, raised to"
        " 8 at"
        " most, for a week and until no head is left. People may swim in that week when a reading says so.",
        ANY,
        "Common practice; the 8 ppm from memory; that hours count at half of the level, our own.",
    ),
    Reason(
        "demand",
        "Why chlorine that does not hold is raised in steps",
        "Clear water that loses its chlorine within half an hour has something in it that takes chlorine at"
        " once, ammonia most of all; algae and the sun are slower. By theory 7.6 ppm of chlorine break 1"
        " ppm of"
        " ammonia nitrogen, so it is raised in steps, read after half an hour each time, until it stays; then"
        " one night, read at both ends, says whether anything living is left.",
        ANY,
        "Breakpoint: published theory, 7.6 g Cl2 per g N. Steps of 10 ppm and the half hour: our own.",
    ),
    Reason(
        "incident",
        "Why an incident has a table and a clock",
        "What people leave in the water dies by chlorine and time together. The health authority's table"
        " gives"
        " rows: so much free chlorine, for so long, at pH 7.5 or less and 77 °F or warmer. A row counts"
        " between"
        " two readings that both bear it, four hours apart at most; after the last reading nothing"
        " counts, and"
        " rows are not added up. With stabilizer more is asked for. Your authority's word comes before this.",
        ANY,
        "CDC, fecal incident response and hyperchlorination, from memory; the four hours are our own.",
    ),
    Reason(
        "complaint",
        "Why no cause is named without its test",
        "Cloud, stains, foam, a falling level and stinging eyes each have several causes, and what helps one"
        " harms with another: chlorine fixes iron stains, acid lifts them; a clarifier does nothing for a"
        " missing filter. So each guide asks first, and names a cause only behind the test that settles it.",
        ANY,
        CP,
    ),
)
