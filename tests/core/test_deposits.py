"""When a cell's plates want a look: learned in simulated years, against the fixed schools."""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kumpan.core.care.adaptive import by_deposit
from kumpan.core.care.deposits import LEAST_DAYS, MOST_DAYS, CellLog, Look, index_log, next_look
from kumpan.core.care.facts import Facts
from kumpan.core.care.schedule import Task
from kumpan.core.simulation.climate import hour_of, place_at
from kumpan.core.simulation.pool import Setup, SimPool
from kumpan.core.simulation.priors import Nature
from kumpan.core.water.state import WaterState

T0, DAYS = datetime(2024, 1, 1), 420
# What an eye sees of scale on a plate, and from where on it takes acid, mm (our own, of this simulation alone).
FILM_MM, HEAVY_MM = 0.06, 0.24


def water(ph: float, ta: float, ch: float, salt: float = 3100, temp: float = 18.0) -> WaterState:
    return WaterState(3.0, 0.0, ph, ta, ch, 40, salt, temp, sulfate_ppm=0.0)


# A water, its fill, and the pH from which somebody pours acid.
WATERS = {
    "soft": (water(7.5, 70, 120), WaterState(0, 0, 7.4, 50, 40, 0, 60, 15.0), 7.7),
    "hard": (water(7.6, 85, 330), WaterState(0, 0, 7.8, 110, 160, 0, 60, 15.0), 7.8),
    "badly kept": (water(7.9, 140, 520), WaterState(0, 0, 7.9, 150, 260, 0, 60, 15.0), 8.2),
}


@dataclass(frozen=True)
class Lived:
    """A pool's year and a half: scale grown each day, mm, and the index at each test."""

    grown: tuple[float, ...]
    index: tuple[tuple[datetime, float, float], ...]


@cache
def lived(name: str) -> Lived:
    begun, fill, acid_over = WATERS[name]
    setup = Setup(60_000, 46.0, 1.3, cell_g_day=600.0, self_cleaning=False, fill=fill, pump_hours=(8, 18))
    sim, place = SimPool(setup, Nature(), begun), place_at(34.0, -117.4)
    sim.settings.cell_percent, sim.settings.pump_hours = 60, (8, 18)
    grown, index = [], []
    for day in range(DAYS):
        before = sim.scale_mm
        for h in range(24):
            at = T0 + timedelta(days=day, hours=h)
            sim.step(hour_of(place, at.replace(tzinfo=UTC) + timedelta(hours=8)), at)
        grown.append(sim.scale_mm - before)
        if day % 4 == 0:
            w, at = sim.water, T0 + timedelta(days=day)
            values = {
                "ph": w.ph,
                "ta": w.ta_ppm,
                "ch": w.ch_ppm,
                "cya": w.cya_ppm,
                "salt": w.salt_ppm,
                "temp": w.temp_c,
            }
            index += index_log([(at, m, float(v or 0.0)) for m, v in values.items()])[0]
            for measure, over, product, amount in (
                ("ph", acid_over, "muriatic-31.45", 400.0), ("salt", -2800, "salt", 20_000.0), ("ta", -60, "baking-soda", 2000.0),
            ):  # fmt: skip
                value = float(values[measure] or 0.0)
                if value > over if over > 0 else value < -over:
                    sim.pour(product, amount)
    return Lived(tuple(grown), tuple(index))


@dataclass
class Kept:
    """How a cell fared: looks, cleanings by hand, baths, the mean scale, the intervals and the last reason."""

    looks: int = 0
    by_hand: int = 0
    baths: int = 0
    scale_mm: float = 0.0
    most_mm: float = 0.0
    intervals: tuple[tuple[int, int], ...] = ()
    why: str = ""


Due = Callable[[CellLog, int, int], int]


def keep(name: str, due: Due) -> Kept:
    """Live it with a school of looking: what is found is taken off, heavy deposits in the bath."""
    told, kept, log, scale, last = lived(name), Kept(), CellLog(), 0.0, 0
    for day, grown in enumerate(told.grown):
        scale += grown
        kept.scale_mm += scale / DAYS
        kept.most_mm = max(kept.most_mm, scale)
        at = T0 + timedelta(days=day)
        log = replace(log, index=tuple(i for i in told.index if i[0] <= at))
        days = due(log, day, last)
        if day - last < days:
            continue
        grade = "fine" if scale < FILM_MM else "light" if scale < HEAVY_MM else "heavy"
        kept.looks += 1
        kept.by_hand += grade == "light"
        kept.baths += grade == "heavy"
        kept.intervals += ((day, days),)
        log = replace(log, looks=(*log.looks, Look(at, grade)))
        if grade != "fine":
            scale, log = 0.0, replace(log, cleaned=(*log.cleaned, at))
        last = day
    kept.why = next_look(log, T0 + timedelta(days=DAYS)).why
    return kept


def learning(log: CellLog, day: int, last: int) -> int:
    return next_look(log, T0 + timedelta(days=day)).days


# Two weeks where it does not clean itself, four weeks, three months: the fixed schools (common practice).
SCHOOLS: dict[str, Due] = {f"every {n} days": lambda log, day, last, n=n: n for n in (14, 28, 91)}  # type: ignore[misc]


@cache
def outcome(name: str, school: str) -> Kept:
    return keep(name, learning if school == "learning" else SCHOOLS[school])


def test_the_interval_finds_each_water_and_no_school_beats_it() -> None:
    """Cleanings are acid baths: they cost coating life; a film comes off with a hose and a stick. Looks, which
    cost minutes, are printed beside them.
    """
    sums = {school: [0, 0, 0.0] for school in ("learning", *SCHOOLS)}
    for name in WATERS:
        for school, held in sums.items():
            k = outcome(name, school)
            print(
                f"{name:>10}, {school:>13}: {k.looks} looks, {k.by_hand} by hand, {k.baths} baths, mean {k.scale_mm:.3f} mm"
            )
            held[0] += k.looks
            held[1] += k.baths
            held[2] += k.scale_mm
        mine = outcome(name, "learning")
        for school in SCHOOLS:
            theirs = outcome(name, school)
            assert not (theirs.baths < mine.baths and theirs.scale_mm < mine.scale_mm), (name, school)
    print(sums)
    _, my_baths, my_scale = sums["learning"]
    for school in SCHOOLS:
        _, baths, scale = sums[school]
        assert my_baths <= baths and my_scale <= scale and (my_baths, my_scale) != (baths, scale), school
    assert sums["learning"][0] < sums["every 14 days"][0]  # and looks less often than the one that comes near


@pytest.mark.parametrize("name", WATERS)
def test_it_converges_and_its_reason_is_the_true_one(name: str) -> None:
    mine, told = outcome(name, "learning"), lived(name)
    late = [(day, days) for day, days in mine.intervals if day > DAYS / 3]
    if name == "soft":
        assert min(days for _, days in late) >= 60 and mine.most_mm < FILM_MM
    else:  # what grows in an interval is about a film, never heavy
        grown = [sum(told.grown[max(0, day - days) : day]) / FILM_MM for day, days in late]
        assert max(grown) < HEAVY_MM / FILM_MM and 0.2 < sum(grown) / len(grown) < 1.6
    lately = [v for at, v, _ in told.index if at > T0 + timedelta(days=DAYS - 60)]
    said = re.search(r"averaged ([+-][\d.]+)", mine.why)
    assert said and float(said.group(1)) == pytest.approx(sum(lately) / len(lately), abs=0.06)
    found = {"soft": "found bare metal"}.get(name, "found")
    assert found in mine.why, mine.why


# --- The rule by itself.


def days_after(*grades: str, every: int = 30, index: float = 0.2, self_cleaning: bool = False) -> int:
    looks = tuple(Look(T0 + timedelta(days=every * (i + 1)), g) for i, g in enumerate(grades))
    now = looks[-1].at if looks else T0
    tests = tuple((T0 + timedelta(days=d), index, 1.0) for d in range(0, every * (len(grades) + 1), 5))
    return next_look(CellLog((Look(T0, "light"), *looks), (), tests, None, None, self_cleaning), now).days


def test_findings_and_index_move_it_the_way_they_should() -> None:
    bare, film, heavy = (days_after(*([g] * 3)) for g in ("fine", "light", "heavy"))
    assert bare > film > heavy
    assert days_after("light", index=0.5) < days_after("light", index=0.0)
    assert days_after(self_cleaning=True) > days_after()
    assert days_after("fine", index=-0.5) >= 60  # nothing grows: seldom, but not never
    assert next_look(CellLog(), T0).why == "the index is not known yet and nobody has looked yet"
    high = next_look(CellLog(index=((T0, 0.6, 1.0),), ph=8.1, ch_ppm=480, self_cleaning=True), T0).why
    assert high == "the index averaged +0.6 (pH 8.1, calcium 480), nobody has looked yet and it cleans itself"


@given(
    st.lists(st.sampled_from(["fine", "light", "heavy", "deposits", "worn", "odd"]), max_size=12),
    st.integers(1, 200), st.floats(-2, 3), st.booleans(),
)  # fmt: skip
def test_whatever_was_found_the_interval_stays_in_its_limits(
    grades: list[str], every: int, index: float, self_cleaning: bool
) -> None:
    days = days_after(*grades, every=every, index=index, self_cleaning=self_cleaning)
    assert LEAST_DAYS <= days <= MOST_DAYS


def test_a_due_day_and_a_cadence_that_is_not_called_out_between() -> None:
    task = Task("t", "cell", "adaptive", T0.date(), params={"least": 0})
    cell = CellLog((Look(T0 + timedelta(days=20), "heavy"),))
    due = by_deposit(task, T0 + timedelta(days=20), Facts(cell=cell))
    assert due.on is not None and 7 <= (due.on - T0.date()).days - 20 < 40 and "found scale" in due.why
    quarterly = by_deposit(replace(task, params={"least": 91}), None, Facts(cell=cell))
    assert quarterly.on == (T0 + timedelta(days=111)).date() and quarterly.why.startswith("Every 3 months")


def test_the_index_of_a_log_carries_slow_measures_and_leaves_out_what_cannot_be() -> None:
    at = [T0 + timedelta(days=d) for d in range(4)]
    read = [
        (at[0], "ph", 7.5),
        (at[1], "ta", 90.0),
        (at[1], "ch", 300.0),
        (at[2], "ph", 7.5),
        (at[3], "ph", 8.0),
    ]
    index, ph, ch = index_log(read)
    assert [when for when, _, _ in index] == at[2:]  # before alkalinity and calcium were read there is none
    assert index[1][1] - index[0][1] == pytest.approx(0.48, abs=0.05)  # half a unit of pH
    assert ph == pytest.approx(7.667, abs=0.001) and ch == 300
    assert index_log([])[0] == ()
