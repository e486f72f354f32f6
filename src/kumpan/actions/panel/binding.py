"""Bind a pool to a panel, keep what it tells, set it, take its readings into the log."""

from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from urllib.parse import urlsplit
from uuid import UUID, uuid5

from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.context import Context
from kumpan.actions.outside import SourceFailed
from kumpan.actions.panel import adapter
from kumpan.actions.panel.adapter import Answer
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.core.log.kinds import checked_entry
from kumpan.core.records import TypedField
from kumpan.store import database, queries
from kumpan.store.tables.log import EntryRow, Event
from kumpan.store.tables.panel import PanelRow
from kumpan.store.work import moved

STANDIN = "standin"
_ANEW, _AGAIN = timedelta(seconds=30), timedelta(minutes=2)  # after an answer, and after none (our own)
_WRITTEN_LATE = timedelta(days=2)  # a dose is often written down later than it was poured
Find = Callable[[str], str]  # an address as bound to the one to ask; empty where there is none


def bind(context: Context, pool_id: UUID, address: str) -> PanelRow:
    """Bind a pool to a panel's address, or to the simulated one (``standin``). Raises InvalidInput."""
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    if pool.chlorine_source != "chlorinator":
        raise Conflict("no_chlorinator_here", "This pool is not chlorinated by a salt chlorinator.")
    typed = address.strip()
    if typed != STANDIN and not (typed.startswith(("http://", "https://")) and urlsplit(typed).hostname):
        raise InvalidInput(FieldProblem("address", "no_address", "Type its address: http://192.168.1.40"))
    row = context.session.get(PanelRow, pool.id)
    if row is None:
        row = PanelRow(pool_id=pool.id, bound_at=context.now, poured_at=context.now)
        context.session.add(row)
    row.address, row.tried_at, row.told_at = typed, None, None
    row.problem, row.source, row.simulated, row.told = "", "", typed == STANDIN, {}
    return row


def unbind(context: Context, pool_id: UUID) -> None:
    """Let a panel go; what it told goes with it."""
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    row = context.session.get(PanelRow, pool.id)
    if row is not None:
        context.session.delete(row)


def bound(context: Context, pool_id: UUID) -> PanelRow:
    """The panel a pool is bound to. Raises Conflict where there is none."""
    pool = queries.pool(context.session, context.account.id, pool_id)
    row = context.session.get(PanelRow, pool.id)
    if row is None:
        raise Conflict("no_panel", "This pool is bound to no panel.")
    return row


@dataclass(frozen=True)
class NewSetting:
    """A setting to make: the id of the entry that tells it, percent and hours a day."""

    id: UUID
    percent: float
    hours_day: float


def write_setting(context: Context, pool_id: UUID, new: NewSetting, answer: Answer) -> None:
    """Keep what the panel told once it was set, and write the setting down. Sent again it is known."""
    row = bound(context, pool_id)
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    _told(row, answer, context.now)
    if queries.repeated(context.session, pool, new.id, "cell"):
        return
    fields = {"setting": (f"{new.percent:g}", "%"), "hours": (f"{new.hours_day:g}", "h")}
    typed = {name: TypedField(*one) for name, one in fields.items()}
    details = checked_entry("cell", typed, "", context.now.date())
    note = "Set through the simulated panel." if answer.simulated else "Set through the panel."
    event = Event(
        id=new.id, pool=pool, at=context.now, kind="cell", performed_by=context.actor, created_at=context.now
    )
    event.detail = EntryRow(details=details, typed={n: vars(t) for n, t in typed.items()}, note=note)
    context.session.add(event)
    moved(context.session, pool.id, context.now, event.at, kind="cell")


def checked_setting(percent: float, hours_day: float) -> None:
    """Raise InvalidInput where a setting cannot be."""
    problems = []
    if not 0 <= percent <= 100:
        problems.append(FieldProblem("percent", "out_of_range", "Between 0 and 100 %."))
    if not 0 <= hours_day <= 24:
        problems.append(FieldProblem("hours_day", "out_of_range", "Between 0 and 24 hours a day."))
    if problems:
        raise InvalidInput(*problems)


def _told(row: PanelRow, answer: Answer, now: datetime) -> None:
    row.tried_at = row.told_at = now
    row.problem, row.source, row.simulated = "", answer.source, answer.simulated
    held = asdict(answer.told)
    row.told = held | {"at": answer.told.at.isoformat(), "lights": list(answer.told.lights)}


# --- Asked by the worker, never while a page waits.


def refresh(sessions: sessionmaker[Session], find: Find, now: datetime) -> int:
    """Ask every bound panel that is due, no session held meanwhile; tell simulated ones what was poured.
    Returns how many answered.
    """
    due = database.run(
        sessions, lambda s: [_Due(r.pool_id, r.address) for r in queries.panels(s) if _is_due(r, now)]
    )
    answered = 0
    for one in due:
        try:
            url = find(one.address)
            if not url:
                raise SourceFailed("the simulated panel does not run")
            answer: Answer | SourceFailed = adapter.ask(url)
            answered += 1
            if isinstance(answer, Answer) and answer.simulated:
                _tell_poured(sessions, one.pool_id, url, now)
        except SourceFailed as error:
            answer = error
        database.run(sessions, lambda s, d=one, a=answer: _keep(s, d, a, now))  # type: ignore[misc]
    return answered


@dataclass(frozen=True)
class _Due:
    """A panel to be asked."""

    pool_id: UUID
    address: str


def _is_due(row: PanelRow, now: datetime) -> bool:
    return row.tried_at is None or not row.tried_at <= now < row.tried_at + (_AGAIN if row.problem else _ANEW)


def _keep(session: Session, due: _Due, answer: Answer | SourceFailed, now: datetime) -> None:
    row = session.get(PanelRow, due.pool_id)
    if row is None or row.address != due.address:
        return  # let go or bound anew meanwhile
    if isinstance(answer, SourceFailed):
        row.tried_at, row.problem = now, str(answer)
    else:
        _told(row, answer, now)


def _tell_poured(sessions: sessionmaker[Session], pool_id: UUID, url: str, now: datetime) -> None:
    """Tell a simulated panel what went in since it was told last. It knows what it was told before."""

    def doses(session: Session) -> list[dict[str, object]]:
        row = session.get(PanelRow, pool_id)
        poured = [] if row is None else queries.chlorine_poured(session, pool_id, row.poured_at)
        return [
            {"id": str(uuid5(pool_id, f"{at.isoformat()} {product} {amount}")), "product": product,
             "strength": strength, "amount": amount}
            for at, product, strength, amount in poured
        ]  # fmt: skip

    told = database.run(sessions, doses)
    if not told:
        return
    adapter.simulate(url, "poured", {"doses": told})

    def keep(session: Session) -> None:
        row = session.get(PanelRow, pool_id)
        if row is not None:
            row.poured_at = max(row.poured_at, now - _WRITTEN_LATE)

    database.run(sessions, keep)
