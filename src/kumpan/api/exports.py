"""What a person takes away: tests and doses as CSV."""

from typing import Any
from uuid import UUID

from fastapi.responses import Response

from kumpan.actions.transfer import log_csv
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes

router = Routes("exports")
_CSV: dict[int | str, dict[str, Any]] = {200: {"content": {"text/csv": {}}, "description": "CSV"}}


def _file(text: str, name: str) -> Response:
    return Response(
        text,
        media_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


@router.get("/pools/{pool_id}/tests.csv", response_class=Response, responses=_CSV)
def get_tests(pool_id: UUID, scope: InScope) -> Response:
    """The pool's tests, one line each."""
    return scope.run(lambda c: _file(log_csv.tests_csv(c, pool_id), "tests.csv"))


@router.get("/pools/{pool_id}/doses.csv", response_class=Response, responses=_CSV)
def get_doses(pool_id: UUID, scope: InScope) -> Response:
    """The pool's doses, one line each."""
    return scope.run(lambda c: _file(log_csv.doses_csv(c, pool_id), "doses.csv"))
