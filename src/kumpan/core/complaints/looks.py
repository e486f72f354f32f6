"""Cloudy water and stains. Common practice, no source."""

from kumpan.core.complaints.guide import Complaint, Row, Suspect, read
from kumpan.core.work.sheet import Do, Words

CHLORINE = Row(
    "read",
    read("fc", "cc", "ph"),
    Words(
        "Test chlorine and pH",
        "Free and combined chlorine, and pH: elbow deep, the pump on for ten minutes before.",
    ),
)

CLOUDY = Complaint(
    "cloudy",
    "Cloudy water",
    "The water is dull or milky",
    (
        Suspect(
            "added",
            (
                Row(
                    "glass",
                    Do(),
                    Words(
                        "A glass of it, a spoon of vinegar",
                        "Hold it against something dark. Acid dissolves calcium carbonate and nothing"
                        " else here.",
                    ),
                ),
            ),
            Words("What did the vinegar do?"),
            (("clears", "It cleared within a minute"), ("stays", "It stayed dull")),
            ("clears",),
            Words(
                "Calcium carbonate",
                "Calcium, soda ash or bicarbonate went in too fast or too near one another, or the index"
                " is high."
                " Acid by the Bench, pump on; it clears in a day. A day between calcium and any carbonate.",
                "Nothing more of either today.",
            ),
        ),
        Suspect(
            "chlorine",
            (CHLORINE,),
            Words(
                "What did it read?",
                "Under its minimum, or combined chlorine of 0.5 or more, is the answer for low.",
            ),
            (("low", "Too little free, or combined is high"), ("fine", "Both are fine")),
            ("low",),
            Words(
                "Too little chlorine: algae before they show",
                "Clear-up leads it: brush, raise, read. By a night's reading you know whether they are gone.",
                "Nobody in while the floor is not plain to see.",
            ),
        ),
        Suspect(
            "ph",
            (
                Row(
                    "read",
                    read("ph", "ta", "ch"),
                    Words("Test pH, alkalinity, calcium", "The index follows from them."),
                ),
            ),
            Words("Is pH over 7.8, or the index over +0.5?", "Both stand beside this once they were read."),
            (("high", "Yes"), ("fine", "No")),
            ("high",),
            Words(
                "Water that drops its calcium",
                "Acid by the Bench down to 7.4; the filter takes the rest in a day or two.",
            ),
        ),
        Suspect(
            "filter",
            (
                Row(
                    "gauge",
                    Do(),
                    Words(
                        "Look at gauge, jets and hours",
                        "Against the clean pressure on record; hands before the returns; the timer's hours.",
                    ),
                ),
            ),
            Words("How does it run?"),
            (
                ("loaded", "8 psi over clean, or weak jets"),
                ("short", "Under 8 hours a day"),
                ("fine", "Neither"),
            ),
            ("loaded", "short"),
            Words(
                "Too little goes through the filter",
                "Loaded: clean it. Short: at least 8 hours, one turnover, round the clock until it is clear.",
            ),
        ),
        Suspect(
            "through",
            (
                Row(
                    "start",
                    Do(),
                    Words(
                        "Watch the returns as the pump starts",
                        "After a rest of an hour: a puff of dust in the first minute is what the filter"
                        " let by.",
                    ),
                ),
            ),
            Words("What came out?"),
            (("dust", "A puff of dust or sand"), ("clear", "Clear water")),
            ("dust",),
            Words(
                "The filter lets it through",
                "Sand channelled or worn, a torn cartridge or grid, a valve's gasket: open it and look.",
                "Pump off at its breaker, pressure off.",
            ),
        ),
        Suspect(
            "dead",
            (
                Row(
                    "floor",
                    Do(),
                    Words(
                        "Look at the floor in the morning",
                        "Before the pump starts: what is too fine for the filter has sunk overnight.",
                    ),
                ),
            ),
            Words("What lies there?"),
            (("grey", "Grey or pale dust"), ("nothing", "Nothing")),
            ("grey",),
            Words(
                "Dead algae, or dust too fine for the filter",
                "Vacuum it slowly, to waste where the valve can; else a clarifier by its label, and wash"
                " the filter.",
                "Not with a shock on the same day.",
            ),
        ),
    ),
)

_SPOT = "On one small spot, under water or on a wet wall."
STAINS = Complaint(
    "stains",
    "Stains",
    "Spots or shadows on floor and walls",
    (
        Suspect(
            "leaf",
            (
                Row(
                    "bleach",
                    Do(),
                    Words(
                        "A little chlorine on one spot",
                        f"{_SPOT} A few granules in a sock for a minute, or a cloth wetted with liquid"
                        f" chlorine.",
                        "Gloves. On vinyl liquid only, and rinse: granules bleach it for good.",
                    ),
                ),
            ),
            Words("What did the chlorine do?"),
            (("lighter", "The spot grew lighter"), ("same", "It stayed, or grew darker")),
            ("lighter",),
            Words(
                "Leaves, berries or algae",
                "Chlorine at its upper end and a brush take it out over days. Net before it sinks.",
            ),
        ),
        Suspect(
            "iron",
            (
                Row(
                    "acid",
                    Do(),
                    Words(
                        "A vitamin C tablet on one spot",
                        f"{_SPOT} Half a minute: it lifts metal and leaves the rest.",
                    ),
                ),
                Row("read", read("iron"), Words("Test iron", "By strip, or at a shop; the fill water too.")),
            ),
            Words("What did both say?"),
            (
                ("iron", "It lifted, and iron was read or the spot is rust brown"),
                ("no", "It did not lift, or no iron and no rust colour"),
            ),
            ("iron",),
            Words(
                "Iron",
                "A sequestrant by its label, ascorbic acid by its own for what is on the wall; chlorine"
                " low meanwhile."
                " Fill through a hose filter.",
                "No shock: chlorine turns dissolved iron into stains.",
            ),
        ),
        Suspect(
            "copper",
            (
                Row(
                    "read",
                    read("copper"),
                    Words("Test copper", "By strip, or at a shop; the fill water too."),
                ),
            ),
            Words(
                "Is there copper, or are the spots blue-green or black where vitamin C lifts them?",
            ),
            (("copper", "Yes"), ("no", "No")),
            ("copper",),
            Words(
                "Copper",
                "A sequestrant by its label. It comes from copper products, and from heaters and pipes"
                " that low pH"
                " eats: find which. No copper algaecide more.",
                "No shock on it.",
            ),
        ),
        Suspect(
            "scale",
            (
                Row(
                    "drop",
                    Do(),
                    Words(
                        "A drop of vinegar on a rough spot",
                        "On tile or plaster over the water. Calcium scale fizzes.",
                    ),
                ),
            ),
            Words("Did it fizz?"),
            (("fizz", "It fizzed"), ("none", "Nothing")),
            ("fizz",),
            Words(
                "Calcium scale",
                "Bring the index down by the Bench: pH first, then alkalinity; dilute vinegar and a brush"
                " on tile.",
            ),
        ),
    ),
)
