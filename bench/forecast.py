"""What foretelling costs on the demo, against a look at the water now: the sentence of Today, the page ahead,
a making as the worker stores it, and the score of its last months.

    PYTHONPATH=src .venv/bin/python bench/forecast.py

It reports; nothing fails by it.
"""

from datetime import UTC, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from demo import demo
from kumpan.actions.context import Context
from kumpan.actions.forecast.coming import coming_of
from kumpan.actions.forecast.view import ahead_view
from kumpan.store.forecasts import foretell, results_of
from kumpan.store.queries import first_account
from kumpan.store.tables.pools import Pool
from kumpan.store.water import filter_of, present_of
from timing import median_ms


def main() -> None:
    now = datetime.now(UTC)
    with demo(now) as (engine, _), Session(engine) as session:
        account = first_account(session)
        assert account is not None
        context = Context(session, account, "bench", now)
        for name in ("Fernway Court", "Quarry Row 7", "Signal House Inn"):
            pool = session.scalars(select(Pool).where(Pool.name == name)).one()
            stands = filter_of(session, pool, now)
            base = median_ms(lambda p=pool: present_of(session, p, now), 15)
            print(f"{name:>17}: the water now {base:6.1f} ms")
            for label, work in (
                ("a week's sentence", lambda p=pool, s=stands: coming_of(context, p, s, None)),
                ("the page ahead", lambda p=pool: ahead_view(context, p.id)),
                ("the score", lambda p=pool: results_of(session, p, now)),
            ):
                ms = median_ms(work, 15)
                print(f"{'':>17}  {label:>18} {ms:6.1f} ms, {ms / base:4.1f} times")
            foretell(session, pool, now)
            session.rollback()
            one = median_ms(lambda p=pool: (foretell(session, p, now), session.rollback()), 5)
            print(f"{'':>17}  {'a making, stored':>18} {one:6.1f} ms, {one / base:4.1f} times")


if __name__ == "__main__":
    main()
