"""What a pool's doses cost, at the prices on the shelf: this month, this season, and month by month."""

from dataclasses import dataclass
from datetime import datetime, time
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.actions.times import season_start
from kumpan.core.phrasing.terms import money
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.store import queries

_MONTHS = 12


@dataclass(frozen=True)
class MonthCost:
    """A month, newest first: its name, what its doses cost, and that as a share of the dearest shown."""

    month: str
    cost: str
    share: float


@dataclass(frozen=True)
class Costs:
    """What was poured cost, in words; empty where nothing poured has a price. unpriced: products poured this
    season whose price nobody said.
    """

    this_month: str
    season: str
    season_since: str
    months: tuple[MonthCost, ...]
    unpriced: tuple[str, ...]


def costs(context: Context, pool_id: UUID) -> Costs:
    """What the doses of a pool cost, at today's prices on the shelf. Months are the pool's own."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    here = context.now.astimezone(ZoneInfo(pool.time_zone))
    begins, prices = season_start(here), queries.at_hand(context.session, context.account.id, context.now)
    price_of = {entry.product_id: entry for entry in prices or ()}
    first = _month_back(here, _MONTHS - 1)
    by_month = dict.fromkeys((_month_back(here, i).strftime("%Y-%m") for i in range(_MONTHS)), 0)
    season, unpriced = 0, dict[str, None]()
    for product_id, at, amount in queries.amounts_poured(context.session, pool.id, min(first, begins)):
        entry = price_of.get(product_id)
        minor = None if entry is None else entry.cost_minor(amount)
        local = at.astimezone(here.tzinfo)
        if minor is None:
            if local >= begins and product_id in PRODUCTS:
                unpriced[PRODUCTS[product_id].short] = None
            continue
        season += minor if local >= begins else 0
        if (month := local.strftime("%Y-%m")) in by_month:
            by_month[month] += minor
    currency, most = context.account.currency, max(by_month.values())
    months = tuple(
        MonthCost(datetime.strptime(m, "%Y-%m").strftime("%b %Y"), money(c, currency), round(c / most, 3))
        for m, c in by_month.items()
        if most
    )
    return Costs(
        this_month=money(by_month[here.strftime("%Y-%m")], currency) if most else "",
        season=money(season, currency) if season else "",
        season_since=f"{begins.day} {begins:%b}",
        months=months,
        unpriced=tuple(unpriced),
    )


def _month_back(here: datetime, months: int) -> datetime:
    """The beginning of the month so many before this one."""
    number = here.year * 12 + here.month - 1 - months
    first = here.replace(year=number // 12, month=number % 12 + 1, day=1)
    return datetime.combine(first.date(), time(), here.tzinfo)
