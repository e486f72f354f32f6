"""What is under way at a pool in one order, and a sheet with what holds it."""

from dataclasses import dataclass
from datetime import timedelta
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.sheets.live import follow_run
from kumpan.actions.sheets.view import Held, Sheet, earlier, name_of, show_sheet
from kumpan.core.clearup.follow import Followed
from kumpan.core.work.merge import Line, Poured, UnderWay, merge
from kumpan.core.work.sheet import Progress
from kumpan.store import queries
from kumpan.store.tables.log import Event
from kumpan.store.work import progress_of, start_of

_KEPT_APART = timedelta(hours=48)  # the longest that two products are kept apart


def sheet_view(context: Context, sheet_id: UUID) -> Sheet:
    """A sheet of the account, ended or not."""
    event = queries.sheet(context.session, context.account.id, sheet_id)
    alive, lines = order_of(context, event.pool_id)
    known = next((one for one in alive if one.event.id == event.id), None) or _looked_at(context, event)
    return show_sheet(context, event, known.stands, held_in(lines, event))


@dataclass(frozen=True)
class Alive:
    """A sheet and how it stands now: its progress, of a run with its course."""

    event: Event
    stands: Progress | Followed

    @property
    def progress(self) -> Progress:
        """What became of its steps."""
        return self.stands.progress if isinstance(self.stands, Followed) else self.stands

    @property
    def under_way(self) -> UnderWay:
        """The same for the one order."""
        start = self.stands.start if isinstance(self.stands, Followed) else start_of(self.event)
        return UnderWay(start, self.progress, name_of(self.event))


def _looked_at(context: Context, event: Event) -> Alive:
    if event.kind == "clear_up":
        return Alive(event, follow_run(context, event))
    return Alive(event, progress_of(context.session, event, context.now))


def order_of(context: Context, pool_id: UUID) -> tuple[list[Alive], list[Line]]:
    """The pool's sheets that have not ended at this moment (paused ones too); their steps in one order. A
    plan of earlier rules is looked at, not followed: it has no place in the order.
    """
    alive = []
    for event in queries.sheets_alive(context.session, pool_id):
        one = _looked_at(context, event)
        if one.progress.state in ("under_way", "paused"):
            alive.append(one)
    if not alive:
        return [], []
    doses = queries.doses_since(context.session, pool_id, context.now - _KEPT_APART)
    poured = [Poured(product, at, str(sheet_id or "")) for product, at, sheet_id in doses]
    return alive, merge([one.under_way for one in alive if not earlier(one.event)], poured, context.now)


def held_in(lines: list[Line], event: Event) -> Held:
    """Why steps of one sheet wait for something outside it."""
    return {
        line.became.step.key: (line.held, line.until)
        for line in lines
        if line.held and line.sheet.start.id == str(event.id)
    }
