"""Long work as a person sees it: ask for it, watch it, say yes, cancel it, take an import back."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy import update
from sqlalchemy.orm import Session

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict, FieldProblem
from kumpan.core.phrasing import terms
from kumpan.store import files, queries
from kumpan.store.tables.files import FileRow
from kumpan.store.tables.jobs import Job

# kind -> what it is in words; an import's name is its file's.
EXPORTS = {
    "account_json": "Everything as one JSON document",
    "account_csv": "Everything as a folder of CSV files",
}
IMPORTS = {"readings": "Readings from {}", "account_in": "Account from {}"}
_MOST_SHOWN = 50
_ENDED = ("done", "failed", "cancelled")
_UPLOAD_KEPT, _KEPT, _ASKED_FOR = timedelta(days=1), timedelta(days=7), timedelta(days=30)
_FORETOLD = timedelta(days=400)  # what was foretold longer ago is scored no more


@dataclass(frozen=True)
class JobView:
    """A job as a page shows it. message: how it stands, in words; download, size: of the file to
    take away.
    """

    id: UUID
    kind: str
    title: str
    state: str
    stage: str
    message: str
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
    """Drop a job and the files that are its own."""
    ids = [i for i in (job.in_file_id, job.out_file_id) if i]
    session.delete(job)
    session.flush()
    for file_id in ids:
        if not queries.is_used_by_jobs(session, file_id):  # another import of the same file may still read it
            files.delete_file(session, file_id)


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
    title = EXPORTS[job.kind] if job.kind in EXPORTS else IMPORTS[job.kind].format(job.parameters["name"])
    taken_back = "taken_back_at" in job.result
    problems = tuple(FieldProblem(p["field"], "", p["message"]) for p in job.result.get("problems", ()))
    return JobView(
        id=job.id,
        kind=job.kind,
        title=title,
        state=job.state,
        stage=job.stage,
        message=_message(job),
        done=job.done,
        total=job.total,
        when=f"{terms.day(context.now.astimezone(zone), created)} {created:%H:%M}",
        revision=job.revision,
        can_cancel=job.state not in _ENDED and not job.cancel_asked,
        taken_back=taken_back,
        can_take_back=job.kind == "readings"
        and job.state == "done"
        and not taken_back
        and job.result.get("tests", 0) + job.result.get("notes", 0) > 0,
        download=f"/api/v1/jobs/{job.id}/file" if out else "",
        size=out.size if out else 0,
        problems=problems,
        pool_id=UUID(job.parameters["pool_id"]) if "pool_id" in job.parameters else None,
    )


def _message(job: Job) -> str:
    """How a job stands, in words."""
    outcome = job.result
    if job.cancel_asked and job.state == "running":
        return "Stopping …"
    if job.state == "waiting":
        return "Waits for its turn."
    if job.state == "running":
        return "Looking the file through …" if job.stage == "check" else "Writing …"
    if job.state == "to_confirm":
        return "Looked through. Nothing is brought in before you say so."
    if job.state == "cancelled":
        return "Cancelled. Nothing was changed."
    if job.state == "failed":
        return str(outcome.get("message", "Failed. Nothing was changed."))
    if job.kind in EXPORTS:
        return (
            f"Ready to take away: {_count(outcome['pools'], 'pool')},"
            f" {_count(outcome['events'], 'entry', 'entries')}."
        )
    if job.kind == "readings":
        notes = f" and {_count(outcome['notes'], 'note')}" if outcome["notes"] else ""
        known = f"; {outcome['again']:,} skipped as known" if outcome["again"] else ""
        said = f"{_count(outcome['tests'], 'test')}{notes} in {outcome['pool']}{known}."
        return f"Taken back: {said}" if "taken_back_at" in outcome else f"Brought in: {said}"
    return (
        f"Brought in {_count(outcome['added'], 'record')}."
        if outcome["added"]
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
        .where(Job.state == "to_confirm", Job.created_at < now - _ASKED_FOR)
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
    queries.forget_sent(session, now - _ASKED_FOR)
    queries.forget_forecasts(session, now - _FORETOLD)
