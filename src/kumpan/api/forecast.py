"""What is foretold of a pool."""

from uuid import UUID

from kumpan.actions.forecast.view import AheadView, ahead_view
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes

router = Routes("forecast")


@router.get("/pools/{pool_id}/ahead")
def get_ahead(pool_id: UUID, scope: InScope) -> AheadView:
    """A pool's days to come, and how often what was foretold came out."""
    return scope.run(lambda c: ahead_view(c, pool_id))
