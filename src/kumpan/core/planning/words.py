"""The plan in plain words. Short, honest, the next act first."""

from datetime import datetime

from kumpan.core.amounts import Amount
from kumpan.core.guidance.bands import PoolTraits
from kumpan.core.planning.diagnosis import overflow_share
from kumpan.core.planning.model import FIELD_OF, Finding, Move, PlanRequest, Step
from kumpan.core.planning.needs import AERATE, Need
from kumpan.core.units import L_PER_GAL
from kumpan.core.water.conflicts import Conflict
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.plausible import Doubtful
from kumpan.core.water.state import WaterState, with_measures
from kumpan.core.water.uncertain import untested

_REASONS = {
    "raise_fc": "fc_scaled",
    "lower_ph": "ph_band",
    "raise_ph": "ph_band",
    AERATE: "ph_band",
    "raise_ta": "ta_band",
    "lower_ta": "ta_high",
    "raise_ch": "ch_plaster",
    "raise_cya": "cya_band",
    "raise_salt": "salt_cell",
    "lower_fc": "high_fc",
}
MAIN = {
    "raise_fc": "fc",
    "lower_ph": "ph",
    "raise_ph": "ph",
    "raise_ta": "ta",
    "lower_ta": "ta",
    "raise_ch": "ch",
    "raise_cya": "cya",
    "raise_salt": "salt",
    "lower_fc": "fc",
}
_HEADLINE_NAMES = {
    "fc": "chlorine",
    "cc": "combined chlorine",
    "ph": "pH",
    "ta": "alkalinity",
    "ch": "calcium",
    "cya": "stabilizer",
    "salt": "salt",
}


_UNTESTED = {
    "fc_ppm": "free chlorine",
    "ch_ppm": "calcium",
    "salt_ppm": "salt",
    "temp_c": "water temperature",
}
_PH_ROLES = ("lower_ph", "raise_ph", "lower_ta", AERATE)


def listed(names: list[str]) -> str:
    """Names in a row: ``a``, ``a and b``, ``a, b and c``."""
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def show(measure: str, value: float) -> str:
    """A value with the decimals of its measure: ``7.5``, ``2,700``."""
    return f"{value:,.{MEASURES[measure].decimals}f}"


def moved(water: WaterState, move: Move) -> WaterState:
    """The water with one measure at the value a step leaves it at."""
    return with_measures(water, {FIELD_OF[move.measure]: move.after})


def clock(now: datetime, then: datetime) -> str:
    """A time as said today: ``19:50``, ``Wed 09:00``, ``Tue 1 Dec 09:00``."""
    if then.date() == now.date():
        return f"{then:%H:%M}"
    if (then.date() - now.date()).days < 7:
        return f"{then:%a %H:%M}"
    return f"{then:%a} {then.day} {then:%b %H:%M}"


def swim_from(clock_words: str, least_fc_ppm: float, most_fc_ppm: float) -> str:
    """From when, and on what reading, people may swim."""
    return (
        f"Swim from {clock_words} if FC reads {least_fc_ppm:.1f} to {most_fc_ppm:g} and the floor is clear."
    )


def day(now: datetime, then: datetime) -> str:
    """A day as said today: ``Today``, ``Yesterday``, ``Sat 21 Nov``, with the year when it is another."""
    days = (now.date() - then.date()).days
    if days in (0, 1):
        return ("Today", "Yesterday")[days]
    year = f" {then.year}" if then.year != now.year else ""
    return f"{then:%a} {then.day} {then:%b}{year}"


def add_step(
    index: int,
    start: int,
    need: Need,
    portion: tuple[int, int],
    amount: Amount,
    moves: tuple[Move, ...],
) -> Step:
    """The row for one addition."""
    product = need.product
    assert product is not None
    main = next((m for m in moves if m.measure == MAIN[need.role]), None)
    sentence = ""
    if main:
        verb = "Raises" if main.after > main.before else "Lowers"
        name = MEASURES[main.measure].label
        name = name if name == "pH" else name.lower()
        sentence = (
            f"{verb} {name} from {show(main.measure, main.before)} to {show(main.measure, main.after)}."
        )
    name = product.named(need.strength)
    return Step(
        key=f"add-{need.role}-{portion[0]}",
        kind="add",
        start_min=start,
        title=name,
        how=product.how,
        caution=product.caution,
        sentence=sentence,
        reason_id=_REASONS[need.role],
        role=need.role,
        product_id=product.id,
        strength=need.strength,
        amount=amount,
        portion=portion if need.role != "lower_ta" else (1, 1),
        wait_min=product.mix_min,
        moves=moves,
    )


def aerate_step(index: int, start: int, after: WaterState, moves: tuple[Move, ...], wait_min: int) -> Step:
    """The row for raising pH by air to that of the water after it."""
    to_ph = after.ph or 0.0
    return Step(
        key=f"aerate-{index}",
        kind="aerate",
        start_min=start,
        title=f"Aerate until pH reads {to_ph:.1f}",
        how=(
            "Return jets up so that they break the surface, fountain or spa spill on. Hours to days: test now"
            " and then."
        ),
        caution="No product needed; alkalinity stays where it is.",
        sentence="Raises pH without raising alkalinity.",
        reason_id="ph_band",
        role=AERATE,
        moves=moves,
        to_ph=to_ph,
        wait_min=wait_min,
    )


# A garden hose, common practice, no source: about 9 US gallons a minute. Used where the pool's own is not
# known.
# What a photometer can tell from none (practice section 4); metals should be none (section 5), common
# practice
METAL_STAINS_PPM = 0.1
_USUAL_HOSE_L_H = 9 * 60 * L_PER_GAL


def dilute_step(
    index: int,
    start: int,
    share: float,
    moves: tuple[Move, ...],
    findings: tuple[Finding, ...],
    request: PlanRequest,
) -> Step:
    """The row for replacing water, and that the other doses wait for the test after it."""
    names = " and ".join(
        MEASURES[f.measure].label.lower()
        for f in findings
        if f.measure in ("cya", "ch", "salt") and f.level == "act" and f.word == "high"
    )
    volume_l, hose = request.traits.volume_l, request.traits.hose_l_h or _USUAL_HOSE_L_H
    over = overflow_share(1, 1 - share)
    by = "at the rate of your hose" if request.traits.hose_l_h else "at 9 gal a minute, a usual hose"
    known = request.traits.fill.ph is not None
    metals = " and ".join(
        f"{ppm:g} ppm {name}" for name, ppm in request.traits.fill_metals if ppm >= METAL_STAINS_PPM
    )
    return Step(
        key=f"dilute-{index}",
        kind="dilute",
        start_min=start,
        title=f"Replace {share:.0%} of the water",
        how=(
            f"Drain {_volume(share * volume_l, request)} and refill, pump off while draining: about"
            f" {share * volume_l / hose:.0f} h {by}. Or run {_volume(over * volume_l, request)} through while"
            f" it overflows: {over * volume_l / hose:.0f} h."
        )
        + ("" if known else " Your fill water is not tested: its calcium and alkalinity come with it.")
        + (
            f" It carries {metals}: fill through a hose filter, or sequestrant by its label, or it stains."
            if metals
            else ""
        ),
        caution="Never empty vinyl, fibreglass or a shell in wet ground; keep to local discharge rules.",
        sentence=(
            f"Too much {names}: no product takes it out. Other doses wait for the test of the new water."
        ),
        reason_id="dilute",
        moves=moves,
        fraction=share,
        wait_min=24 * 60,
    )


def _volume(litres: float, request: PlanRequest) -> str:
    return f"{litres / L_PER_GAL:,.0f} gal" if request.system == "us" else f"{litres:,.0f} L"


def wait_step(fc_ppm: float, to_ppm: float, sun_h: float, wait_min: int, traits: PoolTraits) -> Step:
    """The row for waiting until sun and use have taken chlorine down."""
    days = wait_min // (24 * 60)
    pace = (
        f"about {max(1, round(0.75 * sun_h))} to {max(2, round(1.25 * sun_h))} hours of sun,"
        f" {'a day' if days == 1 else f'{days} days'} or so"
    )
    if traits.sun == "indoor":
        pace = "days without sun; the neutraliser is quicker"
    return Step(
        key="wait-0",
        kind="wait",
        start_min=0,
        title=f"Let chlorine fall from {fc_ppm:.0f} to {to_ppm:g} ppm",
        how=(
            f"Add none, feeder or cell off, cover open: {pace}. In a hurry, a neutraliser takes it down;"
            " start with half and re-test."
        ),
        caution="No swimming until it reads right.",
        sentence="Sun and use take chlorine down by themselves.",
        reason_id="high_fc",
        role="wait_fc",
        wait_min=wait_min,
    )


def rest(measure: str, role: str, aim: float | None, amount: Amount, short: str) -> str:
    """What a re-test will probably still ask for."""
    side = "above" if role.startswith("lower") else "under"
    name = MEASURES[measure].short
    return f"{name} still {side} {show(measure, aim or 0.0)}? About {amount.text} {short} more."


def retest_step(
    number: int,
    start: int,
    measures: tuple[str, ...],
    expected: dict[str, tuple[float, float]],
    rests: str = "",
) -> Step:
    """The row for testing again, with what to expect: one figure, or from one to another; and what is
    probably still missing.
    """
    names = listed([MEASURES[m].short for m in measures])
    spans = {m: list(dict.fromkeys(show(m, v) for v in expected[m])) for m in measures if m in expected}
    expects = [f"{MEASURES[m].short} {' to '.join(span)}" for m, span in spans.items()]
    return Step(
        key=f"retest-{number}",
        kind="retest",
        start_min=start,
        title=f"Re-test {names}",
        how="",
        caution="",
        sentence=(
            f"Expect about {', '.join(expects)}; what it reads decides the rest."
            if expects
            else "What it reads decides the rest."
        )
        + (f" {rests}" if rests else ""),
        reason_id="sized" if rests else "order",
        measures=measures,
        rest=rests,
    )


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
        m = MEASURES[MAIN[role]]
        told.append(
            f"This reading of {m.label if m.id == 'ph' else m.label.lower()} is too coarse to pour anything"
            " on: use a finer test."
        )
    told += [f.sentence for f in findings if f.word == "cannot tell"]
    if conflict:
        return tuple(told)
    known = [
        v is not None
        for v in (water.fc_ppm, water.ph, water.ta_ppm, water.ch_ppm, water.cya_ppm, water.salt_ppm)
    ]
    if not any(known):
        return tuple(told)
    if water.fc_ppm is None:
        told.append("Test free chlorine: without it no chlorine dose and no swim advice.")
    if water.ph is None:
        told.append("Test pH: without it no acid or base dose.")
    elif water.ta_ppm is None or water.cya_ppm is None:
        missing = " and ".join(
            name
            for name, v in (("total alkalinity", water.ta_ppm), ("stabilizer", water.cya_ppm))
            if v is None
        )
        if not 7.2 <= water.ph <= 7.8:
            told.append(f"Test {missing}: without it the acid or base dose for this pH cannot be computed.")
    if water.cya_ppm is None and water.fc_ppm is not None:
        told.append("Test stabilizer: until then chlorine is planned for a pool with little of it.")
    leant_on = [_UNTESTED[f] for f in untested(water)]
    if water.has_ph_chemistry and leant_on and any(s.role in _PH_ROLES for s in steps):
        told.append(
            f"Not tested: {listed(leant_on)}. The acid or base dose is the least that any value of it would"
            " ask for; the re-test decides the rest."
        )
    return tuple(told)


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
    if low_cya and seen & {"algae", "floor_hidden"}:
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
    fine = [_HEADLINE_NAMES[f.measure] for f in findings if f.level == "fine" and f.measure != "fc"]
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
    verdict = _join([f"{_HEADLINE_NAMES[f.measure]} {f.word}" for f in off]) if off else "the water is fine"
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


def _sentence(text: str) -> str:
    return text if text.startswith("pH") else text[0].upper() + text[1:]
