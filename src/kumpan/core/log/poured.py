"""A dose as typed, checked."""

from kumpan.core.amounts import parse_amount
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.log.entry import Dose
from kumpan.core.products.catalogue import PRODUCTS, form_of


def checked_dose(product_id: str, strength: float | None, text: str, unit: str) -> Dose:
    """A dose from what was typed. strength: a fraction, None for the product's usual one.

    Raises InvalidInput at ``product_id``, ``strength``, ``amount`` or ``unit``.
    """
    product = PRODUCTS.get(product_id)
    if product is None:
        raise InvalidInput(FieldProblem("product_id", "unknown_product", "Choose what was poured."))
    if strength is not None and not 0.005 <= strength <= product.most_strength:
        message = f"At most {product.most_strength * 100:g} % strong."
        raise InvalidInput(FieldProblem("strength", "strength", message))
    return Dose(product_id, strength, parse_amount(text, unit, form_of(product)), text.strip(), unit)
