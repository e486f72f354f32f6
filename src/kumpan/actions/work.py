"""A worker's step of long work: what it is given, what came of it, how it holds its job meanwhile."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any
from uuid import UUID

from sqlalchemy import and_, func, text, update
from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.context import Context
from kumpan.core.errors import Conflict
from kumpan.store import database
from kumpan.store.tables.files import FileRow
from kumpan.store.tables.jobs import Job

LEASE = timedelta(seconds=30)


_SAID_EVERY_S = 0.5


class Cancelled(Exception):
    """The person cancelled the job, or its lease went to another worker: what was done of it is
    rolled back.
    """


@dataclass(frozen=True)
class Parameters:
    """What a job is to do: values of its kind, and the file it reads."""

    values: dict[str, Any] = field(default_factory=dict)
    file: FileRow | None = None


@dataclass(frozen=True)
class Outcome:
    """What a stage came to: the job's next state, what it found, and the file it made."""

    state: str
    result: dict[str, Any] = field(default_factory=dict)
    out_file_id: UUID | None = None


class Progress:
    """Tells how far a job is, keeps its lease, and raises Cancelled once it should stop. Each call is a
    transaction of its own.
    """

    def __init__(self, sessions: sessionmaker[Session], job_id: UUID, worker: str) -> None:
        self.sessions, self.job_id, self.worker, self.said = sessions, job_id, worker, 0.0

    def __call__(self, done: int, total: int) -> None:
        """Say that ``done`` of ``total`` is done; cheap enough to be called for every row."""
        if time.monotonic() - self.said < _SAID_EVERY_S:
            return
        self.said = time.monotonic()

        def say(session: Session) -> bool:
            mine = and_(
                Job.id == self.job_id,
                Job.worker == self.worker,
                Job.state == "running",
                Job.cancel_asked.is_(False),
            )
            changed = session.execute(
                update(Job).where(mine).values(done=done, total=total, lease_until=_later())
            )
            return bool(changed.rowcount == 1)  # type: ignore[attr-defined]

        if not database.run(self.sessions, say):
            raise Cancelled


Stage = Callable[[Context, Job, Progress], Outcome]


def _later() -> Any:
    return func.timestampadd(text("SECOND"), int(LEASE.total_seconds()), func.utc_timestamp(6))


def begin_job(context: Context, job_id: UUID, kind: str, stage: str, work: Parameters) -> Job:
    """A job that waits for a worker; or the one that asking before began. Raises Conflict for a taken id."""
    known = repeated_job(context, job_id)
    if known is not None:
        return known
    job = Job(
        id=job_id,
        account_id=context.account.id,
        kind=kind,
        state="waiting",
        stage=stage,
        parameters=work.values,
        result={},
        done=0,
        total=0,
        claims=0,
        cancel_asked=False,
        in_file_id=work.file.id if work.file else None,
        revision=1,
        created_at=context.now,
    )
    context.session.add(job)
    context.session.flush()
    return job


def repeated_job(context: Context, job_id: UUID) -> Job | None:
    """The job that asking before began; None if the id is new."""
    known = context.session.get(Job, job_id)
    if known is not None and known.account_id != context.account.id:
        raise Conflict("id_taken", "This id is already used for something else.")
    return known
