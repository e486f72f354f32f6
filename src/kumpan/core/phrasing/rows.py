"""The rows of a plan in words: title, how, caution and what a step does. Short and honest."""

import math

from kumpan.core.amounts import Amount
from kumpan.core.dosing.findings import overflow_share
from kumpan.core.dosing.request import Finding, Move, PlanRequest, Step
from kumpan.core.dosing.sizing import AERATE, Need
from kumpan.core.phrasing.terms import listed, show
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.units import L_PER_GAL
from kumpan.core.water.measures import MEASURE_OF_ROLE, MEASURES
from kumpan.core.water.state import WaterState

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
    main = next((m for m in moves if m.measure == MEASURE_OF_ROLE[need.role]), None)
    sentence = ""
    if main:
        verb = "Raises" if main.after > main.before else "Lowers"
        name = MEASURES[main.measure].name
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
        if MEASURES[f.measure].dilutes and f.level == "act" and f.word == "high"
    )
    volume_l, hose = request.traits.volume_l, request.traits.hose_l_h or _USUAL_HOSE_L_H
    over = overflow_share(1, 1 - share)
    by = "at the rate of your hose" if request.traits.hose_l_h else "at 9 gal a minute, a usual hose"
    known = request.traits.fill.ph is not None
    metals = " and ".join(
        f"{value:g} {MEASURES[m].unit} {MEASURES[m].word}"
        for m, value in request.traits.fill.traces
        if value >= (MEASURES[m].stains_from or math.inf)
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
