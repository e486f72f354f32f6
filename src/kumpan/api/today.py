"""A pool's run sheet."""

from uuid import UUID

from kumpan.actions.today import run_sheet
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes

router = Routes("today")


@router.get("/pools/{pool_id}/today")
def get_today(pool_id: UUID, scope: InScope) -> run_sheet.Today:
    """The pool's run sheet."""
    return scope.run(lambda c: run_sheet.today(c, pool_id))
