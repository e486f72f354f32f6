"""The guides of a salt cell, as data: looking at the plates, cleaning them, the test of what the cell makes,
a boost, salt at several spots.

Order, minutes and cautions: common practice, no source, unless said beside them.
"""

from dataclasses import dataclass
from datetime import datetime

from kumpan.core.machines.bath import SOAK_MIN, SOAK_MOST_MIN, BathWords
from kumpan.core.machines.guide import Row
from kumpan.core.work.sheet import END, Decide, Do, Look, MetBy, Test, Wait, Words

# What a look at the plates may find: the grades of the log's inspections.
GRADES: tuple[tuple[str, str], ...] = (
    ("fine", "Bare metal"),
    ("light", "A thin white film"),
    ("heavy", "Thick or flaky deposits"),
    ("worn", "Coating gone in places"),
)
_READS_FC = MetBy("water_test", frozenset({"fc"}))
_FLOW_FIRST = "Flow first: a cell without flow collects hydrogen and can burst."


_GRADED = tuple((grade, label, "cell_hand" if grade in ("light", "heavy") else "") for grade, label in GRADES)
# Taking the cell out, looking at its plates, putting it back.
LOOK: tuple[Row, ...] = (
    Row(
        "off",
        Do(),
        Words("Cell and pump off, at the breaker", "So that no timer starts them while the line is open."),
        ("cell_off", "pump_off"),
    ),
    Row("shut", Do(), Words("Shut the valves on both sides"), ("shut",)),
    Row(
        "take_out",
        Do(),
        Words(
            "Cable and cap off, unions loose, cell out",
            "Loosen slowly: what pressure is left comes out there. Keep the rings where no sand goes.",
            "Dry hands, dry feet.",
        ),
        ("take_cell",),
    ),
    Row(
        "look",
        Decide("What do the plates show?", _GRADED),
        Words(
            "Hold it against a bright light",
            "Look through between the plates. White flakes in the pool come from here.",
            "",
            "The grade sets when the next look is due.",
        ),
        draws="plates",
    ),
    Row(
        "refit",
        Do(),
        Words(
            "Cell back in, cable on",
            "Rings clean, greased and seated; its arrow with the flow; unions by hand.",
            "Never with acid still in it.",
        ),
        ("fit_cell",),
    ),
    Row("unshut", Do(), Words("Open both valves again", "Every one: a shut line bursts."), ("unshut",)),
    Row(
        "on",
        Do(),
        Words("Pump on, then the cell", "Strong jets, dry unions; then its power.", _FLOW_FIRST),
        ("pump_on", "cell_on"),
    ),
    Row(
        "auto",
        Do(),
        Words("Controller back to automatic", "The step most often forgotten."),
        ("to_auto",),
    ),
    Row(
        "settings",
        Look("Did output and timer survive?", (("kept", "As before"), ("reset", "Set again"))),
        Words("Look at its output and its timer", "A box without power may forget both."),
        may_skip=True,
    ),
    Row(
        "boost",
        Decide("Boost it?", (("no", "Not needed", ""), ("yes", "Boost for 24 hours", "boost"))),
        Words(
            "Is chlorine low?",
            "Under its aim: full output for a day and night brings a small shock.",
            "Nobody swims until a reading says so.",
        ),
        may_skip=True,
    ),
)


# Deposits off without acid, as far as they come.
BY_HAND: tuple[Row, ...] = (
    Row(
        "flakes",
        Do(),
        Words(
            "Flakes off by hand, then the hose",
            "An ordinary garden nozzle through between the plates, both ways.",
            "No pressure washer: it strips the coating.",
        ),
        ("hose_cell",),
        draws="plates",
    ),
    Row(
        "tool",
        Do(),
        Words(
            "What sticks: wood or plastic, gently",
            "A flat stick between the plates.",
            "Never metal: a scratch is where the coating fails.",
        ),
        ("scrape",),
        draws="plates",
    ),
    Row(
        "again",
        Decide(
            "Against the light again: what is left?",
            (("clean", "Bare metal", ""), ("scaled", "Still scaled: the acid bath", f"{END}:cell_bath")),
        ),
        Words(
            "Look again",
            "A film that is left bridges again within days. A bath takes it, and some of the coating's"
            " life too.",
        ),
        draws="plates",
    ),
)


_SOAKING: tuple[Row, ...] = (
    Row(
        "dip",
        Do(),
        Words(
            "Cell in, terminals dry",
            "Over the plates, not over the terminals or the cable.",
            "Never plug or cap a cell that holds acid: the gas bursts it.",
        ),
        ("dip",),
        draws="bath",
    ),
    Row(
        "fizz",
        Wait(SOAK_MIN, "the fizzing has stopped"),
        Words(
            "Until the fizzing stops",
            f"A few minutes, about {SOAK_MIN:.0f}; at most {SOAK_MOST_MIN:.0f}. Stay with it.",
            "Keep children and animals away.",
        ),
        ("soak",),
        draws="bath",
    ),
    Row(
        "lift",
        Do(),
        Words("Cell out, rinsed well", "Let it drain into the bath first, then the hose."),
        ("lift", "hose_cell"),
        draws="bath",
    ),
)
_BATHED: Row = Row(
    "again",
    Decide(
        "Against the light: what is left?",
        (("clean", "Bare metal", ""), ("scaled", "Still scaled: once more", f"{END}:cell_bath")),
    ),
    Words("Look again", "Once more only where it is severe."),
    draws="plates",
)


def bath_rows(told: BathWords, parts: float, so_far: int) -> tuple[Row, ...]:
    """The acid bath. told: its amounts in words; so_far: how many this cell has had."""
    number = f"The log knows {so_far} so far." if so_far else "The log knows of none so far."
    return (
        Row(
            "gear",
            Do(),
            Words(
                "Outdoors: goggles, gloves, mask",
                f"Each bath costs coating life. {number} A cell cleaner by its label is the safer way.",
                "Label first. Fumes: stand upwind.",
            ),
            ("gear",),
            draws="bath",
        ),
        Row(
            "water",
            Do(),
            Words(f"Water first: {told.water}", "Into a clean plastic bucket that stands firm."),
            ("bath_water",),
            draws="bath",
        ),
        Row(
            "acid",
            Do(),
            Words(
                f"Then the acid: {told.acid}",
                f"Slowly, along the side. As strong as {parts:g} parts of water to one of 31.45 % acid.",
                "Acid into water, never water onto acid: it boils up and spits.",
            ),
            ("bath_acid",),
            draws="bath",
        ),
        *_SOAKING,
        Row(
            "soda",
            Do(),
            Words(
                f"Neutralise the bath: {told.soda} of baking soda",
                "Spoon by spoon, outdoors, until nothing fizzes any more. Then where local rules allow.",
                "It foams over if hurried. No chlorine residue in that bucket, ever.",
            ),
            ("neutralise",),
            draws="bath",
        ),
        _BATHED,
    )


@dataclass(frozen=True)
class Nights:
    """Two evenings and the mornings after, as instants."""

    dusk: datetime
    dawn: datetime
    second_dusk: datetime
    second_dawn: datetime


def output_rows(nights: Nights, before: str) -> tuple[Row, ...]:
    """Two nights that tell a cell that fades from a demand that rose. before: what it runs at, in words."""
    again = f"Back to {before}." if before else "Back to what it ran at before."

    def test(key: str, title: str, at: datetime) -> Row:
        words = Words(title, "Drops or a photometer; the same kit all four times.")
        return Row(key, Test(("fc",)), words, met_by=_READS_FC, at=at)

    return (
        Row(
            "off",
            Do(),
            Words(
                "First evening: cell off, tablets out, pump on",
                "Nothing feeds tonight, and the sun takes nothing: what goes is demand. Lift free chlorine to"
                " 3 or more before, by hand.",
            ),
            ("cell_off",),
        ),
        test("dusk", "Free chlorine at dusk", nights.dusk),
        test("dawn", "Free chlorine before the sun is on it", nights.dawn),
        Row("day", Do(), Words("Cell on for the day", "As it ran before.", _FLOW_FIRST), ("cell_on",)),
        test("second_dusk", "Free chlorine at dusk, once more", nights.second_dusk),
        Row(
            "full",
            Do(),
            Words(
                "Second night: cell at 100 %, pump all night",
                "Right after the reading. Nothing else goes in.",
            ),
            ("cell_full",),
        ),
        test("second_dawn", "Free chlorine before the sun is on it", nights.second_dawn),
        Row("back", Do(), Words("Setting and pump back", again), ("cell_back",)),
    )


def boost_rows(before: str) -> tuple[Row, ...]:
    """A boost for a day and a night. before: what it ran at, in words."""
    again = f"Back to {before}." if before else "Back to what it ran at before."
    return (
        Row(
            "on",
            Do(),
            Words(
                "Full output, pump through day and night",
                "The boost button where there is one; else 100 %, and the timer to continuous.",
                "Nobody swims until a reading says so.",
            ),
        ),
        Row(
            "back",
            Do(),
            Words("Setting and timer back", f"{again} Some boosts end by themselves: look all the same."),
            wait_min=24 * 60,
        ),
        Row(
            "read",
            Test(("fc", "ph")),
            Words("Read chlorine and pH before anybody swims", "A boost also lifts pH."),
            met_by=MetBy("water_test", frozenset({"fc", "ph"})),
        ),
    )


def spot_rows() -> tuple[Row, ...]:
    """Salt read at several spots: pockets show poor mixing."""
    spots = (
        ("deep", "At the deep end"),
        ("shallow", "At the shallow end"),
        ("far", "In the stillest corner"),
    )
    reads = (
        Row(
            key,
            Look("Salt", unit="ppm"),
            Words(title, "Elbow deep, far from the jets, the same kit at each. Pump on for an hour before."),
            may_skip=key == "far",
        )
        for key, title in spots
    )
    return (
        *reads,
        Row(
            "told",
            Do(),
            Words(
                "What the spots say",
                "A jet aimed 45 degrees down and at a still corner moves it; brush what lies on the floor.",
            ),
        ),
    )
