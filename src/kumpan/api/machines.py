"""A pool's machines, and going away."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from kumpan.actions.machines.away import AwayView
from kumpan.actions.machines.view import MachinesView, going_away, machines_view
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES

router = APIRouter(responses=RESPONSES, tags=["machines"])


@router.get("/pools/{pool_id}/machines")
def get_machines(pool_id: UUID, scope: InScope) -> MachinesView:
    """Chlorinator, feeder, filter and circulation: what to set, what it means, when to clean it."""
    return scope.run(lambda c: machines_view(c, pool_id))


@router.get("/pools/{pool_id}/away")
def get_away(
    pool_id: UUID, scope: InScope, days: Annotated[int, Query(ge=-(2**31), le=2**31 - 1)]
) -> AwayView:
    """What to do before so many days away, and what chlorine and pH will be on the day of return."""
    return scope.run(lambda c: going_away(c, pool_id, days))
