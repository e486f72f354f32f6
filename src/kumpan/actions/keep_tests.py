"""Log a test, correct it, and accept a plan on it."""

from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter
from uuid6 import uuid7

from kumpan.actions.context import Context
from kumpan.actions.corrections import keep_correction
from kumpan.actions.plan_doses import Typed, usual_products
from kumpan.actions.waters import Asked, checked_choices, plan_request, read_typed
from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import PlanRequest
from kumpan.core.dosing.view import ChoiceView, StepView, measured, show_plan
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.intake.moments import on_clock
from kumpan.core.water.measures import Reading
from kumpan.store import queries
from kumpan.store.tables import Event, PlanRow, PlanStepRow, Pool, ReadingRow

_STEP = TypeAdapter(StepView)
_FUTURE_SLACK = timedelta(minutes=5)  # clocks differ a little


@dataclass(frozen=True)
class NewTest:
    """A test as sent: a client id (UUID version 7), when, who, readings as typed, and where the sample was
    taken.
    """

    id: UUID
    at: datetime
    who: str
    typed: Typed
    spot: str = ""


def check_time(at: datetime, now: datetime, field: str = "at") -> None:
    """Raise InvalidInput for an instant in the future, or long before there were records."""
    if at > now + _FUTURE_SLACK:
        raise InvalidInput(
            FieldProblem(field, "in_future", "That is in the future. Check the date and time.")
        )
    if at.year < 1990:
        raise InvalidInput(FieldProblem(field, "too_old", "That is before 1990. Check the year."))


def local_instant(local: str, zone_name: str, field: str = "local") -> datetime:
    """An instant from a date and time on the pool's clock. Raises InvalidInput for times that did not exist.

    >>> local_instant("2026-07-01T18:30", "America/Chicago").isoformat()
    '2026-07-01T23:30:00+00:00'
    """
    try:
        typed = datetime.fromisoformat(local)
    except ValueError:
        raise InvalidInput(FieldProblem(field, "not_a_time", "Type a date and a time.")) from None
    return typed.astimezone(UTC) if typed.tzinfo else on_clock(typed, ZoneInfo(zone_name), field)


def repeated(context: Context, event_id: UUID, pool_id: UUID, kind: str) -> Event | None:
    """The event a repeated create made the first time; None if the id is new. Raises Conflict if it
    is taken.
    """
    event = queries.any_event(context.session, event_id)
    if event is None:
        return None
    if event.pool.account_id != context.account.id or event.pool_id != pool_id or event.kind != kind:
        raise Conflict("id_taken", "This id is already used for something else.")
    return event


def log_test(context: Context, pool_id: UUID, test: NewTest) -> Event:
    """Store a test. Sending it again returns the first result."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    known = repeated(context, test.id, pool.id, "water_test")
    if known:
        return known
    check_time(test.at, context.now)
    event = Event(
        id=test.id,
        pool=pool,
        at=test.at,
        kind="water_test",
        who=test.who,
        spot=test.spot.strip(),
        created_at=context.now,
    )
    event.readings = _rows(_readings(test.typed))
    context.session.add(event)
    context.session.flush()
    return event


def correct_test(
    context: Context,
    event_id: UUID,
    local: str,
    typed: Typed,
    revision: int,
    who: str | None = None,
    spot: str | None = None,
) -> Event:
    """Replace a test's time and readings, and who and where if given, if nobody changed it since. Accepted
    plans stay as given.
    """
    event = queries.event(context.session, context.account.id, event_id, "water_test", lock=True)
    if event.deleted_at is not None:
        raise Conflict("deleted", "This test was deleted. Undo the deletion first.")
    check_revision(event.revision, revision, "test")
    at = event.at if local == shown_local(event) else local_instant(local, event.pool.time_zone)
    check_time(at, context.now, "local")
    rows = _rows(_readings(typed))
    keep_correction(event, "you", context.now)
    event.readings.clear()
    context.session.flush()
    event.readings = rows
    event.at = at
    event.who = event.who if who is None else who
    event.spot = event.spot if spot is None else spot.strip()
    event.revision += 1
    context.session.flush()
    return event


def shown_local(event: Event) -> str:
    """The event's time on the pool's clock, as a form shows it."""
    return event.at.astimezone(ZoneInfo(event.pool.time_zone)).strftime("%Y-%m-%dT%H:%M")


def accept_plan(
    context: Context,
    pool_id: UUID,
    plan_id: UUID,
    test: NewTest,
    products: dict[str, tuple[str, float | None]],
    asked: Asked,
) -> Event:
    """Store the test and the plan that follows from it, as given; repeating returns the first result."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    known = repeated(context, plan_id, pool.id, "plan")
    if known:
        return known
    tested = log_test(context, pool_id, test)
    readings = _readings(test.typed)
    chosen = usual_products(context, pool) | checked_choices(products)
    request = plan_request(context, pool, readings, chosen, asked)
    plan = make_plan(request)
    shown = show_plan(plan, request)
    if not shown.steps:
        raise Conflict(
            "nothing_to_do", "This water needs nothing: there is no plan to accept. Save the test alone."
        )
    event = Event(id=plan_id, pool=pool, at=context.now, kind="plan", who=test.who, created_at=context.now)
    event.plan = PlanRow(
        test_event_id=tested.id,
        rule_version=shown.rule_version,
        headline=shown.headline,
        swim=shown.swim,
        inputs=_inputs(pool, request, shown.choices)
        | {
            "swim_from_min": plan.swim.from_min,
            "swim_least_fc_ppm": plan.swim.least_fc_ppm,
            "swim_most_fc_ppm": plan.swim.most_fc_ppm,
        },
        steps=[
            PlanStepRow(
                id=uuid7(),
                position=i,
                kind=view.kind,
                due_at=view.at,
                product_id=step.product_id,
                strength=step.strength,
                amount=step.amount and step.amount.canonical,
                shown=_STEP.dump_python(view, mode="json") | {"fraction": step.fraction, "to_ph": step.to_ph},
            )
            for i, (view, step) in enumerate(zip(shown.steps, plan.steps, strict=True))
        ],
    )
    context.session.add(event)
    context.session.flush()
    return event


def _inputs(pool: Pool, request: PlanRequest, choices: tuple[ChoiceView, ...]) -> dict[str, Any]:
    """Everything the plan followed from, so that it can be told years later."""
    return {
        "volume_l": pool.volume_l,
        "surface": pool.surface,
        "chlorine_source": pool.chlorine_source,
        "installation": pool.installation,
        "school": request.traits.school,
        "settings": pool.settings,
        "water": measured(request.water),
        "age_days": request.age_days,
        "plus_minus": request.plus_minus,
        "methods": request.methods,
        "seen": sorted(request.seen),
        "stay_min": request.stay_min,
        "at_hand": None if request.at_hand is None else [asdict(a) for a in request.at_hand],
        "products": {c.role: {k: v for k, v in asdict(c).items() if k != "role"} for c in choices},
    }


def _readings(typed: Typed) -> list[Reading]:
    readings, problems = read_typed(typed)
    if problems:
        raise InvalidInput(*problems)
    if not readings:
        raise InvalidInput(FieldProblem("readings", "empty", "Type at least one reading."))
    return readings


def _rows(readings: list[Reading]) -> list[ReadingRow]:
    return [
        ReadingRow(
            measure=r.measure,
            position=i,
            value=r.value,
            text=r.text,
            unit=r.unit,
            method=r.method,
            drop_count=r.drop_count,
        )
        for i, r in enumerate(readings)
    ]
