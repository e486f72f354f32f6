"""Long work: imports with their preview, exports, and how they stand."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import APIRouter, Request
from fastapi.responses import Response, StreamingResponse
from pydantic import BaseModel, Field

from kumpan.actions import import_account, import_readings, keep_jobs
from kumpan.actions.context import Context
from kumpan.api.deps import InScope
from kumpan.api.problems import RESPONSES
from kumpan.api.schemas.bodies import Body, Id, Revision
from kumpan.core.intake.columns import ROLES, UNITS, Column
from kumpan.core.intake.moments import ORDERS
from kumpan.core.intake.rows import LEAVE_OUT, Settings
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS
from kumpan.store import files
from kumpan.store.tables import FileRow, Job

router = APIRouter(responses=RESPONSES, tags=["jobs"])
_FILE: dict[int | str, dict[str, Any]] = {
    200: {"content": {"application/octet-stream": {}}, "description": "The file"}
}


class NewImport(Body):
    """An uploaded file to look through; readings go to a pool, a whole account does not."""

    id: UUID
    file_id: UUID
    pool_id: UUID | None = None


class NewExport(Body):
    """Everything of the account in one file."""

    id: UUID
    kind: Literal["account_json", "account_csv"]


class ColumnBody(Body):
    """What a column holds."""

    role: Id = ""
    unit: Id = ""


class ReadingsBody(Body):
    """How a table of readings is to be read, and for which pool."""

    pool_id: UUID
    columns: Annotated[list[ColumnBody], Field(max_length=100)]
    order: Id
    decimal: Id
    method: Id
    leave_out: Id = "nothing"
    revision: Revision

    def settings(self) -> Settings:
        """As the core takes it."""
        return Settings(
            tuple(Column(c.role, c.unit) for c in self.columns),
            self.order,
            self.decimal,
            self.method,
            self.leave_out,
        )


class Yes(Body):
    """Bring in what the preview of this revision shows."""

    revision: Revision


class Inbox(BaseModel):
    """Where files may be dropped; empty where nobody looks."""

    folder: str


class Choice(BaseModel):
    """An id and its words."""

    id: str
    label: str


class RoleChoice(Choice):
    """What a column may hold, and a measure's units."""

    units: list[Choice] = []


class ImportView(BaseModel):
    """An import: how it stands, and what its file holds: readings or an account. Choices are for a table of
    readings.
    """

    job: keep_jobs.JobView
    preview: import_readings.ReadingsPreview | None
    account: import_account.AccountPreview | None
    roles: list[RoleChoice]
    orders: list[Choice]
    methods: list[Choice]
    leave_out: list[Choice]


def _choices(known: dict[str, str]) -> list[Choice]:
    return [Choice(id=id, label=label) for id, label in known.items()]


def _answer(context: Context, job: Job) -> keep_jobs.JobView:
    return keep_jobs.show_job(context, job)


@router.get("/jobs")
def list_jobs(scope: InScope) -> list[keep_jobs.JobView]:
    """Long work, newest first."""
    return scope.run(lambda c: keep_jobs.shown_jobs(c))


@router.get("/inbox")
def get_inbox(request: Request) -> Inbox:
    """The folder on this machine that is looked after for dropped files."""
    return Inbox(folder=request.app.state.inbox)


@router.post("/imports", status_code=201)
def new_import(body: NewImport, scope: InScope) -> keep_jobs.JobView:
    """Have an uploaded file looked through. Asking again returns the first result."""
    return scope.run(lambda c: _answer(c, keep_jobs.ask_import(c, body.id, body.file_id, body.pool_id)))


@router.get("/imports/{job_id}")
def get_import(job_id: UUID, scope: InScope) -> ImportView:
    """An import and, while it asks, what its file holds."""

    def work(context: Context) -> ImportView:
        job = keep_jobs.an_import(context, job_id)
        asks = job.kind if job.state == "asks" else ""
        roles = [RoleChoice(id=id, label=label) for id, label in ROLES.items()] + [
            RoleChoice(
                id=m.id,
                label=m.label,
                units=_choices({u: label or "no unit" for u, (label, _) in UNITS[m.id].items()}),
            )
            for m in MEASURES.values()
        ]
        return ImportView(
            job=_answer(context, job),
            preview=import_readings.PREVIEW.validate_python(job.found) if asks == "readings" else None,
            account=import_account.PREVIEW.validate_python(job.found) if asks == "account_in" else None,
            roles=roles,
            orders=_choices(ORDERS),
            methods=_choices({m.id: m.label for m in METHODS.values()}),
            leave_out=_choices(LEAVE_OUT),
        )

    return scope.run(work)


@router.put("/imports/{job_id}")
def change_import(job_id: UUID, body: ReadingsBody, scope: InScope) -> keep_jobs.JobView:
    """Read the table otherwise; it is looked through again."""
    return scope.run(
        lambda c: _answer(
            c,
            keep_jobs.change_readings(c, job_id, body.pool_id, body.settings(), body.revision),
        )
    )


@router.post("/imports/{job_id}/yes")
def say_yes(job_id: UUID, body: Yes, scope: InScope) -> keep_jobs.JobView:
    """Bring in what the preview shows, all of it or nothing."""
    return scope.run(lambda c: _answer(c, keep_jobs.say_yes(c, job_id, body.revision)))


@router.post("/imports/{job_id}/take-back")
def take_back(job_id: UUID, scope: InScope) -> keep_jobs.JobView:
    """Delete what an import of readings brought."""
    return scope.run(lambda c: _answer(c, keep_jobs.take_back(c, job_id, True)))


@router.post("/imports/{job_id}/bring-back")
def bring_back(job_id: UUID, scope: InScope) -> keep_jobs.JobView:
    """Undo taking it back."""
    return scope.run(lambda c: _answer(c, keep_jobs.take_back(c, job_id, False)))


@router.post("/exports", status_code=201)
def new_export(body: NewExport, scope: InScope) -> keep_jobs.JobView:
    """Have everything written into one file. Asking again returns the first result."""
    return scope.run(lambda c: _answer(c, keep_jobs.ask_export(c, body.id, body.kind)))


@router.post("/jobs/{job_id}/cancel")
def cancel_job(job_id: UUID, scope: InScope) -> keep_jobs.JobView:
    """Stop a job; nothing of it stays."""
    return scope.run(lambda c: _answer(c, keep_jobs.cancel(c, job_id)))


@router.delete("/jobs/{job_id}", status_code=204)
def forget_job(job_id: UUID, scope: InScope) -> None:
    """Drop a job that has ended, and its files. What it brought in stays."""
    scope.run(lambda c: keep_jobs.forget(c, job_id))


@router.get("/jobs/{job_id}/file", response_class=StreamingResponse, responses=_FILE)
def get_file(job_id: UUID, scope: InScope) -> Response:
    """The file a job made."""

    def find(context: Context) -> FileRow:
        return keep_jobs.out_file(context, job_id)

    row = scope.run(find)

    def pieces() -> Iterator[bytes]:
        with scope.sessions() as session:
            yield from files.chunks(session, row.id)

    headers = {
        "Content-Disposition": f'attachment; filename="{row.name}"',
        "Content-Length": str(row.size),
        "X-Content-Type-Options": "nosniff",
    }
    return StreamingResponse(pieces(), media_type=row.media_type, headers=headers)
