"""The products that stand ready: a plain list, as typed beside the canonical amounts."""

from dataclasses import dataclass

from sqlalchemy.orm import Session

from kumpan.core.amounts import parse_amount
from kumpan.core.errors import FieldProblem, InvalidInput, check_revision
from kumpan.core.planning.model import AtHand
from kumpan.core.planning.supply import form_of
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.units import parse_number
from kumpan.store.tables import Account

_MOST = 60


@dataclass(frozen=True)
class ProductInput:
    """One product as typed. strength: percent, empty for its usual one; pack and price: of one package."""

    product_id: str
    strength: str = ""
    stock: str = ""
    stock_unit: str = ""
    pack: str = ""
    pack_unit: str = ""
    price: str = ""


def keep_products(session: Session, account: Account, given: list[ProductInput] | None, revision: int) -> Account:
    """Replace the list; None: nobody says what stands ready. Raises InvalidInput at ``products.N.field``."""
    check_revision(account.revision, revision, "list")
    account.at_hand = None if given is None else _checked(given)
    account.revision += 1
    session.flush()
    return account


def _checked(given: list[ProductInput]) -> list[dict[str, object]]:
    problems: list[FieldProblem] = []
    rows, seen = [], set()
    if len(given) > _MOST:
        raise InvalidInput(FieldProblem("products", "too_many", f"At most {_MOST} products."))
    for index, typed in enumerate(given):
        path = f"products.{index}"
        product = PRODUCTS.get(typed.product_id)
        if product is None:
            problems.append(FieldProblem(f"{path}.product_id", "unknown_product", "Choose a product."))
            continue
        if product.id in seen:
            problems.append(FieldProblem(f"{path}.product_id", "twice", f"{product.name} is listed already."))
        seen.add(product.id)
        canonical: dict[str, object] = {"strength": None, "stock": None, "pack": None, "price_minor": None}
        try:
            if typed.strength.strip():
                strength = parse_number(typed.strength, f"{path}.strength") / 100
                if not 0.005 <= strength <= product.most_strength:
                    text = f"{product.name} is between 0.5 and {product.most_strength * 100:g} % strong."
                    problems.append(FieldProblem(f"{path}.strength", "strength", text))
                canonical["strength"] = strength
            for name in ("stock", "pack"):
                text = getattr(typed, name)
                if text.strip() and not (name == "stock" and text.strip() in ("0", "none")):
                    canonical[name] = parse_amount(text, getattr(typed, f"{name}_unit"), form_of(product), f"{path}.{name}")
                elif text.strip():
                    canonical[name] = 0.0
            if typed.price.strip():
                price = parse_number(typed.price.replace("$", ""), f"{path}.price")
                if not 0 <= price <= 10_000:
                    problems.append(FieldProblem(f"{path}.price", "out_of_range", "A price between 0 and 10,000."))
                if canonical["pack"] is None:
                    problems.append(FieldProblem(f"{path}.pack", "price_without_pack", "Say how much one package at this price holds."))
                canonical["price_minor"] = round(price * 100)
        except InvalidInput as error:
            problems += error.fields
        rows.append({**vars(typed), "canonical": canonical})
    if problems:
        raise InvalidInput(*problems)
    return rows


def at_hand_of(account: Account) -> tuple[AtHand, ...] | None:
    """What stands ready, as the planner takes it."""
    if account.at_hand is None:
        return None
    return tuple(AtHand(row["product_id"], **row["canonical"]) for row in account.at_hand if row["product_id"] in PRODUCTS)
