"""What is under way at a pool in one order, and a sheet with what holds it."""

from datetime import timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.sheets.view import Held, Sheet, earlier, name_of, show_sheet
from kumpan.core.work.merge import Line, Poured, UnderWay, merge
from kumpan.store import queries
from kumpan.store.tables.log import Event
from kumpan.store.work import progress_of, start_of

_KEPT_APART = timedelta(hours=48)  # the longest that two products are kept apart


def sheet_view(context: Context, sheet_id: UUID) -> Sheet:
    """A sheet of the account, ended or not."""
    event = queries.sheet(context.session, context.account.id, sheet_id)
    alive, lines = order_of(context, event.pool_id)
    folded = next((one.progress for e, one in alive if e.id == event.id), None)
    if folded is None:
        folded = progress_of(context.session, event, context.now)
    return show_sheet(context, event, folded, held_in(lines, event))


def order_of(context: Context, pool_id: UUID) -> tuple[list[tuple[Event, UnderWay]], list[Line]]:
    """The pool's sheets that have not ended at this moment (paused ones too); their steps in one order. A
    plan of earlier rules is looked at, not followed: it has no place in the order.
    """
    alive = []
    for event in queries.sheets_alive(context.session, pool_id):
        progress = progress_of(context.session, event, context.now)
        if progress.state in ("under_way", "paused"):
            alive.append((event, UnderWay(start_of(event), progress, name_of(event))))
    doses = queries.doses_since(context.session, pool_id, context.now - _KEPT_APART)
    poured = [Poured(product, at, str(sheet_id or "")) for product, at, sheet_id in doses]
    return alive, merge([one for e, one in alive if not earlier(e)], poured, context.now)


def held_in(lines: list[Line], event: Event) -> Held:
    """Why steps of one sheet wait for something outside it."""
    return {
        line.became.step.key: (line.held, line.until)
        for line in lines
        if line.held and line.sheet.start.id == str(event.id)
    }
