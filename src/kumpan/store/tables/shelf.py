"""Products that stand ready."""

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Float, ForeignKey, Integer, String
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.store.tables.base import Base


class ShelfItem(Base):
    """A product that stands ready. stock: as counted at counted_at; doses logged since have drawn on it.
    typed: texts and units as typed.

    Amounts are g, or mL for liquids; rate per 10,000 gal; price of one package. strength: when bought.
    """

    __tablename__ = "shelf_item"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("account.id"), index=True)
    product_id: Mapped[str] = mapped_column(String(40))
    strength: Mapped[float | None] = mapped_column(Float(53))
    stock: Mapped[float | None] = mapped_column(Float(53))
    counted_at: Mapped[datetime | None]
    pack: Mapped[float | None] = mapped_column(Float(53))
    price_minor: Mapped[int | None] = mapped_column(Integer)
    minimum: Mapped[float | None] = mapped_column(Float(53))
    bought: Mapped[date | None]
    kept_c: Mapped[float | None] = mapped_column(Float(53))
    rate: Mapped[float | None] = mapped_column(Float(53))
    typed: Mapped[dict[str, Any]]
    revision: Mapped[int] = mapped_column(Integer, default=1)
    created_at: Mapped[datetime]
    removed_at: Mapped[datetime | None]
