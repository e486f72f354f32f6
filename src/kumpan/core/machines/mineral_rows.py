"""Starting a copper system, as data: salt for its conductivity, the maker's starter, the first readings.

Common practice, no source.
"""

from kumpan.core.machines.guide import Guide, Row
from kumpan.core.machines.pad import Pad
from kumpan.core.work.sheet import Do, MetBy, Test, Wait, Words

# It takes a week or two to come to its level; nothing is said meanwhile (our own).
_IDLE_MIN = 21 * 1440.0
_COPPER = MetBy("water_test", frozenset({"copper"}))


_BEFORE = Row(
    "copper_before",
    Test(("copper",)),
    Words(
        "Test copper before anything",
        "By strip or at a shop. Over 0.2 ppm it comes from somewhere already: find that first.",
        why="What the system adds comes on top, and over 0.4 ppm it stains.",
    ),
    met_by=_COPPER,
)
_REST = (
    Row(
        "starter",
        Do(),
        Words(
            "The maker's starter, by its label",
            "It takes 24 to 48 hours to dissolve. Pump on all the while.",
            "The label rules. Never together with another product.",
        ),
    ),
    Row("dissolve", Wait(48 * 60.0, "it is dissolved"), Words("Until it is dissolved")),
    Row(
        "on",
        Do(),
        Words(
            "System on, the pump 12 hours a day at least",
            "At the maker's setting for this volume.",
            why="It feeds only while water runs.",
        ),
    ),
    Row(
        "residual",
        Test(("fc", "ph")),
        Words(
            "Free chlorine and pH",
            "Copper oxidises nothing: chlorine stays at 1 to 2 ppm, 2 to 3 with stabilizer. Granules weekly,"
            " dissolved in a bucket first; people use about 1 lb per 10,000 gal, the Bench sizes it from this"
            " reading.",
            "For homes alone: it leaves little margin. A public pool holds its code's chlorine.",
        ),
        met_by=MetBy("water_test", frozenset({"fc", "ph"})),
    ),
    Row("week", Wait(7 * 1440.0, "a week has gone"), Words("A week", "It comes up slowly.")),
    Row(
        "copper_after",
        Test(("copper",)),
        Words(
            "Test copper again",
            "0.2 to 0.4 ppm is its level: less, the setting up; more, the system off until it reads less.",
            "No copper algaecide in this pool, ever.",
            "Over 0.4 it stains surfaces, and hair.",
        ),
        met_by=_COPPER,
    ),
)


def starting(bag: str) -> Guide:
    """A copper system begun. bag: of salt, in the person's measure."""
    salt = Row(
        "salt",
        Do(),
        Words(
            "A bag of salt round the deep end",
            f"{bag} of pool salt, pump on, brushed until it is gone; a day.",
            "Not into the skimmer.",
            "The plates need water that conducts; this is far under what a salt cell wants.",
        ),
    )
    rows = (_BEFORE, salt, *_REST)
    return Guide("mineral", "Start the copper system", rows, Pad(), "care_copper", _IDLE_MIN)
