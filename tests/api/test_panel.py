"""The chlorinator's panel: asked by the worker, judged, set, and never a trouble when it is silent or lies."""

import json
import subprocess
import sys
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine
from sqlalchemy.orm import sessionmaker
from uuid6 import uuid7

from kumpan.actions import outside
from kumpan.actions.outside import SourceFailed
from kumpan.actions.panel import adapter
from kumpan.actions.panel.binding import refresh
from kumpan.core.machines.panel import Told, judge
from kumpan.standins.panel import ADDRESS, FAULTS, Panel
from support import NOW, Clock, a_test, app_on, client_on, environment, pool_body, problem, serving

STATE = {
    "source": "A panel", "simulated": False, "at": NOW.isoformat(), "percent": 50, "hours_day": 8, "makes_now": True,
    "salt_ppm": 3000, "temp_c": 27, "lights": [],
}  # fmt: skip


def body(**more: Any) -> bytes:
    return json.dumps(STATE | more).encode()


# --- The adapter: what cannot be is no answer.


@pytest.mark.parametrize(
    ("reply", "says"),
    [
        ((200, b"<html>"), "makes no sense"),
        ((500, b"{}"), "does not answer"),
        ((200, body(salt_ppm=-7)), "makes no sense"),
        ((200, body(percent=140)), "makes no sense"),
        ((200, body(temp_c=400)), "makes no sense"),
        ((200, body(at="yesterday")), "makes no sense"),
        ((200, body(lights=["x" * 50])), "makes no sense"),
        ((200, b"x" * 500_000), "answers too much"),
    ],
)
def test_what_cannot_be_a_panel_is_no_answer(reply: tuple[int, bytes], says: str) -> None:
    with serving(lambda: reply) as url, pytest.raises(SourceFailed, match=says):
        adapter.ask(url)


def test_a_silent_panel_is_said_to_be_so(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(outside, "PATIENCE_S", 0.2)

    def slow() -> tuple[int, bytes]:
        time.sleep(0.6)
        return 200, body()

    with serving(slow) as url, pytest.raises(SourceFailed, match="too slow"):
        adapter.ask(url)
    for nobody in ("http://127.0.0.1:9", "ftp://x", "nonsense"):
        with pytest.raises(SourceFailed):
            adapter.ask(nobody)


# --- Judged.


@pytest.mark.parametrize(
    ("lights", "more", "tested", "says"),
    [
        ((), {}, 3000.0, "No light"),
        (("low_salt",), {}, None, "test it by strip"),
        (("low_salt",), {}, 3100.0, "pour nothing"),
        (("low_salt",), {}, 2400.0, "the test agrees"),
        (("low_salt", "cold"), {}, 2400.0, "usually false"),
        (("low_salt",), {"temp_c": 10.0}, None, "usually false"),
        (("no_flow",), {}, None, "Never bypass"),
        (("check_cell",), {}, None, "plates looked at"),
        (("e47",), {}, None, "e47, which is not known here"),
        ((), {"salt_ppm": 2200.0}, 3000.0, "recalibrate or clean"),
        ((), {"at": NOW - timedelta(hours=2)}, None, "120 minutes old"),
    ],
)
def test_each_light_is_recognised_or_said_to_be_unknown(
    lights: tuple[str, ...], more: dict[str, Any], tested: float | None, says: str
) -> None:
    told = Told(
        **(
            {"at": NOW, "percent": 50, "hours_day": 8, "makes_now": True, "salt_ppm": 3000.0, "temp_c": 27.0}
            | more
        ),
        lights=lights,
    )  # type: ignore[arg-type]
    assert says in " ".join(s.text for s in judge(told, tested, 2700, 15.5, NOW))


# --- The stand-in: a function of how it began, of time, and of what it was told.


def test_the_stand_in_goes_on_the_same_after_a_restart(tmp_path: Path) -> None:
    begun = datetime(2026, 7, 1, 12, tzinfo=UTC)
    first = Panel(tmp_path, begun)
    first.take({"what": "setting", "percent": 80, "hours_day": 10}, begun + timedelta(hours=3))
    dose = {"what": "poured", "id": "a", "product": "salt", "amount": 20_000.0}
    first.take(dose, begun + timedelta(hours=30))
    first.take(dose, begun + timedelta(hours=31))  # told again it is known
    later = begun + timedelta(days=4)
    told = first.state(later)
    with (tmp_path / "panel.journal").open("a") as journal:
        journal.write('{"what": "setti')  # killed while it wrote
    assert Panel(tmp_path, later).state(later) == told
    assert told["percent"] == 80 and told["hours_day"] == 10


@pytest.mark.parametrize("fault", FAULTS)
def test_every_fault_of_the_stand_in_is_recognised_or_said_to_be_unknown(fault: str, tmp_path: Path) -> None:
    now = datetime(2026, 7, 1, 20, tzinfo=UTC)  # noon there: the pump runs
    panel = Panel(tmp_path, now)
    panel.take({"what": "fault", "fault": fault}, now)
    if fault in ("silent", "nonsense"):  # told by the adapter, above
        reply = json.dumps(panel.state(now)).encode()
        if fault == "nonsense":
            with serving(lambda: (200, reply)) as url, pytest.raises(SourceFailed, match="no sense"):
                adapter.ask(url)
        return
    with serving(lambda: (200, json.dumps(panel.state(now)).encode())) as url:
        answer = adapter.ask(url)
    assert answer.simulated
    words = " ".join(s.text for s in judge(answer.told, 3100.0, 2700, 15.5, now))
    expected = {
        "": "No light", "low_salt": "Low salt", "no_flow": "No flow", "scaled": "plates", "cold": "too cold",
        "late": "minutes old", "unknown": "not known here",
    }  # fmt: skip
    assert expected[fault] in words, words


def test_the_stand_in_is_a_process_of_its_own_that_ends_with_its_input(tmp_path: Path) -> None:
    process = subprocess.Popen(
        [sys.executable, "-m", "kumpan", "standin", "panel", str(tmp_path)],
        stdin=subprocess.PIPE,
        env=environment(),
    )
    try:
        deadline = time.monotonic() + 20
        while not (tmp_path / ADDRESS).exists() and time.monotonic() < deadline:
            time.sleep(0.05)
        url = (tmp_path / ADDRESS).read_text()
        assert adapter.ask(url).simulated
        assert adapter.set_to(url, 35, 6).told.percent == 35
        with pytest.raises(SourceFailed):
            adapter.set_to(url, 135, 6)
        adapter.simulate(url, "fault", {"fault": "no_flow"})
        assert adapter.ask(url).told.lights == ("no_flow",)
    finally:
        assert process.stdin
        process.stdin.close()
        assert process.wait(10) == 0
    assert not (tmp_path / ADDRESS).exists()


# --- Through the app.


@pytest.fixture
def salt_pool(client: TestClient) -> dict[str, Any]:
    return client.post("/api/v1/pools", json=pool_body(chlorine_source="chlorinator")).json()  # type: ignore[no-any-return]


def cell(client: TestClient, pool: dict) -> dict[str, Any]:
    return client.get(f"/api/v1/pools/{pool['id']}/machines").json()["chlorinator"]  # type: ignore[no-any-return]


def test_a_bound_panel_is_shown_set_and_read_into_the_log(
    engine: Engine, client: TestClient, salt_pool: dict, clock: Clock, tmp_path: Path
) -> None:
    panel, home = Panel(tmp_path, NOW), f"/api/v1/pools/{salt_pool['id']}"
    with serving(lambda: (200, json.dumps(panel.state(clock.now)).encode())) as url:
        assert client.put(f"{home}/panel", json={"address": url}).status_code == 200
        assert "not asked yet" in cell(client, salt_pool)["panel"]["problem"]
        sessions = sessionmaker(engine, expire_on_commit=False)
        assert refresh(sessions, lambda a: a, clock.now) == 1
        shown = cell(client, salt_pool)["panel"]
        assert shown["simulated"] and shown["name"].endswith("simulated") and shown["problem"] == ""
        assert shown["setting"] == "50 % for 8 h a day" and shown["says"]
        assert refresh(sessions, lambda a: a, clock.now) == 0  # not so soon again
        id = str(uuid7())
        for _ in range(2):  # sent again it is the same
            answer = client.post(f"{home}/panel/reading", json={"id": id, "at": clock.now.isoformat()})
            assert answer.status_code == 201, answer.text
        readings = client.get(f"{home}/events", params={"kind": "water_test"}).json()["events"]
        assert len(readings) == 1
        # Its word is no test: salt is still to be verified.
        assert "before anything is poured" in cell(client, salt_pool)["salt"]["text"]
    clock.now += timedelta(minutes=1)
    assert refresh(sessions, lambda a: a, clock.now) == 0
    silent = cell(client, salt_pool)["panel"]
    assert silent["problem"] == "The panel does not answer." and silent["setting"] == shown["setting"]
    problem(
        client.post(f"{home}/panel/setting", json={"id": str(uuid7()), "percent": 40, "hours_day": 8}),
        409,
        "panel_silent",
    )
    problem(client.post(f"{home}/panel/fault", json={"fault": "on fire"}), 422, "unknown_choice", "fault")
    problem(
        client.post(f"{home}/panel/setting", json={"id": str(uuid7()), "percent": 140, "hours_day": 8}),
        422,
        "out_of_range",
        "percent",
    )
    assert client.get(f"{home}/today").status_code == 200  # the rest is unaffected
    assert client.delete(f"{home}/panel").status_code == 204 and cell(client, salt_pool)["panel"] is None
    problem(
        client.post(f"{home}/panel/reading", json={"id": str(uuid7()), "at": NOW.isoformat()}),
        409,
        "no_panel",
    )


def test_what_was_poured_is_told_to_a_simulated_panel_alone(
    engine: Engine, clock: Clock, tmp_path: Path
) -> None:
    with client_on(app_on(engine, clock)) as client:
        pool = client.post("/api/v1/pools", json=pool_body(chlorine_source="chlorinator")).json()
        process = subprocess.Popen(
            [sys.executable, "-m", "kumpan", "standin", "panel", str(tmp_path)],
            stdin=subprocess.PIPE,
            env=environment(),
        )
        try:
            while not (tmp_path / ADDRESS).exists():
                time.sleep(0.05)
            url = (tmp_path / ADDRESS).read_text()
            client.app.state.find_panel = lambda address: url  # type: ignore[attr-defined]
            home = f"/api/v1/pools/{pool['id']}"
            client.put(f"{home}/panel", json={"address": "standin"})
            clock.now += timedelta(minutes=1)
            dose = {
                "id": str(uuid7()),
                "at": clock.now.isoformat(),
                "product_id": "salt",
                "amount": "2",
                "unit": "bag_40lb",
            }
            assert client.post(f"{home}/doses", json=dose).status_code == 201
            clock.now += timedelta(minutes=1)
            sessions = sessionmaker(engine, expire_on_commit=False)
            before = adapter.ask(url).told.salt_ppm or 0
            assert refresh(sessions, lambda address: url, clock.now) == 1
            after = adapter.ask(url).told.salt_ppm or 0
            assert after - before > 300  # two bags into 60,000 L are 605 ppm, less what cold and plates hide
            # Written down only now: it went in before the panel was told last.
            late = dose | {"id": str(uuid7()), "at": (clock.now - timedelta(seconds=30)).isoformat()}
            assert client.post(f"{home}/doses", json=late).status_code == 201
            assert refresh(sessions, lambda address: url, clock.now + timedelta(minutes=2)) == 1
            later = adapter.ask(url).told.salt_ppm or 0
            assert 300 < later - after < 900  # these two bags, and not the first two again
            made = client.post(
                f"{home}/panel/setting", json={"id": str(uuid7()), "percent": 65, "hours_day": 9}
            )
            assert made.status_code == 201 and made.json()["chlorinator"]["panel"]["percent"] == 65
            assert made.json()["chlorinator"]["now"] == {
                "percent": 65.0,
                "hours": 9.0,
            }  # and it is in the log
            # The same id with another setting: refused, and the cell left as it is.
            other = json.loads(made.request.content) | {"percent": 20}
            problem(client.post(f"{home}/panel/setting", json=other), 409, "id_taken")
            assert adapter.ask(url).told.percent == 65
            client.post(f"{home}/panel/fault", json={"fault": "low_salt"})
            assert refresh(sessions, lambda address: url, clock.now + timedelta(minutes=5)) == 1
            lights = cell(client, pool)["panel"]["lights"]
            assert "low salt" in lights or lights == "none"  # off at night, when nothing runs
        finally:
            assert process.stdin
            process.stdin.close()
            process.wait(10)


def test_what_cannot_be_bound_is_told(client: TestClient, pool: dict, salt_pool: dict) -> None:
    problem(
        client.put(f"/api/v1/pools/{pool['id']}/panel", json={"address": "standin"}),
        409,
        "no_chlorinator_here",
    )
    for address in ("", "panel", "http://", "file:///etc/passwd"):
        answer = client.put(f"/api/v1/pools/{salt_pool['id']}/panel", json={"address": address})
        problem(answer, 422, "no_address", "address")
    client.post(f"/api/v1/pools/{salt_pool['id']}/tests", json=a_test(salt="3000"))
    assert cell(client, salt_pool)["panel"] is None
