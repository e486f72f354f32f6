"""Imports: looked through first, then confirmed, reverted and restored."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Update, update
from sqlalchemy.orm import Session

from kumpan.actions.context import Context
from kumpan.actions.transfer import import_readings
from kumpan.actions.work import Parameters, begin_job, repeated_job
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.intake.rows import Settings
from kumpan.store import files, queries
from kumpan.store.tables.jobs import Job
from kumpan.store.tables.log import Event
from kumpan.store.work import moved


def start_import(context: Context, job_id: UUID, file_id: UUID, pool_id: UUID | None) -> Job:
    """Look an uploaded file through: a table of readings for a pool, or an account. Asking again returns the
    first result.
    """
    known = repeated_job(context, job_id)
    if known is not None:
        return known
    row = files.whole_file(context.session, context.account.id, file_id)
    start = next(files.chunks(context.session, file_id), b"").lstrip(b"\xef\xbb\xbf \r\n\t")
    if start.startswith((b"{", b"PK\x03\x04")):
        return begin_job(context, job_id, "account_in", "check", Parameters({"name": row.name}, row))
    if pool_id is None:
        raise InvalidInput(FieldProblem("pool_id", "missing", "Readings belong to a pool: say to which."))
    pool = queries.pool(context.session, context.account.id, pool_id)
    return begin_job(
        context,
        job_id,
        "readings",
        "check",
        Parameters({"name": row.name, "pool_id": str(pool.id), "settings": None}, row),
    )


def find_import(context: Context, job_id: UUID) -> Job:
    """An import of the account. Raises NotFound for any other job."""
    job = queries.job(context.session, context.account.id, job_id)
    return queries.existing(job if job.kind in ("readings", "account_in") else None, "import")


def change_matching(context: Context, job_id: UUID, pool_id: UUID, settings: Settings, revision: int) -> Job:
    """Read the table otherwise, and ask again. While it is being looked through, that begins anew: its worker
    finds it is no longer its own.
    """
    job = queries.job(context.session, context.account.id, job_id, lock=True)
    check_revision(job.revision, revision, "import")
    if job.kind != "readings":
        raise Conflict("other_kind", "There is nothing to match in this file.")
    if job.stage != "check" or job.state not in ("to_confirm", "waiting", "running") or job.cancel_asked:
        raise Conflict("not_asking", "This import is past that point.")
    import_readings.check_settings(settings)
    queries.pool(context.session, context.account.id, pool_id)
    matching = import_readings.Matching(pool_id, settings)
    job.parameters = job.parameters | import_readings.MATCHING.dump_python(matching, mode="json")
    return _wait(context.session, job, "check")


def confirm(context: Context, job_id: UUID, revision: int) -> Job:
    """Bring in what the preview shows."""
    job = _asking(context, job_id, revision)
    if job.kind == "readings":
        preview = import_readings.PREVIEW.validate_python(job.result)
        if preview.problem:
            raise InvalidInput(FieldProblem("columns", "not_matched", preview.problem))
        if preview.bad and preview.settings.exclude == "nothing":
            raise InvalidInput(
                FieldProblem(
                    "exclude", "bad_rows", "Some rows cannot be read. Leave them out, or mend the file."
                )
            )
        if not preview.new and not preview.notes:
            raise InvalidInput(FieldProblem("columns", "nothing_new", "There is nothing new in this file."))
        # What was shown is what will be written, whatever Kumpan would think likeliest by then.
        matching = import_readings.Matching(preview.pool_id, preview.settings)
        job.parameters = job.parameters | import_readings.MATCHING.dump_python(matching, mode="json")
    return _wait(context.session, job, "write")


def _asking(context: Context, job_id: UUID, revision: int) -> Job:
    job = queries.job(context.session, context.account.id, job_id, lock=True)
    check_revision(job.revision, revision, "import")
    if job.state != "to_confirm":
        raise Conflict("not_asking", "This import is past that point.")
    return job


def _wait(session: Session, job: Job, stage: str) -> Job:
    job.state, job.stage, job.done, job.total, job.worker, job.lease_until, job.claims = (
        "waiting",
        stage,
        0,
        0,
        None,
        None,
        0,
    )
    job.revision += 1
    session.flush()
    return job


def revert(context: Context, job_id: UUID) -> Job:
    """Take back what an import of readings brought."""
    job, brought = _brought(context, job_id)
    if "taken_back_at" not in job.result:
        context.session.execute(brought.where(Event.deleted_at.is_(None)).values(deleted_at=context.now))
        _changed(context, job, job.result | {"taken_back_at": context.now.isoformat()})
    return job


def restore(context: Context, job_id: UUID) -> Job:
    """Bring back exactly what taking an import back took."""
    job, brought = _brought(context, job_id)
    if "taken_back_at" in job.result:
        at = datetime.fromisoformat(job.result["taken_back_at"])
        context.session.execute(brought.where(Event.deleted_at == at).values(deleted_at=None))
        _changed(context, job, {k: v for k, v in job.result.items() if k != "taken_back_at"})
    return job


def _brought(context: Context, job_id: UUID) -> tuple[Job, Update]:
    """An import of readings that is through, locked, and a change of the entries it brought."""
    job = queries.job(context.session, context.account.id, job_id, lock=True)
    if job.kind != "readings" or job.state != "done":
        raise Conflict("not_takeable", "Only readings that were brought in can be taken back.")
    return job, update(Event).where(Event.job_id == job.id)


def _changed(context: Context, job: Job, result: dict[str, Any]) -> None:
    job.result = result
    job.revision += 1
    first, last = queries.span_of_job(context.session, job.id)
    if first is not None and last is not None:
        pool_id = UUID(job.parameters["pool_id"])
        queries.pool(context.session, context.account.id, pool_id, lock=True)
        moved(context.session, pool_id, context.now, first, last)
