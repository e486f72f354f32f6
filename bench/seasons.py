"""What the seasons cost on the demo: statements and milliseconds of the page, a plan, a page of paper.

    PYTHONPATH=src .venv/bin/python bench/seasons.py

It reports; nothing fails by it.
"""

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy import event, select
from sqlalchemy.orm import Session, sessionmaker
from uuid6 import uuid7

from demo import demo
from kumpan.actions.context import Context
from kumpan.actions.printed.sheets import plan_paper
from kumpan.actions.seasons.begin import NewSeason, begin_season
from kumpan.actions.seasons.view import season_view
from kumpan.actions.sheets.order import sheet_view
from kumpan.actions.weather.refresh import refresh
from kumpan.actions.weather.source import Answer, Asked
from kumpan.core.simulation.climate import place_at
from kumpan.core.weather import WeatherDay
from kumpan.standins.weather import days
from kumpan.store.queries import first_account
from kumpan.store.tables.pools import Pool
from timing import median_ms


def told(one: Asked) -> Answer:
    """The stand-in's weather, without its process."""
    place, zone = place_at(one.latitude, one.longitude), ZoneInfo(one.zone)
    found = days(place, zone, one.first, one.last, datetime.now(UTC))
    kept = [WeatherDay(**(d | {"day": datetime.fromisoformat(d["day"]).date()})) for d in found]
    return Answer("bench", True, tuple(kept))


def main() -> None:
    """Measure and print."""
    now = datetime.now(UTC)
    with demo(now) as (engine, _):
        refresh(sessionmaker(engine), told, now)
        counted = [0]
        event.listen(engine, "before_cursor_execute", lambda *_: counted.__setitem__(0, counted[0] + 1))
        with Session(engine) as session:
            account = first_account(session)
            assert account is not None
            context = Context(session, account, "bench", now)
            for name in ("Fernway Court", "Upper Garth"):
                pool = session.scalars(select(Pool).where(Pool.name == name)).one()
                day = (now + timedelta(days=20)).date().isoformat()
                sheet = begin_season(context, pool.id, NewSeason(uuid7(), now, "closing", day=day))
                works: dict[str, Callable[[], object]] = {
                    "the season": lambda p=pool: season_view(context, p.id),
                    "its plan": lambda s=sheet: sheet_view(context, s.id),
                    "on paper": lambda s=sheet: plan_paper(context, s.id, "a4"),
                }
                for label, work in works.items():
                    work()
                    counted[0] = 0
                    work()
                    print(f"{name:>14} {label:>11}: {counted[0]:3} statements, {median_ms(work, 9):6.1f} ms")


if __name__ == "__main__":
    main()
