"""A sample pool's life, day by day: the water simulated, its person doing what they do, and what they write
down.
"""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from random import Random
from typing import Any

from kumpan.core.log.poured import checked_dose
from kumpan.core.records import PSI_KPA
from kumpan.core.simulation.climate import hour_of
from kumpan.core.simulation.keep import kept, restore
from kumpan.core.simulation.observer import Kit, read_all
from kumpan.core.simulation.pool import SimPool
from kumpan.core.units import L_PER_GAL, c_to_f
from kumpan.core.water.measures import MEASURES
from kumpan.demo.pools import DemoPool, Pour

_RAIN_WRITTEN_MM = 12.0
_GREEN_MG_L, _CLEAR_MG_L = 1.5, 0.3  # algae at which a person sees green, and clear water again
_INSPECTED_DAYS = 90


@dataclass(frozen=True)
class Entry:
    """What a person wrote down: so many minutes into a day of the life, kind, and what of it, as typed."""

    day: int
    minute: int
    kind: str
    data: dict[str, Any]


class Life:
    """One pool's life. ``number``: days since the life began, which alone decide what chance brings."""

    def __init__(self, pool: DemoPool, state: dict[str, Any] | None = None) -> None:
        self.pool, self.habits = pool, pool.habits
        self.sim = SimPool(pool.setup, pool.nature, pool.water)
        self.last: dict[str, int] = {}  # of each thing done: on which day
        self.tests, self.fighting, self.rained_mm = 0, False, 0.0
        if pool.habits.season:
            self._shut()
        if state is not None:
            self._restore(state)

    # --- State, to go on from.

    def state(self) -> dict[str, Any]:
        """All of it as plain data."""
        return kept(self.sim) | {"life": [self.last, self.tests, self.fighting]}

    def _restore(self, state: dict[str, Any]) -> None:
        restore(self.sim, state)
        self.last, self.tests, self.fighting = dict(state["life"][0]), state["life"][1], state["life"][2]

    # --- A day.

    def day(self, number: int, on: date, until_hour: int = 24, nobody: str = "") -> list[Entry]:
        """Live one day, to an hour of it. on: the date by which season and weather go; nobody: ``away`` where
        nobody comes out, ``pump off`` where the pump stands as well.
        """
        rng, entries = Random(f"{self.pool.name}|{number}"), list[Entry]()
        acts_at = 8 + int(3 * rng.random())
        away = nobody != "" or any(_within(on, month, day, days) for month, day, days in self.habits.away)
        usual = (0, 24) if self.fighting else self.pool.setup.pump_hours
        self.sim.settings.pump_hours = (0, 0) if nobody == "pump off" else usual
        start = datetime.combine(on, time(), UTC) - timedelta(hours=self.pool.site.offset_h)
        fell = 0.0
        for h in range(until_hour):
            if h == acts_at:
                writer = _Writer(number, acts_at * 60 + int(45 * rng.random()), entries)
                self._season(writer, on)
                if not self.sim.settings.closed and not away:
                    self._acts(writer, rng, on)
            if h == 16 and not self.sim.settings.closed and not away:
                self._people(_Writer(number, 16 * 60, entries), rng, on)
            weather = hour_of(self.pool.site.place, start + timedelta(hours=h))
            fell += weather.rain_mm
            self.sim.step(weather, datetime.combine(on, time(h)))
        self.rained_mm = fell
        return entries

    def read_now(self, number: int, minute: int) -> list[Entry]:
        """A full test at this minute, of the water as it is."""
        entries, self.tests = list[Entry](), 0
        self._test(_Writer(number, minute, entries), Random(f"{self.pool.name}|{number}|now"))
        return entries

    def _acts(self, write: "_Writer", rng: Random, on: date) -> None:
        """What the person does when they come out."""
        if self.rained_mm >= _RAIN_WRITTEN_MM and not self.pool.setup.indoor:
            write("rain", fell=f"{self.rained_mm / 25.4:.1f} in")
        due = self._due("test", self.habits.every_days, write.day)
        readings: dict[str, float] = {}
        if due and rng.random() < self.habits.missed and self.habits.missed:
            self.last["test"] = write.day - self.habits.every_days + 2  # in two days, then
        elif due or self.fighting:
            readings = self._test(write, rng)
        self._set_cell(write, on)
        self._look(write)
        if readings:
            self._pour_by(write, readings)
        for product, amount, unit, days in self.habits.regular:
            if self._due(product, days, write.day):
                self._pour(write, product, amount, unit)
        if self._due("clean", self.habits.clean_days, write.day):
            self._clean(write, rng)
        if self.habits.tops_up and self._due("top", 7, write.day):
            added = self.sim.fill_up() / L_PER_GAL
            if added > 60:
                write("refill", added=f"{round(added, -1):.0f} gal")

    def _due(self, what: str, days: int, today: int) -> bool:
        """Whether it is so many days since a thing was last done; it counts as done then."""
        if today - self.last.get(what, -days) < days:
            return False
        self.last[what] = today
        return True

    def _test(self, write: "_Writer", rng: Random) -> dict[str, float]:
        """Read the water with the kit; returns what it read."""
        self.tests += 1
        which = list(self.habits.each_time)
        if self.tests % self.habits.nth == 1 or self.habits.nth == 1:
            which += self.habits.now_and_then
        water, kit = self.sim.water, self.habits.kit
        readings = read_all(Kit(kit), water, tuple(which), rng)
        typed = [
            [m, f"{readings[m]:.{MEASURES[m].decimals}f}", "" if m == "ph" else "ppm", kit]
            for m in which
            if m in readings
        ]
        typed.append(["temp", f"{c_to_f(water.temp_c or 0.0) + rng.gauss(0, 0.5):.0f}", "°F", "thermometer"])
        write.test(typed)
        return readings

    def _pour_by(self, write: "_Writer", readings: dict[str, float]) -> None:
        """Each habit whose reading calls for it, chlorine last."""
        for habit in sorted(self.habits.pours, key=lambda p: p.measure == "fc"):
            value = readings.get(habit.measure)
            if value is None or not _calls(habit, value):
                continue
            if self._due(f"{habit.product}{habit.measure}", habit.gap_days, write.day):
                self._pour(write, habit.product, habit.amount, habit.unit)

    def _pour(self, write: "_Writer", product: str, amount: str, unit: str) -> None:
        dose = checked_dose(product, None, amount, unit)
        self.sim.pour(product, dose.amount)
        write.dose(product, amount, unit)

    def _look(self, write: "_Writer") -> None:
        """Green water is fought with chlorine every day, pump running through, until it is clear."""
        green = sum(self.sim.algae)
        if not self.fighting and green < _GREEN_MG_L:
            return
        if not self.fighting:
            self.fighting = True
            write("note", note="Green. Brushed everything; pump runs through until it is clear.")
        if green < _CLEAR_MG_L and self.sim.dead_mg_l < 1.0:
            self.fighting = False
            write("note", note="Clear again.")
            return
        self.sim.brush()
        self.sim.vacuum()
        gallons = self.pool.setup.volume_l / L_PER_GAL
        small = gallons < 5000
        product, unit = ("dichlor-56", "oz") if small else ("liquid-chlorine-12.5", "gal")
        # Ten ppm: 2.4 oz of dichlor to 1,000 gal, a gallon of liquid to 12,500.
        ounces, jugs = max(1, round(2.4 * gallons / 1000)), max(0.5, round(gallons / 6250) / 2)
        amount = f"{ounces}" if small else f"{jugs:g}"
        write("shock", to="10 ppm")
        self._pour(write, product, amount, unit)

    def _clean(self, write: "_Writer", rng: Random) -> None:
        """The weekly clean, and the filter by its gauge."""
        self.sim.brush()
        self.sim.vacuum()
        minutes = max(10, round(self.habits.cleans_min * rng.uniform(0.7, 1.3), -1))
        write("clean", what="whole", minutes=f"{minutes:.0f} min")
        before, clean = self.sim.pressure_kpa, self.pool.setup.clean_kpa
        if before > self.habits.backwash_over * clean:
            sand = self.pool.setup.filter_kind != "cartridge"
            lost = 180 * self.pool.setup.filter_m2 / 0.2 if sand else 0.0
            self.sim.clean_filter(lost * L_PER_GAL)
            gauges = {"before": _psi(before), "clean": _psi(self.sim.pressure_kpa)}
            if sand:
                write("backwash", minutes="2.5 min", lost=f"{round(lost, -1):.0f} gal", **gauges)
            else:
                write("filter_clean", **gauges)
        elif rng.random() < 0.4:
            write("pressure", pressure=_psi(before))

    def _set_cell(self, write: "_Writer", on: date) -> None:
        """The cell's setting by the month, and its look every quarter."""
        if not self.habits.cell:
            return
        percent = self.habits.cell[on.month - 1]
        if percent != self.sim.settings.cell_percent:
            self.sim.settings.cell_percent = percent
            start, end = self.pool.setup.pump_hours
            write("cell", setting=f"{percent} %", hours=f"{end - start} h")
        if self._due("inspection", _INSPECTED_DAYS, write.day):
            deposits = self.sim.scale_mm > 0.25
            note = "white flakes, hosed and bathed off" if deposits else ""
            write("inspection", note=note, what="cell", found="deposits" if deposits else "fine")
            if deposits:
                self.sim.clean_cell()

    def _people(self, write: "_Writer", rng: Random, on: date) -> None:
        """Who swims: few on an ordinary day, a party now and then."""
        party = next(
            (heads for month, day, heads in self.habits.parties if (month, day) == (on.month, on.day)), 0
        )
        warm = self.sim.body.temp_c > 23.0
        if party:
            write("bathers", note="party", people=f"{party}", hours="5 h")
            self.sim.bathe(party)
        elif warm and not self.fighting:
            self.sim.bathe(self.habits.bathers * rng.random())

    def _season(self, write: "_Writer", on: date) -> None:
        """Open and close by the person's own dates."""
        if self.habits.season is None:
            return
        opens, closes = self.habits.season
        inside = opens <= (on.month, on.day) < closes
        if inside and self.sim.settings.closed:
            self.sim.settings.closed = self.sim.settings.covered = False
            if self.pool.restart:
                self.sim = SimPool(self.pool.setup, self.pool.nature, self.pool.setup.fill)
                write("refill", added=f"{round(self.pool.setup.volume_l / L_PER_GAL, -1):.0f} gal")
            else:
                write("cover", state="off", note="Opened.")
                added = self.sim.fill_up() / L_PER_GAL
                if added > 60:
                    write("refill", added=f"{round(added, -2):.0f} gal")
            self.last["test"] = write.day - self.habits.every_days
        elif not inside and not self.sim.settings.closed:
            if self.pool.restart:
                litres = self.pool.setup.volume_l
                write("drain", lost=f"{round(litres / L_PER_GAL, -1):.0f} gal", note="Put away for the year.")
            else:
                self.sim.pour("liquid-chlorine-12.5", self.pool.setup.volume_l / 125 * 6)
                if self.habits.lowered:
                    litres = self.habits.lowered * self.pool.setup.volume_l
                    self.sim.drain(litres)
                    write("drain", lost=f"{round(litres / L_PER_GAL, -2):.0f} gal")
                write("cover", state="on", note="Closed for winter.")
            self._shut()

    def _shut(self) -> None:
        self.sim.settings.closed = self.sim.settings.covered = True
        self.sim.settings.tablets_g, self.fighting = 0.0, False


class _Writer:
    """Writes entries down a few minutes after one another."""

    def __init__(self, day: int, minute: int, entries: list[Entry]) -> None:
        self.day, self.minute, self.entries = day, minute, entries

    def __call__(self, kind: str, note: str = "", **texts: str) -> None:
        """An entry of fields, each as number and unit or a word."""
        self._write(kind, {"fields": {name: _split(text) for name, text in texts.items()}, "note": note})

    def test(self, readings: list[list[str]]) -> None:
        """A test: measure, text, unit and method of each reading."""
        self._write("water_test", {"readings": readings})

    def dose(self, product: str, amount: str, unit: str) -> None:
        """What was poured."""
        self._write("dose", {"dose": [product, amount, unit]})

    def _write(self, kind: str, data: dict[str, Any]) -> None:
        self.entries.append(Entry(self.day, self.minute, kind, data))
        self.minute += 6


def _split(text: str) -> list[str]:
    """``12 psi`` as number and unit; a word alone has none."""
    return text.split(" ", 1) if " " in text else [text, ""]


def _psi(kpa: float) -> str:
    return f"{kpa / PSI_KPA:.0f} psi"


def _calls(habit: Pour, value: float) -> bool:
    """Whether a reading calls for a pour."""
    over, under = habit.over, habit.under
    return (over is not None and value > over) or (under is not None and value < under)


def _within(on: date, month: int, day: int, days: int) -> bool:
    """Whether a date lies in so many days from one of the year."""
    start = date(on.year, month, day)
    return start <= on < start + timedelta(days=days)
