"""The Shelf: products at hand, counted, bought, and drawn down by what the log says was poured."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Literal
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.core.amounts import parse_amount
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.products.decay import ages
from kumpan.core.products.label import RATE_BASIS_L, by_label
from kumpan.core.products.product import Product
from kumpan.core.products.supplies import REAGENTS, SUPPLIES, Supply
from kumpan.core.records import checked_date
from kumpan.core.units import f_to_c, parse_number
from kumpan.store import care, queries
from kumpan.store.tables.shelf import ShelfItem

_MOST = 60


@dataclass(frozen=True)
class ShelfInput:
    """One product as typed. strength: percent when bought, empty for its usual one; pack and price: of one
    package.

    stock: what was counted just now; empty leaves the last count. minimum: buy when less is left. bought:
    YYYY-MM-DD. kept: the temperature it is kept at, of products that lose strength. rate: its label's, per
    10,000 gal or litres (rate_per), of label-dosed products.
    """

    product_id: str
    strength: str = ""
    stock: str = ""
    stock_unit: str = ""
    pack: str = ""
    pack_unit: str = ""
    price: str = ""
    minimum: str = ""
    minimum_unit: str = ""
    bought: str = ""
    kept: str = ""
    kept_unit: Literal["f", "c"] = "f"
    rate: str = ""
    rate_unit: str = ""
    rate_per: Literal["gal", "l"] = "gal"


def add_item(context: Context, item_id: UUID, entered: ShelfInput) -> ShelfItem:
    """Put a product on the shelf. Sending it again returns the first result."""
    known = context.session.get(ShelfItem, item_id)
    if known is not None:
        if known.account_id != context.account.id:
            raise Conflict("id_taken", "This id is already used for something else.")
        return known
    item = ShelfItem(id=item_id, account_id=context.account.id, revision=1, created_at=context.now)
    _fill(item, entered, _others(context, item_id), context.now)
    context.session.add(item)
    return _kept(context, item)


def change_item(context: Context, item_id: UUID, entered: ShelfInput, revision: int) -> ShelfItem:
    """Change what is known of it, if nobody changed it since; a stock typed is a new count."""
    others = _others(context, item_id)
    item = queries.shelf_item(context.session, context.account.id, item_id)
    check_revision(item.revision, revision, "product")
    if entered.product_id != item.product_id:  # its stock is counted in grams or millilitres of this one
        raise InvalidInput(
            FieldProblem("product_id", "fixed", "A line keeps its product: take it off and add the other.")
        )
    _fill(item, entered, others, context.now)
    item.revision += 1
    return _kept(context, item)


def restock(context: Context, item_id: UUID, packs: float, revision: int) -> ShelfItem:
    """Add packages just bought to what is left; what ages is then as fresh as today. Needs to know what a
    package holds.

    What was left and the new ones are taken as one: of the new date, so a little too strong, and doses a
    little small.
    """
    item = queries.shelf_item(context.session, context.account.id, item_id, lock=True)
    check_revision(item.revision, revision, "product")
    if item.pack is None:
        raise InvalidInput(FieldProblem("pack", "no_pack", "Say first how much a package holds."))
    if not 0 < packs <= 1000:
        raise InvalidInput(FieldProblem("packs", "out_of_range", "Between 1 and 1,000 packages."))
    poured = queries.poured_since_count(context.session, context.account.id, [item])
    item.stock = (queries.left(item, poured) or 0.0) + packs * item.pack
    item.counted_at = context.now
    fresh = item.product_id in SUPPLIES or ages(PRODUCTS[item.product_id])
    if fresh:
        item.bought = context.now.date()
        item.typed = item.typed | {"bought": item.bought.isoformat()}
    item.revision += 1
    return _kept(context, item)


def remove_item(context: Context, item_id: UUID, away: bool) -> ShelfItem:
    """Take a product off the shelf, or put it back (not ``away``)."""
    others = _others(context, item_id)
    item = queries.shelf_item(context.session, context.account.id, item_id)
    if not away and item.removed_at is not None and item.product_id in others:
        raise Conflict("listed_again", "This product was listed again meanwhile.")
    if (item.removed_at is None) == away:
        item.removed_at = context.now if away else None
        item.revision += 1
    return _kept(context, item)


def _kept(context: Context, item: ShelfItem) -> ShelfItem:
    """Write an item; the reminder of old reagents moves by it."""
    context.session.flush()
    if item.product_id in REAGENTS:
        care.shelf_moved(context.session, item.account_id)
    return item


def _others(context: Context, item_id: UUID) -> set[str]:
    """Products listed by other items. Locks the account's row, so that two devices cannot list one twice."""
    queries.lock_account(context.session, context.account.id)
    return {i.product_id for i in queries.shelf(context.session, context.account.id) if i.id != item_id}


def _fill(item: ShelfItem, entered: ShelfInput, others: set[str], now: datetime) -> None:
    if entered.product_id in SUPPLIES:
        _fill_supply(item, entered, others, now)
        return
    product = PRODUCTS.get(entered.product_id)
    if product is None:
        raise InvalidInput(FieldProblem("product_id", "unknown_product", "Choose a product."))
    problems = _not_listed(product, others)
    try:
        item.strength = _strength(product, entered.strength)
    except InvalidInput as error:
        problems += error.fields
    amounts = {
        name: _amount(entered, name, product, problems) for name in ("stock", "pack", "minimum", "rate")
    }
    price = _price(entered, amounts["pack"], problems)
    bought = _bought(entered, now, problems)
    kept_c = _kept_at(entered, problems)
    if amounts["rate"] is not None and not by_label(product):
        problems.append(
            FieldProblem("rate", "not_by_label", f"{product.name} is computed: it needs no rate.")
        )
    if problems:
        raise InvalidInput(*problems)
    if entered.stock.strip():
        item.stock, item.counted_at = amounts["stock"], now
    item.product_id, item.pack, item.minimum = product.id, amounts["pack"], amounts["minimum"]
    per_10k_gal = RATE_BASIS_L / 10_000 if entered.rate_per == "l" else 1.0
    item.rate = None if amounts["rate"] is None else amounts["rate"] * per_10k_gal
    item.price_minor, item.bought, item.kept_c = price, bought, kept_c
    # The count's text lives on as the amount it was, since doses draw on it.
    item.typed = {k: v for k, v in vars(entered).items() if k not in ("product_id", "stock")}


def _fill_supply(item: ShelfItem, entered: ShelfInput, others: set[str], now: datetime) -> None:
    """Something that is counted: how many there are, fewer than how many are few, when it was bought."""
    supply = SUPPLIES[entered.product_id]
    problems = _not_listed(supply, others)
    counts: dict[str, float | None] = {"stock": None, "minimum": None}
    for name in counts:
        text = getattr(entered, name).strip()
        if not text:
            continue
        try:
            counts[name] = parse_number(text, name)
        except InvalidInput as error:
            problems += error.fields
            continue
        if not 0 <= (counts[name] or 0.0) <= 10_000:
            problems.append(FieldProblem(name, "out_of_range", "A number from 0 to 10,000."))
    for name in ("strength", "rate", "kept"):
        if getattr(entered, name).strip():
            problems.append(FieldProblem(name, "no_chemical", f"{supply.name} has none."))
    bought = _bought(entered, now, problems)
    price = _price(entered, 1.0, problems)
    if problems:
        raise InvalidInput(*problems)
    if counts["stock"] is not None:
        item.stock, item.counted_at = counts["stock"], now
    item.product_id, item.pack, item.minimum = supply.id, 1.0, counts["minimum"]
    item.strength = item.rate = None
    item.price_minor, item.bought, item.kept_c = price, bought, None
    item.typed = {k: v for k, v in vars(entered).items() if k not in ("product_id", "stock")}


def _not_listed(product: Product | Supply, others: set[str]) -> list[FieldProblem]:
    """What keeps one more product from being listed."""
    problems = []
    if product.id in others:
        problems.append(FieldProblem("product_id", "twice", f"{product.name} stands there already."))
    if len(others) >= _MOST:
        problems.append(FieldProblem("product_id", "too_many", f"At most {_MOST} products."))
    return problems


def _bought(entered: ShelfInput, now: datetime, problems: list[FieldProblem]) -> date | None:
    """When it was bought: it may be tomorrow already where the person is."""
    try:
        if entered.bought.strip():
            return checked_date(entered.bought, now.date() + timedelta(days=1), "bought", past=True)
    except InvalidInput as error:
        problems += error.fields
    return None


def _strength(product: Product, text: str) -> float | None:
    if not text.strip():
        return None
    if by_label(product):
        raise InvalidInput(FieldProblem("strength", "by_label", "Its label gives a rate, not a strength."))
    strength = parse_number(text, "strength") / 100
    if not 0.005 <= strength <= product.most_strength:
        words = f"{product.name} is between 0.5 and {product.most_strength * 100:g} % strong."
        raise InvalidInput(FieldProblem("strength", "strength", words))
    return strength


def _amount(entered: ShelfInput, name: str, product: Product, problems: list[FieldProblem]) -> float | None:
    """One amount in g or mL; None where empty. A stock may be none."""
    text = getattr(entered, name).strip()
    if not text:
        return None
    if name in ("stock", "minimum") and text in ("0", "none"):
        return 0.0
    try:
        return parse_amount(text, getattr(entered, f"{name}_unit"), form_of(product), name)
    except InvalidInput as error:
        problems += error.fields
        return None


def _price(entered: ShelfInput, pack: float | None, problems: list[FieldProblem]) -> int | None:
    if not entered.price.strip():
        return None
    try:
        price = parse_number(entered.price.replace("$", ""), "price")
    except InvalidInput as error:
        problems += error.fields
        return None
    if not 0 <= price <= 10_000:
        problems.append(FieldProblem("price", "out_of_range", "A price between 0 and 10,000."))
    if pack is None:
        problems.append(
            FieldProblem("pack", "price_without_pack", "Say how much one package at this price holds.")
        )
    return round(price * 100)


def _kept_at(entered: ShelfInput, problems: list[FieldProblem]) -> float | None:
    if not entered.kept.strip():
        return None
    try:
        kept = parse_number(entered.kept, "kept")
    except InvalidInput as error:
        problems += error.fields
        return None
    kept_c = f_to_c(kept) if entered.kept_unit == "f" else kept
    if not -10 <= kept_c <= 60:
        problems.append(
            FieldProblem("kept", "out_of_range", "No store is that cold or hot. Is the unit right?")
        )
    return kept_c
