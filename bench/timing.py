"""How the benches time a piece of work."""

import time
from collections.abc import Callable
from statistics import median


def median_ms(work: Callable[[], object], runs: int) -> float:
    """The middle of several runs, milliseconds."""
    times = []
    for _ in range(runs):
        began = time.perf_counter()
        work()
        times.append((time.perf_counter() - began) * 1000)
    return median(times)
