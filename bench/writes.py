"""Writing a test under load: 20 clients in a process of their own, against the demo served by several, beside
a route of the same that inserts one row, and beside bare inserts with a commit each. In turn, three times.

Run: PYTHONPATH=src .venv/bin/python bench/writes.py [workers, 2 unless told]"""

import json
import random
import statistics
import sys
import threading
import time
from collections.abc import Callable
from datetime import UTC, datetime

import httpx
import pymysql
from uuid6 import uuid7

from kumpan.settings import os_user
from served import elsewhere, served

CLIENTS, WRITES = 20, 15
READINGS = [
    {"measure": m, "text": t, "unit": "" if m == "ph" else "ppm", "method": "drops"}
    for m, t in (("fc", "3"), ("ph", "7.5"), ("ta", "90"))
]


def tests(base: str) -> Callable[[], None]:
    client = httpx.Client(base_url=base, timeout=60)
    pool = random.choice(client.get("/api/v1/pools").json())["id"]  # writers of one pool wait for each other

    def write() -> None:
        body = {"id": str(uuid7()), "at": datetime.now(UTC).isoformat(), "readings": READINGS}
        answer = client.post(f"/api/v1/pools/{pool}/tests", json=body)
        assert answer.status_code == 201 and answer.json()["readings"][0]["word"], answer.text

    return write


def one_insert(base: str) -> Callable[[], None]:
    client = httpx.Client(base_url=base, timeout=60)

    def write() -> None:
        assert client.post("/api/bare", json={"note": "of one test, about as long"}).status_code == 201

    return write


def bare(socket: str) -> Callable[[], None]:
    connection = pymysql.connect(unix_socket=socket, user=os_user(), database="kumpan")
    cursor = connection.cursor()

    def write() -> None:
        cursor.execute("INSERT INTO bare VALUES (UUID(), NOW(6), 'of one test, about as long', 7.5)")
        connection.commit()

    return write


KINDS: dict[str, Callable[[str], Callable[[], None]]] = {"test": tests, "route": one_insert, "bare": bare}


def clients(kind: str, where: str) -> None:
    """What the process of the clients does; prints what each write took."""
    took: list[float] = []
    start = threading.Barrier(CLIENTS)

    def client() -> None:
        write = KINDS[kind](where)
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
    print(json.dumps(took))


def p95_ms(took: list[float]) -> float:
    return 1000 * statistics.quantiles(took, n=20)[-1]


def main() -> None:
    workers = int(sys.argv[1]) if len(sys.argv) > 1 else 2
    with served(workers) as at:
        rounds: list[dict[str, tuple[float, float]]] = []
        for _ in range(4):
            found = {}
            for kind in KINDS:
                where = at.socket if kind == "bare" else at.url
                before = at.cpu_s()
                took = json.loads(elsewhere(__file__, "clients", kind, where))
                used = at.cpu_s()[0] - before[0]
                found[kind] = p95_ms(took), 1000 * used / len(took)
            rounds.append(found)
    del rounds[0]  # warm
    middle = {k: [statistics.median(r[k][i] for r in rounds) for i in (0, 1)] for k in KINDS}
    ratio, raw = (statistics.median(r["test"][0] / r[k][0] for r in rounds) for k in ("route", "bare"))
    test, route, insert = (middle[k] for k in KINDS)
    print(f"p95 of {CLIENTS} clients, {workers} processes: a test {test[0]:.0f} ms, a route with one insert")
    print(f"{route[0]:.0f} ms, a bare insert {insert[0]:.1f} ms; ratios {ratio:.1f} and {raw:.0f}")
    print(f"CPU of Kumpan a write: {test[1]:.1f} ms, of the route {route[1]:.1f} ms")


if __name__ == "__main__":
    clients(*sys.argv[2:4]) if sys.argv[1:2] == ["clients"] else main()
