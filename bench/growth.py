"""Today, Log and graph of one pool in a database of many pools with ten years of tests, against the same pool
alone on the same server. Run: PYTHONPATH=src .venv/bin/python bench/growth.py [pools, 500 unless told]"""

import shutil
import statistics
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path

import httpx
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text

from kumpan.main import create_app
from kumpan.ops.mariadb import FAST_AND_UNSAFE, PrivateMariaDB
from kumpan.store import migrate
from kumpan.store.database import engine_for

NOW = datetime(2026, 7, 14, 12, tzinfo=UTC)
TESTS = 1040  # twice a week for ten years
MEASURES = {"fc": 3, "cc": 0.2, "ph": 7.5, "ta": 100, "ch": 250, "cya": 45, "salt": 800, "temp": 27}


def fill(engine: Engine, pools: int) -> None:
    """One account, pools, tests with eight readings, a dose every second test, a plan every fourth: all in
    SQL, as rows as the application would write.
    """
    with engine.begin() as c:
        c.execute(
            text(
                "INSERT INTO account (id, name, unit_system, currency, revision, created_at) VALUES (UUID(),"
                " 'Bench', 'us', 'USD', 1, NOW(6))"
            )
        )
        c.execute(
            text(
                "INSERT INTO pool (id, account_id, name, place, time_zone, volume_l, volume_input, surface,"
                " chlorine_source, installation, sanitizer, school, revision, created_at) SELECT UUID(),"
                " a.id, CONCAT('Pool ', LPAD(s.seq, 4, '0')), '', 'UTC', 60000, '{\"how\": \"typed\","
                " \"unit\": \"l\", \"amount\": \"60000\"}', 'plaster', 'liquid', 'in_ground', 'chlorine',"
                f" 'scaled_to_stabilizer', 1, '2016-01-01' FROM account a, seq_1_to_{pools} s"
            )
        )
        for kind, step in (("water_test", 1), ("dose", 2), ("plan", 4)):
            c.execute(
                text(
                    "INSERT INTO event (id, pool_id, at, kind, performed_by, revision, created_at) SELECT"
                    " UUID(), p.id, TIMESTAMPADD(HOUR, -84 * CAST(s.seq AS SIGNED), '2026-07-14 10:00:00'),"
                    f" '{kind}', 'you', 1, NOW(6) FROM pool p, seq_0_to_{TESTS - 1}_step_{step} s"
                )
            )
        for i, (measure, value) in enumerate(MEASURES.items()):
            c.execute(
                text(
                    "INSERT INTO reading (event_id, measure, position, value, text, unit, method) SELECT id,"
                    f" '{measure}', {i}, {value} * (0.97 + 0.06 * RAND()), '1', 'ppm', 'drops' FROM event"
                    " WHERE kind = 'water_test'"
                )
            )
        c.execute(
            text(
                "INSERT INTO dose (event_id, product_id, amount, text, unit)"
                " SELECT id, 'liquid-chlorine-12.5', 900, '900', 'ml' FROM event WHERE kind = 'dose'"
            )
        )
        c.execute(
            text(
                "INSERT INTO sheet (event_id, rule_version, headline, swim, form, inputs, state, ended_at)"
                " SELECT id, '2026-11-26.2', 'Low.', '', 3, '{\"products\": {}}', 'done',"
                " TIMESTAMPADD(DAY, 1, at) FROM event WHERE kind = 'plan'"
            )
        )
    with engine.begin() as c:
        c.execute(text("ANALYZE TABLE event, reading, dose, pool, sheet"))


@contextmanager
def site(engine: Engine) -> Iterator[httpx.Client]:
    with TestClient(create_app(engine, clock=lambda: NOW), base_url="http://127.0.0.1") as client:
        yield client


def paths(pool_id: str) -> dict[str, str]:
    def graph(days: int) -> str:
        start, end = (f"{at:%Y-%m-%dT%H:%M:%SZ}" for at in (NOW - timedelta(days=days), NOW))
        return f"{url}/graph?start={start}&end={end}"

    url = f"/api/v1/pools/{pool_id}"
    return {
        "Today": f"{url}/today",
        "Log": f"{url}/events",
        "graph, 3 months": graph(91),
        "graph, 10 years": graph(3650),
    }


def main() -> None:
    pools = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    folder = Path(tempfile.mkdtemp(prefix="kumpan-bench-"))
    db = PrivateMariaDB(folder / "db", FAST_AND_UNSAFE)
    db.start()
    try:
        with db.connect() as connection, connection.cursor() as cursor:
            cursor.execute("CREATE DATABASE kumpan_alone CHARACTER SET utf8mb4")
        many, alone = engine_for(db.url), engine_for(db.url.replace("/kumpan?", "/kumpan_alone?"))
        for engine, count in ((many, pools), (alone, 1)):
            migrate.upgrade(engine)
            began = time.perf_counter()
            fill(engine, count)
            print(
                f"{count} pools, {count * TESTS * len(MEASURES):,} readings in"
                f" {time.perf_counter() - began:.0f} s"
            )
        with site(many) as big, site(alone) as small:
            ids = [c.get("/api/v1/pools").json()[-1]["id"] for c in (big, small)]
            for name in paths(ids[0]):
                took: dict[str, list[float]] = {"many": [], "alone": []}
                for _ in range(25):  # in turn, so that a slow moment hits both
                    for label, client, pool_id in (("many", big, ids[0]), ("alone", small, ids[1])):
                        began = time.perf_counter()
                        assert client.get(paths(pool_id)[name]).status_code == 200
                        took[label].append(time.perf_counter() - began)
                m, a = (statistics.median(t) for t in took.values())
                print(
                    f"{name}: {1000 * m:.0f} ms with {pools} pools, {1000 * a:.0f} ms alone, ratio"
                    f" {m / a:.2f} (aim at most 1.1)"
                )
    finally:
        db.stop()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
