"""Safety: swimming, drains, storage."""

from kumpan.core.guidance.reasons.reason import ANY, Reason

REASONS = (
    Reason(
        "swim",
        "Why this swim advice",
        "Swim when a reading shows free chlorine from the health minimum (1 ppm, 2 with any stabilizer) to"
        " the pool's swim limit, pH 7.2 to 7.8, and the floor is clearly visible. The limit is the lowest"
        " of the product's label, local code and 10; a label not recorded counts as 4. What keeps algae off"
        " is another, higher figure: where it passes the limit, lower stabilizer. Waits before the reading:"
        " acid, base and chlorine 30 min, calcium 2 h, salt until it is dissolved. Never with algae, in"
        " thunder, with a drain cover missing, or on any electrical tingle.",
        ANY,
        "CDC Model Aquatic Health Code (1 or 2 to 10 ppm; floor visible), from memory; 4 from labels, from"
        " memory; the waits common practice. Label and local code win.",
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
