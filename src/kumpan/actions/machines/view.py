"""All of a pool's machines on one page."""

from dataclasses import dataclass
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.machines.away import AwayView, away_view
from kumpan.actions.machines.chlorinator import ChlorinatorView, chlorinator_view
from kumpan.actions.machines.circulation import CirculationView, circulation_view
from kumpan.actions.machines.feeder import FeederView, feeder_view
from kumpan.actions.machines.filter import FilterView, filter_view
from kumpan.actions.machines.site import Known
from kumpan.store import queries


@dataclass(frozen=True)
class MachinesView:
    """A pool's machines. headline: what wants doing first."""

    pool_id: UUID
    headline: str
    chlorinator: ChlorinatorView | None
    feeder: FeederView | None
    filter: FilterView | None
    circulation: CirculationView


def machines_view(context: Context, pool_id: UUID) -> MachinesView:
    """The machines of one pool."""
    known = Known(context, queries.pool(context.session, context.account.id, pool_id))
    cell, feeder = chlorinator_view(known), feeder_view(known)
    filter_, moves = filter_view(known), circulation_view(known)
    told = [(v.level, v.sentence) for v in (cell, feeder, filter_, moves) if v is not None]
    order = ["act", "watch", "fine"]
    headline = min(told, key=lambda one: order.index(one[0]))[1]
    if all(level == "fine" for level, _ in told):
        headline = "The machines are set as this water asks for."
    return MachinesView(pool_id, headline, cell, feeder, filter_, moves)


def going_away(context: Context, pool_id: UUID, days: int) -> AwayView:
    """A short plan for so many days away."""
    known = Known(context, queries.pool(context.session, context.account.id, pool_id))
    return away_view(context, known, days)
