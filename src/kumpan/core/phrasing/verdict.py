"""What a plan says as a whole: its headline, which test is missing, what is left alone and why."""

from kumpan.core.dosing.acts import AERATE
from kumpan.core.dosing.findings import does_not_matter
from kumpan.core.dosing.index import indices_of, off_index, topping_brings
from kumpan.core.dosing.request import Finding, Step
from kumpan.core.dosing.situation import Situation
from kumpan.core.guidance.conditions import SEEN
from kumpan.core.guidance.schools import PH_STATED
from kumpan.core.guidance.targets import algae_minimum_ppm, swim_limit_ppm
from kumpan.core.phrasing.terms import _sentence, listed
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState
from kumpan.core.water.untested import untested

# Less calcium a month than this is not worth a word (our own).
_TOLD_FROM_PPM = 5.0
_PH_ROLES = ("lower_ph", "raise_ph", AERATE)


def _headline_name(measure: str) -> str:
    return MEASURES[measure].headline or MEASURES[measure].word


def needs_test(s: Situation, steps: list[Step]) -> tuple[str, ...]:
    """Which test is missing or to be taken again for what, the most useful first."""
    water = s.water
    sentences = _read_again(s)
    if s.conflict:
        return tuple(sentences)
    read = (water.fc_ppm, water.ph, water.ta_ppm, water.ch_ppm, water.cya_ppm, water.salt_ppm)
    if all(v is None for v in read):
        return tuple(sentences)
    sentences += _never_read(water)
    leant_on = [m.word for m in MEASURES.values() if m.field in untested(water)]
    if water.has_ph_chemistry and leant_on and any(x.role in _PH_ROLES for x in steps):
        sentences.append(
            f"Not tested: {listed(leant_on)}. The acid or base dose is the least that any value of it would"
            " ask for; the re-test decides the rest."
        )
    return tuple(sentences)


def _read_again(s: Situation) -> list[str]:
    """What was read and is to be read anew, by another method or the same."""
    sentences = [f"{s.conflict.message} No acid or base until then."] if s.conflict else []
    sentences += [d.message for d in s.doubtful if not (d.measure == "fc" and s.chlorine_in_doubt)]
    if s.chlorine_in_doubt:
        sentences.append(
            "Chlorine reads none though something feeds it: thin the sample with bottled water and read it"
            " again first."
        )
    if s.only_total:
        sentences.append(
            "Test free chlorine: total chlorine stands for it in the dose, and opens no swimming."
        )
    return sentences + [f.sentence for f in s.findings if f.verdict == "cannot tell"]


def _never_read(water: WaterState) -> list[str]:
    """What cannot be planned for want of a reading."""
    sentences = []
    if water.fc_ppm is None:
        sentences.append("Test free chlorine: without it no chlorine dose and no swim advice.")
    for_ph = {"total alkalinity": water.ta_ppm, "stabilizer": water.cya_ppm}
    missing = " and ".join(name for name, value in for_ph.items() if value is None)
    if water.ph is None:
        sentences.append("Test pH: without it no acid or base dose.")
    elif missing and not 7.2 <= water.ph <= 7.8:
        sentences.append(f"Test {missing}: without it the acid or base dose for this pH cannot be computed.")
    if water.cya_ppm is None and water.fc_ppm is not None:
        sentences.append("Test stabilizer: until then chlorine is planned for a pool with little of it.")
    return sentences


def left_alone(s: Situation, steps: list[Step]) -> tuple[str, ...]:
    """What is deliberately not dosed, and why."""
    used = {x.role for x in steps}
    sentences = [why for role, why in s.supply.refused.items() if role in used]
    if s.drain_share:
        sentences.append(
            "No chlorine goes into water that is about to be let go: closed until full and read."
        )
    if s.growth and s.low("cya"):
        sentences.append(
            "Stabilizer waits until the water is clear: it would bind the chlorine that clears it."
        )
    sentences += _watched(s)
    sentences += _index_told(s)
    if (text := _more_than_swimming_allows(s)) is not None:
        sentences.append(text)
    return (*sentences, *_fine(s))


def _watched(s: Situation) -> list[str]:
    """Readings that are off and get nothing, with what to do of them."""
    watched = [f for f in s.findings if f.level == "watch" and f.verdict != "cannot tell"]
    combined = [f for f in s.findings if f.measure == "cc" and f.level == "act" and not s.growth]
    return [f.sentence for f in (*watched, *combined)]


def _fine(s: Situation) -> list[str]:
    """What is fine, and what is low and of no account."""
    fine = [f for f in s.findings if f.level == "fine" and f.measure != "fc"]
    sentences = [f.sentence for f in fine if does_not_matter(f)]
    names = [_headline_name(f.measure) for f in fine if not does_not_matter(f)]
    if names and not s.drain_share:
        sentences.append(f"{_sentence(_join(names))} {'is' if len(names) == 1 else 'are'} fine.")
    return sentences


def _index_told(s: Situation) -> list[str]:
    """What the saturation index says where it is a target and off."""
    off, indices = off_index(s), indices_of(s)
    if not off:
        return []
    now, worst = indices[0], (max if off > 0 else min)(indices)
    clause = f"The saturation index is {now:+.1f}"
    if abs(worst - now) >= 0.05:
        clause += f", and {worst:+.1f} at the temperature of the coming season"
    if off > 0:
        return [f"{clause}: the water scales. Acid takes it down; calcium leaves only with the water."]
    told = [
        f"{clause}: the water takes calcium. Alkalinity or calcium up, or air; no base with pH in its band."
    ]
    brought = topping_brings(s, "ch")
    if brought >= _TOLD_FROM_PPM:
        told.append(f"Topping up brings about {brought:.0f} ppm of calcium a month, which is counted.")
    return told


def _more_than_swimming_allows(s: Situation) -> str | None:
    """Where algae ask for more chlorine than people may swim in."""
    if s.traits.school != "scaled_to_stabilizer" or s.water.cya_ppm is None:
        return None
    fed = s.traits.cell_feeds(s.water.salt_ppm, s.water.temp_c)
    least, most = algae_minimum_ppm(s.water.cya_ppm, s.water.temp_c, fed), swim_limit_ppm(s.traits)
    if least <= most + 0.05:
        return None
    return (
        f"With stabilizer at {s.water.cya_ppm:.0f} it takes {least:.1f} ppm of chlorine (at pH"
        f" {PH_STATED:g}) to keep algae off,"
        f" and people may swim up to {most:g}: chlorine is held there. Lower stabilizer to 30 to 50."
    )


def headline(s: Situation, steps: list[Step], missing: tuple[str, ...]) -> str:
    """One sentence: what was seen, else the verdict, and the next act."""
    seen = [c.headline for c in SEEN.values() if c.id in s.seen]
    acts = [x for x in steps if x.kind != "retest"]
    if seen and s.stopped:
        return f"{seen[0]}."
    said = _said(s, acts, missing)
    if not seen:
        return said
    act = _act_words(acts)
    return f"{seen[0]}. {_sentence(act)}." if act else f"{seen[0]}."


def _said(s: Situation, acts: list[Step], missing: tuple[str, ...]) -> str:
    """The verdict on the water and the next act."""
    if not s.findings and not s.only_total:
        return "Type a test to see what the water needs."
    if s.too_much_chlorine and not any(x.kind == "add" for x in acts):
        return "Chlorine far too high: add nothing, feeder or cell off, cover open."
    again = _test_again(s)
    if again:
        return f"{again}; then {_join(_named(acts))}." if acts else f"{again}."
    off = [f for f in s.findings if f.level == "act"]
    if not off and not acts:
        return _nothing_to_do(s)
    verdict, first = _sentence(_verdict(s, off)), _act_words(acts)
    if not first:
        return f"{verdict}. {missing[0] if missing else off[0].sentence}"
    return f"{verdict}{':' if off else ';'} {first}."


def _nothing_to_do(s: Situation) -> str:
    if s.water.fc_ppm is None or s.water.ph is None:
        return "Fine as far as tested. Free chlorine and pH decide the rest."
    if off_index(s):
        return f"{_sentence(_verdict(s, []))}. Nothing to add now."
    return "The water is fine. Nothing to add."


def _verdict(s: Situation, off: list[Finding]) -> str:
    """What is off, in a row."""
    words = [f"{_headline_name(f.measure)} {f.verdict}" for f in off]
    index = off_index(s)
    if index:
        words.append("the water scales" if index > 0 else "the water takes calcium")
    return _join(words) if words else "the water is fine"


def _test_again(s: Situation) -> str:
    """Which readings that make no sense are taken again before anything is poured; empty where all do."""
    if s.chlorine_in_doubt:
        return "Test chlorine again first, thinned"
    if s.conflict:
        return "Test again first: these readings cannot all be right"
    unexplained = [
        MEASURES[d.measure].word
        for d in s.doubtful
        if MEASURES[d.measure].slow and f"raise_{d.measure}" in d.holds_back
    ]
    return f"Test {listed(unexplained)} again first" if unexplained else ""


def _named(acts: list[Step]) -> list[str]:
    """What is done, each once, in order."""
    names: list[str] = []
    for step in acts:
        name = {"aerate": "air", "dilute": "fresh water", "wait": "wait"}.get(step.kind) or _product_word(
            step
        )
        if name not in names:
            names.append(name)
    return names


def _act_words(acts: list[Step]) -> str:
    names = _named(acts)
    if not names:
        return ""
    if len(names) == 1:
        return f"{names[0]} now" if acts[0].start_min == 0 else names[0]
    return f"{names[0]} first, then {_join(names[1:])}"


_WORDS = {
    "raise_fc": "chlorine",
    "lower_ph": "acid",
    "lower_fc": "neutraliser",
    "raise_cya": "stabilizer",
    "raise_ch": "calcium",
    "raise_salt": "salt",
}


def _product_word(step: Step) -> str:
    return _WORDS.get(step.role, step.title.split(" (")[0].lower())


def _join(names: list[str]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]
