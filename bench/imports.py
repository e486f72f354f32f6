"""An import of 100,000 rows of eight readings: how long it takes, and how long others wait meanwhile against
when nothing else goes on. Run against a running ./kumpan demo: PYTHONPATH=src .venv/bin/python
bench/imports.py [address]. Leaves a pool “Bench import” behind, put away.
"""

import statistics
import sys
import threading
import time
from datetime import UTC, datetime, timedelta

import httpx
from uuid6 import uuid7

ROWS = 100_000
TEST = [
    {"measure": m, "text": t, "unit": "" if m == "ph" else "ppm", "method": "drops"}
    for m, t in (("fc", "3"), ("ph", "7.5"), ("ta", "90"))
]


def table() -> bytes:
    now = datetime.now(UTC)
    lines = ["when,fc,cc,ph,ta,ch,cya,salt,temp_c"]
    for i in range(ROWS):
        at = now - timedelta(minutes=50 * (i + 1))
        values = (
            2 + i % 30 / 10,
            i % 4 / 10,
            f"{7.2 + i % 6 / 10:.1f}",
            70 + i % 40,
            250 + i % 60,
            40 + i % 20,
            3000 + i % 300,
            20 + i % 10,
        )
        lines.append(f"{at:%Y-%m-%dT%H:%M:%SZ}," + ",".join(map(str, values)))
    return "\n".join(lines).encode()


class Others:
    """Two people beside it: one opens Today of a pool, one writes tests into another; how long each answer
    took.
    """

    def __init__(self, url: str, pools: list[dict]) -> None:
        self.took: dict[str, list[float]] = {"Today": [], "writing a test": []}
        self.stop = threading.Event()
        self.threads = [
            threading.Thread(target=self._go, args=(url, pool["id"], what))
            for what, pool in zip(self.took, pools, strict=True)
        ]
        for thread in self.threads:
            thread.start()

    def _go(self, url: str, pool_id: str, what: str) -> None:
        with httpx.Client(base_url=url, timeout=60) as client:
            while not self.stop.wait(0.15):
                began = time.perf_counter()
                if what == "Today":
                    answer = client.get(f"/api/v1/pools/{pool_id}/today")
                else:
                    test = {"id": str(uuid7()), "at": datetime.now(UTC).isoformat(), "readings": TEST}
                    answer = client.post(f"/api/v1/pools/{pool_id}/tests", json=test)
                assert answer.is_success, answer.text
                self.took[what].append(time.perf_counter() - began)

    def done(self) -> dict[str, tuple[float, float]]:
        """Median and 95th percentile, ms."""
        self.stop.set()
        for thread in self.threads:
            thread.join()
        return {
            what: (1000 * statistics.median(t), 1000 * statistics.quantiles(t, n=20)[-1])
            for what, t in self.took.items()
        }


def main() -> None:
    url = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420"
    client = httpx.Client(base_url=url, timeout=60)
    others = client.get("/api/v1/pools").json()[:2]
    fields = ("place", "time_zone", "volume", "surface", "chlorine_source", "installation", "sanitizer")
    pool = {"id": str(uuid7()), "name": "Bench import", **{n: others[0][n] for n in fields}}
    assert client.post("/api/v1/pools", json=pool).status_code == 201
    quiet = Others(url, others)
    time.sleep(20)
    alone = quiet.done()
    data, file_id, job_id = table(), str(uuid7()), str(uuid7())
    piece = client.post("/api/v1/files", json={"id": file_id, "name": "bench.csv", "size": len(data)}).json()[
        "piece"
    ]
    for place in range(0, -(-len(data) // piece)):
        headers = {"Content-Type": "application/octet-stream"}
        client.put(
            f"/api/v1/files/{file_id}/pieces/{place}",
            content=data[place * piece : (place + 1) * piece],
            headers=headers,
        )

    def until(state: str) -> tuple[dict, float]:
        began, told = time.perf_counter(), 0
        while (job := client.get(f"/api/v1/imports/{job_id}").json()["job"])["state"] != state:
            assert job["state"] in ("waiting", "running"), job
            told += 0 < job["done"] < job["total"]
            time.sleep(0.5)
        assert told > 3  # progress was to be seen
        return job, time.perf_counter() - began

    busy = Others(url, others)
    assert (
        client.post(
            "/api/v1/imports", json={"id": job_id, "file_id": file_id, "pool_id": pool["id"]}
        ).status_code
        == 201
    )
    job, looked = until("to_confirm")
    client.post(f"/api/v1/imports/{job_id}/confirm", json={"revision": job["revision"]})
    job, wrote = until("done")
    beside = busy.done()
    print(job["message"])
    print(f"looked through in {looked:.0f} s, written in {wrote:.0f} s ({ROWS / wrote:,.0f} rows a second)")
    for what, times in beside.items():
        told = (
            f"{name} {a:.0f} -> {b:.0f} ms (ratio {b / a:.1f})"
            for name, a, b in zip(("median", "p95"), alone[what], times, strict=True)
        )
        print(f"{what}: {', '.join(told)}")
    client.post(f"/api/v1/pools/{pool['id']}/archive")


if __name__ == "__main__":
    main()
