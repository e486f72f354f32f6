"""An accepted plan as it was given, with what became of it."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from kumpan.actions.context import Context
from kumpan.actions.shown import LogEntryView, show_event
from kumpan.core.dosing.request import by_earlier_rules
from kumpan.core.dosing.view import StepView
from kumpan.core.guidance.schools import FC_CAP
from kumpan.core.phrasing import terms
from kumpan.store import queries
from kumpan.store.stored_plan import read_follows, read_step, shown_step
from kumpan.store.tables.log import Event
from kumpan.store.tables.plans import PlanRow, PlanStepRow

_LATE = timedelta(hours=2)
EARLIER_RULES = "This plan was worked out by earlier rules. Test again: from here it is made anew."


@dataclass(frozen=True)
class PlanStepState:
    """A step of an accepted plan and, if done, the event that ticked it."""

    id: UUID
    step: StepView
    done: LogEntryView | None
    late: bool


@dataclass(frozen=True)
class LaterTold:
    """What was told of a later visit, and when that is."""

    clock: str
    sentence: str


@dataclass(frozen=True)
class TotalTold:
    """What was told that the whole way takes of a product."""

    name: str
    amount: str


@dataclass(frozen=True)
class AcceptedPlan:
    """An accepted plan as it was given, with what was done of it. earlier_rules: why it can only be looked
    at; empty where it can be followed.
    """

    id: UUID
    pool_id: UUID
    test_id: UUID
    accepted: str
    headline: str
    swim: str
    rule_version: str
    steps: tuple[PlanStepState, ...]
    open_steps: int
    later: tuple[LaterTold, ...] = ()
    totals: tuple[TotalTold, ...] = ()
    earlier_rules: str = ""


def accepted_plan(context: Context, plan_id: UUID) -> AcceptedPlan:
    """An accepted plan as given, with its ticks."""
    return plan_state(context, queries.event(context.session, context.account.id, plan_id, "plan"))


def plan_state(context: Context, event: Event) -> AcceptedPlan:
    """The plan of an event of acceptance, as it stands now."""
    plan = event.detail
    assert isinstance(plan, PlanRow)
    here = context.now.astimezone(ZoneInfo(event.pool.time_zone))
    done = queries.done_events(context.session, [r.id for r in plan.steps])
    newer = queries.latest_event(context.session, event.pool_id, "water_test")
    retested = newer if newer is not None and newer.at > event.at else None
    lag = _lag(plan.steps, done, context.now)
    steps = [
        _step_state(context, plan, row, here, _Became(done.get(row.id), retested, lag)) for row in plan.steps
    ]
    follows = read_follows(plan.follows)
    accepted_at = event.at.astimezone(here.tzinfo)
    return AcceptedPlan(
        id=event.id,
        pool_id=event.pool_id,
        test_id=plan.test_event_id,
        accepted=f"{terms.day(here, accepted_at)} {accepted_at:%H:%M}",
        headline=plan.headline,
        swim=_swim(event, plan, here, lag),
        rule_version=plan.rule_version,
        steps=tuple(steps),
        open_steps=sum(s.done is None for s in steps),
        later=tuple(
            LaterTold(terms.clock(here, at.astimezone(here.tzinfo)), text) for at, text in follows.later
        ),
        totals=tuple(TotalTold(name, amount) for name, amount in follows.totals),
        earlier_rules=EARLIER_RULES if by_earlier_rules(plan.rule_version) else "",
    )


@dataclass(frozen=True)
class _Became:
    """What became of a step: what ticked it, a newer test if there is one, how far the plan has slipped."""

    ticked: Event | None
    retested: Event | None
    lag: timedelta


def _step_state(
    context: Context, plan: PlanRow, row: PlanStepRow, here: datetime, became: _Became
) -> PlanStepState:
    """A step as it was shown, with what became of it."""
    due = row.due_at if became.ticked else row.due_at + became.lag
    # Clock words age, and a late pour pushes what waits for it: said again from the stored instant.
    step = shown_step(read_step(plan.form, row.shown), due, terms.clock(here, due.astimezone(here.tzinfo)))
    newer = became.retested if row.kind == "retest" else None
    found = became.ticked or (newer if newer is not None and newer.at >= row.due_at else None)
    late = found is None and row.due_at < context.now - _LATE
    return PlanStepState(row.id, step, show_event(context, found) if found else None, late)


def _swim(event: Event, plan: PlanRow, here: datetime, lag: timedelta) -> str:
    """When people may swim, said again as the plan slips."""
    opens = plan.inputs.get("swim_from_min")
    if opens is None:
        return plan.swim
    at = (event.at + timedelta(minutes=opens) + lag).astimezone(here.tzinfo)
    most = plan.inputs.get("swim_most_fc_ppm", FC_CAP)
    return terms.swim_from(terms.clock(here, at), plan.inputs["swim_least_fc_ppm"], most)


def _lag(rows: list[PlanStepRow], done: dict[UUID, Event], now: datetime) -> timedelta:
    """How far the plan has slipped: by steps ticked late, or by the next one still to pour. Waits run from
    the pour.
    """
    slips = [done[r.id].at - r.due_at for r in rows if r.id in done]
    upcoming = next((r for r in rows if r.kind != "retest" and r.id not in done), None)
    if upcoming is not None:
        slips.append(now - upcoming.due_at)
    return max([timedelta(), *slips])
