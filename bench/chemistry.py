"""The chemistry beside PHREEQC, one water and thousands, and the calculator's throughput.

One run, medians, ratios pair by pair. Needs the test set-up (./kumpan test made it). Run: .venv/bin/python
bench/chemistry.py
"""

import io
import json
import random
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

HERE = Path(__file__).resolve().parent.parent
sys.path[:0] = [str(HERE / "src"), str(HERE / "tests")]

import numpy  # noqa: E402

from kumpan.calc.run import run  # noqa: E402
from kumpan.core.chemistry.solution import Totals, equilibrate  # noqa: E402
from kumpan.core.products.catalogue import PRODUCTS  # noqa: E402
from kumpan.core.water.state import WaterState, amount_to_ph, apply, totals_of  # noqa: E402
from phreeqc import Phreeqc  # noqa: E402

POOL = WaterState(3.0, 0.2, 7.9, 95.0, 280.0, 45.0, 900.0, 27.0)


def seconds(work: Callable[[], object], runs: int = 1) -> float:
    began = time.perf_counter()
    for _ in range(runs):
        work()
    return (time.perf_counter() - began) / runs


def paired(
    name: str,
    ours: Callable[[], object],
    theirs: Callable[[], object],
    ours_runs: int,
    theirs_runs: int,
    aim: str,
) -> None:
    """Ours and the other in turn, seven times; the median of each and of the pairwise ratio."""
    ours(), theirs()
    pairs = [(seconds(ours, ours_runs), seconds(theirs, theirs_runs)) for _ in range(7)]
    a, b = (statistics.median(p[i] for p in pairs) for i in (0, 1))
    ratio = statistics.median(q / p for p, q in pairs)
    print(f"{name}: {a * 1e6:,.0f} against {b * 1e6:,.0f} microseconds, {ratio:.1f} times as fast ({aim})")


def main() -> None:
    phreeqc, counter = Phreeqc(), iter(range(10**9))
    acid = PRODUCTS["muriatic-31.45"].change_per_unit(60_000.0) * 600.0

    def fresh() -> WaterState:  # no answer from the cache: a water never seen
        return replace(POOL, ta_ppm=95.0 + next(counter) * 1e-6)

    def reference() -> object:
        start = phreeqc.water(7.9, 95, 280, 45, 900, 0, 3, 27)
        return phreeqc.react(start.number, {"HCl": -acid.alk})

    paired("forward dose, water to water", lambda: apply(fresh(), acid), reference, 200, 20, "aim: 5")
    start = phreeqc.water(7.9, 95, 280, 45, 900, 0, 3, 27).number
    per = PRODUCTS["muriatic-31.45"].change_per_unit(60_000.0)
    paired(
        "acid dose to pH 7.5",
        lambda: amount_to_ph(fresh(), per, 7.5),
        lambda: phreeqc.amount_to(start, "HCl", 7.5, 1e-4),
        200,
        5,
        "no aim set",
    )

    rng = random.Random(1)
    count = 2000
    each = [
        totals_of(
            WaterState(
                rng.uniform(0, 20),
                0.0,
                rng.uniform(6.8, 8.2),
                rng.uniform(60, 200),
                rng.uniform(0, 800),
                rng.uniform(0, 80),
                rng.uniform(300, 6000),
                rng.uniform(5, 38),
            )
        )
        for _ in range(count)
    ]
    batch = Totals(*(numpy.array([getattr(t, f) for t in each]) for f in Totals._fields))
    tests = [(rng.uniform(6.8, 8.2), rng.uniform(60, 200)) for _ in range(50)]

    def theirs() -> None:
        for ph, ta in tests:
            phreeqc.water(ph, ta, 280, 45, 900, 0, 3, 27)

    equilibrate(batch)
    pairs = [
        (
            seconds(lambda: equilibrate(batch)) / count,
            seconds(theirs) / len(tests),
            seconds(lambda: equilibrate(each[0]), 200),
        )
        for _ in range(7)
    ]
    ours, them, one = (statistics.median(p[i] for p in pairs) for i in (0, 1, 2))
    ratio = statistics.median(p[1] / p[0] for p in pairs)
    print(
        f"batch of {count:,}, per water: {ours * 1e6:.1f} microseconds; PHREEQC one at a time"
        f" {them * 1e6:,.0f}, {ratio:.0f} times as fast (aim: 50); ours one at a time {one * 1e6:.0f},"
        f" {one / ours:.0f} times"
    )

    water = {
        "ph": 7.9,
        "ta_ppm": 95,
        "ch_ppm": 280,
        "cya_ppm": 45,
        "fc_ppm": 3,
        "salt_ppm": 900,
        "temp_f": 81,
    }

    acid_oz = [{"product": "muriatic-31.45", "amount": 20, "unit": "fl_oz"}]
    to_ph = {"volume_gal": 15_000, "product": "muriatic-31.45", "measure": "ph", "to": 7.5}
    drained = {"volume_gal": 15_000, "fill": {"ph": 7.8, "ta_ppm": 120}, "method": "drain", "fraction": 0.3}

    def varied(i: int) -> dict[str, float]:
        return water | {"ta_ppm": 80 + i * 0.03}

    lists = {
        "speciation": [{"ph": 7 + i / 1000, "fc_ppm": 3, "cya_ppm": 50} for i in range(1000)],
        "saturation": [varied(i) for i in range(1000)],
        "effect": [{"volume_gal": 15_000, "water": varied(i), "additions": acid_oz} for i in range(1000)],
        "dose": [to_ph | {"water": varied(i)} for i in range(1000)],
        "dilute": [drained | {"water": varied(i)} for i in range(1000)],
        "aerate": [{"water": varied(i)} for i in range(1000)],
    }
    for name, documents in lists.items():
        text = json.dumps(documents)
        inside = statistics.median(
            seconds(lambda n=name, t=text: run(n, io.StringIO(t), io.StringIO())) for _ in range(3)
        )
        whole = seconds(
            lambda n=name, t=text: subprocess.run(
                [HERE / "kumpan", "calc", n], input=t.encode(), capture_output=True, check=True
            )
        )
        print(f"calc {name}: 1,000 documents in {inside:.2f} s, {whole:.2f} s with its start (aim: about 1)")


if __name__ == "__main__":
    main()
