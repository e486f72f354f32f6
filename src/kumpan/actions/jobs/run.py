"""Run long work: claim a job with a lease, do it in one transaction, and end it in that same transaction.

So a job that is killed leaves nothing behind, whoever takes it up again starts afresh, and of two workers
that believe to hold it only one can end it. Leases run on the database's clock: the workers' own may differ.
"""

import logging
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, and_, func, or_, select, update
from sqlalchemy.orm import Session, sessionmaker

from kumpan.actions.context import Context
from kumpan.actions.work import Cancelled, Outcome, Progress, Stage, _later
from kumpan.core.errors import KumpanError
from kumpan.store import database
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.jobs import Job

log = logging.getLogger("kumpan")

_MOST_CLAIMS = 4  # a job that took its worker down so often is not tried again
_ACTOR = "you"  # who an import is said to be by, until people sign in


def waits(session: Session) -> bool:
    """Whether there is a job to take."""
    return session.scalar(select(Job.id).where(_free()).limit(1)) is not None


def cancels(session: Session, worker: str) -> bool:
    """Whether the job a worker holds is to be stopped."""
    query = select(Job.id).where(Job.worker == worker, Job.cancel_asked.is_(True)).limit(1)
    return session.scalar(query) is not None


def give_up(session: Session, worker: str, state: str, message: str, now: datetime) -> None:
    """End what a worker holds, without its work."""
    held = select(Job.id).where(Job.worker == worker, Job.state == "running")
    for id in session.scalars(held).all():
        _settle(session, id, worker, _Ended(state, {"message": message}, now))


def _free() -> ColumnElement[bool]:
    return or_(Job.state == "waiting", and_(Job.state == "running", Job.lease_until < func.utc_timestamp(6)))


def claim(session: Session, worker: str) -> Job | None:
    """Take the oldest job that waits, or whose worker's lease ran out. Rows another worker is just taking are
    passed over.
    """
    job = session.scalars(
        select(Job).where(_free()).order_by(Job.created_at, Job.id).limit(1).with_for_update(skip_locked=True)
    ).first()
    if job is None:
        return None
    job.state, job.worker, job.lease_until, job.done, job.total = "running", worker, _later(), 0, 0
    job.claims += 1
    session.flush()
    session.refresh(job)
    return job


def run_next(
    sessions: sessionmaker[Session],
    worker: str,
    stages: dict[tuple[str, str], Stage],
    clock: Callable[[], datetime],
) -> bool:
    """Claim one job and run its stage to an end; False if there is none. stages: by (kind, stage)."""
    job = database.run(sessions, lambda s: claim(s, worker))
    if job is None:
        return False
    progress = Progress(sessions, job.id, worker)

    def settle(state: str, result: dict[str, Any]) -> None:
        database.run(sessions, lambda s: _settle(s, job.id, worker, _Ended(state, result, clock())))

    try:
        if job.claims > _MOST_CLAIMS:
            raise KumpanError(
                "gave_up", "This was started several times and never came to an end. Nothing was changed."
            )

        def work(session: Session) -> None:
            context = Context(session, session.get_one(Account, job.account_id), _ACTOR, clock())
            outcome = stages[job.kind, job.stage](context, job, progress)
            _end(session, job, worker, outcome, clock())

        database.run(sessions, work)
    except Cancelled:
        settle("cancelled", {})
    except KumpanError as error:
        problems = [{"field": f.field, "message": f.message} for f in error.fields]
        settle("failed", {"message": error.message, "problems": problems})
    except (MemoryError, SystemError):  # the second is what the first becomes where no memory is left for it
        raise  # nor to say so: whoever runs us does
    except Exception as error:
        if isinstance(error, database.AWAY) and database.is_away(error):
            raise  # the lease runs out and the job is taken up again
        log.exception("job %s failed", job.id)
        settle("failed", {"message": "Something went wrong inside Kumpan. Nothing was changed."})
    return True


def _end(session: Session, job: Job, worker: str, outcome: Outcome, now: datetime) -> None:
    """End the job in the transaction of its work; raises Cancelled where it is no longer ours or was
    cancelled.
    """
    mine = and_(Job.id == job.id, Job.worker == worker, Job.state == "running", Job.cancel_asked.is_(False))
    ended = session.execute(
        update(Job)
        .where(mine)
        .values(
            state=outcome.state,
            result=outcome.result,
            out_file_id=outcome.out_file_id,
            worker=None,
            lease_until=None,
            claims=0,
            ended_at=now if outcome.state == "done" else None,
            done=Job.total,
        )
    )
    if ended.rowcount != 1:  # type: ignore[attr-defined]
        raise Cancelled


@dataclass(frozen=True)
class _Ended:
    """How a job ended without its work."""

    state: str
    result: dict[str, Any]
    ended_at: datetime


def _settle(session: Session, id: UUID, worker: str, ended: _Ended) -> None:
    """Write down that a job of ours ended; nothing if another worker holds it by now."""
    mine = and_(Job.id == id, Job.worker == worker, Job.state == "running")
    session.execute(update(Job).where(mine).values(worker=None, lease_until=None, **vars(ended)))


def let_go(sessions: sessionmaker[Session], worker: str) -> None:
    """Give back what a stopping worker holds, so that the next start need not wait for the lease."""

    def write(session: Session) -> None:
        session.execute(
            update(Job)
            .where(Job.worker == worker, Job.state == "running")
            .values(state="waiting", worker=None, lease_until=None)
        )

    database.run(sessions, write)
