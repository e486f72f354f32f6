"""What the whole run takes, against what stands on the Shelf, before it starts."""

from collections.abc import Sequence
from dataclasses import dataclass

from kumpan.core.clearup.dose import Measures, told
from kumpan.core.clearup.foretell import Foretold
from kumpan.core.clearup.run import Run, Site
from kumpan.core.dosing.request import AtHand
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.label import label_dose


@dataclass(frozen=True)
class ToHave:
    """A thing to have at hand. amount: in words; have: what stands there, empty where nothing does; buy: what
    is short, empty for nothing; maybe: only if it comes to that.
    """

    name: str
    amount: str
    have: str
    buy: str
    why: str
    maybe: bool = False


@dataclass(frozen=True)
class Shelf:
    """What stands ready for a run, and what the person counts in."""

    run: Run
    site: Site
    at_hand: Sequence[AtHand]
    measures: Measures

    def words(self, product_id: str, amount: float) -> str:
        """An amount (g or mL) of a product in the person's measures."""
        return told(product_id, amount, self.site.traits.volume_l, self.measures)

    def some(self, prefix: str) -> str:
        """``there`` where some of a kind stands ready."""
        return "there" if any(a.product_id.startswith(prefix) and a.stock != 0 for a in self.at_hand) else ""


def shopping(shelf: Shelf, foretold: Foretold | None, once: float = 0.0) -> tuple[ToHave, ...]:
    """The list for the whole run: chlorine for the most that is foretold, and what may be wanted. once: g or
    mL of a plain shock.
    """
    run = shelf.run
    lines = []
    if foretold is not None:
        lines.append(_chlorine(shelf, foretold.amount.high, _SPAN))
    elif once:
        lines.append(_chlorine(shelf, once, "To begin with."))
    if run.water.ph is not None and run.water.ph > 7.6:
        lines.append(ToHave("Muriatic acid", "a bottle", shelf.some("muriatic"), "", "pH is over 7.6.", True))
    return (*lines, *(_for_algae(shelf) if run.aim == "algae" else ()))


def _for_algae(shelf: Shelf) -> list[ToHave]:
    lines = []
    if shelf.site.filter_kind == "cartridge":
        why = "It loads within hours; two in rotation save the waiting."
        lines.append(ToHave("A spare cartridge", "1", "", "", why))
    if shelf.site.filter_kind == "de":
        lines.append(
            ToHave("DE powder", "two or three charges", "", "", "Each backwash takes a fresh charge.")
        )
    for product_id, why in (
        ("clarifier", "If it stays grey."),
        ("phosphate-remover", "If phosphate reads over 100 ppb afterwards."),
    ):
        dose = label_dose(product_id, None, shelf.site.traits.volume_l, shelf.measures.system)
        text = dose.amount.text if dose is not None else "by its label"
        lines.append(ToHave(PRODUCTS[product_id].name, text, shelf.some(product_id), "", why, True))
    kit = "Test strips" if shelf.run.method == "strip" else "Reagents for a dozen chlorine tests"
    lines.append(ToHave(kit, "", "", "", "More are read in a run than in a month."))
    return lines


_SPAN = "The most that four of five such pools take."


def _chlorine(shelf: Shelf, amount: float, why: str) -> ToHave:
    """The run's product: how much, what stands there, what is short of it."""
    product_id = shelf.run.product_id
    entry = next((a for a in shelf.at_hand if a.product_id == product_id), None)
    have = 0.0 if entry is None else (amount if entry.stock is None else entry.stock)
    short = amount - have
    there = (
        "" if entry is None else "enough" if short <= 0 else shelf.words(product_id, have) if have else "none"
    )
    return ToHave(
        PRODUCTS[product_id].named(shelf.run.strength),
        shelf.words(product_id, amount),
        there,
        shelf.words(product_id, short) if short > 0.02 * amount else "",
        why,
    )
