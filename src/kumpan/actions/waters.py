"""From rows and typed readings to the core's water. Shared by planning, accepting and Today."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.actions.keep_shelf import at_hand_of
from kumpan.core.equipment import expired_cover
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.bands import METALS, PoolTraits, overrides_of
from kumpan.core.planning.model import FIELD_OF, Choice, PlanRequest, value_of
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.carry import Happened, carry
from kumpan.core.water.measures import Reading, combine_chlorine, combined_chlorine_ppm, parse_reading
from kumpan.core.water.state import WaterState, with_measures
from kumpan.store import queries
from kumpan.store.tables import Account, Event, Pool

_LOOK_BACK = timedelta(days=120)
_VOLUME_95 = 0.10  # practice section 4: within 10 % unless proved


def traits_of(pool: Pool, school: str | None = None) -> PoolTraits:
    """The pool as the core sees it; under another school to compare."""
    settings = pool.settings or {}
    fill = settings.get("fill", {})
    cell = next((e.details for e in pool.equipment if e.kind == "chlorinator"), {})
    low, high = cell.get("salt_low"), cell.get("salt_high")
    return PoolTraits(
        pool.volume_l, pool.surface, pool.chlorine_source, pool.installation, school=school or pool.school, sun=settings.get("sun", "part"),
        overrides=overrides_of(settings.get("targets", {})), borate_allowed=settings.get("borate_allowed", True),
        volume_95=pool.volume_input.get("within", _VOLUME_95),
        fill=with_measures(WaterState(), {FIELD_OF[m]: v for m, v in fill.items() if m in FIELD_OF}),
        fill_metals=tuple((m, fill[m]) for m in METALS if m in fill), hose_l_h=settings.get("hose_l_h"),
        cell_salt_ppm=None if low is None or high is None else (float(low), float(high)),
        feeder_held=next((str(e.details["holds"]) for e in pool.equipment if e.kind == "feeder" and "holds" in e.details), None),
    )  # fmt: skip


def _closed_by(pool: Pool, today: date) -> frozenset[str]:
    """What the equipment's record says closes the pool, as ``SEEN`` has it."""
    expired = any(e.kind == "openings" and expired_cover(e.details, today) for e in pool.equipment)
    return frozenset({"drain_cover"} if expired else ())


def reading_of(row: object) -> Reading:
    """A stored reading as the core's."""
    return Reading(*(getattr(row, f) for f in ("measure", "value", "text", "unit", "method", "drop_count")))


def happened(event: Event, volume_l: float) -> Happened:
    """A stored event as the core's log entry."""
    change = fraction = None
    if event.dose and (product := PRODUCTS.get(event.dose.product_id)) and product.active:
        change = product.change_per_unit(volume_l, event.dose.strength) * event.dose.amount
    if event.task and event.task.what == "dilute":
        fraction = event.task.fraction
    return Happened(event.at, tuple(reading_of(r) for r in event.readings), change, fraction)


def read_typed(typed: list[tuple[str, str, str, str, int | None]]) -> tuple[list[Reading], list[FieldProblem]]:
    """Typed readings (measure, text, unit, method, drops) parsed; empty ones are skipped, wrong ones reported."""
    readings: list[Reading] = []
    problems: list[FieldProblem] = []
    for measure, text, unit, method, drops in typed:
        if not text.strip():
            continue
        try:
            readings.append(parse_reading(measure, text, unit, method, drops))
        except InvalidInput as error:
            problems += error.fields
    try:
        combine_chlorine(readings)
    except InvalidInput as error:
        problems += error.fields
        bad = {p.field.rpartition(".")[2] for p in error.fields}
        readings = [r for r in readings if r.measure not in bad]
    return readings, problems


@dataclass(frozen=True)
class Asked:
    """What the person adds to the readings: another school to look at, what they see, how long they stay (minutes)."""

    school: str | None = None
    seen: frozenset[str] = frozenset()
    stay_min: int | None = None


def plan_request(
    session: Session, account: Account, pool: Pool, readings: list[Reading], choices: dict[str, Choice], now: datetime, asked: Asked
) -> PlanRequest:
    """What a plan follows from: typed readings, the log for measures not typed, with their age, the pool and what stands ready."""
    here = now.astimezone(ZoneInfo(pool.time_zone))
    log = queries.events_since(session, pool.id, now - _LOOK_BACK, ("water_test", "dose", "task"))
    carried = carry([happened(e, pool.volume_l) for e in log if e.at <= now], now)
    typed = {FIELD_OF[r.measure]: r.value for r in readings if r.measure in FIELD_OF}
    cc = combined_chlorine_ppm(readings)
    if cc is not None:
        typed["cc_ppm"] = cc
    water = with_measures(carried.water, typed)
    mine = {r.measure for r in readings}
    plus_minus = {m: v for m, v in carried.plus_minus.items() if m not in mine}
    plus_minus |= {r.measure: r.plus_minus for r in readings}
    if "tc" in mine and "fc" in mine:
        plus_minus["cc"] = plus_minus.pop("tc")
    expected = {m: (v, carried.plus_minus[m]) for m in carried.age_days if m in mine and (v := value_of(carried.water, m)) is not None}
    return PlanRequest(
        traits=traits_of(pool, asked.school), water=water, now=here, choices=choices,
        plus_minus=plus_minus, age_days={m: a for m, a in carried.age_days.items() if m not in mine},
        system="metric" if account.measures == "metric" else "us", methods={r.measure: r.method for r in readings}, expected=expected,
        at_hand=at_hand_of(session, account, now), seen=asked.seen | _closed_by(pool, here.date()), stay_min=asked.stay_min,
        currency=account.currency,
    )  # fmt: skip


def checked_choices(typed: dict[str, tuple[str, float | None]]) -> dict[str, Choice]:
    """Products chosen for roles, with strengths their chemistry allows. Raises InvalidInput."""
    choices = {}
    for role, (product_id, strength) in typed.items():
        product = PRODUCTS.get(product_id)
        if product is None or role not in product.roles:
            raise InvalidInput(FieldProblem(f"products.{role}", "unknown_product", "Choose a product that does this."))
        if strength is not None and not 0.005 <= strength <= product.most_strength:
            raise InvalidInput(
                FieldProblem(
                    f"products.{role}",
                    "strength",
                    f"{product.name} is between 0.5 and {product.most_strength * 100:g} % strong.",
                )
            )
        choices[role] = Choice(product_id, strength)
    return choices
