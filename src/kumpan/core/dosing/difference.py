"""What another school would say and do differently, in sentences."""

from kumpan.core.dosing.request import DosePlan
from kumpan.core.dosing.supply import ROLE_LABELS
from kumpan.core.dosing.view import band_words
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.water.measures import MEASURES


def differences(usual: DosePlan, other: DosePlan, usual_label: str) -> tuple[str, ...]:
    """How ``other`` differs from the plan of the pool's own school: verdicts, then amounts, then swimming.

    Both follow from the same readings.
    """
    told = []
    before = {f.measure: f for f in usual.findings}
    for finding in other.findings:
        was = before.get(finding.measure)
        if was is None or (was.word == finding.word and was.band == finding.band):
            continue
        name = MEASURES[finding.measure].label
        if was.word != finding.word:
            told.append(
                f"{name} is {finding.word} here, {was.word} under {usual_label}"
                f" ({band_words(was.band) or 'no target'})."
            )
        elif was.band is not None and finding.band is not None:
            told.append(
                f"{name} is {finding.word} either way, but wanted at"
                f" {band_words(finding.band) or 'any level'} here."
            )
    for role, label in ROLE_LABELS.items():
        mine, theirs = _total(other, role), _total(usual, role)
        if mine != theirs:
            told.append(f"{label}: {mine or 'nothing'} here, {theirs or 'nothing'} under {usual_label}.")
    if usual.swim.allowed != other.swim.allowed:
        told.append(
            f"{other.swim.sentence} Under {usual_label}:"
            f" {usual.swim.sentence[0].lower()}{usual.swim.sentence[1:]}"
        )
    return tuple(told)


def _total(plan: DosePlan, role: str) -> str:
    """All of a role's additions in words: the amount, or how many portions of it."""
    steps = [s for s in plan.steps if s.role == role and s.amount is not None]
    if not steps or steps[0].product_id is None:
        return ""
    amounts = [s.amount for s in steps if s.amount is not None]
    product = PRODUCTS[steps[0].product_id]
    if len(amounts) == 1:
        return f"{amounts[0].text} {product.short}"
    total = sum(a.canonical for a in amounts)
    size = f"{total / 1000:,.2f} {'L' if form_of(product) == 'liquid' else 'kg'}"
    return f"{len(amounts)} portions of {amounts[0].text} {product.short} ({size} in all)"
