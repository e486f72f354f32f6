"""Warm start of Kumpan against the bare database server. Run after ./kumpan demo once (stopped again):
PYTHONPATH=src .venv/bin/python bench/start.py"""

import os
import signal
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from kumpan.ops.mariadb import PrivateMariaDB

PORT = 8431


def kumpan_start(home: str) -> float:
    env = {**os.environ, "KUMPAN_HOME": home, "KUMPAN_PORT": str(PORT)}
    began = time.perf_counter()
    running = subprocess.Popen([sys.executable, "-m", "kumpan", "start"], env=env, stdout=subprocess.DEVNULL)
    while True:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{PORT}/api/health", timeout=1).close()
            break
        except OSError:
            time.sleep(0.01)
    took = time.perf_counter() - began
    running.send_signal(signal.SIGINT)
    running.wait()
    return took


def bare_start(home: str) -> float:
    db = PrivateMariaDB(Path(home) / "real")
    began = time.perf_counter()
    db.start()
    took = time.perf_counter() - began
    db.stop()
    return took


def main() -> None:
    with tempfile.TemporaryDirectory() as home:
        kumpan_start(home)  # cold: makes the folder
        pairs = [(kumpan_start(home), bare_start(home)) for _ in range(5)]
    ours, bare = (statistics.median(p[i] for p in pairs) for i in (0, 1))
    ratio = statistics.median(a / b for a, b in pairs)
    print(
        f"warm start {ours:.2f} s, bare database {bare:.2f} s, ratio {ratio:.1f} (median of {len(pairs)}"
        " pairs)"
    )


if __name__ == "__main__":
    main()
