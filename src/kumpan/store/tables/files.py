"""Files in pieces, and photos."""

from datetime import datetime
from uuid import UUID

from sqlalchemy import ForeignKey, Integer, String
from sqlalchemy.dialects.mysql import MEDIUMBLOB
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.store.tables.base import Base


class FileRow(Base):
    """A file kept in the database, in chunks, so that one backup holds everything. size: of all chunks; it is
    whole once they add up to it.
    """

    __tablename__ = "file"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    name: Mapped[str] = mapped_column(String(200))
    media_type: Mapped[str] = mapped_column(String(80))
    size: Mapped[int] = mapped_column(Integer)
    created_at: Mapped[datetime]


class FileChunk(Base):
    """One piece of a file; every piece but the last is as long as the first."""

    __tablename__ = "file_chunk"
    file_id: Mapped[UUID] = mapped_column(ForeignKey("file.id"), primary_key=True)
    position: Mapped[int] = mapped_column(Integer, primary_key=True)
    data: Mapped[bytes] = mapped_column(MEDIUMBLOB)


class PhotoRow(Base):
    """A photo, encoded anew, of an event or of a piece of equipment (its receipt)."""

    __tablename__ = "photo"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    event_id: Mapped[UUID | None] = mapped_column(ForeignKey("event.id"), index=True)
    equipment_id: Mapped[UUID | None] = mapped_column(ForeignKey("equipment.id"), index=True)
    file_id: Mapped[UUID] = mapped_column(ForeignKey("file.id"))
    width: Mapped[int] = mapped_column(Integer)
    height: Mapped[int] = mapped_column(Integer)
    created_at: Mapped[datetime]
    removed_at: Mapped[datetime | None]


class PaperRow(Base):
    """A manual, receipt or warranty of a piece of equipment, as it came."""

    __tablename__ = "paper"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    equipment_id: Mapped[UUID] = mapped_column(ForeignKey("equipment.id"), index=True)
    file_id: Mapped[UUID] = mapped_column(ForeignKey("file.id"))
    name: Mapped[str] = mapped_column(String(200))
    media_type: Mapped[str] = mapped_column(String(80))
    created_at: Mapped[datetime]
    removed_at: Mapped[datetime | None]
