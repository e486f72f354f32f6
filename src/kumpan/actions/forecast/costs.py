"""What the month and the season to come cost, at the prices on the shelf."""

from dataclasses import dataclass
from datetime import date, timedelta

from kumpan.actions.machines.site import Known
from kumpan.actions.seasons.known import Known as Seasons
from kumpan.core.dosing.request import AtHand
from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.forecast.ahead import MOST_DAYS
from kumpan.core.forecast.coming import Need, chlorine_need
from kumpan.core.phrasing.terms import money
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.estimate.present import SIGMAS_80
from kumpan.core.water.estimate.priors import SUMMER_MJ_M2
from kumpan.core.water.state import WaterState, apply
from kumpan.store import queries
from kumpan.store.care import care_of

_YEAR_DAYS = 365
_MONTH_DAYS, _LOG_DAYS, _LEAST_LOG_DAYS = 30, 60, 14  # what else is poured goes on as in these days (our own)


@dataclass(frozen=True)
class CostAhead:
    """A stretch to come: its name and last day, what it costs and between what, what chlorine that is; empty
    where no price tells.
    """

    stretch: str
    until: date
    cost: str
    span: str
    chlorine: str


@dataclass(frozen=True)
class CostsAhead:
    """The month and the season to come. notes: what is left out, or not known."""

    stretches: tuple[CostAhead, ...]
    notes: tuple[str, ...]


def costs_ahead(known: Known) -> CostsAhead:
    """What they cost: chlorine by the pool's demand at its aim and the water's course, all else as it was
    poured of late.
    """
    seasons = Seasons(known.context, known.pool)
    if seasons.state == "closed":
        return CostsAhead((), ("Closed for now: nothing is foretold before it opens.",))
    product_id = chlorine_product(known)
    prices = _prices(known)
    entry = prices.get(product_id or "")
    other_minor, notes = _other_a_day(known, prices, product_id)
    if product_id is None:
        notes.append("Chlorine comes from the cell: power and its wear are not counted.")
    elif entry is None or entry.price_minor is None:
        notes.append(f"No price of {PRODUCTS[product_id].short} on the shelf: chlorine is not counted.")
    warm = {} if seasons.heated else {w.day: w.water_c for w in seasons.course}
    light = _light(known)
    today, stretches = known.here.date(), []
    for name, until in _ends(known, today):
        days = [today + timedelta(days=i + 1) for i in range((until - today).days)]
        coming = [(warm.get(d, known.temp_c), light.get(d)) for d in days]
        need = chlorine_need(known.fit, known.band("fc").aim, coming)
        per_ppm = 0.0 if entry is None or product_id is None else _minor_per_ppm(known, product_id, entry)
        stretches.append(_stretch(known, name, until, (need, per_ppm, other_minor)))
    return CostsAhead(tuple(stretches), tuple(notes))


def _light(known: Known) -> dict[date, float]:
    """The sunlight of days to come against an ordinary summer's: foretold, else that of the same day last
    year.
    """
    today = known.here.date()
    first, last = today - timedelta(days=_YEAR_DAYS), today + timedelta(days=MOST_DAYS)
    told = queries.weather_days(known.context.session, known.pool.id, first, last)
    lit = {one.day: one.sun_mj_m2 / SUMMER_MJ_M2 for one in told}
    return {day + timedelta(days=_YEAR_DAYS): sun for day, sun in lit.items() if day <= today} | {
        day: sun for day, sun in lit.items() if day > today
    }


def _ends(known: Known, today: date) -> list[tuple[str, date]]:
    """The month to come; and the season, to its own end where the person set one, else the year's."""
    window = care_of(known.pool).season
    found = [("The next 30 days", today + timedelta(days=_MONTH_DAYS))]
    if window is not None and window.holds(today):
        last = today
        while window.holds(last + timedelta(days=1)) and (last - today).days < 366:
            last += timedelta(days=1)
        return [*found, ("The rest of the season", last)] if last > today else found
    year = date(today.year, 12, 31)
    return [*found, ("The rest of the year", year)] if year > today else found


def _prices(known: Known) -> dict[str, AtHand]:
    account_id, now = known.context.account.id, known.context.now
    return {a.product_id: a for a in queries.at_hand(known.context.session, account_id, now) or ()}


def chlorine_product(known: Known) -> str | None:
    """What chlorine is bought as: None where a cell makes it, else the product poured last, else liquid."""
    if known.traits.has_chlorinator:
        return None
    since = known.context.now - timedelta(days=_LOG_DAYS)
    poured = queries.chlorine_poured(known.context.session, known.pool.id, since)
    brings = (p for _, p, _, _ in reversed(poured) if p in PRODUCTS and _brings_chlorine(p))
    usual = "trichlor-90" if known.traits.chlorine_source == "tablets" else "liquid-chlorine-12.5"
    return next(brings, usual)


def _brings_chlorine(product_id: str) -> bool:
    active = PRODUCTS[product_id].active
    return active is not None and active.cl2 > 0


def _minor_per_ppm(known: Known, product_id: str, entry: AtHand) -> float:
    """What one ppm of free chlorine costs in this pool."""
    change = PRODUCTS[product_id].change_per_unit(known.pool.volume_l, entry.strength)
    ppm = apply(WaterState(fc_ppm=0), change).fc_ppm or 0.0
    whole = entry.cost_minor(1000.0 / ppm) if ppm > 0 else None
    return 0.0 if whole is None else whole / 1000.0


def _other_a_day(known: Known, prices: dict[str, AtHand], chlorine_id: str | None) -> tuple[float, list[str]]:
    """What all else cost a day of late (minor units), and what of it has no price."""
    now = known.context.now
    poured = queries.amounts_poured(known.context.session, known.pool.id, now - timedelta(days=_LOG_DAYS))
    first = queries.first_event_at(known.context.session, known.pool.id)
    days = 0.0 if first is None else min(float(_LOG_DAYS), (now - first) / timedelta(days=1))
    if days < _LEAST_LOG_DAYS:
        return 0.0, ["The log is too short to tell what else goes in: chlorine alone is counted."]
    total, unpriced = 0, dict[str, None]()
    for product_id, _, amount in poured:
        if product_id == chlorine_id or product_id not in PRODUCTS:
            continue
        entry = prices.get(product_id)
        cost = None if entry is None else entry.cost_minor(amount)
        if cost is None:
            unpriced[PRODUCTS[product_id].short] = None
        total += cost or 0
    notes = [f"No price on the shelf: {', '.join(unpriced)}."] if unpriced else []
    return total / days, notes


def _stretch(known: Known, name: str, until: date, told: tuple[Need, float, float]) -> CostAhead:
    """One stretch. told: the chlorine it needs, what a ppm costs, what all else costs a day."""
    need, per_ppm, other_minor = told
    chlorine, other = need.ppm * per_ppm, other_minor * need.days
    off = need.u95 / SIGMAS_95 * SIGMAS_80 * per_ppm
    currency = known.context.account.currency
    low, high = (round(max(0.0, chlorine + sign * off) + other) for sign in (-1, 1))
    cost = round(chlorine + other)
    span = f"{money(low, currency)} to {money(high, currency)}" if off else ""
    ppm = f"{need.ppm:.0f} ppm of chlorine" + (f", {money(round(chlorine), currency)}" if chlorine else "")
    return CostAhead(name, until, money(cost, currency) if cost else "", span if cost else "", ppm)
