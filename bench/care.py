"""What the schedule costs: a year of one pool, and the due list of an account of 500 pools.

    PYTHONPATH=src .venv/bin/python bench/care.py

It reports; nothing fails by it.
"""

import tempfile
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from uuid import UUID

from sqlalchemy import event, func, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions.care.view import due_rows
from kumpan.actions.context import Context
from kumpan.actions.pools.pools import PoolInput, add_pool
from kumpan.core.care.duties import wanted
from kumpan.core.care.schedule import Task, foretold, next_due, stands
from kumpan.core.care.site import Care, Site
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.pool.volume import VolumeInput
from kumpan.ops.mariadb import FAST_AND_UNSAFE, PrivateMariaDB
from kumpan.store import migrate
from kumpan.store.database import engine_for
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.care import TaskRow
from timing import median_ms

NOW = datetime(2026, 7, 14, 22, 40, tzinfo=UTC)


def a_year() -> None:
    """Every task of one pool through a year, each day as it stands."""
    site = Site(
        PoolTraits(75_000, "plaster", "chlorinator", "in_ground"),
        Care("twice_week"),
        {"filter": {"medium": "sand", "clean": 69.0}, "pump": {"run_by": "timer"}, "openings": {}},
    )
    first = date(2026, 1, 1)
    tasks = [
        Task(w.rule.id, w.rule.id, w.anchor, first, w.first_days, w.days, w.rrule)
        for w in wanted(site)
        if w.anchor != "adaptive"
    ]

    def foretell() -> int:
        count = 0
        for task in tasks:
            due = next_due(task, None, [])
            assert due.on is not None
            count += len(list(foretold(task, due.on, first + timedelta(days=365))))
        return count

    def live() -> None:
        for task in tasks:
            done = None
            for n in range(365):
                today = first + timedelta(days=n)
                if stands(task, next_due(task, done, []), today).state == "due":
                    done = datetime(today.year, today.month, today.day, 12)

    print(f"{len(tasks)} tasks, {foretell()} days of work in a year")
    print(f"  the year foretold          {median_ms(foretell, 7):8.1f} ms")
    print(f"  the year lived day by day  {median_ms(live, 7):8.1f} ms")


def due_lists() -> None:
    """Due lists of growing accounts: statements and time."""
    db = PrivateMariaDB(Path(tempfile.mkdtemp()) / "db", FAST_AND_UNSAFE)
    db.start()
    engine = engine_for(db.url)
    migrate.upgrade(engine)
    told: list[str] = []
    event.listen(
        engine, "before_cursor_execute", lambda c, cur, statement, p, ctx, many: told.append(statement)
    )
    volume = VolumeInput("typed", "gal", "15,000")
    try:
        with Session(engine) as session:
            account = Account(id=uuid7(), name="Round", created_at=NOW)
            session.add(account)
            session.commit()
            print("pools   tasks due   statements       ms")
            have = 0
            for pools in (50, 250, 500):
                long_ago = Context(session, account, "bench", NOW - timedelta(days=20))
                for n in range(have, pools):
                    answers = PoolInput(
                        f"Pool {n}", "", "America/Chicago", None, None, volume, "vinyl", "liquid",
                        "in_ground",
                        "chlorine",
                    )  # fmt: skip
                    add_pool(long_ago, uuid7(), answers)
                session.commit()
                have = pools
                account_id = account.id

                def look(account_id: UUID = account_id) -> int:
                    with Session(engine) as fresh:
                        mine = fresh.get_one(Account, account_id)
                        told.clear()
                        return len(list(due_rows(Context(fresh, mine, "bench", NOW))))

                found = look()
                statements = len(told)
                print(f"{pools:5} {found:11} {statements:12} {median_ms(look, 5):8.0f}")
            print("tasks in all:", session.scalar(select(func.count()).select_from(TaskRow)))
    finally:
        engine.dispose()
        db.stop()


if __name__ == "__main__":
    a_year()
    due_lists()
