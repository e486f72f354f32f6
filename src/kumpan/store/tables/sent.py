"""What a new thing was first sent as."""

from datetime import datetime
from uuid import UUID

from sqlalchemy import String
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.store.tables.base import Base


class FirstSent(Base):
    """The id that a client gave a new thing, and a digest of what it sent with it: of two requests at one
    moment the second waits here for the first, and one with the same id and other content is found out.
    """

    __tablename__ = "first_sent"
    account_id: Mapped[UUID] = mapped_column(primary_key=True)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    digest: Mapped[str] = mapped_column(String(64))
    at: Mapped[datetime] = mapped_column(index=True)
