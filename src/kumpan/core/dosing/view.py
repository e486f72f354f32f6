"""A plan as shown: clock times, amounts with their words, slots with their scale. Plain data for the API.

Everything a screen draws is computed here, so that no arithmetic of the trade reaches the browser.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.core.amounts import Part, in_own
from kumpan.core.dosing.carbon_map import CarbonMap, carbon_map
from kumpan.core.dosing.findings import hypochlorous_acid_ppm
from kumpan.core.dosing.outcomes import OutcomeView, SlotView, hocl_slot, outcomes_of
from kumpan.core.dosing.request import DosePlan, Finding, Later, PlanRequest, Step, Total
from kumpan.core.guidance.targets import Band, bands_of, school_of
from kumpan.core.phrasing import following, terms
from kumpan.core.phrasing.terms import money, show_value
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.water.measures import IN_STATE, MEASURES
from kumpan.core.water.state import WaterState, value_of

ASSUMPTIONS = (
    "First additions are sized so that passing the far edge of the band is under 1 in 20: readings as exact"
    " as their method, volume within 10 % unless proved, strength within 5 %. The re-test decides the rest."
)


@dataclass(frozen=True)
class AmountView:
    """An amount in the person's measures: parts are what they count in, their own jug, scoop or bag where one
    fits; exact: the same in other measures.
    """

    value: float
    unit: str
    text: str
    exact: str
    parts: tuple[Part, ...]


@dataclass(frozen=True)
class AlternativeView:
    """Another product that does the same. side: what else it does; cost: empty where not known."""

    product_id: str
    strength: float | None
    name: str
    amount: str
    side: str
    cost: str
    at_hand: bool


@dataclass(frozen=True)
class StepView:
    """One row of the rail. portion, next_visit: of plans by earlier rules, which went on past a test."""

    key: str
    kind: str
    at: datetime
    clock: str
    title: str
    how: str
    caution: str
    sentence: str
    reason_id: str
    role: str
    product_id: str | None
    strength: float | None
    amount: AmountView | None
    gap: str
    warnings: tuple[str, ...]
    slots: tuple[SlotView, ...]
    cost: str = ""
    alternatives: tuple[AlternativeView, ...] = ()
    portion: str = ""
    next_visit: bool = False


@dataclass(frozen=True)
class LaterView:
    """What is likely to follow, in a sentence, and the test that decides it. Nothing to tick."""

    measure: str
    label: str
    clock: str
    sentence: str
    test: tuple[str, ...]


@dataclass(frozen=True)
class TotalView:
    """A line of what the whole way takes: a product, from and to how much, what the stock lacks."""

    product_id: str
    name: str
    amount: str
    missing: str


@dataclass(frozen=True)
class FindingView:
    """One reading judged. band: the target in words."""

    measure: str
    label: str
    text: str
    level: str
    word: str
    sentence: str
    band: str
    reason_id: str
    from_log: str
    u95: str


@dataclass(frozen=True)
class ChoiceView:
    """The product in use for a role. strength None: its usual one."""

    role: str
    product_id: str
    strength: float | None


@dataclass(frozen=True)
class PlanView:
    """A plan as shown."""

    headline: str
    swim: str
    swim_allowed: bool | None
    summary: str
    school: str
    school_label: str
    school_caution: str
    assumptions: str
    refused: dict[str, str]
    findings: tuple[FindingView, ...]
    outcomes: tuple[OutcomeView, ...]
    steps: tuple[StepView, ...]
    later: tuple[LaterView, ...]
    totals: tuple[TotalView, ...]
    left_alone: tuple[str, ...]
    needs_test: tuple[str, ...]
    choices: tuple[ChoiceView, ...]
    calcium_wish: str
    rule_version: str
    carbon_map: CarbonMap | None


def show_plan(plan: DosePlan, request: PlanRequest) -> PlanView:
    """The plan in the person's measures and the pool's own clock."""
    bands = bands_of(request.traits, plan.before)
    steps = []
    water = plan.before
    for step, later in zip(plan.steps, [*plan.steps[1:], None], strict=False):
        steps.append(_step(step, later, request, bands, water))
        water = step.water or water
    adds = sum(s.kind == "add" for s in plan.steps)
    return PlanView(
        headline=plan.headline,
        swim=plan.swim.sentence,
        swim_allowed=plan.swim.allowed,
        summary=_summary(plan, request),
        school=request.traits.school,
        school_label=school_of(request.traits).label,
        school_caution=school_of(request.traits).caution,
        assumptions=ASSUMPTIONS if adds and any(request.u95.values()) else "",
        refused=plan.refused,
        findings=tuple(_finding(f, request) for f in plan.findings),
        outcomes=outcomes_of(plan, request.traits),
        steps=tuple(steps),
        later=tuple(_later(one, request) for one in plan.later),
        totals=tuple(_total(line) for line in plan.totals),
        left_alone=plan.left_alone,
        needs_test=plan.needs_test,
        choices=tuple(ChoiceView(role, c.product_id, c.strength) for role, c in sorted(plan.choices.items())),
        calcium_wish=_calcium_wish(plan, request),
        rule_version=plan.rule_version,
        carbon_map=carbon_map(plan, request.traits),
    )


def _calcium_wish(plan: DosePlan, request: PlanRequest) -> str:
    """What a person may ask for, or has: calcium inside its band raised to its aim. Empty where none."""
    wish = plan.calcium_wish_ppm
    if wish is None:
        return ""
    words = f"is raised from {plan.before.ch_ppm:,.0f} to {wish:,.0f}, as you wished."
    free = f"is fine at {plan.before.ch_ppm:,.0f}. It may be raised to {wish:,.0f}, which plaster likes best."
    return f"Calcium {words if request.raise_calcium else free}"


def _summary(plan: DosePlan, request: PlanRequest) -> str:
    """How many additions, how long, and what they cost; empty where nothing is added."""
    adds = sum(s.kind == "add" for s in plan.steps)
    costs = [s.cost_minor for s in plan.steps if s.cost_minor is not None]
    length = max((s.start_min + s.wait_min for s in plan.steps), default=0)
    words = [f"{adds} addition{'s' if adds != 1 else ''}", _time_span(length)]
    words += [money(sum(costs), request.currency)] if costs else []
    return ", ".join(words) if adds else ""


def _total(line: Total) -> TotalView:
    amount = following.span(line.least if line.least.canonical else None, line.most)
    return TotalView(line.product_id, PRODUCTS[line.product_id].named(line.strength), amount, line.missing)


def _later(one: Later, request: PlanRequest) -> LaterView:
    clock = terms.clock(request.now, request.now + timedelta(minutes=one.at_min))
    label = MEASURES[one.measure].label
    return LaterView(one.measure, label, clock, one.sentence, tuple(MEASURES[m].short for m in one.test))


def _finding(finding: Finding, request: PlanRequest) -> FindingView:
    measure = MEASURES[finding.measure]
    age = request.age_days.get(finding.measure)
    return FindingView(
        measure=measure.id,
        label=measure.label,
        text=show_value(measure.id, finding.value, request.system),
        level=finding.level,
        word=finding.verdict,
        sentence=finding.sentence,
        band=band_words(finding.band),
        reason_id=finding.reason_id,
        from_log="" if age is None else _age(age),
        u95=f"±{_error(finding, request.system)}" if finding.u95 else "",
    )


def _error(finding: Finding, system: str) -> str:
    error = finding.u95 * (1.8 if finding.measure == "temp" and system == "us" else 1.0)
    return f"{error:.2g}" if error < 10 else f"{error:.0f}"


def band_words(band: Band | None) -> str:
    """A band in words: ``7.2 to 7.8, aim 7.5``; empty without limits."""
    if band is None or (band.low is None and band.high is None):
        return ""
    if band.low is None:
        return f"under {terms.show(band.measure, band.high or 0)}"
    aim = f", aim {terms.show(band.measure, band.aim)}" if band.aim is not None else ""
    return f"{terms.show(band.measure, band.low)} to {terms.show(band.measure, band.high or 0)}{aim}"


def _step(
    step: Step, later: Step | None, request: PlanRequest, bands: Mapping[str, Band], water: WaterState
) -> StepView:
    at = request.now + timedelta(minutes=step.start_min)
    gap = "" if later is None else _gap(later.start_min - step.start_min, step)
    slots = []
    for move in step.moves:
        if move.measure == "salt" and step.role != "raise_salt":
            continue  # a few ppm from liquid chlorine: counted, not drawn
        if move.measure in bands:
            slots.append(_slot(move.measure, move.before, move.after, bands[move.measure], request))
    if step.role == "raise_fc":
        before_hocl, after_hocl = hypochlorous_acid_ppm(water), hypochlorous_acid_ppm(step.water or water)
        if before_hocl is not None and after_hocl is not None:
            slots.append(hocl_slot(before_hocl, after_hocl, request.traits))
    return StepView(
        key=step.key,
        kind=step.kind,
        at=at,
        clock=terms.clock(request.now, at),
        title=step.title,
        how=step.how,
        caution=step.caution,
        sentence=step.sentence,
        reason_id=step.reason_id,
        role=step.role,
        product_id=step.product_id,
        strength=step.strength,
        amount=_amount(step, request),
        gap=gap,
        warnings=step.warnings,
        slots=tuple(slots),
        cost="" if step.cost_minor is None else money(step.cost_minor, request.currency),
        alternatives=tuple(
            AlternativeView(
                a.product_id,
                a.strength,
                PRODUCTS[a.product_id].name,
                a.amount.text,
                a.side,
                "" if a.cost_minor is None else money(a.cost_minor, request.currency),
                a.at_hand,
            )
            for a in step.alternatives
        ),
    )


def _amount(step: Step, request: PlanRequest) -> AmountView | None:
    a = step.amount
    if a is None or step.product_id is None:
        return None
    own = in_own(a.canonical, form_of(PRODUCTS[step.product_id]), request.own_measures)
    if own is None:
        return AmountView(a.value, a.unit, a.text, a.exact, a.parts)
    return AmountView(a.value, a.unit, a.text, f"{a.text} · {a.exact}", (own,))


def _slot(measure: str, before: float, after: float | None, band: Band, request: PlanRequest) -> SlotView:
    low, high = MEASURES[measure].scale
    values = [v for v in (before, after, band.high) if v is not None]
    text = (
        terms.show(measure, before)
        if after is None
        else f"{terms.show(measure, before)} → {terms.show(measure, after)}"
    )
    return SlotView(
        measure=measure,
        label=MEASURES[measure].label,
        text=text,
        scale_low=min(low, *values),
        scale_high=max(high, *(v * 1.05 for v in values)),
        band_low=band.low,
        band_high=band.high,
        before=before,
        after=after,
        u95=request.u95.get(measure, 0.0),
        reason_id=band.reason_id,
    )


def _gap(minutes: int, step: Step) -> str:
    if minutes <= 0:
        return ""
    if minutes <= 60 and step.kind == "add":
        return f"{minutes} min to mix"
    return _time_span(minutes)


def _time_span(minutes: float) -> str:
    if minutes < 120:
        return f"{minutes:.0f} min"
    if minutes < 48 * 60:
        hours, rest = divmod(round(minutes), 60)
        return f"{hours} h {rest} min" if rest and hours < 10 else f"{hours} h"
    return f"{minutes / 1440:.0f} days"


def _age(days: float) -> str:
    if days < 1:
        return "from the log, today"
    return f"from the log, {days:.0f} day{'s' if round(days) != 1 else ''} old"


def measured(water: WaterState) -> dict[str, float]:
    """The known measures of a water by id."""
    readings = ((m, value_of(water, m)) for m in IN_STATE)
    return {m: v for m, v in readings if v is not None}
