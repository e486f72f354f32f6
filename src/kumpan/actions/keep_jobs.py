"""Long work as a person sees it: ask for it, watch it, say yes, cancel it, take an import back."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy import update
from sqlalchemy.orm import Session

from kumpan.actions import import_readings
from kumpan.actions.context import Context
from kumpan.actions.keep_files import whole_file
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.intake.rows import Settings
from kumpan.core.phrasing import terms
from kumpan.store import files, queries
from kumpan.store.tables import Event, FileRow, Job

# kind -> what it is in words; an import's name is its file's.
EXPORTS = {
    "account_json": "Everything as one JSON document",
    "account_csv": "Everything as a folder of CSV files",
}
IMPORTS = {"readings": "Readings from {}", "account_in": "Account from {}"}
_MOST_SHOWN = 50
_ENDED = ("done", "failed", "cancelled")
_UPLOAD_KEPT, _KEPT, _ASKED_FOR = timedelta(days=1), timedelta(days=7), timedelta(days=30)


@dataclass(frozen=True)
class JobView:
    """A job as a page shows it. says: how it stands, in words; download, size: of the file to take away."""

    id: UUID
    kind: str
    title: str
    state: str
    stage: str
    says: str
    done: int
    total: int
    when: str
    revision: int
    can_cancel: bool
    taken_back: bool
    can_take_back: bool
    download: str
    size: int
    pool_id: UUID | None
    problems: tuple[FieldProblem, ...] = ()


def ask_import(context: Context, job_id: UUID, file_id: UUID, pool_id: UUID | None) -> Job:
    """Look an uploaded file through: a table of readings for a pool, or an account. Asking again returns the
    first result.
    """
    known = _repeated(context, job_id)
    if known is not None:
        return known
    row = whole_file(context, file_id)
    start = next(files.chunks(context.session, file_id), b"").lstrip(b"\xef\xbb\xbf \r\n\t")
    if start.startswith((b"{", b"PK\x03\x04")):
        return _add(context, job_id, "account_in", "check", {"name": row.name}, row)
    if pool_id is None:
        raise InvalidInput(FieldProblem("pool_id", "missing", "Readings belong to a pool: say to which."))
    pool = queries.pool(context.session, context.account.id, pool_id)
    return _add(
        context,
        job_id,
        "readings",
        "check",
        {"name": row.name, "pool_id": str(pool.id), "settings": None},
        row,
    )


def ask_export(context: Context, job_id: UUID, kind: str) -> Job:
    """Make a file of everything. Asking again returns the first result."""
    known = _repeated(context, job_id)
    if known is not None:
        return known
    if kind not in EXPORTS:
        raise InvalidInput(FieldProblem("kind", "unknown_choice", "Choose one of the answers."))
    return _add(context, job_id, kind, "write", {}, None)


def an_import(context: Context, job_id: UUID) -> Job:
    """An import of the account. Raises NotFound for any other job."""
    job = queries.job(context.session, context.account.id, job_id)
    return queries.found(job if job.kind in IMPORTS else None, "import")


def _repeated(context: Context, job_id: UUID) -> Job | None:
    known = context.session.get(Job, job_id)
    if known is not None and known.account_id != context.account.id:
        raise Conflict("id_taken", "This id is already used for something else.")
    return known


def _add(
    context: Context,
    job_id: UUID,
    kind: str,
    stage: str,
    given: dict[str, Any],
    file: FileRow | None,
) -> Job:
    job = Job(
        id=job_id,
        account_id=context.account.id,
        kind=kind,
        state="waiting",
        stage=stage,
        given=given,
        found={},
        done=0,
        total=0,
        claims=0,
        cancel_asked=False,
        in_file_id=file.id if file else None,
        revision=1,
        created_at=context.now,
    )
    context.session.add(job)
    context.session.flush()
    return job


def change_readings(context: Context, job_id: UUID, pool_id: UUID, settings: Settings, revision: int) -> Job:
    """Read the table otherwise, and ask again. While it is being looked through, that begins anew: its worker
    finds it is no longer its own.
    """
    job = queries.job(context.session, context.account.id, job_id, lock=True)
    check_revision(job.revision, revision, "import")
    if job.kind != "readings":
        raise Conflict("other_kind", "There is nothing to match in this file.")
    if job.stage != "check" or job.state not in ("asks", "waiting", "running") or job.cancel_asked:
        raise Conflict("not_asking", "This import is past that point.")
    import_readings.check_settings(settings)
    queries.pool(context.session, context.account.id, pool_id)
    asked = import_readings.Asked(pool_id, settings)
    job.given = job.given | import_readings.ASKED.dump_python(asked, mode="json")
    return _wait(context.session, job, "check")


def say_yes(context: Context, job_id: UUID, revision: int) -> Job:
    """Bring in what the preview shows."""
    job = _asking(context, job_id, revision)
    if job.kind == "readings":
        preview = import_readings.PREVIEW.validate_python(job.found)
        if preview.problem:
            raise InvalidInput(FieldProblem("columns", "not_matched", preview.problem))
        if preview.bad and preview.settings.leave_out == "nothing":
            raise InvalidInput(
                FieldProblem(
                    "leave_out", "bad_rows", "Some rows cannot be read. Leave them out, or mend the file."
                )
            )
        if not preview.new and not preview.notes:
            raise InvalidInput(FieldProblem("columns", "nothing_new", "There is nothing new in this file."))
        # What was shown is what will be written, whatever Kumpan would think likeliest by then.
        asked = import_readings.Asked(preview.pool_id, preview.settings)
        job.given = job.given | import_readings.ASKED.dump_python(asked, mode="json")
    return _wait(context.session, job, "write")


def _asking(context: Context, job_id: UUID, revision: int) -> Job:
    job = queries.job(context.session, context.account.id, job_id, lock=True)
    check_revision(job.revision, revision, "import")
    if job.state != "asks":
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


def cancel(context: Context, job_id: UUID) -> Job:
    """Stop a job. One that runs stops within moments, and nothing of it stays; one that has ended stays as it
    is.
    """
    job = queries.job(context.session, context.account.id, job_id, lock=True)
    if job.state == "running":
        job.cancel_asked = True
    elif job.state not in _ENDED:
        job.state, job.ended_at = "cancelled", context.now
        job.revision += 1
    context.session.flush()
    return job


def forget(context: Context, job_id: UUID) -> None:
    """Drop a job that has ended, with its files. What it brought in stays."""
    job = queries.job(context.session, context.account.id, job_id, lock=True)
    if job.state not in _ENDED:
        raise Conflict("not_ended", "This is still going on: cancel it first.")
    drop(context.session, job)


def drop(session: Session, job: Job) -> None:
    """Drop a job and its files."""
    ids = [i for i in (job.in_file_id, job.out_file_id) if i]
    session.delete(job)
    session.flush()
    for file_id in ids:
        files.delete_file(session, file_id)


def take_back(context: Context, job_id: UUID, away: bool) -> Job:
    """Take back what an import brought, or bring back exactly that (not ``away``)."""
    job = queries.job(context.session, context.account.id, job_id, lock=True)
    if job.kind != "readings" or job.state != "done":
        raise Conflict("not_takeable", "Only readings that were brought in can be taken back.")
    if ("taken_back_at" in job.found) == away:
        return job
    brought = update(Event).where(Event.job_id == job.id)
    if away:
        context.session.execute(brought.where(Event.deleted_at.is_(None)).values(deleted_at=context.now))
        job.found = job.found | {"taken_back_at": context.now.isoformat()}
    else:
        context.session.execute(
            brought.where(Event.deleted_at == datetime.fromisoformat(job.found["taken_back_at"])).values(
                deleted_at=None
            )
        )
        job.found = {k: v for k, v in job.found.items() if k != "taken_back_at"}
    job.revision += 1
    context.session.flush()
    return job


def out_file(context: Context, job_id: UUID) -> FileRow:
    """The file a job made."""
    job = queries.job(context.session, context.account.id, job_id)
    if job.out_file_id is None:
        raise Conflict("no_file", "There is no file to take away yet.")
    return files.file(context.session, context.account.id, job.out_file_id)


def shown_jobs(context: Context) -> list[JobView]:
    """The account's newest jobs."""
    return [show_job(context, job) for job in queries.jobs(context.session, context.account.id, _MOST_SHOWN)]


def show_job(context: Context, job: Job) -> JobView:
    """A job as a page shows it; its time on the clock of the account's first pool."""
    zone = ZoneInfo(next((p.time_zone for p in queries.pools(context.session, context.account.id)), "UTC"))
    out = files.file(context.session, context.account.id, job.out_file_id) if job.out_file_id else None
    created = job.created_at.astimezone(zone)
    title = EXPORTS[job.kind] if job.kind in EXPORTS else IMPORTS[job.kind].format(job.given["name"])
    taken_back = "taken_back_at" in job.found
    problems = tuple(FieldProblem(p["field"], "", p["message"]) for p in job.found.get("problems", ()))
    return JobView(
        id=job.id,
        kind=job.kind,
        title=title,
        state=job.state,
        stage=job.stage,
        says=_says(job),
        done=job.done,
        total=job.total,
        when=f"{terms.day(context.now.astimezone(zone), created)} {created:%H:%M}",
        revision=job.revision,
        can_cancel=job.state not in _ENDED and not job.cancel_asked,
        taken_back=taken_back,
        can_take_back=job.kind == "readings"
        and job.state == "done"
        and not taken_back
        and job.found.get("tests", 0) + job.found.get("notes", 0) > 0,
        download=f"/api/v1/jobs/{job.id}/file" if out else "",
        size=out.size if out else 0,
        problems=problems,
        pool_id=UUID(job.given["pool_id"]) if "pool_id" in job.given else None,
    )


def _says(job: Job) -> str:
    """How a job stands, in words."""
    found = job.found
    if job.cancel_asked and job.state == "running":
        return "Stopping …"
    if job.state == "waiting":
        return "Waits for its turn."
    if job.state == "running":
        return "Looking the file through …" if job.stage == "check" else "Writing …"
    if job.state == "asks":
        return "Looked through. Nothing is brought in before you say so."
    if job.state == "cancelled":
        return "Cancelled. Nothing was changed."
    if job.state == "failed":
        return str(found.get("message", "Failed. Nothing was changed."))
    if job.kind in EXPORTS:
        return (
            f"Ready to take away: {_count(found['pools'], 'pool')},"
            f" {_count(found['events'], 'entry', 'entries')}."
        )
    if job.kind == "readings":
        notes = f" and {_count(found['notes'], 'note')}" if found["notes"] else ""
        known = f"; {found['again']:,} skipped as known" if found["again"] else ""
        said = f"{_count(found['tests'], 'test')}{notes} in {found['pool']}{known}."
        return f"Taken back: {said}" if "taken_back_at" in found else f"Brought in: {said}"
    return (
        f"Brought in {_count(found['added'], 'record')}."
        if found["added"]
        else "Everything in this file was here already."
    )


def _count(count: int, one: str, more: str = "") -> str:
    return f"{count:,} {one if count == 1 else more or f'{one}s'}"


def tidy(session: Session, now: datetime) -> None:
    """Drop what nobody will ask for any more: uploads never used, files made or read a week ago, questions
    not answered for a month.
    """
    old = now - _KEPT
    session.execute(
        update(Job)
        .where(Job.state == "asks", Job.created_at < now - _ASKED_FOR)
        .values(state="cancelled", ended_at=now)
    )
    for job in queries.ended_jobs(session, old):
        if job.kind in EXPORTS:
            drop(session, job)
        else:
            job.in_file_id = None
    session.flush()
    for file_id in queries.idle_files(session, now - _UPLOAD_KEPT):
        files.delete_file(session, file_id)
