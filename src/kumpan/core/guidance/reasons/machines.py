"""Machines: what to set, what a light means, when to clean."""

from kumpan.core.guidance.reasons.reason import ANY, CP, Reason

REASONS = (
    Reason(
        "cell_look",
        "When the plates want a look",
        "Scale grows on a cell as the index of its water has it, and each pool in its own proportion."
        " Looks that"
        " find bare metal lengthen the interval, deposits shorten it, and so does an index that rose. The"
        " next"
        " look is set for a film that a hose and a stick take off, before it needs acid: each bath costs"
        " coating"
        " life. Some look every three months, some every two to four weeks at peak, some when the panel"
        " says.",
        ANY,
        "The first interval (two weeks at an index of +0.3, four where it cleans itself): common"
        " practice. How it"
        " learns: our own, by Bayes' rule.",
    ),
    Reason(
        "cell_fades",
        "A cell that fades, or a demand that rose",
        "Both leave less chlorine than was set. A night without the cell shows what the dark takes; a"
        " night at"
        " 100 % shows what the cell brings on top. Salt, pH, stabilizer, calcium and alkalinity come"
        " first: each"
        " of them looks like a bad cell too.",
        ANY,
        "The test follows from the balance of chlorine; under seven tenths of its rating counts as"
        " fading: our"
        " own.",
    ),
    Reason(
        "cell_wear",
        "How worn a cell is",
        "A cell is rated for the hours that current flows: hours a day times its setting. Low salt, acid"
        " baths and"
        " scale wear it faster than the count says.",
        ANY,
        CP,
    ),
    Reason(
        "salt_makeup",
        "Why salt is verified first",
        "A panel guesses salt from its current: cold water, scaled plates and age read low. Splash, backwash,"
        " rain's overflow and drains take salt; evaporation never. Nine tenths of the sum go in, down to"
        " the next"
        " half bag; a day's pump and a test decide the rest, since only fresh water takes too much back out.",
        ANY,
        "Common practice. Over 500 ppm between panel and test: recalibrate or clean, not pour.",
    ),
    Reason(
        "mixing",
        "Where water stands",
        "Chlorine that is not moved does not reach the corners. Jets aimed 45 degrees down and one way"
        " round, with"
        " most of the suction at the skimmer, leave few still spots; salt read at several spots shows them.",
        ANY,
        CP,
    ),
    Reason(
        "machine_demand",
        "How the demand is known",
        "The log's readings, doses and feed are fitted together: what the sun takes in proportion to the"
        " level,"
        " what the water takes without it, what bathers take, and what goes in. Each begins at what is usual"
        " and is pulled by this pool's own readings; what they do not tell apart is said to be so. Until"
        " a week"
        " of three readings tells more than the season: 2 ppm a day at 27 °C (81 °F), double for each 10 °C"
        " warmer.",
        ANY,
        "An extended Kalman filter (Kalman 1960, from memory) over published paces (sun: Nowell and"
        " Hoigne 1992;"
        " warmth: Arrhenius-like, common practice). The season's figures: common practice, 1 to 4 ppm a day.",
    ),
    Reason(
        "forecast",
        "How far the forecast can be trusted",
        "It is the present water's estimate walked on: the same paces, over the weather foretold, with"
        " the cell"
        " as it is set and tablets as they are usually put in, and nothing else done. A forecast is"
        " stored once"
        " a test and once a day, and never changed; when something is read, the stored one is held"
        " against it."
        " Where what was assumed did not happen it is void, and counts neither way. Where too few came"
        " out, the"
        " spans are made wider from then on.",
        ANY,
        "80 % spans of the filter. What counts as void, and by how much spans widen: our own.",
    ),
)
