"""What was foretold of pools."""

from collections.abc import Iterable
from datetime import datetime
from uuid import UUID

from sqlalchemy import delete, func, insert, select
from sqlalchemy.orm import Session

from kumpan.core.forecast.ahead import Forecast
from kumpan.store.tables.forecasts import ForecastRow, columns_of, forecast_of
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import Pool

_COLUMNS = ForecastRow.__table__.c


def keep_forecasts(session: Session, pool_id: UUID, told: Iterable[Forecast]) -> None:
    """Store forecasts of a pool."""
    rows = [columns_of(pool_id, one) for one in told]
    if rows:
        session.execute(insert(ForecastRow), rows)


def forecasts_since(session: Session, pool_id: UUID, since: datetime) -> list[Forecast]:
    """What was foretold of a pool since an instant, oldest first."""
    query = select(*_COLUMNS).where(_COLUMNS.pool_id == pool_id, _COLUMNS.made_at >= since)
    query = query.order_by(_COLUMNS.made_at, _COLUMNS.measure, _COLUMNS.for_at)
    return [forecast_of(row) for row in session.execute(query)]


def newest_widening(session: Session, pool_id: UUID) -> dict[str, float]:
    """By how much each measure's interval was made wider when a pool was last foretold."""
    newest = select(func.max(_COLUMNS.made_at)).where(_COLUMNS.pool_id == pool_id).scalar_subquery()
    query = select(_COLUMNS.measure, _COLUMNS.assumed).where(_COLUMNS.pool_id == pool_id)
    rows = session.execute(query.where(_COLUMNS.made_at == newest))
    return {measure: float(assumed["widened"]) for measure, assumed in rows}


def foretold_and_tested(
    session: Session, pool_id: UUID | None = None
) -> list[tuple[UUID, str, datetime | None, datetime, datetime]]:
    """Of every pool in use that was ever tested, of whatever account, for the worker alone: its id and zone,
    when something was last foretold of it, when its newest test was made, and when that was written.
    """
    made = select(func.max(ForecastRow.made_at)).where(ForecastRow.pool_id == Pool.id).scalar_subquery()
    newest = (
        select(Event.id)
        .where(Event.pool_id == Pool.id, Event.kind == "water_test", Event.deleted_at.is_(None))
        .order_by(Event.at.desc(), Event.id.desc())
        .limit(1)
        .correlate(Pool)
        .scalar_subquery()
    )
    query = (
        select(Pool.id, Pool.time_zone, made, Event.at, Event.created_at)
        .join(Event, Event.id == newest)
        .where(Pool.archived_at.is_(None))
        .order_by(Pool.created_at, Pool.id)
    )
    if pool_id is not None:
        query = query.where(Pool.id == pool_id)
    return [tuple(row) for row in session.execute(query)]  # type: ignore[misc]


def forget_forecasts(session: Session, before: datetime) -> None:
    """Drop what was foretold for before an instant."""
    session.execute(delete(ForecastRow).where(ForecastRow.made_at < before))
