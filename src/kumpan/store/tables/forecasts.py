"""What was foretold."""

from dataclasses import asdict
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Float, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.core.forecast.ahead import Assumed, Forecast
from kumpan.store.tables.base import Base


class ForecastRow(Base):
    """A measure of a pool foretold, as it was when it was made: written once, never changed."""

    __tablename__ = "forecast"
    pool_id: Mapped[UUID] = mapped_column(ForeignKey("pool.id"), primary_key=True)
    made_at: Mapped[datetime] = mapped_column(primary_key=True, index=True)
    measure: Mapped[str] = mapped_column(String(20), primary_key=True)
    for_at: Mapped[datetime] = mapped_column(primary_key=True)
    mean: Mapped[float] = mapped_column(Float(53))
    low80: Mapped[float] = mapped_column(Float(53))
    high80: Mapped[float] = mapped_column(Float(53))
    assumed: Mapped[dict[str, Any]]
    rule_version: Mapped[str] = mapped_column(String(40))


def columns_of(pool_id: UUID, told: Forecast) -> dict[str, Any]:
    """A forecast as its row's columns."""
    return vars(told) | {"pool_id": pool_id, "assumed": asdict(told.assumed)}


def forecast_of(row: Any) -> Forecast:
    """A row's columns as the core sees them."""
    told = {name: getattr(row, name) for name in Forecast.__dataclass_fields__}
    return Forecast(**told | {"assumed": Assumed(**row.assumed)})
