"""Weather from outside: kept by the worker, shown on Today, and never a trouble when its service is one."""

import json
import subprocess
import sys
import time
from datetime import date, timedelta
from pathlib import Path
from typing import Any
from urllib.error import HTTPError
from urllib.request import urlopen

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine
from sqlalchemy.orm import sessionmaker

from kumpan.actions import outside
from kumpan.actions.outside import SourceFailed
from kumpan.actions.weather.refresh import refresh
from kumpan.actions.weather.source import Answer, Asked, ask
from kumpan.core.weather import WeatherDay
from kumpan.ops.asking import ask_weather
from kumpan.standins.weather import ADDRESS
from support import NOW, Clock, a_test, environment, pool_body, serving

PLACED = {"latitude": 41.5, "longitude": -93.6}
ASKED = Asked(41.5, -93.6, "America/Chicago", date(2026, 7, 10), date(2026, 7, 21))
DAY = {
    "day": "2026-07-12", "low_c": 18, "high_c": 30, "rain_mm": 0, "sun_mj_m2": 22, "wind_m_s": 2, "humidity": 0.5,
    "outlook": False,
}  # fmt: skip


def answer(asked: Asked, **more: Any) -> Answer:
    """Fair days, measured up to the 14th."""
    days, day = [], asked.first
    while day <= asked.last:
        days.append(WeatherDay(day, 18.0, 31.0, 0.0, 24.0, 2.0, 0.6, day >= date(2026, 7, 14), **more))
        day += timedelta(days=1)
    return Answer("Made-up weather", True, tuple(days))


def document(*days: dict[str, Any], **more: Any) -> bytes:
    return json.dumps({"source": "A service", "simulated": False, "days": list(days)} | more).encode()


@pytest.mark.parametrize(
    ("reply", "says"),
    [
        ((200, b"<html>sign in</html>"), "no weather"),
        ((500, b"{}"), "does not answer"),
        ((200, document({**DAY, "low_c": 40})), "no weather"),  # lowest over highest
        ((200, document({**DAY, "rain_mm": -3})), "no weather"),
        ((200, document({**DAY, "high_c": None})), "no weather"),
        ((200, document({**DAY, "humidity": 55})), "no weather"),
        ((200, document({**DAY, "day": "2026-08-12"})), "other days"),
        ((200, document(DAY, source="")), "no weather"),
        ((200, b"[" * 100_000), "no weather"),
        ((200, b" " * 500_000), "too much"),
        ((200, document({**DAY, "high_c": float("inf")})), "no weather"),
    ],
)
def test_nonsense_is_no_weather(reply: tuple[int, bytes], says: str) -> None:
    with serving(lambda: reply) as url, pytest.raises(SourceFailed, match=says):
        ask(url, ASKED)


def test_a_silent_or_slow_service_is_said_to_be_so(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(outside, "PATIENCE_S", 0.2)

    def slow() -> tuple[int, bytes]:
        time.sleep(0.6)
        return 200, document(DAY)

    with serving(slow) as url, pytest.raises(SourceFailed, match="too slow"):
        ask(url, ASKED)
    for address in ("http://127.0.0.1:1", "file:///etc/passwd", "nonsense"):
        with pytest.raises(SourceFailed):
            ask(address, ASKED)
    monkeypatch.setenv("http_proxy", "http://127.0.0.1:1")  # a proxy that is not asked for this machine's own
    with serving(lambda: (200, document(DAY))) as url:
        told = ask(url, ASKED)
    assert (told.source, told.simulated, told.days[0].day) == ("A service", False, date(2026, 7, 12))


def test_it_is_kept_hourly_shown_and_forgotten_when_the_pool_moves(
    client: TestClient, engine: Engine, clock: Clock
) -> None:
    sessions, asked = sessionmaker(engine), list[Asked]()
    body = pool_body(**PLACED)
    pool = client.post("/api/v1/pools", json=body).json()
    client.post("/api/v1/pools", json=pool_body(name="Nowhere"))  # without a place: never asked about
    url = f"/api/v1/pools/{pool['id']}"

    def told(one: Asked) -> Answer:
        asked.append(one)
        return answer(one)

    def failing(one: Asked) -> Answer:
        raise SourceFailed("the weather service is too slow")

    def weather() -> dict[str, str]:
        return client.get(f"{url}/today").json()["weather"]

    assert weather()["problem"].startswith("No weather source")
    assert refresh(sessions, failing, NOW) == 0
    assert weather() == {"line": "", "label": "", "problem": "The weather service is too slow."}
    assert refresh(sessions, told, NOW + timedelta(minutes=5)) == 0  # ten minutes after none
    assert refresh(sessions, told, NOW + timedelta(minutes=11)) == 1
    assert (asked[0].last - asked[0].first).days == 387 and asked[0].zone == "America/Chicago"
    assert weather() == {
        "line": "Next 8 days: 88 °F by day, no rain to speak of.",
        "label": "Made-up weather, simulated",
        "problem": "",
    }
    assert refresh(sessions, told, NOW + timedelta(minutes=40)) == 0  # an hour after an answer
    assert refresh(sessions, told, NOW + timedelta(hours=2)) == 1
    assert asked[1].first == date(2026, 7, 14)  # the first day that was not yet measured
    assert refresh(sessions, told, NOW - timedelta(days=3)) == 1  # the clock was set back: asked anew
    # It fails for a day: the last answer still stands, and after six hours it is said since when.
    refresh(sessions, told, NOW + timedelta(hours=4))
    refresh(sessions, failing, NOW + timedelta(hours=6))
    clock.now = NOW + timedelta(hours=7)
    assert weather()["problem"] == "" and weather()["line"]
    clock.now = NOW + timedelta(hours=14)
    assert weather()["problem"] == "The weather service is too slow since yesterday."
    # Moved: what was told of another place is forgotten; an answer on the way for the old one is not kept.
    there = body | {"latitude": 21.3, "longitude": -157.9, "time_zone": "Pacific/Honolulu", "revision": 1}
    there.pop("id")

    def moved_meanwhile(one: Asked) -> Answer:
        assert client.put(url, json=there).status_code == 200
        return answer(one)

    refresh(sessions, moved_meanwhile, NOW + timedelta(days=2))
    assert weather()["problem"].startswith("No weather source")


def test_its_rain_and_heat_move_the_estimate(client: TestClient, engine: Engine, clock: Clock) -> None:
    pool = client.post("/api/v1/pools", json=pool_body(**PLACED)).json()
    url = f"/api/v1/pools/{pool['id']}"
    client.post(f"{url}/tests", json=a_test(NOW - timedelta(days=6), cya="60", temp="68", fc="3", ph="7.5"))

    def now() -> dict[str, str]:
        return {w["measure"]: w["shown"] for w in client.get(f"{url}/today").json()["water_now"]}

    assert now()["temp"] == "68 °F"

    def wet(one: Asked) -> Answer:
        told = answer(one)
        return Answer(told.source, True, tuple(WeatherDay(**{**vars(d), "rain_mm": 40.0}) for d in told.days))

    refresh(sessionmaker(engine), wet, NOW)
    warmer = now()
    assert int(warmer["temp"].split()[0]) > 72 and int(warmer["cya"]) < 57  # five days of 40 mm on 1.4 m
    graph = client.get(
        f"{url}/graph", params={"start": (NOW - timedelta(days=7)).isoformat(), "end": NOW.isoformat()}
    ).json()
    temps = next(s for s in graph["series"] if s["measure"] == "temp")["estimate"][0]
    assert temps[-1]["value"] > 72


def test_the_stand_in_is_a_child_that_answers_and_ends(
    tmp_path: Path, engine: Engine, client: TestClient
) -> None:
    client.post("/api/v1/pools", json=pool_body(**PLACED))
    sessions = sessionmaker(engine)
    assert ask_weather(sessions, "", tmp_path, NOW) == 0  # none runs
    command = [sys.executable, "-m", "kumpan", "standin", "weather", str(tmp_path)]
    child = subprocess.Popen(command, stdin=subprocess.PIPE, env=environment())
    try:
        for _ in range(200):
            if (tmp_path / ADDRESS).exists():
                break
            time.sleep(0.05)
        url = (tmp_path / ADDRESS).read_text()
        assert url.startswith("http://127.0.0.1:")
        told = ask(url, ASKED)
        assert told.simulated and len(told.days) == 12 and told == ask(url, ASKED)
        for path in (
            "/",
            "/days",
            "/days?latitude=x",
            "/days?latitude=1&longitude=2&first=2026-01-01&last=2030-01-01",
        ):
            with pytest.raises(HTTPError):
                urlopen(url + path)
        assert ask_weather(sessions, "", tmp_path, NOW) == 1
    finally:
        child.stdin.close()  # type: ignore[union-attr]
        assert child.wait(5) == 0
    assert not (tmp_path / ADDRESS).exists()
