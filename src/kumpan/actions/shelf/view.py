"""The Shelf in words: what is left, how strong it is today, what to buy, what was used, what may stand beside
what.
"""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.times import season_start
from kumpan.core.amounts import System, describe, rounded_down, tool_for
from kumpan.core.phrasing.terms import money
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.products.decay import ages
from kumpan.core.products.label import by_label, label_dose
from kumpan.core.products.product import Product
from kumpan.core.products.storage import storage_plan
from kumpan.core.products.supplies import SUPPLIES
from kumpan.store import queries
from kumpan.store.tables.pools import Pool
from kumpan.store.tables.shelf import ShelfItem


@dataclass(frozen=True)
class LabelView:
    """What a product's label asks for in the pool in view. unit and value: as a dose is logged. own: by the
    rate typed.
    """

    text: str
    note: str
    value: float
    unit: str
    own: bool


@dataclass(frozen=True)
class ShelfLine:
    """One product in words. level: fine, watch (weak, or never counted) or act (buy)."""

    id: UUID
    product_id: str
    name: str
    level: str
    word: str
    left: str
    strength: str
    price: str
    used: str
    by_label: bool
    ages: bool
    can_restock: bool
    label: LabelView | None


@dataclass(frozen=True)
class SupplyLine:
    """Something counted: how many, whether that is few or too old. level: as in ``ShelfLine``."""

    id: UUID
    product_id: str
    name: str
    level: str
    word: str
    left: str
    bought: str


@dataclass(frozen=True)
class PlaceView:
    """One place of the storage plan: names of dry products above, of liquids below."""

    name: str
    above: tuple[str, ...]
    below: tuple[str, ...]


@dataclass(frozen=True)
class ApartView:
    """What must not stand together: products on either side, what it makes, the source."""

    one: tuple[str, ...]
    other: tuple[str, ...]
    harm: str
    source: str


@dataclass(frozen=True)
class Shelf:
    """The shelf. headline: what to buy, or that nothing is short; used_total: what this year's doses cost at
    today's prices.
    """

    headline: str
    lines: tuple[ShelfLine, ...]
    supplies: tuple[SupplyLine, ...]
    places: tuple[PlaceView, ...]
    apart: tuple[ApartView, ...]
    used_total: str
    pool_name: str


def listed(context: Context) -> list[ShelfItem]:
    """The items in the order they are shown: as they were put there."""
    known = PRODUCTS.keys() | SUPPLIES.keys()
    return [i for i in queries.shelf(context.session, context.account.id) if i.product_id in known]


def shelf(context: Context, pool_id: UUID | None) -> Shelf:
    """The account's shelf in words; label rates scaled to this pool where one is named."""
    pool = None if pool_id is None else queries.pool(context.session, context.account.id, pool_id)
    every = listed(context)
    items = [i for i in every if i.product_id in PRODUCTS]
    since = queries.poured_since_count(context.session, context.account.id, items)
    used = queries.poured(context.session, context.account.id, season_start(context.now))
    lines = tuple(_line(context, i, queries.left(i, since), used.get(i.product_id, 0.0), pool) for i in items)
    costs = [c for i in items if (c := _cost(i, used.get(i.product_id, 0.0))) is not None]
    places, apart = storage_plan(tuple(i.product_id for i in items))
    return Shelf(
        headline=_headline(lines),
        lines=lines,
        supplies=tuple(_supply(context, i) for i in every if i.product_id in SUPPLIES),
        places=tuple(
            PlaceView(_place(n, len(places)), _names(at.above), _names(at.below))
            for n, at in enumerate(places)
        ),
        apart=tuple(ApartView(_names(x.one), _names(x.other), x.clash.harm, x.clash.source) for x in apart),
        used_total=money(sum(costs), context.account.currency) if costs and sum(costs) else "",
        pool_name=pool.name if pool else "",
    )


def _names(products: tuple[Product, ...]) -> tuple[str, ...]:
    return tuple(p.name for p in products)


def _place(index: int, count: int) -> str:
    return "One place" if count == 1 else f"Place {'ABCDEFGH'[index]}"


def _headline(lines: tuple[ShelfLine, ...]) -> str:
    if not lines:
        return "Say what stands ready, and plans will use it."
    buy = [PRODUCTS[line.product_id].short for line in lines if line.level == "act"]
    if buy:
        return f"Buy {buy[0]}{f' and {len(buy) - 1} more' if len(buy) > 1 else ''}."
    return (
        f"{len(lines)} {'product stands' if len(lines) == 1 else 'products stand'} ready. Nothing is short."
    )


def _line(context: Context, item: ShelfItem, here: float | None, used: float, pool: Pool | None) -> ShelfLine:
    product, system, currency = PRODUCTS[item.product_id], context.unit_system, context.account.currency
    level, word = _judged(item, here)
    cost = _cost(item, used)
    return ShelfLine(
        id=item.id,
        product_id=product.id,
        name=product.name,
        level=level,
        word=word,
        left="" if here is None else "none" if here <= 0 else _told(here, product, system),
        strength=_strength(item, product, context.now),
        price=f"{money(item.price_minor, currency)} for {_told(item.pack, product, system)}"
        if item.price_minor and item.pack
        else "",
        used=""
        if not used
        else _told(used, product, system) + (f", {money(cost, currency)}" if cost else ""),
        by_label=by_label(product),
        ages=ages(product),
        can_restock=item.pack is not None,
        label=_label(item, product, pool, system),
    )


def _supply(context: Context, item: ShelfItem) -> SupplyLine:
    supply, today = SUPPLIES[item.product_id], context.now.date()
    level, word = _judged(item, item.stock)
    old = supply.keeps_days is not None and item.bought is not None
    if old and item.bought is not None and (today - item.bought).days > (supply.keeps_days or 0):
        level, word = "act", "too old: replace"
    left = "" if item.stock is None else "none" if item.stock <= 0 else f"{item.stock:g}"
    bought = "" if item.bought is None else f"bought {item.bought.day} {item.bought:%b %Y}"
    return SupplyLine(item.id, supply.id, supply.name, level, word, left, bought)


def _judged(item: ShelfItem, here: float | None) -> tuple[str, str]:
    if here is None:
        return "none", "not counted"
    if here <= 0:
        return "act", "buy: none left"
    if item.minimum is not None and here < item.minimum:
        return "act", "buy: under your minimum"
    return "fine", "enough"


def _cost(item: ShelfItem, amount: float) -> int | None:
    return None if item.price_minor is None or not item.pack else round(item.price_minor * amount / item.pack)


def _strength(item: ShelfItem, product: Product, now: datetime) -> str:
    strength = queries.strength_now(item, now)
    if ages(product) and item.bought is not None and strength is not None:
        bought = product.strength if item.strength is None else item.strength
        return f"{strength * 100:.3g} % today, {bought * 100:.4g} % when bought"
    return "" if strength is None else f"{strength * 100:.4g} %"


def _label(item: ShelfItem, product: Product, pool: Pool | None, system: System) -> LabelView | None:
    if pool is None or not by_label(product):
        return None
    dose = label_dose(product.id, item.rate, pool.volume_l, system)
    if dose is None:
        return LabelView("", "Type its label's rate to have it scaled to the pool.", 0.0, "", False)
    return LabelView(dose.amount.text, dose.text, dose.amount.value, dose.amount.unit, dose.own)


def _told(amount: float, product: Product, system: System) -> str:
    """An amount in the tool's steps, whatever the pool."""
    form = form_of(product)
    tool = tool_for(amount, form, system, 1e9)
    return describe(rounded_down(amount, tool), tool, form).text
