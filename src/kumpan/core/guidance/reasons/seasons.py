"""Seasons: when to open and close, what goes in, what is refused, winter and draining."""

from kumpan.core.guidance.reasons.reason import ANY, CP, Reason

_OWN = "Order and figures: common practice. How Kumpan puts them together: our own."

REASONS = (
    Reason(
        "season",
        "A season's plan",
        "Made for what stands at this pool, in an order in which each step finds what it needs. Days may be"
        " moved as long as that order holds; a step may be done sooner, skipped where that is safe, and steps"
        " of your own added. What is put away is asked for in spring.",
        ANY,
        _OWN,
    ),
    Reason(
        "season_when",
        "When to open, when to close",
        "Below 60 °F (16 °C) hardly anything grows. A pool opened before the water passes that is clear; at"
        " 65 °F (18 °C) it is late, and at 70 °F (21 °C) it is green. Closed while the water is warmer,"
        " algae go"
        " on under the cover; closed too late, frost finds water in the lines. The day follows from what was"
        " read of the water, the weather that was, its outlook, and beyond that last year's weather.",
        ANY,
        "The thresholds: common practice. The heat balance and the day: our own.",
    ),
    Reason(
        "season_balance",
        "Water balanced for the cold",
        "Cold water dissolves more calcium: an index that is fine in summer is lower at 40 °F (4 °C), and"
        " soft"
        " water then eats plaster for months. Once the cover is off, CO2 leaves and the index rises again. So"
        " both are looked at: -0.4 or more closed, +0.3 or less in balance with the air, pH at most 7.8. Of a"
        " liner it is told and not refused.",
        ANY,
        "The index: published equilibria (PHREEQC agrees within 0.05). The two limits: common practice"
        " and our"
        " own.",
    ),
    Reason(
        "season_products",
        "Winter products",
        "Chlorine destroys algaecide, and cold covered water keeps its chlorine: shock goes in five days"
        " ahead,"
        " algaecide on a reading under 5 ppm. A kit whose shock holds no chlorine goes in on the day"
        " itself, its"
        " products half an hour apart. Labels win.",
        "Ahead, or a kit on the day",
        CP,
    ),
    Reason(
        "season_refused",
        "What a closing refuses",
        "Water nobody balanced, a floater left in, equipment beside chemicals: each costs a surface, a"
        " liner or"
        " a motor by spring.",
        ANY,
        CP,
    ),
    Reason(
        "season_branch",
        "Opening goes by the first sight of the water",
        "Clear and cold: pH, chlorine to the upper band, a pound of shock to 10,000 gal at dusk, the full"
        " test a"
        " day later; alkalinity may wait for the spring rains. Clear at 65 °F (18 °C) or more: the overnight"
        " test besides, as algae may be growing unseen. Green: cleared up first. Stabilizer only into"
        " clear, tested"
        " water.",
        "Alkalinity later, or by the full test",
        CP,
    ),
    Reason(
        "season_cell",
        "The cell goes in last",
        "Not before the water is balanced and its salt restored: cold, soft or salt-poor water wears the"
        " electrodes for nothing, and its low-salt light stays on.",
        ANY,
        CP,
    ),
    Reason(
        "winter_watch",
        "Under the cover",
        "Standing water on a cover drowns children and tears it: over 3 in (8 cm) it is pumped off, on a"
        " disc,"
        " never through the cover. Leaves come off before they freeze in. The level under it holds it up.",
        ANY,
        "3 in: common practice. 2 in (50 mm) of rain and the days between: our own.",
    ),
    Reason(
        "winter_freeze",
        "Frost and an open pool",
        "Moving water does not freeze in the lines: while it freezes the pump runs without a break.",
        ANY,
        CP,
    ),
    Reason(
        "drain_share",
        "How much water may go",
        "Ground water lifts an empty shell and wrinkles a liner: in the ground a third of vinyl and"
        " fibreglass,"
        " half of plaster, more only by licensed people; above the ground down to a foot; a soft-sided"
        " pool may"
        " be emptied. Not within a week of heavy rain, not in heat. Local rules on discharge win.",
        ANY,
        "Common practice, and our own.",
    ),
    Reason(
        "drain_dechlorinate",
        "Chlorine out before discharge",
        "0.073 lb of sodium thiosulfate take 1 ppm out of 10,000 gal by the sum, up to 0.12 in practice: the"
        " lower first, a reading, again. What is left over eats the next chlorine.",
        ANY,
        "Stoichiometry; the excess after AWWA C651, from memory.",
    ),
    Reason(
        "drain_start",
        "The first fill",
        "It is tested before anything goes in: after a chlorine wash it holds chlorine already, after"
        " thiosulfate it eats the first. Stabilized granules once, as they bring chlorine and stabilizer"
        " together; after that chlorine as always.",
        ANY,
        CP,
    ),
)
