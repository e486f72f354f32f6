"""Writing a test under load: 20 clients against the running application, beside 20 bare inserts with a commit
each on the same database. Run against a running ./kumpan demo: PYTHONPATH=src .venv/bin/python
bench/writes.py [address]"""

import statistics
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import httpx
from uuid6 import uuid7

from kumpan.ops.mariadb import PrivateMariaDB

CLIENTS, WRITES = 20, 15
READINGS = [
    {"measure": m, "text": t, "unit": "" if m == "ph" else "ppm", "method": "drops"}
    for m, t in (("fc", "3"), ("ph", "7.5"), ("ta", "90"))
]


def under_load(make: Callable[[], Callable[[], None]]) -> list[float]:
    """Seconds each write took, of all clients together. make: one client, then one write each call."""
    took: list[float] = []
    start = threading.Barrier(CLIENTS)

    def client() -> None:
        write = make()
        start.wait()
        for _ in range(WRITES):
            began = time.perf_counter()
            write()
            took.append(time.perf_counter() - began)

    threads = [threading.Thread(target=client) for _ in range(CLIENTS)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    return took


def through_kumpan(url: str, pool_id: str) -> Callable[[], None]:
    client = httpx.Client(base_url=url, timeout=60)

    def write() -> None:
        body = {"id": str(uuid7()), "at": datetime.now(UTC).isoformat(), "readings": READINGS}
        assert client.post(f"/api/v1/pools/{pool_id}/tests", json=body).status_code == 201

    return write


def bare(db: PrivateMariaDB) -> Callable[[], None]:
    connection = db.connect("kumpan")
    cursor = connection.cursor()

    def write() -> None:
        cursor.execute(
            "INSERT INTO bare VALUES (UUID(), NOW(6), 'three readings of one test, about as long as they"
            " are', 7.5)"
        )
        connection.commit()

    return write


def p95(took: list[float]) -> float:
    return 1000 * statistics.quantiles(took, n=20)[-1]


def main() -> None:
    url = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420"
    pool_id = httpx.get(f"{url}/api/v1/pools").json()[0]["id"]
    with tempfile.TemporaryDirectory(prefix="kumpan-bench-") as folder:
        db = PrivateMariaDB(Path(folder) / "db")  # durable, as in earnest: flushed at each commit
        db.start()
        try:
            with db.connect("kumpan") as connection, connection.cursor() as cursor:
                cursor.execute(
                    "CREATE TABLE bare (id UUID PRIMARY KEY, at DATETIME(6), note TEXT, value DOUBLE)"
                )
            ours, theirs = under_load(lambda: through_kumpan(url, pool_id)), under_load(lambda: bare(db))
        finally:
            db.stop()
    print(
        f"p95 of {CLIENTS} clients: {p95(ours):.0f} ms through Kumpan, {p95(theirs):.0f} ms a bare insert,"
        f" ratio {p95(ours) / p95(theirs):.1f}"
    )


if __name__ == "__main__":
    main()
