"""What the steps of a run say: title, how, caution, why."""

from typing import Literal

from kumpan.core.clearup import tables as t
from kumpan.core.records import PSI_KPA
from kumpan.core.work.sheet import Words

By = Literal["level", "bag", "round", "week"]
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
GEAR = Words(
    "Treat what hung in the water",
    "Toys, floats, brushes, hoses and the cleaner into the pool while the level is high; swimwear washed hot."
    " Then into the sun to dry.",
    "",
    "Mustard comes back on them.",
)
STIR = Words(
    "Stir the floor",
    "Brush what lies on the floor up until no granule is left lying, all corners.",
    "Nobody in.",
    "Undissolved granules bleach the floor, and pin what grows under them.",
)
SOON = Words(
    "Look after half an hour",
    "Green turns grey as it dies. The filter's jets tell how fast it loads.",
    "",
    "Where nothing changed the level was not reached: read it.",
)
FRESH = Words(
    "A fresh cartridge",
    "The spare one in, the loaded one hosed between its pleats; again whenever the jets grow weak.",
    _RELEASE,
    "In a small pool the cartridge is all that clears it, and it loads in two hours.",
)
BATCH = Words(
    "Tablets into the feeder",
    "3-inch tablets, opened upwind, pump off; the dial in the middle. Never loose, never with another"
    " product.",
    "Gloves, and stand back: what gathers in a feeder is gas. Only trichlor where trichlor was.",
    "They carry the water between the rounds: about 25 ppm, 15 of stabilizer, and 17 of alkalinity gone.",
)
BEFORE_BATCH = Words(
    "Test before the tablets",
    f"They go in at stabilizer {t.BATCH_CYA_MOST:.0f} or less, alkalinity {t.BATCH_TA_LEAST:.0f} or more and"
    f" pH {t.BATCH_PH_LEAST:g} or more; else liquid each dusk instead.",
    "",
    "A batch adds stabilizer that only fresh water takes out, and it is acid.",
)
WEEK = Words(
    "Chlorine in the week after",
    f"Up to {t.WEEK_TO_PPM:.0f} ppm and never over it, so that {t.WEEK_LEAST_PPM:.0f} or more are left by"
    " the next reading. Swimming opens by the reading alone, and never while somebody brushes.",
    "",
    "The caps are open for days after the brush: what gets in then kills the roots.",
)
ALGAECIDE = Words(
    "Algaecide that prevents, by its label",
    f"Only while free chlorine reads under {t.ALGAECIDE_UNDER_PPM:.0f}: more destroys it. At least 30 to 40 %"
    " active, no bromide and no ammonium product.",
    "The label rules, how long nobody swims too.",
    "A help against the next bloom. It cures nothing, and it never replaces chlorine.",
)
ALGAECIDE_COPPER_TOO_MUCH = " Not one of copper: this water carries copper already."
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


def heads(surface: str) -> Words:
    """The brush on black's heads. Steel on plaster alone (common practice)."""
    brush = "A steel brush" if surface == "plaster" else "A stiff nylon brush, never steel,"
    return Words(
        "Brush every head, hard",
        f"{brush} on each spot until it is rough no more; shady corners, joints, behind ladder and light.",
        "Nobody else in the water; goggles, and not over your head.",
        "Its cap keeps chlorine out. Opened each day, it dies; a shock alone only bleaches it.",
    )


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


def pour(level_ppm: float, fc_ppm: float | None, number: int, opened: str, by: By) -> Words:
    """Chlorine. fc_ppm: what was read last."""
    title = "Top up"
    if by == "round" or (by == "bag" and number <= t.ROUNDS):
        title = f"Round {number} of {t.ROUNDS}" if by == "bag" else f"Round {number}"
    elif by == "level" and number == 1:
        title = "Raise to the level"
    how = "Round the deep end, pump running, one chlorine product only."
    why = {
        "bag": "About 10 ppm a round.",
        "round": "About 7 ppm a round, and only while it reads under 10.",
    }.get(by, "" if fc_ppm is None else f"From {fc_ppm:g} to {level_ppm:.0f} ppm.")
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
