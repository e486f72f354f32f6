"""A plan as shown: clock times, amounts with their words, slots with their scale. Plain data for the API.

Everything a screen draws is computed here, so that no arithmetic of the trade reaches the browser.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta

from kumpan.core.amounts import Part
from kumpan.core.guidance.bands import HOCL_AIM, HOCL_LEAST, HOCL_LEAST_STEADY, SCHOOL_LABEL, Band, PoolTraits, bands_for
from kumpan.core.planning import words
from kumpan.core.planning.diagnosis import active_chlorine_ppm
from kumpan.core.planning.model import Finding, Plan, PlanRequest, Step, value_of
from kumpan.core.units import c_to_f
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState

# The span a slot shows; it widens when a value lies outside. Our own choice of view.
SCALES = {"fc": (0, 12), "cc": (0, 2), "ph": (6.8, 8.4), "ta": (0, 240), "ch": (0, 600), "cya": (0, 120),
          "salt": (0, 5000), "hocl": (0, 0.12)}  # fmt: skip


@dataclass(frozen=True)
class AmountView:
    """An amount in the person's measures."""

    value: float
    unit: str
    text: str
    exact: str
    parts: tuple[Part, ...]


@dataclass(frozen=True)
class SlotView:
    """One measure drawn as a slot: scale, open channel (band), before with its whisker, after."""

    measure: str
    label: str
    text: str
    scale_low: float
    scale_high: float
    band_low: float | None
    band_high: float | None
    before: float
    after: float | None
    plus_minus: float
    reason_id: str


@dataclass(frozen=True)
class StepView:
    """One row of the rail."""

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
    portion: str
    gap: str
    warnings: tuple[str, ...]
    slots: tuple[SlotView, ...]


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
    findings: tuple[FindingView, ...]
    results: tuple[SlotView, ...]
    steps: tuple[StepView, ...]
    left_alone: tuple[str, ...]
    needs_test: tuple[str, ...]
    choices: tuple[ChoiceView, ...]
    rule_version: str


def show_plan(plan: Plan, request: PlanRequest) -> PlanView:
    """The plan in the person's measures and the pool's own clock."""
    bands = bands_for(request.traits, plan.after.cya_ppm)
    steps = []
    water = request.water
    for step, later in zip(plan.steps, [*plan.steps[1:], None], strict=False):
        steps.append(_step(step, later, request, bands, water))
        for move in step.moves:
            water = words.moved(water, move)
    adds = sum(s.kind == "add" for s in plan.steps)
    length = max((s.start_min + s.wait_min for s in plan.steps), default=0)
    return PlanView(
        headline=plan.headline,
        swim=plan.swim.sentence,
        swim_allowed=plan.swim.allowed,
        summary=f"{adds} addition{'s' if adds != 1 else ''}, {_span(length)}" if adds else "",
        school=SCHOOL_LABEL,
        findings=tuple(_finding(f, request) for f in plan.findings),
        results=_results(plan, request),
        steps=tuple(steps),
        left_alone=plan.left_alone,
        needs_test=plan.needs_test,
        choices=tuple(ChoiceView(role, c.product_id, c.strength) for role, c in sorted(plan.choices.items())),
        rule_version=plan.rule_version,
    )


def show_value(measure: str, value: float, system: str) -> str:
    """A value with its unit in the person's measures: ``7.5``, ``81 °F``, ``2,700 ppm``."""
    if measure == "temp":
        return f"{c_to_f(value):.0f} °F" if system == "us" else f"{value:.0f} °C"
    unit = MEASURES[measure].unit
    return f"{words.show(measure, value)}{f' {unit}' if unit else ''}"


def _finding(finding: Finding, request: PlanRequest) -> FindingView:
    measure = MEASURES[finding.measure]
    age = request.age_days.get(finding.measure)
    return FindingView(
        measure=measure.id, label=measure.label, text=show_value(measure.id, finding.value, request.system),
        level=finding.level, word=finding.word, sentence=finding.sentence, band=band_words(finding.band),
        reason_id=finding.reason_id, from_log="" if age is None else _age(age),
    )  # fmt: skip


def band_words(band: Band | None) -> str:
    """A band in words: ``7.2 to 7.8, aim 7.5``; empty without limits."""
    if band is None or (band.low is None and band.high is None):
        return ""
    if band.low is None:
        return f"under {words.show(band.measure, band.high or 0)}"
    aim = f", aim {words.show(band.measure, band.aim)}" if band.aim is not None else ""
    return f"{words.show(band.measure, band.low)} to {words.show(band.measure, band.high or 0)}{aim}"


def _step(step: Step, later: Step | None, request: PlanRequest, bands: dict[str, Band], water: WaterState) -> StepView:
    at = request.now + timedelta(minutes=step.start_min)
    gap = "" if later is None else _gap(later.start_min - step.start_min, step)
    a = step.amount
    amount = None if a is None else AmountView(a.value, a.unit, a.text, a.exact, a.parts)
    part, parts = step.portion
    slots = []
    for move in step.moves:
        if move.measure == "salt" and step.role != "raise_salt":
            continue  # a few ppm from liquid chlorine: counted, not drawn
        if move.measure in bands:
            slots.append(_slot(move.measure, move.before, move.after, bands[move.measure], request))
    if step.role == "raise_fc":
        after = water
        for move in step.moves:
            after = words.moved(after, move)
        before_hocl, after_hocl = active_chlorine_ppm(water), active_chlorine_ppm(after)
        if before_hocl is not None and after_hocl is not None:
            slots.append(_active_slot(before_hocl, after_hocl, request.traits))
    return StepView(
        key=step.key, kind=step.kind, at=at, clock=words.clock(request.now, at), title=step.title, how=step.how,
        caution=step.caution, sentence=step.sentence, reason_id=step.reason_id, role=step.role,
        product_id=step.product_id, strength=step.strength, amount=amount,
        portion=f"{part} of {parts}" if parts > 1 else "", gap=gap, warnings=step.warnings, slots=tuple(slots),
    )  # fmt: skip


def _slot(measure: str, before: float, after: float | None, band: Band, request: PlanRequest) -> SlotView:
    low, high = SCALES[measure]
    values = [v for v in (before, after, band.high) if v is not None]
    text = words.show(measure, before) if after is None else f"{words.show(measure, before)} → {words.show(measure, after)}"
    return SlotView(
        measure=measure, label=MEASURES[measure].label, text=text, scale_low=min(low, *values),
        scale_high=max(high, *(v * 1.05 for v in values)), band_low=band.low, band_high=band.high, before=before,
        after=after, plus_minus=request.plus_minus.get(measure, 0.0), reason_id=band.reason_id,
    )  # fmt: skip


def _active_slot(before: float, after: float | None, traits: PoolTraits) -> SlotView:
    low, high = SCALES["hocl"]
    least = HOCL_LEAST_STEADY if traits.has_chlorinator else HOCL_LEAST
    text = f"{before:.3f}" if after is None else f"{before:.3f} → {after:.3f}"
    top = max(before, after or 0.0)
    return SlotView("hocl", "Active chlorine (HOCl)", f"{text} ppm", low, max(high, top * 1.05), least,
                    HOCL_AIM * 2, before, after, 0.0, "active")  # fmt: skip


def _results(plan: Plan, request: PlanRequest) -> tuple[SlotView, ...]:
    if plan.hocl_ppm is None:
        return ()
    after = plan.hocl_after_ppm if plan.steps else None
    return (_active_slot(plan.hocl_ppm, after, request.traits),)


def _gap(minutes: int, step: Step) -> str:
    if minutes <= 0:
        return ""
    if minutes <= 60 and step.kind == "add":
        return f"{minutes} min to mix"
    return _span(minutes)


def _span(minutes: float) -> str:
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
    found = ((m, value_of(water, m)) for m in ("fc", "cc", "ph", "ta", "ch", "cya", "salt", "temp"))
    return {m: v for m, v in found if v is not None}
