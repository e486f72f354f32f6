"""Begin a clear-up run."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID, uuid5

from kumpan.actions.clearup.ask import Asked, checked, fitting, proposed, refused_product
from kumpan.actions.context import Context
from kumpan.actions.times import checked_time
from kumpan.core.clearup.foretell import foretell
from kumpan.core.clearup.identify import QUESTIONS
from kumpan.core.clearup.propose import refused_kind, refused_school
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.store import queries
from kumpan.store.stored_run import store_run
from kumpan.store.stored_sheet import FORM
from kumpan.store.tables.log import Event, MarkRow
from kumpan.store.tables.sheets import SheetRow
from kumpan.store.work import moved, run_alive

RUN_VERSION = "2026-11-27.1"  # changes when a rule of a run does


_NAMES = {
    "algae": "Clear-up",
    "shock": "Shock",
    "demand": "Chlorine that does not hold",
    "incident": "Incident",
}


@dataclass(frozen=True)
class NewRun:
    """A run to begin: its id, when, and what the person said."""

    id: UUID
    at: datetime
    asked: Asked
    performed_by: str = ""


def begin_run(context: Context, pool_id: UUID, new: NewRun) -> Event:
    """Begin a run; what was foretold is kept with it. Sending it again returns the first result. Raises
    Conflict where one is under way.
    """
    session = context.session
    pool = queries.pool(session, context.account.id, pool_id, lock=True)
    known = queries.repeated(session, pool, new.id, "clear_up")
    if known:
        return known
    if run_alive(session, pool.id, context.now) is not None:
        raise Conflict("run_under_way", "A clear-up is under way here: go on with it, or give it up first.")
    asked = checked(new.asked)
    prop = proposed(context, pool, new.id, asked)
    wanted = next((m for m in prop.means if m.means == prop.run.means), None)
    if wanted is not None and not wanted.can:
        raise InvalidInput(FieldProblem("means", "not_here", wanted.why))
    unheld = refused_school(fitting(prop), prop.run.school) if prop.run.aim == "algae" else ""
    if unheld:
        raise InvalidInput(FieldProblem("school", "not_here", unheld))
    unread = refused_kind(prop.run.method, prop.run.looks, prop.run.kind, prop.run.level_ppm)
    if unread:
        raise InvalidInput(FieldProblem("method", "not_here", unread))
    unfit = refused_product(prop.run, prop.site)
    if unfit:
        raise InvalidInput(FieldProblem("product_id", "not_here", unfit))
    told = foretell(prop.run, prop.site, prop.measures.get("fc", 0.0))
    event = Event(
        id=new.id,
        pool=pool,
        at=checked_time(new.at, context.now),
        kind="clear_up",
        performed_by=new.performed_by or context.actor,
        created_at=context.now,
    )
    event.detail = SheetRow(
        subject=prop.run.aim,
        rule_version=RUN_VERSION,
        headline=_NAMES[prop.run.aim],
        swim="",
        form=FORM,
        inputs=store_run(prop.run, prop.measures, pool.volume_l, told),
        steps=[],
    )
    session.add(event)
    session.flush()
    _answers(context, event, asked)
    moved(session, pool.id, context.now, event.at, kind="clear_up")
    return event


def _answers(context: Context, event: Event, asked: Asked) -> None:
    """What was seen when it began, kept as marks of the run."""
    known = {q.id for q in QUESTIONS}
    for question, answer in sorted(asked.answers.items()):
        if question not in known:
            continue
        mark = Event(
            id=uuid5(event.id, question),
            pool=event.pool,
            at=event.at,
            kind="mark",
            performed_by=event.performed_by,
            created_at=context.now,
        )
        mark.detail = MarkRow(
            sheet_id=str(event.id), task_id=None, key=f"seen:{question}", verb="answer", value=answer[:400]
        )
        context.session.add(mark)
