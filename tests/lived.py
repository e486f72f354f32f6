"""Simulated pools and the people who look after them, for all that is judged on what is true: seeds come from the
rules' own versions, so that tuning on one set of pools is of no use.
"""

import copy
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from functools import cache
from random import Random

from kumpan.core.chemistry import constants as k
from kumpan.core.log.entry import Details, Dose, LogEntry
from kumpan.core.log.history import observations
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.simulation.climate import Place, hour_of
from kumpan.core.simulation.observer import Kit, read_all
from kumpan.core.simulation.pool import Setup, SimPool
from kumpan.core.simulation.priors import draw_nature
from kumpan.core.water.estimate.present import Observation
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import WaterState
from kumpan.core.weather import WeatherDay, observed_weather
from kumpan.standins.weather import days

JUNE = datetime(2026, 6, 1, 14, tzinfo=UTC)
DAYS, POOLS = 42, 17  # of each source with each trouble: 204 in all
MEASURES = ("fc", "ph", "ta", "ch", "cya", "salt")
SOURCES, TROUBLES = ("liquid", "tablets", "chlorinator"), ("plain", "bathers", "bias", "gaps")
LEFT_ALONE = (
    21,
    33,
)  # days on which a copy of a pool is left alone, to see what comes; of half of them the last
PLACES = 16
AHEAD_DAYS = (3, 7)
LONGITUDE = -93.0
SEEN_MG_L = 1.5  # algae that a person sees: from then on a clear-up is under way, and no forecast holds


@dataclass
class Left:
    """A pool left alone from an instant on: how far its log had come, and its water 3 and 7 days later."""

    at: datetime
    entries: int
    later: dict[int, WaterState] = field(default_factory=dict)


class Person:
    """One person looking after one simulated pool: tests every third day, acts by thumb, writes most down."""

    def __init__(self, source: str, trouble: str, seed: str) -> None:
        self.rng = rng = Random(f"{source}{trouble}{seed}")
        self.source, self.trouble = source, trouble
        litres = rng.uniform(35_000, 110_000)
        cell = 9.0 * litres / 1000 if source == "chlorinator" else None
        made = None if cell is None else cell * rng.gauss(1, 0.1)  # no cell makes what its plate says
        self.tablet = rng.uniform(7 / 8, 1)  # a tablet weighs seven to eight ounces
        sun = rng.uniform(0.5, 1.0)
        self.setup = Setup(litres, litres / 1350, 1.35, sun=sun, cell_g_day=made)
        water = WaterState(
            rng.uniform(3, 6), 0.1, rng.uniform(7.3, 7.7), rng.uniform(70, 120), rng.uniform(180, 350),
            rng.uniform(30, 70), 3200 if source == "chlorinator" else rng.uniform(500, 1500), 24.0,
        )  # fmt: skip
        self.pool = SimPool(self.setup, draw_nature(rng), water)
        # A few places, so that a day's weather is worked out once for several pools.
        where = rng.randrange(PLACES)
        climate = ("continental", "dry_summer")[where % 2]
        self.place = Place(33.0 + 11.0 * where / PLACES, LONGITUDE, climate, where)
        self.left_alone = LEFT_ALONE if rng.random() < 0.5 else LEFT_ALONE[1:]
        method = rng.choice(["drops", "drops_25", "photometer"])
        biases = {m: rng.gauss(0, 0.5) for m in MEASURES} if trouble == "bias" else {}
        self.kit, self.log = Kit(method, biases), list[LogEntry]()
        self.traits = PoolTraits(
            litres, "plaster", source, "in_ground", sun="full" if sun > 0.8 else "part", fill=self.setup.fill,
            cell_g_day=cell, cell_hours=8.0, sun_ahead_h=LONGITUDE / 15,
        )  # fmt: skip
        if source == "chlorinator":
            percent = float(round(rng.uniform(50, 95)))
            self.pool.settings.cell_percent = percent
            self.write(JUNE - timedelta(minutes=1), "cell", Details({"setting": percent, "hours": 8.0}))
        self.tablets = 5.0  # a week in 75,000 L
        self.truth: list[tuple[datetime, WaterState]] = []
        self.spent_ppm: list[float] = []  # by the end of each day, since the beginning
        self.level_ppm: list[float] = []  # at the end of each hour
        self.green: list[bool] = []  # by the end of each day, whether algae could be seen
        self.left: list[Left] = []

    def live(self) -> None:
        """Six weeks."""
        if self.source == "tablets":
            self.pour("trichlor-90", self.tablets * 226.8 * self.setup.volume_l / 75_000, JUNE)
        for h in range(24 * DAYS):
            at = JUNE + timedelta(hours=h)
            away = self.trouble == "gaps" and 14 <= h / 24 < 28
            if h % 24 == 0 and not away:
                self.day(at, h // 24)
            self.hour(self.pool, at, self.rng)
            self.level_ppm.append(self.pool.body.ppm("cl2"))
            if h % 24 == 2 and h // 24 in self.left_alone:
                self.leave_alone(at)
            if h % 24 == 23:
                self.spent_ppm.append(self.pool.body.counted.spent / self.pool.body.volume_l * 1000 * k.CL2)
                self.green.append(sum(self.pool.algae) > SEEN_MG_L)
                if not away and h // 24 % 2 == 0:
                    self.truth.append((at, self.pool.water))

    def hour(self, pool: SimPool, at: datetime, rng: Random) -> None:
        """An hour of weather, and of bathers nobody writes down."""
        if self.trouble == "bathers" and at.hour == 20 and rng.random() < 0.2:
            pool.bathe(rng.uniform(2, 12))
        pool.step(hour_of(self.place, at), at)

    def leave_alone(self, at: datetime) -> None:
        """What comes of the pool where nobody does anything for a week."""
        alone, rng, left = (
            copy.deepcopy(self.pool),
            Random(f"{at}{self.traits.volume_l}"),
            Left(at, len(self.log)),
        )
        for h in range(1, 24 * max(AHEAD_DAYS) + 1):
            self.hour(alone, at + timedelta(hours=h - 1), rng)
            if h % 24 == 0 and h // 24 in AHEAD_DAYS and sum(alone.algae) < SEEN_MG_L:
                left.later[h // 24] = alone.water
        self.left.append(left)

    def day(self, at: datetime, day: int) -> None:
        """What is done on a day."""
        pool, water = self.pool, self.pool.water
        if day % 3 == 0:
            which = ("fc", "ph", "ta") if day % 12 else MEASURES
            values = read_all(self.kit, water, which, self.rng)
            readings = [Reading(m, v, f"{v:g}", "", self.kit.method) for m, v in values.items()]
            readings.append(Reading("temp", water.temp_c or 25.0, "", "°C", "thermometer"))
            self.write(at, "water_test", readings=tuple(readings))
            self.set_feed(values.get("fc"), at)
        fc, litres = water.fc_ppm or 0.0, self.setup.volume_l
        if self.source == "liquid" and fc < 3.5:
            self.pour(
                "liquid-chlorine-12.5", litres / 125 * self.rng.uniform(2.5, 5), at + timedelta(minutes=9)
            )
        if self.source == "tablets" and day % 7 == 6:
            self.pour("trichlor-90", self.tablets * 226.8 * litres / 75_000, at + timedelta(minutes=9))
        if (water.ph or 7.5) > 7.8:
            self.pour("muriatic-31.45", litres * self.rng.uniform(0.005, 0.010), at + timedelta(minutes=40))
        if (water.ph or 7.5) < 7.2:
            self.pour("baking-soda", litres * 0.017, at + timedelta(minutes=40))
        if pool.pressure_kpa > 1.8 * self.setup.clean_kpa:
            pool.clean_filter(700)
            self.write(at + timedelta(hours=1), "backwash", Details({"lost": 700.0}))

    def set_feed(self, read_ppm: float | None, at: datetime) -> None:
        """What feeds is turned up and down by what was read; where little is left, some is poured too."""
        if read_ppm is None or self.source == "liquid":
            return
        short = 1.25 if read_ppm < 2.5 else 0.8 if read_ppm > 6 else 1.0
        self.tablets = min(15.0, self.tablets * short)
        held = self.pool.settings
        if self.source == "chlorinator" and short != 1.0:
            held.cell_percent = min(100.0, round(held.cell_percent * short))
            set_to = Details({"setting": held.cell_percent, "hours": 8.0})
            self.write(at + timedelta(minutes=5), "cell", set_to)
        if read_ppm < 2.0:
            self.pour("liquid-chlorine-12.5", self.setup.volume_l / 125 * 2.5, at + timedelta(minutes=9))

    def pour(self, product_id: str, amount: float, at: datetime) -> None:
        """Pour about so much, and write down what was meant."""
        weighs = self.tablet if product_id == "trichlor-90" else 1.0
        self.pool.pour(product_id, amount * weighs * self.rng.gauss(1, 0.05 / 1.96))
        self.write(at, "dose", Dose(product_id, None, amount, "", "g"))

    def write(self, at: datetime, kind: str, payload: object = Details(), readings: tuple = ()) -> None:
        self.log.append(LogEntry(f"{len(self.log):05d}", at, kind, payload, readings))

    @property
    def seen(self) -> list[Observation]:
        """Its log, and the weather of its place as a service tells it, as the estimate takes them."""
        told = days(
            self.place, UTC, JUNE.date(), (JUNE + timedelta(days=DAYS)).date(), JUNE.replace(year=2027)
        )
        weather = [WeatherDay(**one | {"day": date.fromisoformat(one["day"])}) for one in told]
        rainy = observed_weather(weather, UTC, frozenset(), JUNE + timedelta(days=DAYS))
        return observations(self.log, self.traits) + rainy


@cache
def lived(source: str, trouble: str, version: str) -> tuple[Person, ...]:
    """The pools of a source with a trouble, their lives lived, drawn by a version of the rules."""
    people = tuple(Person(source, trouble, f"{version} {i}") for i in range(POOLS))
    for person in people:
        person.live()
    return people
