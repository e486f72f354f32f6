"""A key press, Today, Care and Log on three pools alike but for their logs: ten days, a year with a dose a
day, ten years with 10,000 entries. In turn in one run; statements and CPU beside each. Run:
PYTHONPATH=src .venv/bin/python bench/pace.py"""

import statistics
import time
from datetime import UTC, datetime, timedelta
from uuid import UUID

import httpx
from fastapi.testclient import TestClient
from sqlalchemy import Connection, Engine, event, text
from sqlalchemy.orm import Session
from uuid6 import uuid7

from demo import demo
from kumpan.main import create_app
from kumpan.store.care import fit
from kumpan.store.tables.pools import Pool

NOW = datetime.now(UTC).replace(microsecond=0)
RUNS = 30
MEASURES = {"fc": 3, "cc": 0.2, "ph": 7.5, "ta": 100, "ch": 250, "cya": 45, "salt": 800, "temp": 27}
# kind: (days of log, hours between)
LOGS: dict[str, dict[str, tuple[int, int]]] = {
    "ten days": {"water_test": (10, 84), "dose": (10, 84), "clean": (10, 168)},
    "a year, a dose a day": {"water_test": (365, 84), "dose": (365, 24), "clean": (365, 168)},
    "ten years": {"water_test": (3650, 24), "dose": (3650, 18), "clean": (3650, 60)},
}


def fill(c: Connection, pool_id: str, log: dict[str, tuple[int, int]]) -> int:
    """Entries as the application would write them, newest this morning, in SQL."""
    pool = UUID(pool_id)
    count = 0
    for kind, (days, hours) in log.items():
        last = days * 24 // hours
        count += last + 1
        c.execute(
            text(
                "INSERT INTO event (id, pool_id, at, kind, performed_by, revision, created_at) SELECT"
                " UUID(), :pool, TIMESTAMPADD(MINUTE, -60 * :hours * CAST(s.seq AS SIGNED) - :off, :now),"
                f" :kind, 'you', 1, :now FROM seq_0_to_{last} s"
            ),
            {
                "pool": pool,
                "hours": hours,
                "kind": kind,
                "now": NOW.replace(tzinfo=None),
                "off": {"water_test": 180, "dose": 150, "clean": 60}[kind],
            },
        )
    for i, (measure, value) in enumerate(MEASURES.items()):
        c.execute(
            text(
                "INSERT INTO reading (event_id, measure, position, value, text, unit, method) SELECT id,"
                " :m, :i, :v * (0.97 + 0.06 * RAND()), '1', 'ppm', 'drops' FROM event"
                " WHERE kind = 'water_test' AND pool_id = :p"
            ),
            {"m": measure, "i": i, "v": value, "p": pool},
        )
    c.execute(
        text(
            "INSERT INTO dose (event_id, product_id, amount, text, unit) SELECT id,"
            " 'liquid-chlorine-12.5', 900, '900', 'ml' FROM event WHERE kind = 'dose' AND pool_id = :p"
        ),
        {"p": pool},
    )
    c.execute(
        text(
            "INSERT INTO entry (event_id, details, typed, note) SELECT id,"
            " '{\"what\": \"skimmed\"}', '{}', '' FROM event WHERE kind = 'clean' AND pool_id = :p"
        ),
        {"p": pool},
    )
    return count


def new_pool(client: httpx.Client, name: str) -> str:
    body = {
        "id": str(uuid7()),
        "name": name,
        "place": "Bench",
        "time_zone": "America/Chicago",
        "volume": {"how": "typed", "unit": "gal", "amount": "15,000"},
        "surface": "plaster",
        "chlorine_source": "liquid",
        "installation": "in_ground",
        "sanitizer": "chlorine",
    }
    answer = client.post("/api/v1/pools", json=body)
    assert answer.status_code == 201, answer.text
    return str(answer.json()["id"])


def typed(run: int) -> dict[str, object]:
    values = {"fc": f"{1 + run % 5}", "ph": "7.8", "ta": "95", "ch": "280"}
    return {
        "readings": [
            {"measure": m, "text": t, "unit": "" if m == "ph" else "ppm", "method": "drops"}
            for m, t in values.items()
        ]
    }


def main() -> None:
    counted = 0

    def count(*_: object) -> None:
        nonlocal counted
        counted += 1

    with (
        demo(NOW) as (engine, _),
        TestClient(create_app(engine, clock=lambda: NOW), base_url="http://127.0.0.1") as client,
    ):
        pools = {name: new_pool(client, name.title()) for name in LOGS}
        entries = write(engine, pools)
        event.listen(engine, "before_cursor_execute", count)
        pages = {
            "Today": lambda pool, i: client.get(f"/api/v1/pools/{pool}/today"),
            "key press": lambda pool, i: client.post(f"/api/v1/pools/{pool}/plan-previews", json=typed(i)),
            "Care": lambda pool, i: client.get(f"/api/v1/pools/{pool}/care"),
            "Log": lambda pool, i: client.get(f"/api/v1/pools/{pool}/events"),
        }
        for page, ask in pages.items():
            took: dict[str, list[tuple[float, float]]] = {name: [] for name in LOGS}
            asked: dict[str, int] = {}
            for i in range(RUNS + 1):
                for name, pool in pools.items():  # in turn, so that a slow moment hits all
                    counted, cpu, began = 0, time.process_time(), time.perf_counter()
                    answer = ask(pool, i)
                    assert answer.status_code == 200, answer.text
                    if i:  # the first of each makes what is kept
                        took[name].append((time.perf_counter() - began, time.process_time() - cpu))
                    asked[name] = counted
            for name, times in took.items():
                wall, cpu = (1000 * statistics.median(t[n] for t in times) for n in (0, 1))
                print(
                    f"{page}, {name} ({entries[name]:,} entries): {wall:.0f} ms, {cpu:.0f} ms of CPU,"
                    f" {asked[name]} statements"
                )


def write(engine: Engine, pools: dict[str, str]) -> dict[str, int]:
    with engine.begin() as c:
        counts = {name: fill(c, pool, LOGS[name]) for name, pool in pools.items()}
        c.execute(text("ANALYZE TABLE event, reading, dose, entry"))
    # What comes round is worked out by the log.
    with Session(engine) as session:
        for pool in pools.values():
            held = session.get(Pool, UUID(pool))
            assert held is not None
            began = time.perf_counter()
            fit(session, held, NOW + timedelta(seconds=1))
            print(f"duties of {held.name} worked out in {1000 * (time.perf_counter() - began):.0f} ms")
        session.commit()
    return counts


if __name__ == "__main__":
    main()
