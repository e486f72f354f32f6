"""From rows and typed readings to the core's water. Shared by planning, accepting and Today."""

from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from kumpan.actions.context import Context
from kumpan.actions.keep_shelf import at_hand_of
from kumpan.core.amounts import System
from kumpan.core.dosing.request import FIELD_OF, Choice, PlanRequest
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.guidance.own_targets import overrides_of
from kumpan.core.pool.equipment import expired_cover
from kumpan.core.pool.traits import METALS, PoolTraits
from kumpan.core.products.catalogue import PRODUCTS
from kumpan.core.water.estimate.filter import Entry, Present, present_water
from kumpan.core.water.estimate.priors import MEAN_DEPTH_M
from kumpan.core.water.measures import Reading, combine_chlorine, combined_chlorine_ppm, parse_reading
from kumpan.core.water.state import WaterState, with_measures
from kumpan.store import queries
from kumpan.store.tables import Account, Event, Pool

LOOK_BACK = timedelta(days=120)
_REFILLED_WITHIN = timedelta(days=3)
_VOLUME_95 = 0.10  # practice section 4: within 10 % unless proved


def traits_of(pool: Pool, school: str | None = None) -> PoolTraits:
    """The pool as the core sees it; under another school to compare."""
    settings = pool.settings or {}
    fill = settings.get("fill", {})
    cell = next((e.details for e in pool.equipment if e.kind == "chlorinator"), {})
    low, high = cell.get("salt_low"), cell.get("salt_high")
    return PoolTraits(
        pool.volume_l,
        pool.surface,
        pool.chlorine_source,
        pool.installation,
        school=school or pool.school,
        sun=settings.get("sun", "part"),
        overrides=overrides_of(settings.get("targets", {})),
        borate_allowed=settings.get("borate_allowed", True),
        volume_95=pool.volume_input.get("within", _VOLUME_95),
        fill=with_measures(WaterState(), {FIELD_OF[m]: v for m, v in fill.items() if m in FIELD_OF}),
        fill_metals=tuple((m, fill[m]) for m in METALS if m in fill),
        hose_l_h=settings.get("hose_l_h"),
        cell_salt_ppm=None if low is None or high is None else (float(low), float(high)),
        feeder_held=next(
            (str(e.details["holds"]) for e in pool.equipment if e.kind == "feeder" and "holds" in e.details),
            None,
        ),
    )


def _closed_by(pool: Pool, today: date) -> frozenset[str]:
    """What the equipment's record says closes the pool, as ``SEEN`` has it."""
    expired = any(e.kind == "openings" and expired_cover(e.details, today) for e in pool.equipment)
    return frozenset({"drain_cover"} if expired else ())


def system_of(account: Account) -> System:
    """The person's measures as amounts are told in."""
    return "metric" if account.measures == "metric" else "us"


def reading_of(row: object) -> Reading:
    """A stored reading as the core's."""
    return Reading(*(getattr(row, f) for f in ("measure", "value", "text", "unit", "method", "drop_count")))


LOGGED = ("water_test", "dose", "task", "backwash", "refill", "drain", "rain", "bathers", "cover", "cell")


def log_entries(pool: Pool, events: list[Event]) -> list[Entry]:
    """Stored events as the estimate takes them.

    Water lost (backwash, drain) comes back as fill: when it was added, if that was logged within three days,
    else at once. Water added beyond what was lost makes up for evaporation, which takes nothing dissolved
    along.
    """
    entries = [_entry(pool, e) for e in events]
    missing: list[tuple[int, float]] = []  # lost and not yet added, litres
    for i, event in enumerate(events):
        details = event.happening.details if event.happening is not None else {}
        missing = [(j, litres) for j, litres in missing if event.at - events[j].at <= _REFILLED_WITHIN]
        if event.kind in ("backwash", "drain"):
            missing.append((i, float(details.get("lost") or 0.0)))
        elif event.kind == "refill":
            for j, _ in missing:
                entries[j] = replace(entries[j], replaced=0.0)
            added = float(details.get("added") or 0.0)
            # A loss of unknown size is taken to be all that was added.
            unknown = any(litres == 0 for _, litres in missing)
            made_up = added if unknown else min(added, sum(litres for _, litres in missing))
            entries[i] = replace(
                entries[i],
                replaced=min(1.0, made_up / pool.volume_l),
                topped=min(1.0, (added - made_up) / pool.volume_l),
            )
            missing = []
    return entries


def _entry(pool: Pool, event: Event) -> Entry:
    change = None
    if event.dose and (product := PRODUCTS.get(event.dose.product_id)) and product.active:
        change = product.change_per_unit(pool.volume_l, event.dose.strength) * event.dose.amount
    replaced = (event.task.fraction or 0.0) if event.task and event.task.what == "dilute" else 0.0
    details = event.happening.details if event.happening is not None else {}
    if event.kind in ("backwash", "drain"):
        replaced = float(details.get("lost") or 0.0) / pool.volume_l
    rained = float(details.get("fell") or 0.0) / 1000 / MEAN_DEPTH_M if event.kind == "rain" else 0.0
    return Entry(
        event.at,
        str(event.id),
        tuple(reading_of(r) for r in event.readings),
        change,
        min(1.0, replaced),
        rained=min(1.0, rained),
        bathers=float(details.get("people") or 0.0) if event.kind == "bathers" else 0.0,
        covered=details.get("state") == "on" if event.kind == "cover" else None,
        cell_set=event.kind == "cell",
    )


def read_typed(
    typed: list[tuple[str, str, str, str, int | None]],
) -> tuple[list[Reading], list[FieldProblem]]:
    """Typed readings (measure, text, unit, method, drops) parsed; empty ones are skipped, wrong ones
    reported.
    """
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
    """What the person adds to the readings: another school to look at, what they see, how long they stay
    (minutes).
    """

    school: str | None = None
    seen: frozenset[str] = frozenset()
    stay_min: int | None = None


def present_of(session: Session, pool: Pool, now: datetime) -> Present:
    """The pool's water now, as its log makes it."""
    log = queries.events_since(session, pool.id, now - LOOK_BACK, LOGGED)
    return present_water(traits_of(pool), log_entries(pool, [e for e in log if e.at <= now]), now)


def plan_request(
    context: Context,
    pool: Pool,
    readings: list[Reading],
    choices: dict[str, Choice],
    asked: Asked,
) -> PlanRequest:
    """What a plan follows from: typed readings, the log for measures not typed, with their age, the pool and
    what stands ready.
    """
    here = context.now.astimezone(ZoneInfo(pool.time_zone))
    traits = traits_of(pool, asked.school)
    present = present_of(context.session, pool, context.now)
    typed = {FIELD_OF[r.measure]: r.value for r in readings if r.measure in FIELD_OF}
    cc = combined_chlorine_ppm(readings)
    if cc is not None:
        typed["cc_ppm"] = cc
    mine = {r.measure for r in readings}
    carried = {m: e for m, e in present.measures.items() if e.usable and m not in mine}
    borate = present.measures.get("borate")  # none until tested, and it stays
    values = {FIELD_OF[m]: e.value for m, e in carried.items()} | (
        {} if borate is None else {"borate_ppm": borate.value}
    )
    water = with_measures(with_measures(WaterState(), values), typed)
    plus_minus = {m: e.plus_minus for m, e in carried.items()}
    plus_minus |= {r.measure: r.plus_minus for r in readings}
    if "tc" in mine and "fc" in mine:
        plus_minus["cc"] = plus_minus.pop("tc")
    expected = {m: (e.value, e.plus_minus) for m, e in present.measures.items() if m in mine}
    return PlanRequest(
        traits=traits,
        water=water,
        now=here,
        choices=choices,
        plus_minus=plus_minus,
        age_days={m: e.age_days for m, e in carried.items()},
        system=system_of(context.account),
        methods={r.measure: r.method for r in readings},
        expected=expected,
        at_hand=at_hand_of(context),
        seen=asked.seen | _closed_by(pool, here.date()),
        stay_min=asked.stay_min,
        currency=context.account.currency,
    )


def checked_choices(typed: dict[str, tuple[str, float | None]]) -> dict[str, Choice]:
    """Products chosen for roles, with strengths their chemistry allows. Raises InvalidInput."""
    choices = {}
    for role, (product_id, strength) in typed.items():
        product = PRODUCTS.get(product_id)
        if product is None or role not in product.roles:
            raise InvalidInput(
                FieldProblem(f"products.{role}", "unknown_product", "Choose a product that does this.")
            )
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
