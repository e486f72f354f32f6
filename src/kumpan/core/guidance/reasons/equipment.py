"""Equipment and papers."""

from kumpan.core.guidance.reasons.reason import ANY, CP, Reason

REASONS = (
    Reason(
        "cell_output",
        "What a chlorinator makes",
        "Rated output x setting x hours, over the water. A season's day takes about 1 to 4 ppm of"
        " chlorine. Cold water throttles or stops the cell, most somewhere near 60 to 65 °F.",
        ANY,
        "The product is arithmetic (600 g a day into 15,000 gal: 10.57 ppm a day). The demand and the"
        " temperatures: common practice.",
    ),
    Reason(
        "filter_pressure",
        "Why at this pressure",
        "A loaded filter shows as 8 to 10 psi over its clean pressure, at the same pump speed. Some also"
        " clean by the calendar. Cleaning sooner than needed filters worse. DE: about 1 lb for 10 sq ft,"
        " four fifths of it after a backwash. Sand is renewed every 4 to 5 years.",
        ANY,
        CP,
    ),
    Reason(
        "filter_wash",
        "Why in this order",
        "A valve moved under pressure tears its gasket, so the pump is off at every move. Without the rinse"
        " the first dirt goes back to the pool. A basket opened in the same stop needs its pot full of water"
        " and its valves open before the pump starts again. Nothing is poured meanwhile: into a stopped pump"
        " it lies on the floor.",
        ANY,
        CP,
    ),
    Reason(
        "turnover",
        "Why one turnover a day",
        "The whole pool through the filter at least once a day: 8 hours for most, 12 in heat; with a"
        " chlorinator the hours must make the chlorine too.",
        ANY,
        CP,
    ),
    Reason(
        "feeder_one",
        "Why a feeder holds one product",
        "What is left of one chlorine in a feeder meets the next: trichlor where calcium hypochlorite was"
        " explodes. One product for life; a change means a new feeder.",
        ANY,
        CP,
    ),
    Reason(
        "equipment_cp",
        "Why this is said",
        "It is what practitioners do and warn of; the maker's manual and licensed trades come first.",
        ANY,
        CP,
    ),
    Reason(
        "papers",
        "Why keep the papers here",
        "Receipts and warranties of covers, cells, pumps and liners are lost when they are wanted.",
        ANY,
        CP,
    ),
)
