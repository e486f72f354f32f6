"""What another school would say and do differently, in sentences."""

from kumpan.core.dosing.request import DosePlan, Finding
from kumpan.core.dosing.supply import ROLE_LABELS
from kumpan.core.dosing.view import band_words
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.measures import MEASURES


def differences(usual: DosePlan, other: DosePlan, usual_label: str) -> tuple[str, ...]:
    """How ``other`` differs from the plan of the pool's own school: verdicts, then amounts, then swimming.

    Both follow from the same readings.
    """
    before = {f.measure: f for f in usual.findings}
    pairs = ((before[f.measure], f) for f in other.findings if f.measure in before)
    lines = [text for was, now in pairs if (text := _verdict(was, now, usual_label))]
    for role, label in ROLE_LABELS.items():
        mine, theirs = _total(other, role), _total(usual, role)
        if mine != theirs:
            lines.append(f"{label}: {mine or 'nothing'} here, {theirs or 'nothing'} under {usual_label}.")
    if usual.swim.allowed != other.swim.allowed:
        lines.append(
            f"{other.swim.sentence} Under {usual_label}:"
            f" {usual.swim.sentence[0].lower()}{usual.swim.sentence[1:]}"
        )
    return tuple(lines)


def _verdict(was: Finding, now: Finding, usual_label: str) -> str:
    """How one measure is judged otherwise; empty where it is not."""
    name = MEASURES[now.measure].label
    if was.verdict != now.verdict:
        wanted = band_words(was.band) or "no target"
        return f"{name} is {now.verdict} here, {was.verdict} under {usual_label} ({wanted})."
    if was.band != now.band and was.band is not None and now.band is not None:
        return (
            f"{name} is {now.verdict} either way, but wanted at {band_words(now.band) or 'any level'} here."
        )
    return ""


def _total(plan: DosePlan, role: str) -> str:
    """What is poured now of a role, in words."""
    step = next((s for s in plan.steps if s.role == role and s.amount is not None), None)
    if step is None or step.product_id is None or step.amount is None:
        return ""
    return f"{step.amount.text} {PRODUCTS[step.product_id].short}"
