"""Times of the plan computation alone, with uncertainty, and its ratio to one pH solve. Aim: under 20 ms
median.

Run: PYTHONPATH=src .venv/bin/python bench/plan.py"""

import random
from collections.abc import Iterator
from datetime import UTC, datetime

from kumpan.core.chemistry.solution import equilibrate
from kumpan.core.dosing.planner import make_plan
from kumpan.core.dosing.request import PlanRequest
from kumpan.core.dosing.view import show_plan
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.water.methods import METHODS
from kumpan.core.water.state import WaterState, solution_of, totals_of
from timing import median_ms


def main() -> None:
    now = datetime(2026, 7, 14, 17, 40, tzinfo=UTC)
    pool = PoolTraits(60_000, "plaster", "chlorinator", "in_ground")
    waters = {
        "fine": WaterState(8, 0.2, 7.5, 80, 280, 70, 3200, 27),
        "acid and chlorine": WaterState(1, 0.4, 7.9, 95, 280, 65, 3000, 27),
        "low everything": WaterState(0, 0, 7.0, 40, 100, 0, 300, 27),
    }
    totals = totals_of(waters["acid and chlorine"])
    drops = METHODS["drops"]
    kit = {m: w.u95 for m, w in drops.reads.items()}
    solve = median_ms(lambda: equilibrate(totals), 200)
    print(f"{'one pH solve':24} {solve:8.3f} ms")
    for name, water in waters.items():
        request = PlanRequest(pool, water, now, u95=kit, methods=dict.fromkeys(kit, "drops"))

        def plan(request: PlanRequest = request) -> object:
            solution_of.cache_clear()  # each key press brings a water never seen
            return show_plan(make_plan(request), request)

        ms = median_ms(plan, 50)
        print(f"{'plan: ' + name:24} {ms:8.3f} ms   {ms / solve:6.0f} pH solves")
    times = sorted(_random_plans(pool, now))
    print(f"300 random waters: median {times[150]:.1f} ms, worst {times[-1]:.1f} ms")


def _random_plans(pool: PoolTraits, now: datetime) -> Iterator[float]:
    """What each takes, the least of three: the machine's own pauses are not the plan's."""
    dice, drops = random.Random(20), METHODS["drops"]
    kit = {m: w.u95 for m, w in drops.reads.items()}
    for _ in range(300):
        water = WaterState(
            dice.uniform(0, 15),
            dice.uniform(0, 2),
            dice.uniform(6.8, 8.6),
            dice.uniform(30, 250),
            dice.uniform(50, 800),
            dice.uniform(0, 150),
            dice.uniform(300, 6000),
            dice.uniform(8, 36),
        )
        request = PlanRequest(pool, water, now, u95=kit, methods=dict.fromkeys(kit, "drops"))
        took = []
        for _ in range(3):
            solution_of.cache_clear()
            took.append(median_ms(lambda r=request: show_plan(make_plan(r), r), 1))
        yield min(took)


if __name__ == "__main__":
    main()
