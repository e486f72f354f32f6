"""Products dosed by their label: its rate, scaled to the pool. What they do to the water is not computed."""

from dataclasses import dataclass

from kumpan.core.amounts import Amount, System, describe, rounded_down, tool_for
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.products.product import Product
from kumpan.core.units import G_PER_LB, L_PER_GAL, ML_PER_FL_OZ

RATE_BASIS_L = 10_000 * L_PER_GAL
# g or mL per 10,000 gal where the label's own rate is not given. Common practice.
USUAL_RATES: dict[str, float] = {
    "non-chlorine-shock": G_PER_LB,
    "algaecide-copper": 6 * ML_PER_FL_OZ,
    "phosphate-remover": 8 * ML_PER_FL_OZ,
}


def by_label(product: Product) -> bool:
    """Whether a product is known only by its label."""
    return product.basis == "label"


@dataclass(frozen=True)
class LabelDose:
    """What a label's rate makes in one pool. own: by the rate typed from its label, not the usual one."""

    product: Product
    amount: Amount
    own: bool
    text: str


def label_dose(product_id: str, rate: float | None, volume_l: float, system: System) -> LabelDose | None:
    """A label's rate (g or mL per 10,000 gal) for this pool, rounded down to the tool; None where no rate is
    known.

    Raises ValueError for products that are computed.
    """
    product = PRODUCTS[product_id]
    if not by_label(product):
        raise ValueError(f"{product_id} is computed, not dosed by its label")
    used = USUAL_RATES.get(product_id) if rate is None else rate
    if used is None:
        return None
    form, exact = form_of(product), used * volume_l / RATE_BASIS_L
    tool = tool_for(exact, form, system, volume_l)
    poured = describe(rounded_down(exact, tool), tool, form, exact)
    per_10k = used * 10_000 / RATE_BASIS_L if system == "metric" else used
    per = tool_for(per_10k, form, system, RATE_BASIS_L)
    at = (
        f"{describe(rounded_down(per_10k, per), per, form).text} per 10,000"
        f" {'L' if system == 'metric' else 'gal'}"
    )
    first = (
        f"Label first: its own rate, {at}."
        if rate is not None
        else f"Read its label first. Commonly {at}; the label wins."
    )
    return LabelDose(
        product, poured, rate is not None, f"{first} What it does to the readings is not computed."
    )
