"""Who owns pools."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Integer, String
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.store.tables.base import Base


class Account(Base):
    """Who owns pools. Sign-in comes later; every query already names the account."""

    __tablename__ = "account"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    unit_system: Mapped[str] = mapped_column(String(10), default="us")  # us or metric
    currency: Mapped[str] = mapped_column(String(3), default="USD")
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    own_measures: Mapped[list[Any] | None]  # as typed: name, liquid, amount, unit
