"""What a plan says as a whole: its headline, which test is missing, what is left alone and why."""

from kumpan.core.dosing.request import Finding, Step
from kumpan.core.dosing.sizing import AERATE
from kumpan.core.guidance.conditions import tells_of_growth
from kumpan.core.phrasing.terms import _sentence, listed
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.conflicts import Conflict
from kumpan.core.water.implausible import Doubtful
from kumpan.core.water.measures import MEASURE_OF_ROLE, MEASURES
from kumpan.core.water.state import WaterState
from kumpan.core.water.untested import untested

_PH_ROLES = ("lower_ph", "raise_ph", "lower_ta", AERATE)


def _headline_name(measure: str) -> str:
    return MEASURES[measure].headline or MEASURES[measure].word


def needs_test(
    water: WaterState,
    conflict: Conflict | None,
    steps: list[Step],
    doubtful: list[Doubtful],
    too_coarse: list[str],
    findings: tuple[Finding, ...],
) -> tuple[str, ...]:
    """Which test is missing or to be taken again for what, the most useful first."""
    told = [f"{conflict.message} No acid or base until then."] if conflict else []
    told += [d.message for d in doubtful]
    for role in too_coarse:
        m = MEASURES[MEASURE_OF_ROLE[role]]
        told.append(f"This reading of {m.name} is too coarse to pour anything on: use a finer test.")
    told += [f.sentence for f in findings if f.word == "cannot tell"]
    if conflict:
        return tuple(told)
    known = [
        v is not None
        for v in (water.fc_ppm, water.ph, water.ta_ppm, water.ch_ppm, water.cya_ppm, water.salt_ppm)
    ]
    if not any(known):
        return tuple(told)
    told += _never_read(water)
    leant_on = [m.word for m in MEASURES.values() if m.field in untested(water)]
    if water.has_ph_chemistry and leant_on and any(s.role in _PH_ROLES for s in steps):
        told.append(
            f"Not tested: {listed(leant_on)}. The acid or base dose is the least that any value of it would"
            " ask for; the re-test decides the rest."
        )
    return tuple(told)


def _never_read(water: WaterState) -> list[str]:
    """What cannot be planned for want of a reading."""
    told = []
    if water.fc_ppm is None:
        told.append("Test free chlorine: without it no chlorine dose and no swim advice.")
    for_ph = {"total alkalinity": water.ta_ppm, "stabilizer": water.cya_ppm}
    missing = " and ".join(name for name, value in for_ph.items() if value is None)
    if water.ph is None:
        told.append("Test pH: without it no acid or base dose.")
    elif missing and not 7.2 <= water.ph <= 7.8:
        told.append(f"Test {missing}: without it the acid or base dose for this pH cannot be computed.")
    if water.cya_ppm is None and water.fc_ppm is not None:
        told.append("Test stabilizer: until then chlorine is planned for a pool with little of it.")
    return told


def left_alone(
    findings: tuple[Finding, ...],
    traits: PoolTraits,
    share: float,
    steps: tuple[Step, ...],
    ta_first: bool,
    seen: frozenset[str],
) -> tuple[str, ...]:
    """What is deliberately not dosed, and why."""
    told = (
        ["Alkalinity first: calcium, stabilizer and salt wait for the test after it."]
        if ta_first and not share
        else []
    )
    low_cya = any(f.measure == "cya" and f.word == "low" for f in findings)
    if low_cya and tells_of_growth(seen):
        told.append("Stabilizer waits until the water is clear: it would bind the chlorine that clears it.")
    ph = next((f for f in findings if f.measure == "ph" and f.level == "act"), None)
    if ph and not share and not any(s.role in ("lower_ph", "raise_ph", AERATE) for s in steps):
        last = next((m.after for s in reversed(steps) for m in s.moves if m.measure == "ph"), None)
        if last is not None:
            told.append(f"pH gets no product of its own: the other additions take it to {last:.1f}.")
    told += [f.sentence for f in findings if f.level == "watch" and f.word != "cannot tell"]
    told += [f.sentence for f in findings if f.measure == "cc" and f.level == "act"]
    told += [f.sentence for f in findings if f.level == "fine" and "does not matter" in f.sentence]
    if traits.has_chlorinator:
        fc = next((f for f in findings if f.measure == "fc" and f.level == "fine"), None)
        if fc and fc.band and fc.band.aim is not None and fc.value < fc.band.aim - 0.5:
            told.append(
                "Chlorine is above its minimum but under its aim: raise the chlorinator's setting or hours."
            )
    fine = [_headline_name(f.measure) for f in findings if f.level == "fine" and f.measure != "fc"]
    if fine and not share:
        told.append(f"{_sentence(_join(fine))} {'is' if len(fine) == 1 else 'are'} fine.")
    return tuple(told)


def headline(
    findings: tuple[Finding, ...], steps: list[Step], missing: tuple[str, ...], water: WaterState
) -> str:
    """One sentence: verdict and next act."""
    if not findings:
        return "Type a test to see what the water needs."
    off = [f for f in findings if f.level == "act"]
    acts = [s for s in steps if s.kind != "retest"]
    if not off and not acts:
        if water.fc_ppm is None or water.ph is None:
            return "Fine as far as tested. Free chlorine and pH decide the rest."
        return "The water is fine. Nothing to add."
    verdict = _join([f"{_headline_name(f.measure)} {f.word}" for f in off]) if off else "the water is fine"
    first = _act_words(acts)
    if not first:
        rest = missing[0] if missing else off[0].sentence
        return f"{_sentence(verdict)}. {rest}"
    return f"{_sentence(verdict)}: {first}." if off else f"{_sentence(verdict)}; {first}."


def _act_words(acts: list[Step]) -> str:
    names: list[str] = []
    for step in acts:
        name = {"aerate": "air", "dilute": "fresh water", "wait": "wait"}.get(step.kind) or _product_word(
            step
        )
        if name not in names:
            names.append(name)
    if not names:
        return ""
    if len(names) == 1:
        return f"{names[0]} now" if acts[0].start_min == 0 else names[0]
    return f"{names[0]} first, then {_join(names[1:3])}" + (" and more" if len(names) > 3 else "")


_WORDS = {
    "raise_fc": "chlorine",
    "lower_ph": "acid",
    "lower_ta": "acid",
    "lower_fc": "neutraliser",
    "raise_cya": "stabilizer",
    "raise_ch": "calcium",
    "raise_salt": "salt",
}


def _product_word(step: Step) -> str:
    return _WORDS.get(step.role, step.title.split(" (")[0].lower())


def _join(names: list[str]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]
