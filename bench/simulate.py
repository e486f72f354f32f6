"""How long a year of one simulated pool takes, and its ratio to one pH solve. Aim: under two seconds.

Run: PYTHONPATH=src .venv/bin/python bench/simulate.py"""

import statistics
import time
from datetime import UTC, datetime, timedelta

from kumpan.core.chemistry.solution import equilibrate
from kumpan.core.simulation.climate import Place, day_of, hour_of
from kumpan.core.simulation.pool import Setup, SimPool
from kumpan.core.simulation.priors import Nature
from kumpan.core.water.state import WaterState, totals_of

WATER = WaterState(3.0, 0.2, 7.5, 90, 250, 40, 3200, 20.0)
SETUPS = {
    "by hand": Setup(60_000, 45.0, 1.33),
    "cell": Setup(60_000, 45.0, 1.33, cell_g_day=600.0),
    "tablets": Setup(60_000, 45.0, 1.33),
}


def year(name: str, place: Place) -> float:
    """Seconds that a year takes, somebody pouring and the weather made on the way."""
    day_of.cache_clear()
    pool = SimPool(SETUPS[name], Nature(), WATER)
    pool.settings.cell_percent = 40.0 if name == "cell" else 0.0
    start, began = datetime(2026, 1, 1, tzinfo=UTC), time.perf_counter()
    for h in range(24 * 365):
        if h % 72 == 0:
            pool.pour("muriatic-31.45", 150)
            if name == "by hand":
                pool.pour("liquid-chlorine-12.5", 1500)
            if name == "tablets" and h % 168 == 0:
                pool.pour("trichlor-90", 680)
        at = start + timedelta(hours=h)
        pool.step(hour_of(place, at), at)
    return time.perf_counter() - began


def main() -> None:
    totals = totals_of(WATER)
    solves = []
    for _ in range(300):
        began = time.perf_counter()
        equilibrate(totals)
        solves.append(time.perf_counter() - began)
    solve = statistics.median(solves)
    for name in SETUPS:
        seconds = min(year(name, Place(41.5, -93.6, "continental", seed)) for seed in range(3))
        print(f"{name:10} {seconds:5.2f} s a year, {seconds / solve / 8760:5.2f} pH solves an hour")


if __name__ == "__main__":
    main()
