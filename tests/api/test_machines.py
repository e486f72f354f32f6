"""The machines through the API: guides that hand over, what they write, what is set, going away."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient
from uuid6 import uuid7

from support import NOW, Clock, a_test, pool_body, problem, readings

CELL = {
    "output": ("600", "g_day"),
    "hours_day": ("8", "h"),
    "salt_low": ("2700", "ppm"),
    "salt_high": ("3400", "ppm"),
}


def field(text: str, unit: str = "") -> dict[str, str]:
    return {"text": text, "unit": unit}


def piece(client: TestClient, pool: dict, kind: str, **fields: tuple[str, str]) -> None:
    details = {name: field(*one) for name, one in fields.items()}
    body = {"id": str(uuid7()), "kind": kind, "details": details}
    answer = client.post(f"/api/v1/pools/{pool['id']}/equipment", json=body)
    assert answer.status_code == 201, answer.text


def made(client: TestClient, **more: Any) -> dict[str, Any]:
    answer = client.post("/api/v1/pools", json=pool_body(name="Other", **more))
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


@pytest.fixture
def salt_pool(client: TestClient) -> dict[str, Any]:
    """A pool with a chlorinator, a pump and a filter."""
    pool = made(client, chlorine_source="chlorinator")
    piece(client, pool, "chlorinator", **CELL, self_cleaning=("no", ""), flow_switch=("yes", ""))
    piece(
        client,
        pool,
        "filter",
        medium=("sand", ""),
        valve=("multiport", ""),
        clean=("10", "psi"),
        waste=("yes", ""),
    )
    piece(client, pool, "pump", flow=("50", "gpm"), hours=("8", "h"))
    return pool


def begin(client: TestClient, pool: dict, clock: Clock, subject: str, **more: Any) -> Any:
    body = {"id": str(uuid7()), "at": clock.now.isoformat(), "subject": subject} | more
    return client.post(f"/api/v1/pools/{pool['id']}/guides", json=body)


def say(
    client: TestClient, sheet: dict, clock: Clock, key: str, value: str = "done", verb: str = "answer"
) -> Any:
    clock.now += timedelta(minutes=1)
    body = {"id": str(uuid7()), "at": clock.now.isoformat(), "key": key, "verb": verb, "value": value}
    answer = client.post(f"/api/v1/sheets/{sheet['id']}/marks", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()


def step(sheet: dict, key: str) -> dict[str, Any]:
    return next(s for s in sheet["steps"] if s["key"] == key)


def logged(client: TestClient, pool: dict, kind: str) -> list[dict[str, Any]]:
    events = client.get(f"/api/v1/pools/{pool['id']}/events", params={"kind": kind}).json()["events"]
    return [e for e in events if e["kind"] == kind]


def reads(client: TestClient, pool: dict, clock: Clock, **values: str) -> None:
    answer = client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(at=clock.now, **values))
    assert answer.status_code == 201, answer.text


def entry(client: TestClient, pool: dict, at: Any, kind: str, **fields: dict[str, str]) -> None:
    body = {"id": str(uuid7()), "kind": kind, "at": at.isoformat(), "details": fields}
    answer = client.post(f"/api/v1/pools/{pool['id']}/entries", json=body)
    assert answer.status_code == 201, answer.text


def task(client: TestClient, pool: dict, rule: str) -> dict[str, Any]:
    tasks = client.get(f"/api/v1/pools/{pool['id']}/care").json()["tasks"]
    return next(t for t in tasks if t["rule_id"] == rule)


def test_the_low_salt_light_and_the_cell_from_the_light_to_the_next_interval(
    client: TestClient, salt_pool: dict, clock: Clock
) -> None:
    before = task(client, salt_pool, "cell")
    light = begin(client, salt_pool, clock, "cell_light").json()
    light = say(client, light, clock, "which", "salt", "decide")
    # The panel's word is no test of salt.
    panel = [readings(salt="2400")[0] | {"method": "panel"}]
    body = a_test(at=clock.now) | {"readings": panel}
    assert client.post(f"/api/v1/pools/{salt_pool['id']}/tests", json=body).status_code == 201
    light = client.get(f"/api/v1/sheets/{light['id']}").json()
    assert step(light, "salt")["state"] == "open" and "panel says 2,400" in step(light, "salt")["told"]
    clock.now += timedelta(minutes=1)
    reads(client, salt_pool, clock, salt="3000")
    light = client.get(f"/api/v1/sheets/{light['id']}").json()
    assert step(light, "salt")["state"] == "done" and "over 500 apart" in step(light, "low")["told"]
    light = say(client, light, clock, "low", "fine", "decide")
    light = say(client, light, clock, "flow", "strong", "decide")
    light = say(client, light, clock, "cold", "warm", "decide")
    light = say(client, light, clock, "cycle")
    cell = begin(client, salt_pool, clock, "cell", instead_of=light["id"]).json()
    light = say(client, light, clock, "back", "back", "decide")
    assert light["state"] == "done"
    for key in ("off", "shut", "take_out"):
        cell = say(client, cell, clock, key)
    assert "No acid bath" in step(cell, "look")["told"]
    hand = begin(client, salt_pool, clock, "cell_hand").json()
    cell = say(client, cell, clock, "look", "heavy", "decide")
    assert step(client.get(f"/api/v1/sheets/{cell['id']}").json(), "refit")["held"].startswith("Deposits off")
    hand = say(client, say(client, hand, clock, "flakes"), clock, "tool")
    # The bath asks for its container, and is mixed for it.
    problem(begin(client, salt_pool, clock, "cell_bath"), 422, "missing", "container")
    mixed = {"container": "1 gal", "parts": "4", "acid": "muriatic-31.45"}
    bath = begin(client, salt_pool, clock, "cell_bath", given=mixed, instead_of=hand["id"]).json()
    say(client, hand, clock, "again", "scaled", "decide")
    titles = [s["guide"]["title"] for s in bath["steps"]]
    assert titles[1:3] == ["Water first: 3 qt 7 fl oz", "Then the acid: 25 fl oz"]
    for key in ("gear", "water", "acid", "dip"):
        bath = say(client, bath, clock, key)
    bath = say(client, bath, clock, "fizz", verb="timer")
    for key in ("fizz", "lift", "soda"):
        bath = say(client, bath, clock, key)
    bath = say(client, bath, clock, "again", "clean", "decide")
    assert bath["state"] == "done"
    for key in ("refit", "unshut", "on", "auto"):
        cell = say(client, cell, clock, key)
    cell = say(client, cell, clock, "settings", "kept")
    cell = say(client, cell, clock, "boost", "no", "decide")
    assert cell["state"] == "done" and cell["outcome"][0].startswith("Next look on")
    # On record: the grade, the bath, and hence the next interval.
    assert "heavy deposits" in logged(client, salt_pool, "inspection")[0]["detail"]
    upkeep = [e["detail"] for e in logged(client, salt_pool, "upkeep")]
    assert any("bathed in acid" in d for d in upkeep) and any("by hand" in d for d in upkeep)
    after = task(client, salt_pool, "cell")
    assert "nobody has looked yet" in before["why"] and "the last look found scale" in after["why"]
    view = client.get(f"/api/v1/pools/{salt_pool['id']}/machines").json()["chlorinator"]["plates"]
    assert view["baths"] == 1 and view["looks"][0]["found"] == "Thick or flaky deposits"


def test_a_grade_given_anew_takes_the_first_back_and_an_undo_takes_its_entry_along(
    client: TestClient, salt_pool: dict, clock: Clock
) -> None:
    cell = begin(client, salt_pool, clock, "cell").json()
    for key in ("off", "shut", "take_out"):
        cell = say(client, cell, clock, key)
    say(client, cell, clock, "look", "light", "decide")
    cell = say(client, cell, clock, "look", "fine", "decide")
    found = logged(client, salt_pool, "inspection")
    assert len(found) == 1 and found[0]["detail"].endswith("fine")
    client.delete(f"/api/v1/events/{step(cell, 'look')['said_id']}")
    assert logged(client, salt_pool, "inspection") == []


def test_baths_are_limited_and_what_does_not_fit_is_told_at_its_field(
    client: TestClient, salt_pool: dict, clock: Clock
) -> None:
    for hours in (3, 2):
        entry(client, salt_pool, NOW - timedelta(hours=hours), "upkeep", what=field("cell_bath"))
    problem(begin(client, salt_pool, clock, "cell_bath", given={"container": "1 gal"}), 409, "too_many_baths")
    clock.now += timedelta(days=2)
    for given, at in (
        ({"container": "1 stone"}, "container"), ({"container": "x gal"}, "container"),
        ({"container": "0 gal"}, "container"), ({"container": "1 gal", "parts": "3"}, "parts"),
        ({"container": "1 gal", "acid": "bleach-6"}, "acid"),
    ):  # fmt: skip
        fields = begin(client, salt_pool, clock, "cell_bath", given=given).json()["fields"]
        assert [f["field"] for f in fields] == [at], given
    problem(begin(client, salt_pool, clock, "toast"), 422, "unknown_choice", "subject")
    problem(begin(client, salt_pool, clock, "feeder"), 409, "no_feeder_here")
    assert begin(client, salt_pool, clock, "lower").json()["steps"][3]["guide"]["valve"] == "waste"


def test_a_level_lowered_and_a_boost_are_in_the_log(
    client: TestClient, salt_pool: dict, clock: Clock
) -> None:
    lower = begin(client, salt_pool, clock, "lower").json()
    for s in lower["steps"]:
        if s["key"] in ("before", "after"):
            lower = say(client, lower, clock, s["key"], "", "skip")
        elif s["key"] == "lost":
            assert step(lower, "lost")["guide"]["suggested"].endswith("gal")
            lower = say(client, lower, clock, "lost", "250 gal")
        else:
            lower = say(client, lower, clock, s["key"])
    assert lower["state"] == "done" and "250 gal" in logged(client, salt_pool, "drain")[0]["detail"]
    entry(client, salt_pool, clock.now, "cell", setting=field("60", "%"), hours=field("8", "h"))
    boost = begin(client, salt_pool, clock, "boost").json()
    boost = say(client, boost, clock, "on")
    assert step(boost, "back")["state"] == "later"
    clock.now += timedelta(days=1, minutes=1)
    boost = say(client, boost, clock, "back")
    settings = [e["detail"] for e in logged(client, salt_pool, "cell")]
    assert settings[0].startswith("60 %") and settings[1].startswith("100 %")
    clock.now += timedelta(minutes=5)
    reads(client, salt_pool, clock, fc="4", ph="7.6")
    assert client.get(f"/api/v1/sheets/{boost['id']}").json()["state"] == "done"


def test_two_nights_tell_a_cell_that_fades_from_a_demand_that_rose(
    client: TestClient, salt_pool: dict, clock: Clock
) -> None:
    guide = begin(client, salt_pool, clock, "cell_output").json()
    guide = say(client, guide, clock, "off")
    # 600 g a day into 15,000 gal is 0.44 ppm an hour: ten hours bring 4.4, less what the dark takes.
    read = {"dusk": "5.0", "dawn": "4.4", "second_dusk": "3.0", "second_dawn": "4.0"}
    for key in ("dusk", "dawn", "day", "second_dusk", "full", "second_dawn"):
        due = step(client.get(f"/api/v1/sheets/{guide['id']}").json(), key)["due_at"]
        clock.now = max(clock.now, type(NOW).fromisoformat(due)) + timedelta(minutes=5)
        if key in read:
            reads(client, salt_pool, clock, fc=read[key])
        else:
            say(client, guide, clock, key)
    guide = say(client, guide, clock, "back")
    assert guide["state"] == "done" and "the cell fades" in guide["outcome"][0]


def test_what_to_set_follows_from_the_log_else_from_the_season(
    client: TestClient, salt_pool: dict, clock: Clock
) -> None:
    url = f"/api/v1/pools/{salt_pool['id']}/machines"
    cell = client.get(url).json()["chlorinator"]
    assert "no log tells it yet" in cell["demand"] and cell["level"] == "watch" and len(cell["points"]) >= 7
    assert {c["word"] for c in cell["checks"]} == {"never tested"}
    start = NOW - timedelta(days=21)
    entry(client, salt_pool, start, "cell", setting=field("30", "%"), hours=field("8", "h"))
    for day in (0, 7, 14, 21):
        values = {
            "fc": "3.0",
            "ph": "7.6",
            "ta": "80",
            "ch": "300",
            "cya": "40",
            "salt": "3100",
            "temp": "82",
        }
        clock.now = start + timedelta(days=day, hours=1)
        reads(client, salt_pool, clock, **values)
    clock.now = NOW + timedelta(hours=2)
    cell = client.get(url).json()["chlorinator"]
    # 30 % for 8 h of 600 g a day into 15,000 gal is 1.06 ppm a day, and the level held, a little over its aim.
    assert cell["demand"].startswith("1.0 ppm a day") and "log of 21 days" in cell["demand"]
    assert cell["advised"] == {"percent": 30.0, "hours": 8.0} and cell["level"] == "fine"
    # pH is never carried for long: it is to be read.
    assert {c["label"]: c["word"] for c in cell["checks"] if c["word"] != "in its band"} == {"pH": "test it"}
    assert any(row["now"] for row in cell["seasons"])
    view = client.get(url).json()
    assert view["headline"] and view["filter"]["due_at"] == 18.0
    assert view["circulation"]["turnover"].startswith("One turnover takes 5.0 h.")


def test_nothing_recorded_is_said_plainly(client: TestClient, pool: dict) -> None:
    view = client.get(f"/api/v1/pools/{pool['id']}/machines").json()
    assert view["chlorinator"] is None and view["filter"] is None
    assert "flow is missing" in view["circulation"]["missing"][0]
    assert client.get(f"/api/v1/pools/{uuid4()}/machines").status_code == 404


def test_going_away_foretells_with_its_doubt_and_is_due_on_return(
    client: TestClient, salt_pool: dict, clock: Clock
) -> None:
    url = f"/api/v1/pools/{salt_pool['id']}/away"
    for days in (0, -3, 500):
        problem(client.get(url, params={"days": days}), 422, "out_of_range", "days")
    fresh = client.get(url, params={"days": 9}).json()
    assert fresh["before"][0]["title"] == "Test the water" and fresh["unsure"]
    entry(client, salt_pool, NOW - timedelta(days=1), "cell", setting=field("50", "%"), hours=field("8", "h"))
    reads(client, salt_pool, clock, fc="3.0", ph="7.6", ta="80", ch="300", cya="40", salt="3100", temp="82")
    clock.now += timedelta(minutes=5)
    plan = client.get(url, params={"days": 9}).json()
    assert plan["settings"][0].startswith("Cell at ") and plan["fc"]["after"] > 1
    drift = plan["ph"]["after"] - plan["ph"]["before"]
    assert plan["ph"]["u95"] > 0 and "We are back on" in plan["note"][-1]
    # High, it leaves with what the acid leaves, and goes from there as it would have gone.
    reads(client, salt_pool, clock, fc="3.0", ph="8.0", ta="80", ch="300", cya="40", salt="3100", temp="82")
    clock.now += timedelta(minutes=5)
    high = client.get(url, params={"days": 9}).json()
    assert any("acid" in b["title"] for b in high["before"]) and high["ph"]["before"] < 7.7
    assert 0 <= high["ph"]["after"] - high["ph"]["before"] < drift + 0.3
    long = client.get(url, params={"days": 60}).json()
    assert long["fc"]["u95"] >= plan["fc"]["u95"]
    body = {"id": str(uuid7()), "at": clock.now.isoformat(), "kind": "away", "days": 9}
    walk = client.post(f"/api/v1/pools/{salt_pool['id']}/walks", json=body).json()
    assert plan["settings"][0] in step(walk, "feeds")["guide"]["how"]
    due = next(
        t
        for t in client.get(f"/api/v1/pools/{salt_pool['id']}/care").json()["tasks"]
        if t["title"].startswith("Back home")
    )
    assert due["on"] == plan["returns"] and due["opens"] == "back"
    clock.now += timedelta(days=9)
    body = {"id": str(uuid7()), "at": clock.now.isoformat(), "kind": "back"}
    back = client.post(f"/api/v1/pools/{salt_pool['id']}/walks", json=body).json()
    for key in ("look", "test", "doses", "everyday"):
        verb, value = ("answer", "fine" if key == "look" else "done") if key != "test" else ("skip", "")
        back = say(client, back, clock, key, value, verb)
    assert back["state"] == "done"
    left = client.get(f"/api/v1/pools/{salt_pool['id']}/care").json()["tasks"]
    assert next(t for t in left if t["title"].startswith("Back home"))["state"] == "none"


def test_tablets_are_counted_and_stop_where_stabilizer_says(client: TestClient, clock: Clock) -> None:
    pool = made(client, chlorine_source="tablets")
    url = f"/api/v1/pools/{pool['id']}"
    piece(client, pool, "feeder", what=("feeder", ""), holds=("trichlor", ""), dial=("3", ""))
    guide = begin(client, pool, clock, "feeder").json()
    for s in guide["steps"]:
        if s["key"] == "tablets":
            assert "twice a week" in step(guide, "tablets")["told"]
            guide = say(client, guide, clock, "tablets", "3")
        else:
            guide = say(client, guide, clock, s["key"])
    assert guide["state"] == "done"
    assert "3" in logged(client, pool, "dose")[0]["title"] + logged(client, pool, "dose")[0]["detail"]
    feeder = client.get(f"{url}/machines").json()["feeder"]
    assert feeder["holds"] == "trichlor" and feeder["last"] and feeder["level"] == "fine"
    reads(client, pool, clock, fc="3", ph="7.5", cya="70")
    feeder = client.get(f"{url}/machines").json()["feeder"]
    assert feeder["level"] == "act" and feeder["sentence"].startswith("No more tablets")


def test_a_weak_flow_and_the_chosen_school_make_the_filter_due(
    client: TestClient, salt_pool: dict, clock: Clock
) -> None:
    entry(client, salt_pool, NOW - timedelta(days=1), "backwash")
    assert task(client, salt_pool, "filter")["state"] == "coming"
    entry(client, salt_pool, NOW, "pressure", pressure=field("12", "psi"), flow=field("30", "gpm"))
    due = task(client, salt_pool, "filter")
    assert due["state"] == "due" and "down to 60 %" in due["why"]
    care = client.get(f"/api/v1/pools/{salt_pool['id']}/care").json()
    chosen = care["chosen"] | {"filter_by": "two_weeks", "revision": care["revision"]}
    assert client.put(f"/api/v1/pools/{salt_pool['id']}/care", json=chosen).status_code == 200
    entry(client, salt_pool, NOW, "backwash")
    assert "14 days" in task(client, salt_pool, "filter")["why"]


def test_a_copper_system_is_begun_where_one_is_recorded(client: TestClient, pool: dict, clock: Clock) -> None:
    problem(begin(client, pool, clock, "mineral"), 409, "no_copper_here")
    body = {"id": str(uuid7()), "kind": "mineral", "details": {"what": {"text": "copper"}}}
    assert client.post(f"/api/v1/pools/{pool['id']}/equipment", json=body).status_code == 201
    assert "mineral" in {
        g["subject"]
        for g in client.get(f"/api/v1/pools/{pool['id']}/machines").json()["circulation"]["guides"]
    }
    sheet = begin(client, pool, clock, "mineral").json()
    assert sheet["next_key"] == "copper_before" and "40 lb" in sheet["steps"][1]["guide"]["how"]
