"""20 clients in a process of their own on the demo, served by several: a mixed load as on a busy morning,
half looks (Today, Care, a plan while typing), a fifth log pages, the rest writes. Requests a second, and p95.

Run: PYTHONPATH=src .venv/bin/python bench/load.py [workers, 2 unless told]"""

import json
import random
import statistics
import sys
import threading
import time
from datetime import UTC, datetime

import httpx
from uuid6 import uuid7

CLIENTS, SECONDS = 20, 15.0
MIX = {"Today": 5, "key press": 5, "Care": 1, "Log": 4, "test": 3, "dose": 2}


def ask(client: httpx.Client, what: str, pool: str, dice: random.Random) -> int:
    url, now = f"/api/v1/pools/{pool}", datetime.now(UTC).isoformat()
    read = [
        {"measure": m, "text": t, "unit": "" if m == "ph" else "ppm", "method": "drops"}
        for m, t in (("fc", f"{dice.uniform(0, 5):.1f}"), ("ph", f"{dice.uniform(7, 8):.1f}"), ("ta", "90"))
    ]
    if what == "test":
        body = {"id": str(uuid7()), "at": now, "readings": read}
        return client.post(f"{url}/tests", json=body).status_code
    if what == "dose":
        body = {"id": str(uuid7()), "at": now, "product_id": "muriatic-31.45", "amount": "5", "unit": "fl_oz"}
        return client.post(f"{url}/doses", json=body).status_code
    if what == "key press":
        return client.post(f"{url}/plan-previews", json={"readings": read}).status_code
    return client.get(f"{url}/{ {'Today': 'today', 'Care': 'care', 'Log': 'events'}[what] }").status_code


def clients(base: str) -> None:
    """What the process of the clients does; prints what each request took."""
    pools = [p["id"] for p in httpx.get(f"{base}/api/v1/pools", timeout=60).json()]
    took: list[tuple[str, float]] = []
    end = time.perf_counter() + SECONDS

    def one(seed: int) -> None:
        dice, client = random.Random(seed), httpx.Client(base_url=base, timeout=60)
        while time.perf_counter() < end:
            what = dice.choices(list(MIX), list(MIX.values()))[0]
            began = time.perf_counter()
            status = ask(client, what, dice.choice(pools), dice)
            assert status < 300, (what, status)
            took.append((what, time.perf_counter() - began))

    threads = [threading.Thread(target=one, args=(i,)) for i in range(CLIENTS)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    print(json.dumps(took))


def p95_ms(times: list[float]) -> float:
    return 1000 * statistics.quantiles(times, n=20)[-1]


def main() -> None:
    from served import elsewhere, served

    workers = int(sys.argv[1]) if len(sys.argv) > 1 else 2
    with served(workers) as at:
        elsewhere(__file__, "clients", at.url)  # warm: what is kept of each pool is made
        ours, theirs = at.cpu_s()
        took = json.loads(elsewhere(__file__, "clients", at.url))
        used = [after - before for after, before in zip(at.cpu_s(), (ours, theirs), strict=True)]
    times = [seconds for _, seconds in took]
    print(
        f"{CLIENTS} clients, {workers} processes: {len(took) / SECONDS:.0f} requests a second, p95"
        f" {p95_ms(times):.0f} ms; CPU a request: Kumpan {1000 * used[0] / len(took):.1f} ms and"
        f" {1000 * used[1] / len(took):.1f} ms of the database"
    )
    for what in MIX:
        mine = [seconds for name, seconds in took if name == what]
        middle = 1000 * statistics.median(mine)
        print(f"  {what}: median {middle:.0f} ms, p95 {p95_ms(mine):.0f} ms ({len(mine)})")


if __name__ == "__main__":
    clients(sys.argv[2]) if sys.argv[1:2] == ["clients"] else main()
