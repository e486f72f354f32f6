"""What the machines cost to look at, on the demo: statements and milliseconds a view; the stand-in's year.

    PYTHONPATH=src .venv/bin/python bench/machines.py

It reports; nothing fails by it.
"""

import time
from datetime import UTC, datetime, timedelta

from sqlalchemy import event, select
from sqlalchemy.orm import Session

from demo import demo
from kumpan.actions.context import Context
from kumpan.actions.machines.view import going_away, machines_view
from kumpan.standins.panel import Panel
from kumpan.store.machines import cell_log
from kumpan.store.queries import first_account
from kumpan.store.tables.pools import Pool
from timing import median_ms


def main() -> None:
    now = datetime.now(UTC)
    with demo(now) as (engine, folder):
        counted = [0]
        event.listen(engine, "before_cursor_execute", lambda *_: counted.__setitem__(0, counted[0] + 1))
        with Session(engine) as session:
            account = first_account(session)
            assert account is not None
            context = Context(session, account, "bench", now)
            for name in ("Fernway Court", "Quarry Row 7", "Signal House Inn"):
                pool = session.scalars(select(Pool).where(Pool.name == name)).one()
                for label, work in (
                    ("machines", lambda p=pool: machines_view(context, p.id)),
                    ("away", lambda p=pool: going_away(context, p.id, 9)),
                    ("plates", lambda p=pool: cell_log(session, p)),
                ):
                    work()
                    counted[0] = 0
                    work()
                    statements = counted[0]
                    print(f"{name:>17} {label:>9}: {statements:3} statements, {median_ms(work, 9):6.1f} ms")
        panel = Panel(folder, now)
        began = time.perf_counter()
        panel.live(now + timedelta(days=365))
        print(f"a year of the simulated panel: {time.perf_counter() - began:.1f} s")


if __name__ == "__main__":
    main()
