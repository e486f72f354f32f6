"""The packed lives of the sample pools: 26 months by the calendar, made by one command, loaded by any date.

``PYTHONPATH=src .venv/bin/python -m kumpan.demo.record`` writes them anew. Entries are in days of the life
and local minutes; the state of each pool is kept once a week, so that the last days can be lived again.
"""

import gzip
import json
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from kumpan.demo.lives import Entry, Life
from kumpan.demo.pools import POOLS, DemoPool

FILE = Path(__file__).with_name("lived.json.gz")
# 26 months: whatever the day of the year, the fourteen months that end on it in the last year lie inside.
FIRST, LAST = date(2023, 11, 1), date(2025, 12, 31)
KEPT_EVERY = 7


@dataclass(frozen=True)
class Recorded:
    """One pool's recorded life: what was written down, and its state at the beginning of the days kept."""

    entries: tuple[Entry, ...]
    states: dict[int, dict[str, Any]]


def date_of(day: int) -> date:
    """The date of a day of the life, by which weather and season go."""
    return FIRST + timedelta(days=day)


def day_of_life(today: date) -> int:
    """The day of the life that shows as today: the same day in its last year, the 29th of February as the
    28th.
    """
    leap = (today.month, today.day) == (2, 29)
    return (date(LAST.year, today.month, 28 if leap else today.day) - FIRST).days


def lived(pool: DemoPool) -> Recorded:
    """A pool's whole life, lived now."""
    life, entries, states = Life(pool), list[Entry](), {}
    for day in range((LAST - FIRST).days + 1):
        if day % KEPT_EVERY == 0:
            # Gone on from what is kept, so that the days after it can be lived again to the letter.
            states[day] = json.loads(json.dumps(life.state()))
            life = Life(pool, states[day])
        entries += life.day(day, date_of(day))
    return Recorded(tuple(entries), states)


def write(file: Path = FILE) -> None:
    """Live every pool's life and pack them; the same bytes each time."""
    document = {}
    for pool in POOLS:
        recorded = lived(pool)
        document[pool.name] = {
            "entries": [[e.day, e.minute, e.kind, e.data] for e in recorded.entries],
            "states": recorded.states,
        }
    text = json.dumps(document, separators=(",", ":"), ensure_ascii=False)
    with file.open("wb") as raw, gzip.GzipFile("", "wb", 9, raw, mtime=0) as packed:
        packed.write(text.encode())


def read(file: Path = FILE) -> dict[str, Recorded]:
    """The packed lives, by pool."""
    document = json.loads(gzip.decompress(file.read_bytes()))
    return {
        name: Recorded(
            tuple(Entry(*entry) for entry in one["entries"]),
            {int(day): state for day, state in one["states"].items()},
        )
        for name, one in document.items()
    }


if __name__ == "__main__":
    write()
