"""What is foretold of a pool on one page: how long chlorine lasts, what its demand is made of, what to set or
pour, what the weather does, what it costs, and how often what was foretold came out.
"""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from uuid import UUID

from kumpan.actions.care.due import Standing, standing_of
from kumpan.actions.context import Context
from kumpan.actions.forecast.coming import Coming, ComingView, coming_of
from kumpan.actions.forecast.costs import CostsAhead, chlorine_product, costs_ahead
from kumpan.actions.machines.chlorinator import chlorinator_view
from kumpan.actions.machines.feeder import feeder_view
from kumpan.actions.machines.site import Known
from kumpan.actions.weather.view import weather_view
from kumpan.core.amounts import about
from kumpan.core.chemistry.constants import SURFACE_RATE_PER_H
from kumpan.core.dosing.uncertainty import SIGMAS_95
from kumpan.core.forecast.ahead import DAYS_AHEAD, MOST_DAYS, path_ahead
from kumpan.core.forecast.coming import DayAhead, days_ahead
from kumpan.core.forecast.score import Scored, score
from kumpan.core.phrasing import coming as phrase
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.water.air import surface_rate
from kumpan.core.water.estimate.chlorine import Driver, Fit
from kumpan.core.water.estimate.present import SIGMAS_80
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.state import WaterState, apply
from kumpan.store import queries
from kumpan.store.care import care_of
from kumpan.store.forecasts import SCORED_DAYS, results_of
from kumpan.store.water import filter_of

_DRIVERS = {
    "sun": "The sun",
    "water": "The water itself, warmth and what blows in",
    "bathers": "Bathers, as written down",
}


@dataclass(frozen=True)
class DriverView:
    """A driver of demand: ppm a day as told, its share of the whole, four in five lie between; apart: whether
    the log tells it from the rest.
    """

    label: str
    shown: str
    share: float
    span: str
    apart: bool


@dataclass(frozen=True)
class DemandView:
    """Free chlorine used a day at the level aimed at: in words, what it is made of, and what cannot be told
    apart.
    """

    shown: str
    span: str
    told_by: str
    drivers: tuple[DriverView, ...]
    note: str


@dataclass(frozen=True)
class PaceView:
    """How a measure goes by itself, in words."""

    label: str
    words: str


@dataclass(frozen=True)
class ActAhead:
    """What to set, put in or pour: its title, the amount, why."""

    title: str
    amount: str
    why: str


@dataclass(frozen=True)
class WeatherAhead:
    """A day of the outlook and what it does to this water."""

    day: str
    water: str
    demand: str
    does: str
    marked: bool


@dataclass(frozen=True)
class ScoreView:
    """How often forecasts of a measure came out; share: None where none counts; void, wider: in words, or
    empty.
    """

    label: str
    shown: str
    share: float | None
    void: str
    wider: str


@dataclass(frozen=True)
class AheadView:
    """A pool's days to come. closed: for the season, so that nothing is foretold. unknown: what cannot be
    known, in plain words. weather_from: what the outlook is from.
    """

    pool_id: UUID
    closed: bool
    coming: ComingView
    unknown: tuple[str, ...]
    demand: DemandView | None
    paces: tuple[PaceView, ...]
    acts: tuple[ActAhead, ...]
    weather: tuple[WeatherAhead, ...]
    weather_from: str
    costs: CostsAhead
    scores: tuple[ScoreView, ...]
    score_note: str


def ahead_view(context: Context, pool_id: UUID) -> AheadView:
    """What is foretold of one pool."""
    known = Known(context, queries.pool(context.session, context.account.id, pool_id))
    stands = filter_of(context.session, known.pool, context.now)
    standing = standing_of(context, known.pool)
    closed, coming = at_rest(standing), coming_of(context, known.pool, stands, test_due(standing))
    evenings = path_ahead(stands, coming.outlook, [one.at for one in coming.outlook])
    days = days_ahead(evenings, coming.outlook, coming.path[0], known.band("fc").aim)
    weather = weather_view(context, known.pool, known.here)
    results = results_of(context.session, known.pool, context.now)
    return AheadView(
        pool_id=pool_id,
        closed=closed,
        coming=replace(coming.view, sentence=phrase.CLOSED) if closed else coming.view,
        unknown=() if closed else tuple(_unknown(known, coming)),
        demand=_demand(known),
        paces=tuple(_paces(known, coming)),
        acts=() if closed else tuple(_acts(known, coming)),
        weather=() if closed else tuple(_weather(known, one) for one in days),
        weather_from=" ".join(t for t in (weather.problem, weather.label) if t),
        costs=costs_ahead(known),
        scores=tuple(_scores(results)),
        score_note=_score_note(known, results),
    )


def at_rest(standing: Standing) -> bool:
    """Whether a pool is closed, by its log or by the person's own season."""
    season = standing.site.care.season
    return standing.site.closed or (season is not None and not season.holds(standing.today))


def test_due(standing: Standing) -> date | None:
    """When chlorine and pH are to be read next, by the cadence chosen; None where it asks for none."""
    reads = [duty for duty, _ in standing.on if "fc" in duty.rule.reads]
    return min((d.stands.on for d in reads if d.stands.on is not None), default=None)


def _weather(known: Known, one: DayAhead) -> WeatherAhead:
    does = (_against(one.against_today), phrase.diluted(one.diluted, known.system))
    return WeatherAhead(
        phrase.day_name(known.here.date(), one.day),
        "" if one.water_c is None else known.temp(one.water_c),
        f"{one.demand_ppm:.1f} ppm",
        "; ".join(t for t in does if t),
        any(does),
    )


def _against(word: str) -> str:
    return {"more": "takes clearly more chlorine than today", "less": "takes clearly less"}.get(word, "")


def _unknown(known: Known, coming: Coming) -> list[str]:
    """What cannot be known yet, each with what would tell it."""
    fit, lines = known.present.fit, list[str]()
    if fit is None:
        return ["Chlorine was never read here: there is nothing to foretell from."]
    if fit.reads == 1:
        lines.append("One reading of chlorine tells a level and no pace: its demand is the season's usual.")
    elif fit.days < 1:
        lines.append("All its readings are of one day: how fast chlorine goes shows only over days.")
    elif not fit.enough and fit.told:
        lines.append(
            "Too few readings yet, too far apart, or with no chlorine left to tell by: its demand is the"
            " season's usual."
        )
    if not fit.told:
        what = "the cell's setting and its rated output" if known.traits.has_chlorinator else "tablets put in"
        lines.append(f"What feeds it is not written down: without {what} demand cannot be told from feed.")
    if coming.outlook == [] and known.traits.sun != "indoor":
        lines.append("No outlook: the days ahead are taken to be like these.")
    if fit.contradicts:
        lines.append(
            "The last readings contradict what was poured and what the log told before. They are believed,"
            " and the spans are wide: read again, or write down what went in."
        )
    return lines


def _demand(known: Known) -> DemandView | None:
    fit = known.present.fit
    if fit is None:
        return None
    demand = known.demand_at_aim
    drivers = fit.at_level(known.band("fc").aim).drivers() if fit.enough else ()
    total = sum(d.ppm_day for d in drivers) or 1.0
    low, high = (max(0.0, demand.ppm_day + sign * demand.u95 / SIGMAS_95 * SIGMAS_80) for sign in (-1, 1))
    return DemandView(
        f"{demand.ppm_day:.1f} ppm a day",
        f"{low:.1f} to {high:.1f}",
        phrase.told_by(demand.days),
        tuple(_driver(d, total) for d in drivers),
        _apart_note(drivers, fit),
    )


def _driver(driver: Driver, total: float) -> DriverView:
    low, high = (max(0.0, driver.ppm_day + sign * driver.sigma * SIGMAS_80) for sign in (-1, 1))
    return DriverView(
        _DRIVERS[driver.id],
        f"{driver.ppm_day:.1f} ppm",
        driver.ppm_day / total,
        f"{low:.1f} to {high:.1f}",
        driver.apart,
    )


def _apart_note(drivers: tuple[Driver, ...], fit: Fit) -> str:
    if not drivers:
        return ""
    bather = fit.bather_g()
    heads = f" A bather takes about {bather[0]:.0f} g here." if bather[2] else ""
    if all(d.apart for d in drivers):
        return f"This pool's own readings tell them apart.{heads}"
    return (
        "The readings tell the whole, not yet what each takes: the split leans on what is usual. Readings at"
        f" dusk and dawn, and at different levels, tell them apart.{heads}"
    )


def _paces(known: Known, coming: Coming) -> list[PaceView]:
    """How measures go by themselves; calcium and salt by what the outlook's air and rain do."""
    present, water = known.present, known.present.water
    found = [PaceView("pH", phrase.a_day("ph", present.ph_rise_a_day))]
    if present.ph_rise_a_day is not None and water.has_ph_chemistry:
        times = surface_rate(water, present.ph_rise_a_day) / SURFACE_RATE_PER_H
        found.append(PaceView("CO2 leaves", f"{times:.1f} times as fast as from a still, sheltered pool"))
    found.append(PaceView("Alkalinity", phrase.a_day("ta", present.ta_rise_a_day)))
    for m in ("ch", "salt"):
        now, then = present.measures.get(m), coming.path[-1].measures.get(m)
        if now is not None and then is not None:
            by = (then.value - now.value) / MOST_DAYS
            words = phrase.a_day(m, by) if abs(by) < 1 else phrase.a_day(m, round(by))
            found.append(PaceView(f"{MEASURES[m].label}, by rain and topping up", words))
    return found


def _acts(known: Known, coming: Coming) -> list[ActAhead]:
    """What to set, put in or pour until the next test. Where a cell makes nothing, or tablets are to stop,
    what is poured instead.
    """
    cell, feeder, water = chlorinator_view(known), feeder_view(known), known.present.water
    if cell is not None:
        feeds = known.traits.cell_feeds(water.salt_ppm, known.temp_c)
        return [ActAhead("The cell", "", cell.sentence), *([] if feeds else [_jugs(known, coming, _LIQUID)])]
    if feeder is not None:
        told = [ActAhead("Tablets", "", feeder.sentence)]
        if feeder.dial_to:
            told.append(ActAhead("The feeder's dial", "", feeder.dial_to))
        if feeder.reach:
            told.append(ActAhead("Stabilizer", "", feeder.reach))
        return [*told, *([_jugs(known, coming, _LIQUID)] if feeder.level == "act" else [])]
    return [_jugs(known, coming, chlorine_product(known) or _LIQUID)]


_LIQUID = "liquid-chlorine-12.5"


def _jugs(known: Known, coming: Coming, product_id: str) -> ActAhead:
    """What is poured by hand until the next visit."""
    visit = _next_visit(known, coming)
    days = max(1, (visit - known.here.date()).days)
    demand = known.demand_at_aim
    product = PRODUCTS[product_id]
    each = apply(WaterState(fc_ppm=0), product.change_per_unit(known.pool.volume_l)).fc_ppm or 1.0
    amount = about(
        demand.ppm_day * days / each,
        form_of(product),
        known.system,
        known.pool.volume_l,
        known.context.own_measures,
    )
    until = phrase.day_name(known.here.date(), visit)
    return ActAhead(
        f"{product.short[:1].upper()}{product.short[1:]} until {until}",
        amount.text,
        f"{days} day{'s' if days > 1 else ''} at {demand.ppm_day:.1f} ppm, in all. The Bench works out how"
        " much of it at once, from a reading.",
    )


def _next_visit(known: Known, coming: Coming) -> date:
    """The technician's next visit, else the person's own next test, else the one advised."""
    today = known.here.date()
    care = care_of(known.pool)
    by = test_due(standing_of(known.context, known.pool)) if care.is_technician else None
    return by if by is not None and by > today else max(coming.test.on, today + timedelta(days=1))


def _scores(results: list[Scored]) -> list[ScoreView]:
    found = []
    for m in DAYS_AHEAD:
        due = [one for one in results if one.measure == m]
        if due:
            told = score(due)
            found.append(
                ScoreView(
                    MEASURES[m].label,
                    phrase.hit_rate(told),
                    told.share,
                    phrase.voided(told, [one.void for one in due if one.void]),
                    phrase.wider(told),
                )
            )
    return found


def _score_note(known: Known, results: list[Scored]) -> str:
    if not results:
        return "Nothing foretold has come due yet: a forecast is stored with each test and once a day."
    return (
        f"Of forecasts stored in the last {SCORED_DAYS.days} days, one, three and seven days ahead: those"
        " whose reading lay in the span that was to hold four in five. Void: what was assumed did not happen."
    )
