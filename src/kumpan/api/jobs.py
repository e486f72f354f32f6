"""Long work: imports with their preview, exports, and how they stand."""

from collections.abc import Iterator
from typing import Any
from uuid import UUID

from fastapi.responses import Response, StreamingResponse

from kumpan.actions.context import Context
from kumpan.actions.jobs import jobs
from kumpan.actions.jobs.jobs import show_job
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.store import files
from kumpan.store.tables.files import FileRow

router = Routes("jobs")
_FILE: dict[int | str, dict[str, Any]] = {
    200: {"content": {"application/octet-stream": {}}, "description": "The file"}
}


@router.get("/jobs")
def list_jobs(scope: InScope) -> list[jobs.JobView]:
    """Long work, newest first."""
    return scope.run(lambda c: jobs.shown_jobs(c))


@router.post("/jobs/{job_id}/cancel")
def cancel_job(job_id: UUID, scope: InScope) -> jobs.JobView:
    """Stop a job; nothing of it stays."""
    return scope.run(lambda c: show_job(c, jobs.cancel(c, job_id)))


@router.delete("/jobs/{job_id}", status_code=204)
def forget_job(job_id: UUID, scope: InScope) -> None:
    """Drop a job that has ended, and its files. What it brought in stays."""
    scope.run(lambda c: jobs.forget(c, job_id))


@router.get("/jobs/{job_id}/file", response_class=StreamingResponse, responses=_FILE)
def get_file(job_id: UUID, scope: InScope) -> Response:
    """The file a job made."""

    def find(context: Context) -> FileRow:
        return jobs.out_file(context, job_id)

    row = scope.run(find)

    def piece(position: int) -> bytes | None:
        with scope.sessions() as session:
            return files.chunk(session, row.id, position)

    def pieces() -> Iterator[bytes]:
        """Each read by itself: no connection is held for one who reads slowly, or no more."""
        position = 0
        while (data := piece(position)) is not None:
            yield data
            position += 1

    headers = {
        "Content-Disposition": f'attachment; filename="{row.name}"',
        "Content-Length": str(row.size),
    }
    return StreamingResponse(pieces(), media_type=row.media_type, headers=headers)
