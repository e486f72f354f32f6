"""Clear-up through the API: begun, walked to its end on simulated time, changed and abandoned, refused
plainly.
"""

import copy
import json
from collections import Counter
from datetime import datetime, timedelta
from random import Random
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from clearup_runs import BLOOM, DEPTH_M, Bloom
from kumpan.core.amounts import parse_amount
from kumpan.core.products.catalogue import PRODUCTS, form_of
from kumpan.core.simulation.pool import Setup
from kumpan.core.simulation.priors import Nature
from kumpan.core.water.state import WaterState
from kumpan.store.tables.log import Event
from kumpan.store.tables.sheets import SheetRow
from kumpan.store.work import progress_of
from support import Clock, a_test, brought_in, pool_body, problem, taken_out, wipe

GREEN = {"fc": "0", "cc": "1", "ph": "7.8", "ta": "90", "ch": "250", "cya": "40"}
ASKED: dict[str, Any] = {"aim": "algae", "severity": "steps", "looks": 2, "method": "drops"}


def stamped(clock: Clock, **more: Any) -> dict[str, Any]:
    return {"id": str(uuid7()), "at": clock.now.isoformat(), **more}


def read(client: TestClient, pool: dict, clock: Clock, method: str = "drops", **values: str) -> dict:
    body = a_test(at=clock.now, **values)
    body["readings"] = [
        r | {"method": method} | ({"unit": "ppb"} if r["measure"] == "phosphate" else {})
        for r in body["readings"]
    ]
    answer = client.post(f"/api/v1/pools/{pool['id']}/tests", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


def begin(client: TestClient, pool: dict, clock: Clock, **asked: Any) -> dict:
    body = stamped(clock, asked=ASKED | asked)
    answer = client.post(f"/api/v1/pools/{pool['id']}/clear-ups", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


def look(client: TestClient, sheet: dict) -> dict:
    return client.get(f"/api/v1/sheets/{sheet['id']}").json()  # type: ignore[no-any-return]


def say(client: TestClient, sheet: dict, clock: Clock, verb: str, key: str = "", value: str = "") -> Any:
    body = stamped(clock, verb=verb, key=key, value=value)
    return client.post(f"/api/v1/sheets/{sheet['id']}/marks", json=body)


class Poolside:
    """Somebody at a simulated pool with the app: does what the run's next step says, and waits for it."""

    def __init__(
        self, client: TestClient, pool: dict, sheet: dict, clock: Clock, method: str = "drops"
    ) -> None:
        self.client, self.pool, self.sheet, self.clock, self.method = client, pool, sheet, clock, method
        litres = 15_000 * 3.785411784
        setup = Setup(litres, litres / 1000 / DEPTH_M, DEPTH_M)
        water = WaterState(0.0, 1.0, 7.8, 90, 250, 40, 800, 27.0, sulfate_ppm=0.0)
        self.bloom = Bloom(setup, Nature(), water, BLOOM["steps"], clock.now)
        self.rng, self.done = Random(3), []  # type: ignore[var-annotated]

    def walk(self, days: float, until: str = "") -> dict:
        """Walk on for so many days, to the end, or until a step is next."""
        end = self.clock.now + timedelta(days=days)
        while self.clock.now < end:
            now = look(self.client, self.sheet)
            if now["state"] not in ("under_way", "paused") or (until and now["next_key"].startswith(until)):
                return now
            self.step(next(s for s in now["steps"] if s["key"] == now["next_key"]))
        return look(self.client, self.sheet)

    def step(self, step: dict) -> None:
        """The next step, or waiting for it."""
        if step["state"] == "later":
            self.clock.now = max(self.clock.now, datetime.fromisoformat(step["due_at"])) + timedelta(
                minutes=5
            )
            self.bloom.live_until(self.clock.now)
            return
        plan, key = step["plan"], step["key"]
        if plan and plan["kind"] == "add":
            amount = plan["amount"]
            grams = parse_amount(
                f"{amount['value']:g}", amount["unit"], form_of(PRODUCTS[plan["product_id"]])
            )
            self.bloom.pool.pour(plan["product_id"], grams, plan["strength"])
            url = f"/api/v1/sheets/{self.sheet['id']}/steps/{key}/tick"
            answer = self.client.post(url, json=stamped(self.clock))
            assert answer.status_code == 201, answer.text
        elif plan:
            measures = {"test:0": ("fc", "ph", "cc"), "drift": ("fc", "ph"), "phosphate": ("phosphate",)}
            wanted = measures.get(key.partition(":")[0], measures.get(key, ("fc", "cc")))
            wanted = ("cya",) if key == "stabilizer" else wanted
            values = self.bloom.read(self.method, wanted, self.rng, "thinned" in plan["title"])
            typed = {m: f"{v:g}" for m, v in values.items()}
            read(self.client, self.pool, self.clock, "lab" if key == "phosphate" else self.method, **typed)
        else:
            choices = [c[0] for c in step["guide"]["choices"]]
            value = self.bloom.seen() if "green" in choices else "cleaned" if choices else "done"
            value = "90 gal" if step["guide"]["units"] else value
            self.bloom.do(key)
            answer = say(self.client, self.sheet, self.clock, "answer", key, value)
            assert answer.status_code == 201, answer.text
        self.done.append(key)
        self.clock.now += timedelta(seconds=40)


def at_a_green_pool(client: TestClient, pool: dict, clock: Clock, until: str) -> Poolside:
    """Somebody who began a run at a green pool and walked it until a step is next."""
    read(client, pool, clock, **GREEN)
    poolside = Poolside(client, pool, begin(client, pool, clock), clock)
    poolside.walk(1, until=until)
    return poolside


def test_strips_and_bags_at_hand_make_a_run_of_whole_bags(client: TestClient, clock: Clock) -> None:
    body = pool_body(surface="vinyl", latitude="41.5", longitude="-93.6")
    pool = client.post("/api/v1/pools", json=body).json()
    item = {"id": str(uuid7()), "product_id": "cal-hypo-65", "stock": "8", "stock_unit": "lb"}
    assert client.post("/api/v1/shelf/items", json=item | {"pack": "1", "pack_unit": "lb"}).status_code == 201
    sheet = begin(client, pool, clock, method="strip", product_id="cal-hypo-65")
    assert sheet["run"]["school"] == "bags" and sheet["run"]["foretold"][2][1].endswith("bags")
    assert not next(s for s in sheet["run"]["schools"] if s["school"]["id"] == "hold")["fits"]
    poolside = Poolside(client, pool, sheet, clock, "strip")
    now = poolside.walk(2, until="bag:1")
    assert next(s for s in now["steps"] if s["key"] == "bag:1")["plan"]["amount"]["text"] == "2 bags"
    poolside.walk(1, until="bag:2")
    assert client.get("/api/v1/shelf").json()["told"]["lines"][0]["left"].startswith("6 lb")


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"severity": "awful"}, "severity"),
        ({"method": "tongue"}, "method"),
        ({"school": "prayer"}, "school"),
        ({"product_id": "trichlor-90"}, "product_id"),
        ({"looks": 3}, "looks"),
        ({"aim": "shock", "cause": "boredom"}, "cause"),
        ({"means": "oxidiser"}, "means"),
    ],
)
def test_what_cannot_be_asked_is_told_at_its_field(
    client: TestClient, pool: dict, clock: Clock, asked: dict, field: str
) -> None:
    url = f"/api/v1/pools/{pool['id']}/clear-ups"
    problem(client.post(f"{url}/preview", json=ASKED | asked), 422, "unknown_choice", field)
    problem(client.post(url, json=stamped(clock, asked=ASKED | asked)), 422, "unknown_choice", field)
    assert client.get(f"/api/v1/pools/{pool['id']}/today").json()["sheets"] == []


def test_a_run_is_begun_once_and_takes_the_water_over(client: TestClient, pool: dict, clock: Clock) -> None:
    plan = client.post(
        f"/api/v1/pools/{pool['id']}/plans",
        json={
            "id": str(uuid7()),
            "test": a_test(at=clock.now, fc="0.5", ph="7.9", ta="60", ch="280", cya="40"),
        },
    ).json()
    clock.now += timedelta(minutes=5)
    body = stamped(clock, asked=ASKED)
    url = f"/api/v1/pools/{pool['id']}/clear-ups"
    first, again = client.post(url, json=body).json(), client.post(url, json=body).json()
    assert first["id"] == again["id"]
    assert look(client, plan)["state"] == "superseded"
    problem(client.post(url, json=stamped(clock, asked=ASKED)), 409, "run_under_way")
    refused = client.post(
        f"/api/v1/pools/{pool['id']}/plans",
        json={"id": str(uuid7()), "test": a_test(at=clock.now, fc="1", ph="7.5")},
    )
    problem(refused, 409, "run_under_way")
    preview = client.post(f"/api/v1/pools/{pool['id']}/plan-previews", json={"readings": []}).json()
    assert preview["run_id"] == first["id"]
    assert client.delete(f"/api/v1/events/{first['id']}").status_code == 200  # taken back, as if never begun
    # Taken back, as if never begun: the plan it had overtaken is under way again.
    assert [x["id"] for x in client.get(f"/api/v1/pools/{pool['id']}/today").json()["sheets"]] == [plan["id"]]


def test_a_run_given_up_asks_for_the_timer_on_todays_first_line(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    sheet = at_a_green_pool(client, pool, clock, "check:2").sheet
    assert say(client, sheet, clock, "give_up").status_code == 201
    clock.now += timedelta(days=3)
    view = look(client, sheet)["run"]
    assert view["given_up"] and view["criteria"] == view["schools"] == []
    problem(say(client, sheet, clock, "decide", "school", "bags"), 409, "not_now")
    today = client.get(f"/api/v1/pools/{pool['id']}/today").json()
    assert today["headline"] == "Now: Put the pump's timer back." and today["lines"][0]["key"] == "timer_back"
    clock.now += timedelta(minutes=1)
    assert say(client, sheet, clock, "answer", "timer_back", "done").json()["state"] == "given_up"
    assert client.get(f"/api/v1/pools/{pool['id']}/today").json()["sheets"] == []


def test_words_that_cannot_be_said_are_refused_plainly(client: TestClient, pool: dict, clock: Clock) -> None:
    read(client, pool, clock, **GREEN)
    sheet = begin(client, pool, clock)
    problem(say(client, sheet, clock, "answer", "raise:1", "done"), 409, "tick_by_pouring")
    problem(say(client, sheet, clock, "skip", "raise:1"), 409, "not_now")
    problem(say(client, sheet, clock, "decide", "school", "prayer"), 422, "unknown_choice", "value")
    problem(say(client, sheet, clock, "answer", "look:2026-07-15", "clear"), 409, "not_now")
    problem(
        client.post(f"/api/v1/sheets/{sheet['id']}/steps/check:9/tick", json=stamped(clock)), 404, "not_found"
    )
    assert say(client, sheet, clock, "decide", "school", "bags").json()["run"]["school"] == "bags"


def test_a_pool_changed_on_the_way_changes_what_is_ahead_and_says_so(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    sheet = at_a_green_pool(client, pool, clock, "check:1").sheet
    before = look(client, sheet)
    ticked = next(s for s in before["steps"] if s["key"] == "raise:1")["plan"]["amount"]["text"]
    held = client.get(f"/api/v1/pools/{pool['id']}").json()
    body = pool_body(id=None, volume={"how": "typed", "unit": "gal", "amount": "30,000"})
    body = {n: v for n, v in body.items() if n != "id"} | {"revision": held["revision"]}
    assert client.put(f"/api/v1/pools/{pool['id']}", json=body).status_code == 200
    after = look(client, sheet)
    assert any("volume" in line for line in after["run"]["changed"])
    assert next(s for s in after["steps"] if s["key"] == "raise:1")["plan"]["amount"]["text"] == ticked
    assert [x[1] for x in after["run"]["foretold"][:2]] == [x[1] for x in before["run"]["foretold"][:2]]


def test_readings_out_of_order_and_a_check_entered_twice(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    sheet = at_a_green_pool(client, pool, clock, "check:1").sheet
    clock.now += timedelta(hours=2)
    late = a_test(at=clock.now - timedelta(minutes=50), fc="9")
    now = a_test(at=clock.now, fc="8")
    for body in (now, late, now):  # the later first, then the one before it, then the first again
        answer = client.post(f"/api/v1/pools/{pool['id']}/tests", json=body)
        assert answer.status_code == 201, answer.text
    run = look(client, sheet)
    read_ = [p for p in run["run"]["curve"]["points"] if p["kind"] == "read"]
    assert [p["fc"] for p in read_][-2:] == [9, 8] and run["next_key"] == "raise:2"


def test_a_plain_shock_from_preview_to_swim(client: TestClient, pool: dict, clock: Clock) -> None:
    read(client, pool, clock, fc="2", cc="0.8", ph="7.5", ta="90", ch="250", cya="40")
    asked = {"aim": "shock", "cause": "smell", "method": "drops"}
    view = client.post(f"/api/v1/pools/{pool['id']}/clear-ups/preview", json=asked).json()
    assert view["first"]["rise"].endswith("from 2.0")  # what was read today, until the run's own test
    assert view["bloom"] is None and view["first"]["amount"] and view["means"][0]["means"] == "oxidiser"
    sheet = begin(client, pool, clock, **asked, severity="")
    assert sheet["name"] == "Shock" and sheet["run"]["foretold"] == []
    poolside = Poolside(client, pool, sheet, clock)
    poolside.bloom.pool.algae[0] = 0.001
    after = poolside.walk(6)
    assert after["state"] == "done" and "timer_back" in poolside.done
    assert after["run"]["swim"]["allowed"] is True or "pH" in after["run"]["swim"]["sentence"]


def test_an_oxidiser_runs_by_its_label(client: TestClient, pool: dict, clock: Clock) -> None:
    read(client, pool, clock, fc="2", cc="0.6", ph="7.5", ta="90", ch="250", cya="40")
    sheet = begin(client, pool, clock, aim="shock", cause="smell", means="oxidiser", severity="")
    poolside = Poolside(client, pool, sheet, clock)
    after = poolside.walk(2)
    assert after["state"] == "done" and poolside.done[-3:] == ["oxidise", "drift:1", "regain"]


def test_an_oxidiser_waits_a_day_after_chlorine_and_does_not_kill_algae(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    read(client, pool, clock, fc="2", cc="0.6", ph="7.5", ta="90", ch="250", cya="40")
    pour = stamped(clock, product_id="bleach-6", amount="40", unit="fl_oz")
    assert client.post(f"/api/v1/pools/{pool['id']}/doses", json=pour).status_code == 201
    asked = {"aim": "shock", "cause": "smell", "means": "oxidiser", "method": "drops"}
    url = f"/api/v1/pools/{pool['id']}/clear-ups"
    problem(client.post(url, json=stamped(clock, asked=asked)), 422, "not_here", "means")
    clock.now += timedelta(hours=25)
    read(client, pool, clock, fc="2", cc="0.6", ph="7.5", ta="90")
    assert client.post(url, json=stamped(clock, asked=asked)).status_code == 201


def test_a_run_survives_out_and_in_again(
    client: TestClient, pool: dict, clock: Clock, engine: Engine
) -> None:
    read(client, pool, clock, **GREEN)
    sheet = begin(client, pool, clock, answers={"colour": "green"})
    Poolside(client, pool, sheet, clock).walk(1, until="check:1")
    with Session(engine) as session:
        for event in session.scalars(select(Event).where(Event.kind == "clear_up")):
            folded, row = progress_of(session, event, clock.now), event.detail
            assert isinstance(row, SheetRow) and row.state == folded.state == "under_way"
            assert folded.next is not None and row.next_line == folded.next.step.words.title
    data = taken_out(client, engine, "account_json")
    exported = json.loads(data)
    kinds = Counter(e["kind"] for e in exported["events"])
    assert kinds["clear_up"] == 1 and kinds["mark"] >= 4
    before = look(client, sheet)
    wipe(engine)
    assert brought_in(client, engine, data)["state"] == "done"
    assert look(client, sheet) == before
    bad = copy.deepcopy(exported)
    bad["sheets"][0]["inputs"]["run"]["product_id"] = "salt"
    wipe(engine)
    job = brought_in(client, engine, json.dumps(bad).encode())
    assert job["state"] == "failed" and "chlorine product" in json.dumps(job)


# ---- Other roads: kinds, demand, incidents.


@pytest.mark.parametrize(
    ("asked", "code", "field"),
    [
        (
            {"cause": "mustard", "method": "strip"},
            "not_here",
            "method",
        ),  # its level is held, a strip ends at 10
        ({"cause": "mustard", "school": "bags"}, "not_here", "school"),  # its level is held
        ({"school": "same_day"}, "not_here", "school"),  # 15,000 gal
        ({"school": "every_other", "severity": "hidden"}, "not_here", "school"),  # a swamp eats each round
        ({"school": "every_other", "product_id": "dichlor-56"}, "not_here", "product_id"),  # nothing between
        ({"aim": "incident", "cause": "routine"}, "unknown_choice", "cause"),
        ({"aim": "incident", "cause": "loose", "product_id": "dichlor-56"}, "not_here", "product_id"),
        ({"aim": "demand", "means": "boost"}, "unknown_choice", "means"),
        ({"algae_product": "magic"}, "unknown_choice", "algae_product"),
    ],
)
def test_what_cannot_be_led_is_refused_at_its_field(
    client: TestClient, pool: dict, clock: Clock, asked: dict, code: str, field: str
) -> None:
    read(client, pool, clock, **GREEN)
    body = stamped(clock, asked=ASKED | asked)
    problem(client.post(f"/api/v1/pools/{pool['id']}/clear-ups", json=body), 422, code, field)


def test_a_run_turns_to_mustard_and_its_level_with_it(client: TestClient, pool: dict, clock: Clock) -> None:
    read(client, pool, clock, **GREEN)
    sheet = begin(client, pool, clock)
    level = sheet["run"]["curve"]["level_ppm"]
    assert sheet["run"]["kind"] == "green" and {k["id"] for k in sheet["run"]["kinds"]} == {
        "mustard",
        "black",
    }
    assert say(client, sheet, clock, "decide", "cause", "sand").status_code == 422
    turned = say(client, sheet, clock, "decide", "cause", "mustard").json()["run"]
    assert turned["kind"] == "mustard" and turned["curve"]["level_ppm"] > 1.2 * level
    assert "held" in {c["id"] for c in turned["criteria"]}
    assert [s["school"]["id"] for s in turned["schools"]] == ["hold"]
    assert say(client, sheet, clock, "decide", "school", "same_day").status_code == 422
    assert say(client, sheet, clock, "decide", "school", "bags").status_code == 422
    other = client.post("/api/v1/pools", json=pool_body(name="Another")).json()
    by_strip = begin(client, other, clock, method="strip")
    answer = say(client, by_strip, clock, "decide", "cause", "mustard")
    assert answer.status_code == 422 and "cannot read" in answer.text


def test_an_incident_is_counted_by_its_readings_to_the_row(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    read(client, pool, clock, **GREEN)
    preview = client.post(
        f"/api/v1/pools/{pool['id']}/clear-ups/preview", json={"aim": "incident", "cause": "loose"}
    ).json()
    assert ["Stabilizer up to 15 ppm", "40 ppm for 8 h 30 min"] in preview["table"]
    assert "no row" in preview["missing"] and preview["level"] == ""
    sheet = begin(client, pool, clock, aim="incident", cause="formed", severity="")
    assert sheet["run"]["school_label"] == "a formed stool" and sheet["run"]["swim"]["allowed"] is False
    for key in ("out", "lift", "timer"):
        assert say(client, sheet, clock, "answer", key, "done").status_code == 201
    began = clock.now
    for minutes, fc, temp in (
        (1, "3", "82"),
        (30, "3", "82"),
        (50, "1", "82"),
        (60, "3", "82"),
        (115, "3", "82"),
    ):
        clock.now = began + timedelta(minutes=minutes)
        body = a_test(at=clock.now, fc=fc, ph="7.4", temp=temp)
        answer = client.post(f"/api/v1/pools/{pool['id']}/tests", json=body)
        assert answer.status_code == 201, answer.text
    run = look(client, sheet)["run"]
    counts = [(line["counts"], line["why"]) for line in run["contact"]]
    assert counts == [
        ("none", "chlorine under 2"), ("29 min", ""), ("none", "chlorine under 2"), ("none", "chlorine under 2"),
        ("55 min", ""),
    ]  # fmt: skip
    assert run["over"] and run["criteria"][0]["met"] and run["curve"]["level_ppm"] == 2
    keys = [s["key"] for s in look(client, sheet)["steps"]]
    assert keys.index("filter:after") < keys.index("record")
