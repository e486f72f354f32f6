"""Safety: swimming, drains, storage."""

from kumpan.core.guidance.reasons.reason import ANY, Reason

REASONS = (
    Reason(
        "swim",
        "Why this swim advice",
        "Swim when free chlorine is between its minimum and 10 ppm, pH is 7.2 to 7.8, what was added has"
        " mixed, and the floor is clearly visible. Too little chlorine closes a pool as surely as too"
        " much. Never in thunder, with a drain cover missing, or on any electrical tingle.",
        ANY,
        "CDC Model Aquatic Health Code (at most 10 ppm; floor visible), from memory; common practice."
        " Label and local code win.",
    ),
    Reason(
        "drains",
        "Why the drain cover's date counts",
        "A cover that is missing, broken or past its date can let the suction trap a bather. Nobody swims"
        " until it is replaced; a single drain that can be blocked needs a second one or a vacuum"
        " release, by a licensed trade.",
        ANY,
        "ANSI/APSP-16, from memory.",
    ),
    Reason(
        "storage",
        "Why these stand apart",
        "Acid with chlorine makes chlorine gas; calcium hypochlorite with trichlor explodes; anything"
        " organic with an oxidiser burns. A leak or a torn bag is enough. All of it dry, locked,"
        " ventilated, upright, liquids under dry goods, away from equipment that rusts. The labels and"
        " your fire code come first.",
        ANY,
        "Acid and chlorine, the two chlorines, organics and oxidisers, apart, dry, locked: common"
        " practice. The other pairs: usual rules of chemical storage, from memory.",
    ),
)
