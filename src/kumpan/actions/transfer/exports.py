"""Exports of the whole account."""

from typing import Literal
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.work import Parameters, begin_job
from kumpan.store.tables.jobs import Job


def start_export(context: Context, job_id: UUID, kind: Literal["account_json", "account_csv"]) -> Job:
    """Make a file of everything. Asking again returns the first result."""
    return begin_job(context, job_id, kind, "write", Parameters())
