"""Balance: pH, alkalinity, calcium, stabilizer, salt, the index, and what is only watched."""

from kumpan.core.guidance.reasons.reason import ANY, CP, Reason

REASONS = (
    Reason(
        "ph_band",
        "Why pH between 7.2 and 7.8",
        "Low pH corrodes metal, stains and stings; high pH scales, clouds and weakens chlorine."
        " Acid goes to 7.6, at most 0.4 at once and never to a foretold pH under 7.2; half of it first where"
        " alkalinity is known by a strip or is a month old. Base only under a read 7.2, just past it; where"
        " alkalinity has no room for base, air. With alkalinity low too: from 8.0 on acid to 7.8 first,"
        " else bicarbonate first. Only a read pH is corrected.",
        ANY,
        "ANSI/APSP/ICC-11 2019 (7.2 to 7.8, ideal 7.4 to 7.6), from memory; the steps common practice and"
        " our own.",
    ),
    Reason(
        "ph_public",
        "Why pH between 7.0 and 7.8 here",
        "The range the code allows. Acid goes to 7.6; base only under a read 7.0.",
        "Public-pool code",
        "CDC Model Aquatic Health Code, from memory.",
    ),
    Reason(
        "ta_band",
        "Why this alkalinity",
        "Alkalinity is the buffer: too little and pH jumps about, too much and pH keeps climbing as CO2"
        " leaves. It is set before pH.",
        ANY,
        "ANSI/APSP/ICC-11 2019 (60 to 180; 80 to 120 is the band most use), from memory; common practice.",
    ),
    Reason(
        "ta_public",
        "Why this alkalinity in a public pool",
        "Any alkalinity from 60 to 180 is accepted; between 80 and 120 pH holds best. It is set before pH.",
        "Public-pool code",
        "ANSI/APSP/ICC-11 2019, from memory.",
    ),
    Reason(
        "ta_chlorinator",
        "Why less alkalinity with a chlorinator",
        "The cell's hydrogen bubbles strip CO2, which drives pH up; with alkalinity of 60 to 80 it climbs"
        " more slowly.",
        ANY,
        CP,
    ),
    Reason(
        "ta_soft",
        "Why more alkalinity in a soft-sided pool",
        "Small bodies of water swing quickly; a stronger buffer of 100 to 150 steadies them.",
        ANY,
        CP,
    ),
    Reason(
        "ta_high",
        "Why high alkalinity is left alone for now",
        "Nothing lowers alkalinity alone: acid takes it down with pH and aeration brings pH back. While"
        " pH and the saturation index hold it is not worth the acid, and it holds up neither stabilizer nor"
        " chlorine; each acid dose for pH lowers it a little anyway.",
        ANY,
        "Leaving it alone: common practice. ANSI/APSP/ICC-11 2019 has 180 at most, from memory.",
    ),
    Reason(
        "ch_plaster",
        "Why calcium on plaster and tile",
        "Water short of calcium takes it from plaster and grout. 200 is the least; a correction goes just"
        " past it, at most to 250, since only dilution takes calcium out. To hold 250 to 260, set it as your"
        " own target.",
        ANY,
        "ANSI/APSP/ICC-11 2019 (200 to 400), from memory; the aim: common practice.",
    ),
    Reason(
        "ch_vinyl",
        "Why low calcium does not matter here",
        "There is no plaster or grout to protect, so calcium is not worth buying. Much of it still scales"
        " heaters and cells.",
        ANY,
        CP,
    ),
    Reason(
        "cya_band",
        "Why this much stabilizer",
        "Stabilizer keeps sun from burning chlorine off within the hour. More of it binds more chlorine, "
        "and only dilution takes it out, so 30 to 50 is enough for most pools.",
        ANY,
        "ANSI/APSP/ICC-11 2019 (ideal 30 to 50, at most 100), from memory.",
    ),
    Reason(
        "cya_public",
        "Why at most 90 of stabilizer here",
        "The code sets no least, and at most 90 ppm; many local codes allow less, or none indoors.",
        "Public-pool code",
        "CDC Model Aquatic Health Code, from memory.",
    ),
    Reason(
        "cya_sun",
        "Why more stabilizer in full sun",
        "All-day sun burns off chlorine so fast that 40 to 100 ppm, aimed at 75, holds more of it than it"
        " binds. Kumpan calls nothing low from 30 on, adds 30 at most in one go, and lets fresh water in"
        " over 90.",
        ANY,
        CP,
    ),
    Reason(
        "cya_indoor",
        "Why no stabilizer indoors",
        "There is no sun to shield chlorine from, so stabilizer only binds it.",
        ANY,
        CP,
    ),
    Reason(
        "cya_chlorinator",
        "How much stabilizer with a chlorinator",
        "A cell that feeds steadily needs about 7 % of stabilizer as free chlorine, and 30 to 50 ppm of it"
        " do. A"
        " second school holds 60 to 80, so as to lose less to the sun between its hours; set it as your own"
        " target if your maker asks for it. Inside either nothing is added.",
        ANY,
        CP,
    ),
    Reason(
        "salt_cell",
        "Why this much salt",
        "The cell needs its own salt range to make chlorine, and too little shortens its life. Ranges"
        " differ by maker: when yours says otherwise, its manual wins. This band is 2,700 to 3,400, aimed"
        " at 3,200.",
        ANY,
        CP,
    ),
    Reason(
        "salt_own_cell",
        "Why this much salt",
        "The range is this chlorinator's own, from its record; its own aim counts, else 3,200 where the range"
        " holds that, else the middle. Makers' ranges lie anywhere between 2,700 and 5,000 ppm: never below"
        " the cell's minimum, which shortens the life of its plates.",
        ANY,
        "The maker's range and aim, as typed; 3,200: common practice; the middle is Kumpan's own choice.",
    ),
    Reason(
        "salt_none",
        "Why salt is not judged here",
        "Without a chlorinator salt has no target. Taste starts near 3,500 ppm; sea water is 35,000.",
        ANY,
        CP,
    ),
    Reason(
        "dilute",
        "Why only fresh water lowers this",
        "No product takes stabilizer, calcium or salt out. The share to replace is 1 - target / reading,"
        " drained and refilled with water that holds none; with hard or salty fill water it takes more."
        " A third at most in one go, by overflow where nobody said that ground water stands low; half of"
        " plaster"
        " or tile where it does; a small soft-sided pool is filled anew. Follow local discharge rules.",
        ANY,
        "Mass balance. CYA at most 90: CDC Model Aquatic Health Code; CH at most 1,000: ANSI/APSP/ICC-11"
        " 2019 (from memory).",
    ),
    Reason(
        "saturation",
        "What the saturation index says",
        "Whether the water would dissolve calcium carbonate (below zero: it takes it from plaster and"
        " grout) or lay it down as scale (above). Near zero is best; -0.3 to +0.5 is accepted. It is"
        " computed from the equilibrium: pH, alkalinity less what stabilizer, borate and chlorine make of"
        " it, calcium, temperature and salt, with ion pairs and activities. Chlorine just added lifts pH"
        " and the index until it is spent. Where salt or chlorine was not tested, both ends of what they"
        " could be are shown.",
        ANY,
        "Equilibria: Plummer & Busenberg (1982); PHREEQC 3 (Parkhurst & Appelo 2013); Truesdell & Jones"
        " (1974); from memory, and compared with PHREEQC itself. The band: ANSI/APSP/ICC-11 2019, from"
        " memory.",
    ),
    Reason(
        "langelier",
        "Why a second saturation index",
        "Langelier's closed form is the figure shops and older tables give. It stands beside the"
        " equilibrium so that the two can be compared: over the pool range they differ by 0.13 on"
        " average, from 0.34 lower in cold fresh water to 0.22 higher in hot salty water.",
        ANY,
        "Langelier (1936), J. AWWA 28, 1500, in the closed form handbooks print; from memory.",
    ),
    Reason(
        "phosphate",
        "Why phosphate under 100 ppb",
        "Phosphate feeds algae, and people disagree how much it matters: while chlorine is held, algae does"
        " not grow whatever phosphate reads. Little of it leaves more leeway when chlorine runs out for once;"
        " it never replaces chlorine. It comes from fertiliser, leaves, skin and hair.",
        ANY,
        CP,
    ),
    Reason(
        "metals",
        "Why no copper and no iron",
        "Both stain surfaces, and hair; iron shows once chlorine oxidises it. They come with well water, from"
        " copper algaecide and from pipes and heaters that low pH eats. 0.1 ppm is what a photometer can tell"
        " from none.",
        ANY,
        CP,
    ),
    Reason(
        "borate",
        "Why borate at none, or 30 to 50 ppm",
        "30 to 50 ppm, counted as boron, slows algae and steadies pH; pools without any are as right. It is"
        " not allowed everywhere, and dogs should not drink the water. Only fresh water lowers it.",
        ANY,
        CP,
    ),
)
