"""What the steps of a run say: title, how, caution, why."""

from kumpan.core.clearup import tables as t
from kumpan.core.records import PSI_KPA
from kumpan.core.work.sheet import Words

_RELEASE = "Pump off at its breaker and pressure off before anything is opened."
_NOBODY = "Nobody in until a reading and the floor allow it."

DEBRIS = Words(
    "Leaves out, baskets empty",
    "Net the surface, rake the deep end, empty skimmer and pump basket. What rots eats the chlorine first.",
    "Look into the skimmer before you reach in.",
    "Debris is food for algae and takes chlorine that should kill.",
)
TIMER = Words(
    "Pump on round the clock",
    "Take the trippers off the timer, or set the controller to always on. Note how it was set: it goes back"
    " at the end.",
    "",
    "What dies must reach the filter, and still water grows again.",
)
TIMER_BACK = Words(
    "Put the pump's timer back",
    "Trippers on, or the controller back to its programme; look that the clock is right.",
    "",
    "Forgotten, it runs the pump day and night for months.",
)
BRUSH = Words(
    "Brush all of it",
    "Walls, steps, behind the ladder, round lights and returns, toward the drain. Nylon on vinyl.",
    "",
    "A brush opens what sits on the walls to the chlorine, and lifts granules that lie on the floor.",
)
HIDDEN = Words(
    "Brush all of it, the hidden places first",
    "Behind lights and the ladder, under steps, in the skimmer's throat, along the line: it came from there."
    " Then walls and floor, toward the drain.",
    "",
    "It is back within a week: it never was over.",
)
BACK_PHOSPHATE = Words(
    "Test phosphate first",
    "It is back within a week of the last run. Over 100 ppb phosphate feeds it faster than chlorine kills.",
    "",
    "A school: phosphate first, then the level held to its end, then the hidden places.",
)
LOOK = Words(
    "Brush, then look",
    "Brush down what grew and what lies on the floor, wait for it to drift, then say how the water looks.",
    "",
    "How it looks decides what comes next.",
)
VACUUM = Words(
    "Vacuum what settled",
    "Slowly, strokes overlapping, so that it does not cloud up again.",
    "",
    "Dead algae on the floor eat chlorine and feed the next bloom.",
)
CLARIFY = Words(
    "Clarifier or floc, by its label",
    "A clarifier gathers what is too fine for the filter; a flocculant drops it to be vacuumed to waste.",
    "The label rules. Not with a shock on the same day.",
    "Optional: the filter does it too, more slowly.",
)
PREVENT = Words(
    "Change what let it in",
    "Below stands what the log says about why. Change one thing now, while it is in mind.",
    "",
    "Algae are always there; what let them win is still there too.",
)
STABILIZER = Words(
    "Test stabilizer",
    "Only now: a shock with dichlor and fresh water moved it. Raise or dilute by the reading, not before.",
    "",
    "The chlorine this pool holds from here on follows from it.",
)
PHOSPHATE = Words(
    "Test phosphate",
    "Over 100 ppb its remover is a help against the next bloom; it never replaces chlorine.",
    "",
    "Contested: leeway, no cure. Fertiliser, skin and hair bring it.",
)
SHOP = Words(
    "Take a sample to a shop, or read it with drops",
    "About a quart, from elbow deep; take the list of what you poured.",
    "No more chlorine on strips alone: they cannot tell 10 from 40 ppm.",
    "A strip's run has put in all that it may without a finer reading.",
)
AGAIN = Words(
    "Read it again, thinned",
    "Chlorine over 10 ppm bleaches the dye and reads none. One part pool water, two parts bottled or"
    " tap water"
    " free of chlorine: read, times three.",
    "Pour nothing on this reading.",
    "Much went in a while ago: none is more likely very high than gone.",
)
CLEANER_OUT = Words(
    "Cleaner out, cover off, pump to run through the night",
    "Robot, hose and toys out of the water; heater bypassed.",
    "",
    "High chlorine eats rubber and dye, and a still pool is not shocked.",
)
BOOST = Words(
    "Chlorinator to boost",
    "Its boost or super setting: a day at full output, pump on all the while.",
    "",
    "Chlorine made in the water instead of poured.",
)
REGAIN = Words(
    "Bring free chlorine back",
    "The oxidiser adds none: type a test on the Bench and dose to the aim.",
    "",
    "An oxidiser kills no algae; the residual does.",
)

_FEEDS_OFF = {
    "cell": ("Chlorinator off", "Set it to 0 % or off."),
    "tablets": (
        "Tablets out of the water",
        "Close the feeder, lift the floater out into a bucket of pool water.",
    ),
}
_FEEDS_BACK = {
    "cell": ("Chlorinator on again", "At the setting it had, once free chlorine is where people may swim."),
    "tablets": (
        "Tablets back in their feeder",
        "Opened upwind, pump off; never loose, never with another product.",
    ),
}


def feeds_off(feeds: str) -> Words:
    """What feeds the pool by itself, off."""
    title, how = _FEEDS_OFF[feeds]
    return Words(title, how, "", "Fed in the night, a reading cannot tell what the night took.")


def feeds_back(feeds: str) -> Words:
    """And on again."""
    title, how = _FEEDS_BACK[feeds]
    return Words(title, how, "", "It holds the pool from here on.")


def filter_clean(kind: str, again: bool) -> Words:
    """The filter, before the kill or after it."""
    how = {
        "sand": "Backwash until the glass is clear, rinse.",
        "de": "Backwash and recharge with DE.",
        "cartridge": "Hose it between the pleats, or put the spare one in.",
    }.get(kind, "By its kind: backwash, or hose the cartridge.")
    title = "Clean the filter again" if again else "Clean the filter"
    why = "It holds what the water held." if again else "It is about to catch a great deal."
    return Words(title, how, _RELEASE, why)


_OVER_KPA = 8 * PSI_KPA  # over its clean pressure by so much a filter is cleaned (common practice)


def filter_look(kind: str, clean_kpa: float | None, system: str) -> Words:
    """The filter in the middle of a run: by pressure, flow or hours. clean_kpa: None where not known."""
    gauge = "8 psi over clean" if system == "us" else "0.55 bar over clean"
    if clean_kpa is not None:
        high = clean_kpa + _OVER_KPA
        gauge += f" ({high / PSI_KPA:.0f} psi here)" if system == "us" else f" ({high / 100:.1f} bar here)"
    how = f"Clean it if the gauge stands {gauge}, the jets are weak, or a day has gone."
    if kind == "cartridge":
        how = "A cartridge loads in hours now: hose it or change it when flow falls, at least daily."
    return Words("Filter: gauge and jets", how, _RELEASE, "A full filter clears nothing.")


def first_test() -> Words:
    """What is read before anything is poured."""
    return Words(
        "Test before anything is poured",
        "Sample elbow deep, away from the returns. pH cannot be read once chlorine is over 10.",
        "",
        "The first amount follows from it.",
    )


def acid(note: str) -> Words:
    """Acid before chlorine."""
    return Words(
        "Acid first",
        "Walk it round the deep end, pump running, upwind. Acid into water. " + note,
        "Goggles, gloves. 30 minutes before any chlorine: together they make gas.",
        "Low pH makes more of the chlorine active.",
    )


def pour(level_ppm: float, fc_ppm: float | None, number: int, opened: str, bags: bool) -> Words:
    """Chlorine. fc_ppm: what was read last."""
    name = f"round {number} of {t.ROUNDS}" if bags and number <= t.ROUNDS else "top up"
    title = "Raise to the level" if number == 1 and not bags else name[:1].upper() + name[1:]
    how = "Round the deep end, pump running, one chlorine product only."
    why = (
        f"From {fc_ppm:g} to {level_ppm:.0f} ppm."
        if fc_ppm is not None and not bags
        else "About 10 ppm a round."
    )
    return Words(title, f"{how} {opened}".strip(), f"Goggles, gloves. {_NOBODY}", why)


def check(level_ppm: float, kind: str) -> Words:
    """A reading of the run. kind: first, day, evening, dawn, morning."""
    title, how = {
        "first": ("Check the level", "An hour after the pour, sample elbow deep."),
        "day": ("Check the level", "Read it, and the amount for a top-up stands here."),
        "evening": (
            "Read it after sunset",
            "Nothing more is poured tonight: the next reading, before sunrise, tells what the night takes.",
        ),
        "morning": (
            "Read it in the morning",
            "Nothing poured since last night: 3 ppm or more left, and total no more than free, are the"
            " end's sign.",
        ),
        "dawn": ("Read it before sunrise", "Before the sun is on the water, and before any pour."),
    }[kind]
    return Words(title, how, "", f"The level to hold is {level_ppm:.0f} ppm.")


def drift(most_ppm: float) -> Words:
    """Chlorine coming down until people may swim."""
    return Words(
        "Test: free chlorine and pH",
        f"Swimming opens on a reading of at most {most_ppm:g} ppm, with pH in range; pH reads true from"
        " 10 down.",
        "",
        "Sun takes it down by itself.",
    )
