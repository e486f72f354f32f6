"""The products that stand ready: a plain list, as typed beside the canonical amounts."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from kumpan.core.amounts import parse_amount
from kumpan.core.errors import FieldProblem, InvalidInput, check_revision
from kumpan.core.planning.model import AtHand
from kumpan.core.planning.supply import form_of
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.products.decay import ages, strength_today
from kumpan.core.units import f_to_c, parse_number
from kumpan.store.tables import Account

_MOST = 60
_USUALLY_KEPT_C = 25.0  # where nobody said: our own guess of a shed in season


@dataclass(frozen=True)
class ProductInput:
    """One product as typed. strength: percent when bought, empty for its usual one; pack and price: of one package.

    bought: a date (YYYY-MM-DD) and kept: the temperature it is kept at, as the person's measures; of products that lose strength in store.
    """

    product_id: str
    strength: str = ""
    stock: str = ""
    stock_unit: str = ""
    pack: str = ""
    pack_unit: str = ""
    price: str = ""
    bought: str = ""
    kept: str = ""


def keep_products(session: Session, account: Account, given: list[ProductInput] | None, revision: int, now: datetime) -> Account:
    """Replace the list; None: nobody says what stands ready. Raises InvalidInput at ``products.N.field``."""
    check_revision(account.revision, revision, "list")
    account.at_hand = None if given is None else _checked(given, account.measures, now)
    account.revision += 1
    session.flush()
    return account


def _checked(given: list[ProductInput], measures: str, now: datetime) -> list[dict[str, object]]:
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
        canonical: dict[str, object] = {"strength": None, "stock": None, "pack": None, "price_minor": None, "bought": None, "kept_c": None}
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
            if typed.bought.strip():
                canonical["bought"] = _bought(typed.bought, now, f"{path}.bought").isoformat()
            if typed.kept.strip():
                kept = parse_number(typed.kept, f"{path}.kept")
                kept_c = f_to_c(kept) if measures == "us" else kept
                canonical["kept_c"] = kept_c
                if not -10 <= kept_c <= 60:
                    problems.append(FieldProblem(f"{path}.kept", "out_of_range", "No store is that cold or hot. Is the unit right?"))
        except InvalidInput as error:
            problems += error.fields
        rows.append({**vars(typed), "canonical": canonical})
    if problems:
        raise InvalidInput(*problems)
    return rows


def _bought(text: str, now: datetime, path: str) -> date:
    try:
        day = date.fromisoformat(text.strip())
    except ValueError:
        raise InvalidInput(FieldProblem(path, "not_a_date", "Type a date.")) from None
    if day > now.date() + timedelta(days=1):  # it may be tomorrow already where the person is
        raise InvalidInput(FieldProblem(path, "in_future", "That is in the future. Check the date."))
    if day.year < 2000:
        raise InvalidInput(FieldProblem(path, "too_old", "That is before 2000. Check the year."))
    return day


def strength_now(row: dict[str, Any], now: datetime) -> float | None:
    """A listed product's strength today, as a fraction; None where it is its usual one and does not age."""
    product, held = PRODUCTS[row["product_id"]], row["canonical"]
    if not ages(product) or not held.get("bought"):
        return held["strength"]  # type: ignore[no-any-return]
    days = max(0, (now.date() - date.fromisoformat(held["bought"])).days)
    kept_c = held.get("kept_c")
    return strength_today(product, held["strength"], days, _USUALLY_KEPT_C if kept_c is None else kept_c)


def at_hand_of(account: Account, now: datetime) -> tuple[AtHand, ...] | None:
    """What stands ready, as the planner takes it, at the strength it has today."""
    if account.at_hand is None:
        return None
    rows = [row for row in account.at_hand if row["product_id"] in PRODUCTS]
    return tuple(
        AtHand(r["product_id"], strength_now(r, now), *(r["canonical"][n] for n in ("stock", "pack", "price_minor"))) for r in rows
    )
