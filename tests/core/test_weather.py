"""The weather in the core: what a day does to the estimate, the days ahead in words, and the stand-in's days."""

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from statistics import fmean
from zoneinfo import ZoneInfo

import pytest

from kumpan.core.pool.traits import PoolTraits
from kumpan.core.simulation.climate import day_of, place_at
from kumpan.core.simulation.pool import Setup, SimPool
from kumpan.core.simulation.priors import Nature
from kumpan.core.water.estimate.present import Observation
from kumpan.core.water.estimate.walk import present_water
from kumpan.core.water.readings import Reading
from kumpan.core.water.state import WaterState
from kumpan.core.weather import WeatherDay, observed_weather, outlook_line, water_in_balance_c
from kumpan.standins.weather import days as standin_days

CHICAGO = ZoneInfo("America/Chicago")
FIRST = date(2026, 7, 14)  # a Tuesday
FAIR = WeatherDay(FIRST, 18.0, 31.0, 0.0, 24.0, 2.0, 0.6, False)
TRAITS = PoolTraits(60_000, "plaster", "liquid", "in_ground")


def ahead(*changes: dict) -> list[WeatherDay]:
    return [
        replace(FAIR, day=FIRST + timedelta(days=i), outlook=True, **change)
        for i, change in enumerate(changes)
    ]


@pytest.mark.parametrize(
    ("days", "system", "line"),
    [
        # 31 C is 87.8 F; 12 mm is 0.47 in (by definition).
        (ahead({}, {}), "us", "Next 2 days: 88 °F by day, no rain to speak of."),
        (ahead({}, {"rain_mm": 12.0}), "us", "Next 2 days: 88 °F by day, rain Wed 0.5 in."),
        (
            ahead({"rain_mm": 30.0}, {"high_c": 20.0}, {"rain_mm": 8.0}),
            "metric",
            "Next 3 days: 20 to 31 °C by day, rain today 30 mm, Thu 8 mm.",
        ),
        (
            ahead({"low_c": 2.0}, {"low_c": -1.0, "high_c": 5.0}, {"low_c": -4.0}),
            "metric",
            "Next 3 days: 5 to 31 °C by day, no rain to speak of, it freezes Wed.",
        ),
        ([], "us", ""),
        ([replace(FAIR, day=FIRST - timedelta(days=1))], "us", ""),  # yesterday is no outlook
    ],
)
def test_the_days_ahead_in_a_line(days: list[WeatherDay], system: str, line: str) -> None:
    assert outlook_line(days, FIRST, system) == line  # type: ignore[arg-type]


def test_rain_and_heat_reach_the_estimate_once() -> None:
    until = datetime(2026, 7, 17, 12, tzinfo=CHICAGO)
    days = [
        replace(FAIR, day=FIRST, rain_mm=20.0),
        replace(FAIR, day=FIRST + timedelta(days=1), rain_mm=20.0),  # written down by the person
        replace(FAIR, day=FIRST + timedelta(days=2), rain_mm=1.0),  # no matter
        replace(FAIR, day=FIRST + timedelta(days=3), rain_mm=20.0),  # this evening: not yet
        replace(FAIR, day=FIRST + timedelta(days=4), rain_mm=20.0, outlook=True),
    ]
    told = observed_weather(days, CHICAGO, frozenset({FIRST + timedelta(days=1)}), until)
    # 20 mm on a depth of 1.4 m.
    assert [round(o.rained, 4) for o in told] == [0.0143, 0.0, 0.0]
    assert all(o.balance_c == water_in_balance_c(FAIR) for o in told)
    tested = Observation(
        datetime(2026, 7, 14, 8, tzinfo=CHICAGO),
        readings=(Reading("temp", 20.0, "", "", "thermometer"), Reading("salt", 1000.0, "", "", "drops")),
    )
    plain, moved = (present_water(TRAITS, [tested, *more], until).measures for more in ([], told))
    assert moved["salt"].value == pytest.approx(plain["salt"].value * (1 - 0.02 / 1.4), rel=0.002)
    assert plain["temp"].value == pytest.approx(20.0, abs=0.1)
    # A third of the way each day (0.338): after three, 71 % of it.
    assert moved["temp"].value == pytest.approx(20 + 0.71 * (water_in_balance_c(FAIR) - 20), abs=0.2)
    assert moved["temp"].sigma < 3.5


def test_with_weather_the_temperature_is_nearer_the_truth() -> None:
    # Simulated pools from a reading in spring on: weather's heat beats none, and its 80 % span mostly holds.
    off: dict[str, list[float]] = {"with": [], "without": []}
    inside = 0
    for latitude, longitude in ((41.5, -93.6), (34.0, -117.4), (-34.9, 138.6), (46.0, 8.0)):
        place = place_at(latitude, longitude)
        pool = SimPool(
            Setup(60_000, 45.0, 1.33, sun=0.8), Nature(), WaterState(3, 0.1, 7.5, 90, 250, 40, 1000, 18.0)
        )
        start = date(2026, 4, 10)
        for hour_number in range(24 * 50):
            day, hour = divmod(hour_number, 24)
            on = start + timedelta(days=day)
            pool.step(day_of(place, on)[hour], datetime.combine(on, time(hour)))
            if hour_number == 24 * 10:
                read = Reading("temp", pool.body.temp_c, "", "", "thermometer")
        zone, end = UTC, datetime.combine(start + timedelta(days=50), time(0), UTC)
        told = standin_days(
            place, ZoneInfo("UTC"), start + timedelta(days=10), start + timedelta(days=49),
            datetime(2027, 1, 1, tzinfo=UTC),
        )  # fmt: skip
        days = [WeatherDay(**{**one, "day": date.fromisoformat(one["day"])}) for one in told]
        tested = Observation(datetime.combine(start + timedelta(days=10), time(0), UTC), readings=(read,))
        for name, more in (("without", []), ("with", observed_weather(days, zone, frozenset(), end))):
            found = present_water(TRAITS, [tested, *more], end).measures["temp"]
            off[name].append(abs(found.value - pool.body.temp_c))
            inside += name == "with" and found.span_80[0] - 1.5 <= pool.body.temp_c <= found.span_80[1] + 1.5
    assert fmean(off["with"]) < 0.7 * fmean(off["without"])
    assert inside >= 3


def test_the_stand_in_tells_the_same_again_and_less_of_the_future() -> None:
    place, now = place_at(41.5, -93.6), datetime(2026, 7, 14, 15, tzinfo=UTC)
    asked = (place, CHICAGO, FIRST - timedelta(days=3), FIRST + timedelta(days=7))
    told = standin_days(*asked, now)
    assert told == standin_days(*asked, now) and len(told) == 11
    assert [d["outlook"] for d in told] == [False] * 3 + [True] * 8
    later = standin_days(*asked, now + timedelta(days=30))
    assert [d["rain_mm"] for d in told[:3]] == [d["rain_mm"] for d in later[:3]]  # what was measured stays
    assert any(a["rain_mm"] != b["rain_mm"] for a, b in zip(told[4:], later[4:], strict=True))
    # An hour is lost or won where clocks change, and a polar winter has no sun.
    for day in (date(2026, 3, 8), date(2026, 11, 1)):
        one = standin_days(place, CHICAGO, day, day, now + timedelta(days=300))[0]
        assert one["low_c"] < one["high_c"] and one["sun_mj_m2"] > 0
    polar = place_at(69.6, 18.9)
    december = standin_days(polar, ZoneInfo("Europe/Oslo"), date(2026, 12, 21), date(2026, 12, 21), now)[0]
    assert december["sun_mj_m2"] == 0
