"""The rows of a plan in words: title, how, caution and what a step does. Short and honest."""

import math

from kumpan.core.amounts import Amount
from kumpan.core.dosing.acts import AERATE, Act
from kumpan.core.dosing.findings import overflow_share
from kumpan.core.dosing.request import Move, Step
from kumpan.core.dosing.situation import Situation
from kumpan.core.phrasing.terms import listed, show
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.products.product import Product
from kumpan.core.units import G_PER_LB, L_PER_GAL
from kumpan.core.water.measures import MEASURE_OF_ROLE, MEASURES

_REASONS = {
    "raise_fc": "fc_scaled",
    "lower_ph": "ph_band",
    "raise_ph": "ph_band",
    AERATE: "ph_band",
    "raise_ta": "ta_band",
    "raise_ch": "ch_plaster",
    "raise_cya": "cya_band",
    "raise_salt": "salt_cell",
    "lower_fc": "high_fc",
}


def add_step(act: Act, start: int, amount: Amount, moves: tuple[Move, ...], s: Situation) -> Step:
    """The row for one addition."""
    product = act.product
    assert product is not None
    main = next((m for m in moves if m.measure == MEASURE_OF_ROLE[act.role]), None)
    sentence = ""
    if main:
        verb = "Raises" if main.after > main.before else "Lowers"
        name = MEASURES[main.measure].name
        sentence = (
            f"{verb} {name} from {show(main.measure, main.before)} to {show(main.measure, main.after)}."
        )
    return Step(
        key=f"add-{act.role}-1",
        kind="add",
        start_min=start,
        title=product.named(act.strength),
        how=" ".join((product.how, *_in_this_pool(act, product, s))),
        caution=product.caution,
        sentence=f"{sentence} {act.note}".strip(),
        reason_id=_REASONS[act.role],
        role=act.role,
        product_id=product.id,
        strength=act.strength,
        amount=amount,
        wait_min=product.mix_min,
        moves=moves,
    )


# Bucket water that takes calcium chloride, pounds a gallon at most (common practice).
_CALCIUM_LB_GAL = 1.0


def _in_this_pool(act: Act, product: Product, s: Situation) -> list[str]:
    """What its handling takes here beyond the product's own text."""
    notes = []
    if s.traits.is_small_soft and product.group == "acid":
        notes.append("Dilute it 1 to 10 in pool water first, and pour at the running return.")
    chlorine_holds = s.value("fc") is not None and not s.low("fc")
    if s.traits.has_chlorinator and product.group == "acid" and chlorine_holds:
        notes.append(
            "Fewer cell hours while chlorine stays in its band: less gas, and pH climbs more slowly."
        )
    if product.group == "calcium":
        loads = math.ceil(act.amount / G_PER_LB / _CALCIUM_LB_GAL / _BUCKET_GAL)
        notes.append(f"{loads} bucket{'s' if loads > 1 else ''} of 5 gal, two thirds full.")
    return notes


# A five-gallon bucket is filled to about two thirds with product and water (our own).
_BUCKET_GAL = 3.3


def aerate_step(index: int, start: int, to_ph: float, moves: tuple[Move, ...], wait_min: int) -> Step:
    """The row for raising pH by air until it reads so much."""
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


# Why a chlorine test is thinned, and with what: common practice.
BLEACHED = "Very high chlorine bleaches the dye and reads none: pour nothing before."


def thinned_step(measure: str, doubt: str) -> Step:
    """The row for a test taken again, thinned, before anything is done on it; doubt: why."""
    free_of_it = "bottled" if measure == "fc" else "tap"
    return Step(
        key=f"retest-thinned-{measure}",
        kind="retest",
        start_min=0,
        title=f"Re-test {MEASURES[measure].word}, thinned",
        how=f"Mix the sample half and half with {free_of_it} water, read, and double it. {doubt}",
        caution="",
        sentence=doubt,
        reason_id="high_fc" if measure == "fc" else "dilute",
        measures=(measure,),
    )


# A garden hose, common practice, no source: about 9 US gallons a minute. Used where the pool's own is not
# known.
_USUAL_HOSE_L_H = 9 * 60 * L_PER_GAL


# Neutraliser for a ppm of chlorine in 10,000 gal, lb: full oxidation (check values of the doses).
_NEUTRALISER_LB = 0.073


def dilute_step(start: int, share: float, moves: tuple[Move, ...], s: Situation, overflow: bool) -> Step:
    """The row for replacing water, and that the other doses wait for the test after it."""
    names = " and ".join(
        MEASURES[f.measure].label.lower()
        for f in s.findings
        if MEASURES[f.measure].dilutes and f.level == "act" and f.verdict == "high"
    )
    how = [_exchange(share, s, overflow)]
    if s.traits.fill.ph is None:
        how.append("Your fill water is not tested: its calcium and alkalinity come with it.")
    metals = " and ".join(
        f"{value:g} {MEASURES[m].unit} {MEASURES[m].word}"
        for m, value in s.traits.fill.traces
        if value >= (MEASURES[m].stains_from or math.inf)
    )
    if metals:
        how.append(
            f"It carries {metals}: fill through a hose filter, or sequestrant by its label, or it stains."
        )
    how.append(_discharge(s))
    if s.traits.chlorine_source == "tablets":
        how.append("Tablets out: they bring more stabilizer.")
    return Step(
        key="dilute-1",
        kind="dilute",
        start_min=start,
        title=f"Replace {share:.0%} of the water" if share < 1 else "Empty it and fill it anew",
        how=" ".join(how),
        caution=(
            "Not within a week of heavy rain or where ground water stands high; heater, lights and"
            " auto-fill off; refill"
            " without a pause. Keep to local discharge rules."
        ),
        sentence=(
            f"Too much {names or 'stabilizer'}: no product takes it out. Other doses wait for the test of"
            " the new"
            " water."
        ),
        reason_id="dilute",
        moves=moves,
        fraction=share,
        wait_min=24 * 60,
    )


def _exchange(share: float, s: Situation, overflow: bool) -> str:
    """How the water is replaced, and how long it takes."""
    volume_l, hose = s.traits.volume_l, s.traits.hose_l_h or _USUAL_HOSE_L_H
    by = "at the rate of your hose" if s.traits.hose_l_h else "at 9 gal a minute, a usual hose"
    if overflow:
        over_l = overflow_share(1, 1 - share) * volume_l
        return (
            f"Run {_volume(over_l, s)} through while it overflows, the level never falling:"
            f" {over_l / hose:.0f} h"
            f" {by}. A third at most at once, as nobody said how the ground water stands."
        )
    drained_l = share * volume_l
    return (
        f"Drain {_volume(drained_l, s)} and refill, pump off while draining: about {drained_l / hose:.0f} h"
        f" {by}."
    )


def _discharge(s: Situation) -> str:
    """What of the chlorine in it before it leaves."""
    fc = s.water.fc_ppm
    if not fc:
        return "No measurable chlorine may leave to a street or stream."
    pounds = _NEUTRALISER_LB * fc * s.traits.volume_l / L_PER_GAL / 10_000
    size = f"{pounds * 16:.0f} oz" if s.request.system == "us" else f"{pounds * G_PER_LB:.0f} g"
    return (
        f"Its chlorine first: wait until FC reads none, or about {size} of neutraliser, read and repeat; or"
        " let it"
        " to the sewer by permission."
    )


def _volume(litres: float, s: Situation) -> str:
    return f"{litres / L_PER_GAL:,.0f} gal" if s.request.system == "us" else f"{litres:,.0f} L"


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


def retest_step(
    number: int, start: int, measures: tuple[str, ...], expected: dict[str, tuple[float, float]]
) -> Step:
    """The row for testing again, with what to expect: one figure, or from one to another."""
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
        ),
        reason_id="order",
        measures=measures,
    )
