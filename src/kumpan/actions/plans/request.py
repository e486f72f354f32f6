"""What a plan follows from: readings typed, the log's water, the pool and its equipment, the shelf."""

from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.core.dosing.request import AtHand, Choice, PlanRequest, Terms
from kumpan.core.pool.equipment_facts import expired_cover
from kumpan.core.pool.sun import sunset_at
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.estimate.present import Estimate, Present
from kumpan.core.water.readings import Reading, combined_chlorine_ppm
from kumpan.core.water.state import WaterState, with_measures
from kumpan.store import queries
from kumpan.store.machines import cell_setting
from kumpan.store.tables.pools import Pool
from kumpan.store.water import present_of, traits_of

# How far back a pour still keeps another apart: stabilizer's week.
_MATTERS = timedelta(days=7)
# The coming season: what a year ago the next three months brought (our own).
_YEAR, _SEASON = timedelta(days=365), timedelta(days=90)
# Over how long the tablets given to a feeder tell its pace (our own).
_FED = timedelta(days=28)


def _closed_by(pool: Pool, today: date) -> frozenset[str]:
    """What the equipment's record says closes the pool, as ``SEEN`` has it."""
    expired = any(e.kind == "openings" and expired_cover(e.details, today) for e in pool.equipment)
    return frozenset({"drain_cover"} if expired else ())


def _poured_h(context: Context, pool: Pool) -> dict[str, float]:
    """Hours since a product of each group last went in, as far as it still matters."""
    last = queries.last_poured(context.session, pool.id, context.now - _MATTERS)
    hours: dict[str, float] = {}
    for product_id, at in last.items():
        product, since = PRODUCTS.get(product_id), (context.now - at).total_seconds() / 3600
        if product is not None:
            hours[product.group] = min(hours.get(product.group, since), since)
    return hours


def _season_temp_c(context: Context, pool: Pool) -> float | None:
    """The water's temperature in the coming season: the mean of what was read in these three months a year
    ago.
    """
    a_year_ago = context.now - _YEAR
    return queries.mean_reading(context.session, pool.id, "temp", a_year_ago, a_year_ago + _SEASON)


def _sunset(pool: Pool, here: datetime) -> datetime | None:
    """Today's sunset at the pool; None where its place is not known, or the sun does not set."""
    if pool.latitude is None or pool.longitude is None or here.tzinfo is None:
        return None
    return sunset_at(pool.latitude, pool.longitude, here.date(), here.tzinfo)


def _cell_setting(context: Context, pool: Pool) -> tuple[float, float] | None:
    """What the cell runs at: percent, and hours a day."""
    held = cell_setting(context.session, pool)
    return None if held is None else (held.percent, held.hours)


def _trichlor_g_day(context: Context, pool: Pool) -> float | None:
    """What a feeder was given a day, where the log tells."""
    if pool.chlorine_source != "tablets":
        return None
    given_g = queries.poured_over(context.session, pool.id, "trichlor-90", _FED, context.now)
    return None if given_g is None else given_g / _FED.days


def _typed(readings: list[Reading]) -> dict[str, float]:
    """What was read, combined chlorine from total where that was read."""
    values = {r.measure: r.value for r in readings}
    combined = combined_chlorine_ppm(readings)
    return values if combined is None else values | {"cc": combined}


def _typed_u95(readings: list[Reading]) -> dict[str, float]:
    """What each may be off by; combined chlorine worked out from total carries total's."""
    off = {r.measure: r.u95 for r in readings}
    return off | {"cc": off.pop("tc")} if "tc" in off and "fc" in off else off


def _carried_water(carried: dict[str, Estimate], present: Present) -> WaterState:
    """The log's water as far as it is recent; borate however old, since it stays and is rarely tested."""
    borate = present.measures.get("borate")
    values = {m: e.value for m, e in carried.items()} | ({} if borate is None else {"borate": borate.value})
    return with_measures(WaterState(), values)


def plan_request(
    context: Context,
    pool: Pool,
    readings: list[Reading],
    products: tuple[dict[str, Choice], tuple[AtHand, ...] | None],
    terms: Terms,
) -> PlanRequest:
    """What a plan follows from: typed readings, the log for measures not typed, with their age, and the pool.
    products: those chosen, and what stands ready.
    """
    choices, ready = products
    here = context.now.astimezone(ZoneInfo(pool.time_zone))
    present = present_of(context.session, pool, context.now)
    mine = {r.measure for r in readings}
    carried = {m: e for m, e in present.measures.items() if e.usable and m not in mine}
    expected = {m: (e.value, e.u95) for m, e in present.measures.items() if m in mine}
    return PlanRequest(
        traits=traits_of(pool, terms.school, _cell_setting(context, pool)),
        water=with_measures(_carried_water(carried, present), _typed(readings)),
        now=here,
        choices=choices,
        u95={m: e.u95 for m, e in carried.items()} | _typed_u95(readings),
        age_days={m: e.age_days for m, e in carried.items()},
        system=context.unit_system,
        own_measures=context.own_measures,
        methods={r.measure: r.method for r in readings},
        tc_ppm=next((r.value for r in readings if r.measure == "tc"), None),
        expected=expected,
        at_hand=ready,
        seen=terms.seen | _closed_by(pool, here.date()),
        stay_min=terms.stay_min,
        visits_min=terms.visits_min,
        hold_days=terms.hold_days,
        closed_pool=terms.closed_pool,
        drain_later=terms.drain_later,
        raise_calcium=terms.raise_calcium,
        poured_h=_poured_h(context, pool),
        fit=present.fit,
        ph_rise_a_day=present.ph_rise_a_day,
        trichlor_g_day=_trichlor_g_day(context, pool),
        season_temp_c=_season_temp_c(context, pool),
        sunset=_sunset(pool, here),
        currency=context.account.currency,
    )
