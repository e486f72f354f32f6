"""Chlorine: how much, by which school, and shocks."""

from kumpan.core.guidance.reasons.reason import ANY, CP, SCALED, Reason

REASONS = (
    Reason(
        "fc_scaled",
        "Why this much free chlorine",
        "Stabilizer shields chlorine from the sun but also binds it: what kills is the little that is"
        " free as HOCl. Kumpan holds 0.03 ppm HOCl at least (0.02 where a chlorinator feeds steadily) and"
        " aims at 0.05, which at pH 7.5 is roughly 7 % (5 %) and 12 % of the stabilizer reading; at 7 % of"
        " it where a cell feeds. Below 30 ppm stabilizer the figures of 30 apply; a target follows the"
        " stabilizer that is in the water, never what is to be added. The aim is never under the health"
        " minimum (1 ppm, 2 with stabilizer), nor over 8 or what people may swim in.",
        SCALED,
        "Equilibria: O'Brien, Morris & Butler (1974) and Morris (1966), from memory. The HOCl levels:"
        " common practice. The cap of 10: CDC Model Aquatic Health Code, from memory.",
    ),
    Reason(
        "fc_flat",
        "Why a flat 1 to 3 ppm",
        "The simple rule that most labels and shops give: 1 to 3 ppm of free chlorine, 2 to 4 with"
        " stabilizer, 3 the aim at all times. It needs no sum. It leaves out that stabilizer binds"
        " chlorine: with 60 ppm of it, 2 ppm holds under half of the hypochlorous acid that keeps algae"
        " off.",
        "Flat band",
        "Common practice, no published source; ANSI/APSP/ICC-11 2019 has 1 to 4, from memory.",
    ),
    Reason(
        "fc_public",
        "Why these limits in a public pool",
        "At least 1 ppm, or 2 where stabilizer is used, and at most 10. Kumpan aims at 3, inside the"
        " ideal of 2 to 4. Your local code may ask for more, and always wins; Kumpan advises, it does not"
        " certify.",
        "Public-pool code",
        "CDC Model Aquatic Health Code (1 or 2 to 10); ANSI/APSP/ICC-11 2019 (ideal 2 to 4); from memory.",
    ),
    Reason(
        "fc_mineral",
        "Why so little chlorine with minerals",
        "Copper, silver or ozone does part of the work, and makers name 0.5 to 1 ppm of chlorine."
        " Minerals replace only what keeps algae off, not what health asks for: Kumpan aims at 1 to 2 ppm,"
        " 2 to 3 with stabilizer. It leaves little margin: a hot day or a party empties it."
        " Residential only. Copper is tested too (0.2 to 0.4 ppm; above that it stains).",
        "Mineral-assisted",
        CP,
    ),
    Reason(
        "fc_high",
        "Why chlorine counts as high from here",
        "One day's summer loss (up to about 4 ppm) above the aim is plenty; more bleaches and wastes. Sun"
        " and time take it down. Above 10 ppm nobody swims, and pH and alkalinity tests cannot be"
        " trusted.",
        SCALED,
        "The margin is our own rule from the daily loss in common practice; the 10: CDC Model Aquatic"
        " Health Code, from memory.",
    ),
    Reason(
        "high_fc",
        "Why wait when chlorine is too high",
        "Sun and use take it down for nothing. In sun it halves in about 6 to 10 hours with 30 to 50 ppm"
        " of stabilizer, within the hour without. A neutraliser is quicker; too much of it eats the next"
        " chlorine, so start with half. By full oxidation one ounce takes about a ppm out of 850 gal; in"
        " practice it may take more.",
        ANY,
        "Half-lives: common practice. Neutraliser: stoichiometry, 4 Cl2 a mole; AWWA C651 doses 1.6 times"
        " that, from memory.",
    ),
    Reason(
        "cc_band",
        "Why combined chlorine should be under 0.5",
        "Combined chlorine (chloramine) is chlorine tied up with sweat and urine. It smells and stings"
        " and kills little. At 0.5 ppm or more the usual answer is a shock at dusk"
        " (Clear-up).",
        ANY,
        "Common practice; CDC Model Aquatic Health Code acts at 0.4, from memory.",
    ),
    Reason(
        "cc_public",
        "Why combined chlorine under 0.4 here",
        "At 0.4 ppm the code asks for action: fresh water, oxidiser, shock, better air indoors.",
        "Public-pool code",
        "CDC Model Aquatic Health Code, from memory.",
    ),
    Reason(
        "shock",
        "Why a shock goes this high",
        "A shock must kill, not just hold: about 0.3 ppm of hypochlorous acid (HOCl), which is some 40 % of"
        " the stabilizer reading at pH 7.5. It is never under 10 ppm, nor under ten times the combined"
        " chlorine. The flat and public schools take 10 ppm. At dusk, as sun wastes it; nobody swims"
        " until chlorine is back in its range. Over 30 ppm no level is held: water is exchanged first.",
        "All schools, each its own level",
        "Equilibria: O'Brien, Morris & Butler (1974), from memory. The levels and ten times combined"
        " chlorine: common practice; theory needs far less.",
    ),
    Reason(
        "active",
        "What hypochlorous acid is",
        "The part of free chlorine present as HOCl, computed from pH, stabilizer and temperature. About"
        " 0.03 ppm keeps algae off, 0.05 is a comfortable aim.",
        SCALED,
        "O'Brien, Morris & Butler (1974); Morris (1966); from memory. The levels: common practice.",
    ),
    Reason(
        "spent",
        "Why three figures",
        "Added chlorine moves pH at once, and gives most of it back as it is used up: liquid chlorine"
        " lifts pH and then lets it fall where it was, stabilized chlorine ends lower. So Kumpan shows"
        " the water as tested, with the plan in, and once the plan's chlorine is spent; acid and base are"
        " judged on the last.",
        ANY,
        "Stoichiometry: HOCl gives H+, Cl- and half an O2 as it is spent. O'Brien, Morris & Butler"
        " (1974), from memory.",
    ),
    Reason(
        "clear_up",
        "Why a run, and not one dose",
        "Algae have won when they are seen, and one dose that is too small feeds the next bloom. All schools"
        " share the order: debris out, filter clean, pump on, pH, brush, chlorine again and again, filter"
        " cleaned as it loads, dead algae out, then the timer back and the cause. Days, not hours: a light"
        " bloom one or two, a swamp three to fourteen. Hold the level: raise to what kills at this"
        " stabilizer, read, top up; it ends on clear water, combined chlorine of 0.5 or less and a night that"
        " takes 1 ppm or less. Timed bags: the same amount at 0, 12 and 24 hours; by strips alone, which"
        " cannot tell a night, it ends on two clear days, 3 ppm left on a morning, and total no more than"
        " free.",
        "Hold the level; timed bags",
        "Common practice, no published source; the strip's end, the limits of blind rounds and what is"
        " foretold are our own.",
    ),
    Reason(
        "clear_up_check",
        "Why it is read again and again",
        "The amount for a top-up follows from a reading, never from a guess, and only two readings with no"
        " sun and no pour between them tell whether something living still eats chlorine: after sunset and"
        " before sunrise, by a kit that can tell 1 ppm. Over 10 ppm a dye may bleach and read none: then it"
        " is read thinned before anything is poured, and pH is not read at all.",
        "Hold the level",
        CP,
    ),
)
