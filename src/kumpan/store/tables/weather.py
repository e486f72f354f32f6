"""The weather of pools' places, as a source told it."""

from datetime import date, datetime
from uuid import UUID

from sqlalchemy import Boolean, Float, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from kumpan.core.weather import WeatherDay
from kumpan.store.tables.base import Base


class WeatherDayRow(Base):
    """A day at a pool's place. outlook: foretold, not yet measured."""

    __tablename__ = "weather_day"
    pool_id: Mapped[UUID] = mapped_column(ForeignKey("pool.id"), primary_key=True)
    day: Mapped[date] = mapped_column(primary_key=True)
    low_c: Mapped[float] = mapped_column(Float(53))
    high_c: Mapped[float] = mapped_column(Float(53))
    rain_mm: Mapped[float] = mapped_column(Float(53))
    sun_mj_m2: Mapped[float] = mapped_column(Float(53))
    wind_m_s: Mapped[float] = mapped_column(Float(53))
    humidity: Mapped[float] = mapped_column(Float(53))
    outlook: Mapped[bool] = mapped_column(Boolean)

    @property
    def weather(self) -> WeatherDay:
        """It as the core sees it."""
        return WeatherDay(
            self.day,
            self.low_c,
            self.high_c,
            self.rain_mm,
            self.sun_mj_m2,
            self.wind_m_s,
            self.humidity,
            self.outlook,
        )


class WeatherFetchRow(Base):
    """How the last asking for a pool's weather went. told_at: when it last answered; problem: what is wrong
    since, empty where it answered. simulated: whether the source says it is made up.
    """

    __tablename__ = "weather_fetch"
    pool_id: Mapped[UUID] = mapped_column(ForeignKey("pool.id"), primary_key=True)
    tried_at: Mapped[datetime]
    told_at: Mapped[datetime | None]
    problem: Mapped[str] = mapped_column(String(200))
    source: Mapped[str] = mapped_column(String(80))
    simulated: Mapped[bool] = mapped_column(Boolean)
