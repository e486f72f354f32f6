"""Imports with their preview, and exports of the whole account."""

from typing import Annotated, Literal
from uuid import UUID

from fastapi import Request
from pydantic import BaseModel, Field

from kumpan.actions.context import Context
from kumpan.actions.jobs import jobs
from kumpan.actions.jobs.jobs import show_job
from kumpan.actions.transfer import account_preview, exports, import_readings, imports
from kumpan.api.bodies import Body, Id, Revision
from kumpan.api.deps import InScope
from kumpan.api.routes import Routes
from kumpan.core.intake.columns import ROLES, UNITS, Column
from kumpan.core.intake.moments import ORDERS
from kumpan.core.intake.rows import EXCLUDE, Settings
from kumpan.core.water.measures import MEASURES
from kumpan.core.water.methods import METHODS

router = Routes("imports")


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
    exclude: Id = "nothing"
    revision: Revision

    def settings(self) -> Settings:
        """As the core takes it."""
        return Settings(
            tuple(Column(c.role, c.unit) for c in self.columns),
            self.order,
            self.decimal,
            self.method,
            self.exclude,
        )


class Confirmation(Body):
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

    job: jobs.JobView
    preview: import_readings.ReadingsPreview | None
    account: account_preview.AccountPreview | None
    roles: list[RoleChoice]
    orders: list[Choice]
    methods: list[Choice]
    exclude: list[Choice]


def _choices(known: dict[str, str]) -> list[Choice]:
    return [Choice(id=id, label=label) for id, label in known.items()]


@router.get("/inbox")
def get_inbox(request: Request) -> Inbox:
    """The folder, within Kumpan's data folder, that is looked after for dropped files."""
    return Inbox(folder=request.app.state.inbox)


@router.post("/imports", status_code=201)
def new_import(body: NewImport, scope: InScope) -> jobs.JobView:
    """Have an uploaded file looked through. Asking again returns the first result."""
    return scope.create(
        body.id, lambda c: show_job(c, imports.start_import(c, body.id, body.file_id, body.pool_id))
    )


@router.get("/imports/{job_id}")
def get_import(job_id: UUID, scope: InScope) -> ImportView:
    """An import and, while it asks, what its file holds."""

    def work(context: Context) -> ImportView:
        job = imports.find_import(context, job_id)
        asks = job.kind if job.state == "to_confirm" else ""
        roles = [RoleChoice(id=id, label=label) for id, label in ROLES.items()] + [
            RoleChoice(
                id=m.id,
                label=m.label,
                units=_choices({u: label or "no unit" for u, (label, _) in UNITS[m.id].items()}),
            )
            for m in MEASURES.values()
        ]
        return ImportView(
            job=show_job(context, job),
            preview=import_readings.PREVIEW.validate_python(job.result) if asks == "readings" else None,
            account=account_preview.PREVIEW.validate_python(job.result) if asks == "account_in" else None,
            roles=roles,
            orders=_choices(ORDERS),
            methods=_choices({m.id: m.label for m in METHODS.values()}),
            exclude=_choices(EXCLUDE),
        )

    return scope.run(work)


@router.put("/imports/{job_id}")
def change_import(job_id: UUID, body: ReadingsBody, scope: InScope) -> jobs.JobView:
    """Read the table otherwise; it is looked through again."""
    return scope.run(
        lambda c: show_job(
            c,
            imports.change_matching(c, job_id, body.pool_id, body.settings(), body.revision),
        )
    )


@router.post("/imports/{job_id}/confirm")
def confirm_import(job_id: UUID, body: Confirmation, scope: InScope) -> jobs.JobView:
    """Bring in what the preview shows, all of it or nothing."""
    return scope.run(lambda c: show_job(c, imports.confirm(c, job_id, body.revision)))


@router.post("/imports/{job_id}/revert")
def revert_import(job_id: UUID, scope: InScope) -> jobs.JobView:
    """Delete what an import of readings brought."""
    return scope.run(lambda c: show_job(c, imports.revert(c, job_id)))


@router.post("/imports/{job_id}/restore")
def restore_import(job_id: UUID, scope: InScope) -> jobs.JobView:
    """Undo taking it back."""
    return scope.run(lambda c: show_job(c, imports.restore(c, job_id)))


@router.post("/exports", status_code=201)
def new_export(body: NewExport, scope: InScope) -> jobs.JobView:
    """Have everything written into one file. Asking again returns the first result."""
    return scope.create(body.id, lambda c: show_job(c, exports.start_export(c, body.id, body.kind)))
