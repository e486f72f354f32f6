"""The estimate of a pool's water, kept where it stood a few days back."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.store.tables.base import Base


class EstimateRow(Base):
    """A pool's filter (``core.water.estimate.kept``) as the log from one instant up to another made it.

    Worth nothing by itself: where it is missing, or was made by other rules or of another pool (of_pool: a
    digest of its traits), the log makes it anew. Whatever of the log changes before ``upto_at`` deletes it.
    """

    __tablename__ = "estimate"
    pool_id: Mapped[UUID] = mapped_column(ForeignKey("pool.id"), primary_key=True)
    since_at: Mapped[datetime]
    upto_at: Mapped[datetime]
    rule_version: Mapped[str] = mapped_column(String(20))
    of_pool: Mapped[str] = mapped_column(String(64))
    state: Mapped[dict[str, Any]]
