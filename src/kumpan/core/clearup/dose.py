"""How much chlorine a raise takes, in the measure or the bags at hand."""

from dataclasses import dataclass

from kumpan.core.amounts import (
    Amount,
    OwnMeasure,
    Part,
    System,
    about,
    describe,
    quarters,
    rounded_near,
    tool_for,
)
from kumpan.core.chemistry import constants as k
from kumpan.core.clearup.run import Run
from kumpan.core.products.catalogue import PRODUCTS, form_of

# Up to how much over the sum a raise may be rounded (our own: a jug's eighth is less).
_NEAR = 1.15
# A bag is counted in quarters; what opens one empties it where that is allowed (our own).
_QUARTERS = 4


@dataclass(frozen=True)
class Measures:
    """What the person counts in."""

    system: System = "us"
    own: tuple[OwnMeasure, ...] = ()


@dataclass(frozen=True)
class Raise:
    """An amount of the run's product and what it brings. opened: what to do with a bag that is not emptied;
    empty where none is opened.
    """

    amount: Amount
    fc_ppm: float
    opened: str = ""


_OPENED = (
    "What is left of an opened bag is not kept: it draws water, heats and gasses. Use it in another"
    " pool the"
    " same day, or rid yourself of it as its label says."
)


def told(product_id: str, amount: float, volume_l: float, measures: Measures) -> str:
    """About so much (g or mL) of a product, in words: ``3 ½ gal``."""
    form = form_of(PRODUCTS[product_id])
    return about(amount, form, measures.system, volume_l, measures.own).text


def ppm_per_unit(run: Run, volume_l: float) -> float:
    """Free chlorine (ppm) that 1 g or mL of the run's product brings. Stoichiometry from molar masses."""
    product = PRODUCTS[run.product_id]
    return float(product.change_per_unit(volume_l, run.strength).cl2 * 1000 * k.CL2)


def raise_by(run: Run, volume_l: float, rise_ppm: float, most_ppm: float, measures: Measures) -> Raise | None:
    """The product for a rise, rounded to the tool or to bags, at most ``most_ppm``; None for nothing."""
    per = ppm_per_unit(run, volume_l)
    wanted, most = rise_ppm / per, min(most_ppm, rise_ppm * _NEAR) / per
    form = form_of(PRODUCTS[run.product_id])
    if run.bag_g is not None and form == "dry":
        return _in_bags(run.bag_g, wanted, most_ppm / per, per, measures)
    tool = tool_for(wanted, form, measures.system, volume_l, measures.own)
    amount = rounded_near(wanted, tool, max(wanted, most))
    if amount <= 0:
        return None
    return Raise(describe(amount, tool, form, wanted), amount * per)


def _in_bags(bag_g: float, wanted: float, most: float, per: float, measures: Measures) -> Raise | None:
    """Whole bags where they come near enough, else quarters of one."""
    whole = round(wanted / bag_g)
    if whole and abs(whole * bag_g - wanted) <= 0.15 * wanted and whole * bag_g <= most:
        bags = float(whole)
    else:
        bags = min(round(_QUARTERS * wanted / bag_g), int(_QUARTERS * most / bag_g + 1e-6)) / _QUARTERS
    if bags <= 0:
        return None
    tool = tool_for(bags * bag_g, "dry", measures.system, 1e9)
    plain = describe(bags * bag_g, tool, "dry")
    number = quarters(bags)
    part = Part(number, "bag" if bags <= 1 else "bags")
    text = f"{number} {part.unit}"
    amount = Amount(plain.value, plain.unit, text, (part,), bags * bag_g, f"{plain.text} · {plain.exact}")
    return Raise(amount, bags * bag_g * per, "" if float(bags).is_integer() else _OPENED)
