"""The main story through the API, on a real MariaDB: test, plan, accept, tick, log, correct, undo."""

from datetime import timedelta

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text
from uuid6 import uuid7

from support import LOW, NOW, Clock, a_test, pool_body, problem, readings


def test_from_test_to_ticked_plan(client: TestClient, pool: dict, clock: Clock) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    shown = client.post(f"{url}/plan-previews", json={"readings": readings(**LOW)}).json()
    assert [s["role"] for s in shown["plan"]["steps"] if s["kind"] == "add"] == ["lower_ph", "raise_fc"]
    body = {"id": str(uuid7()), "test": a_test(**LOW)}
    plan = client.post(f"{url}/plans", json=body)
    assert plan.status_code == 201, plan.text
    again = client.post(f"{url}/plans", json=body)  # a lost answer, sent again
    assert again.json()["id"] == plan.json()["id"]
    assert len(client.get(f"{url}/events").json()["events"]) == 2

    steps = plan.json()["steps"]
    tick = {"id": str(uuid7()), "at": NOW.isoformat(), "amount": "1", "unit": "cup"}
    done = client.post(f"/api/v1/sheets/{plan.json()['id']}/steps/{steps[0]['key']}/tick", json=tick)
    assert done.status_code == 201
    assert "planned" in done.json()["detail"]  # poured differs from planned
    assert (
        client.post(f"/api/v1/sheets/{plan.json()['id']}/steps/{steps[0]['key']}/tick", json=tick).json()[
            "id"
        ]
        == done.json()["id"]
    )
    problem(
        client.post(
            f"/api/v1/sheets/{plan.json()['id']}/steps/{steps[0]['key']}/tick",
            json={**tick, "id": str(uuid7())},
        ),
        409,
        "already_done",
    )
    today = client.get(f"{url}/today").json()
    assert today["sheets"][0]["steps"][0]["done"]["id"] == done.json()["id"]
    assert today["sheets"][0]["next_key"] == steps[1]["key"]

    # Undo the tick, then undo the undo; a tick made in between wins.
    client.delete(f"/api/v1/events/{done.json()['id']}")
    assert client.get(f"{url}/today").json()["sheets"][0]["next_key"] == steps[0]["key"]
    assert client.post(f"/api/v1/events/{done.json()['id']}/restore").json()["deleted"] is False
    client.delete(f"/api/v1/events/{done.json()['id']}")
    client.post(
        f"/api/v1/sheets/{plan.json()['id']}/steps/{steps[0]['key']}/tick",
        json={"id": str(uuid7()), "at": NOW.isoformat()},
    )
    problem(client.post(f"/api/v1/events/{done.json()['id']}/restore"), 409, "already_done")

    # An accepted plan is never recomputed, whatever becomes of pool and test.
    before = client.get(f"/api/v1/sheets/{plan.json()['id']}").json()["steps"][1]["plan"]
    change = {k: v for k, v in pool_body(surface="vinyl").items() if k != "id"}
    assert (
        client.put(
            url, json={**change, "volume": {"how": "typed", "unit": "l", "amount": "9000"}, "revision": 1}
        ).status_code
        == 200
    )
    assert client.get(f"/api/v1/sheets/{plan.json()['id']}").json()["steps"][1]["plan"] == before


def test_waits_run_from_the_pour_not_from_the_plan(client: TestClient, pool: dict, clock: Clock) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    plan = client.post(f"{url}/plans", json={"id": str(uuid7()), "test": a_test(**LOW)}).json()
    assert "17:40" in plan["steps"][0]["plan"]["clock"] and "Swim from 18:40" in plan["swim"]
    clock.now = NOW + timedelta(minutes=50)  # nothing poured yet: everything slips
    assert "Swim from 19:30" in client.get(f"{url}/today").json()["sheets"][0]["swim"]
    client.post(
        f"/api/v1/sheets/{plan['id']}/steps/{plan['steps'][0]['key']}/tick",
        json={"id": str(uuid7()), "at": clock.now.isoformat()},
    )
    today = client.get(f"{url}/today").json()
    chlorine = next(s["plan"] for s in today["sheets"][0]["steps"] if s["plan"]["role"] == "raise_fc")
    assert chlorine["clock"] == "19:00"  # 30 min after the acid went in at 18:30, not after 17:40
    assert "Swim from 19:30" in today["sheets"][0]["swim"]


def test_correct_delete_undo_and_two_tabs(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    test = client.post(f"{url}/tests", json=a_test(**LOW)).json()
    kept = next(r for r in test["readings"] if r["measure"] == "fc")
    assert (kept["text"], kept["unit"], kept["method"]) == ("1.0", "ppm", "drops")
    change = {"local": test["local"], "revision": 1, "readings": readings(fc="2,5", ph="7.5")}
    first = client.put(f"/api/v1/tests/{test['id']}", json=change)
    assert first.json()["revision"] == 2 and len(first.json()["readings"]) == 2
    assert first.json()["at"] == test["at"]  # an unchanged time keeps its seconds
    assert "elsewhere" in problem(
        client.put(f"/api/v1/tests/{test['id']}", json=change), 409, "changed_meanwhile"
    )
    dose = client.post(
        f"{url}/doses",
        json={
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "product_id": "soda-ash",
            "amount": "1 200",
            "unit": "g",
        },
    ).json()
    fixed = {
        "local": "2026-07-01T09:30",
        "product_id": "soda-ash",
        "amount": "2",
        "unit": "lb",
        "revision": 1,
    }
    assert client.put(f"/api/v1/doses/{dose['id']}", json=fixed).json()["clock"] == "09:30"
    assert client.delete(f"/api/v1/events/{dose['id']}").json()["deleted"] is True
    assert dose["id"] not in [e["id"] for e in client.get(f"{url}/events").json()["events"]]
    problem(client.put(f"/api/v1/doses/{dose['id']}", json={**fixed, "revision": 3}), 409, "deleted")
    assert client.post(f"/api/v1/events/{dose['id']}/restore").json()["deleted"] is False
    assert client.get(f"{url}/events").json()["events"][-1]["amount_text"] == "2"


def test_log_pages_and_archive(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    for day in range(7):
        client.post(f"{url}/tests", json=a_test(NOW - timedelta(days=day), fc=str(day)))
    seen, cursor = [], None
    while True:
        page = client.get(
            f"{url}/events", params={"limit": 3} | ({"cursor": cursor} if cursor else {})
        ).json()
        seen += [e["detail"] for e in page["events"]]
        cursor = page["next"]
        if not cursor:
            break
    assert seen == [f"FC {d}.0" for d in range(7)]
    client.post(f"{url}/archive")
    assert client.get("/api/v1/pools").json() == []
    assert client.get("/api/v1/pools", params={"archived": True}).json()[0]["id"] == pool["id"]
    client.post(f"{url}/unarchive")
    assert len(client.get(f"{url}/events").json()["events"]) == 7


def test_missing_measures_come_from_the_log_with_their_age_and_doses(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    client.post(f"{url}/tests", json=a_test(NOW - timedelta(days=10), cya="20", ta="100", fc="3"))
    # 13.35 oz of stabilizer raises 10,000 gal by 10 ppm (check values): 26.7 oz raise 15,000 gal by 13.3;
    # splash and filter cleaning nobody logs take about 0.2 ppm a day (our own prior).
    client.post(
        f"{url}/doses",
        json={
            "id": str(uuid7()),
            "at": (NOW - timedelta(days=9)).isoformat(),
            "product_id": "stabilizer",
            "amount": "26.7",
            "unit": "oz",
        },
    )
    found = client.post(f"{url}/plan-previews", json={"readings": readings(fc="3", ph="7.5")}).json()["plan"][
        "findings"
    ]
    by = {f["measure"]: f for f in found}
    assert by["cya"]["text"] == "31 ppm" and "10 days old" in by["cya"]["from_log"]
    assert by["fc"]["from_log"] == ""
    later = client.post(f"{url}/plan-previews", json={"readings": readings(ph="7.5")}).json()["plan"][
        "findings"
    ]
    assert "fc" not in {f["measure"] for f in later}  # chlorine is never carried


def test_measures_are_the_persons(client: TestClient, pool: dict) -> None:
    client.put("/api/v1/account", json={"unit_system": "metric", "revision": 1})
    shown = client.post(
        f"/api/v1/pools/{pool['id']}/plan-previews", json={"readings": readings(**LOW)}
    ).json()
    units = {s["amount"]["unit"] for s in shown["plan"]["steps"] if s["amount"]}
    assert units <= {"ml", "g"}
    assert client.get(f"/api/v1/pools/{pool['id']}").json()["volume_text"].endswith(" L")
    problem(
        client.put("/api/v1/account", json={"unit_system": "us", "revision": 1}), 409, "changed_meanwhile"
    )


@pytest.mark.parametrize(
    ("values", "field", "code", "says"),
    [
        ({"ph": "74"}, "readings.ph", "out_of_range", "7.4?"),
        ({"fc": "lots"}, "readings.fc", "not_a_number", "lots"),
        ({"fc": "3", "tc": "2"}, "readings.tc", "total_below_free", "below free"),
        ({"fc": "-1"}, "readings.fc", "out_of_range", "0 to 100"),
        ({"salt": "1e999"}, "readings.salt", "not_a_number", "ordinary"),
        ({"cya": "9" * 41}, "readings.cya", "not_a_number", "long"),
        ({"temp": "812"}, "readings.temp", "out_of_range", "°F"),
        ({"ta": "'; DROP TABLE pool; --"}, "readings.ta", "not_a_number", "not a number"),
        ({}, "readings", "empty", "at least one"),
    ],
)
def test_bad_readings_are_told_at_the_field(
    client: TestClient, pool: dict, values: dict, field: str, code: str, says: str
) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    assert says in problem(client.post(f"{url}/tests", json=a_test(**values)), 422, code, field)
    preview = client.post(
        f"{url}/plan-previews", json={"readings": readings(**values)}
    )  # while typing: told, never refused
    assert preview.status_code == 200
    assert not values or preview.json()["problems"][0]["field"] == field


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"volume": {"how": "typed", "amount": "0"}}, "volume.amount", "more than zero"),
        ({"volume": {"how": "typed", "amount": "-5"}}, "volume.amount", "more than zero"),
        ({"volume": {"how": "typed", "amount": "1e9"}}, "volume.amount", "larger than any pool"),
        ({"volume": {"how": "typed", "amount": "big"}}, "volume.amount", "not a number"),
        ({"volume": {"how": "typical", "typical": "lake"}}, "volume.typical", "nearest"),
        (
            {
                "volume": {
                    "how": "shape",
                    "unit": "ft",
                    "plan": "oval",
                    "bottom": "sloped",
                    "length": "30",
                    "width": "15",
                    "shallow": "6",
                    "deep": "3",
                }
            },
            "volume.deep",
            "swap",
        ),
        (
            {
                "volume": {
                    "how": "shape",
                    "unit": "m",
                    "plan": "rectangle",
                    "length": "x",
                    "width": "",
                    "shallow": "1",
                }
            },
            "volume.width",
            "not a number",
        ),
        ({"name": "  "}, "name", "name"),
        ({"time_zone": "Mars/Olympus"}, "time_zone", "time zone"),
        ({"surface": "gold"}, "surface", "Choose"),
        ({"sanitizer": "bromine"}, "sanitizer", "does not dose bromine"),
        ({"sanitizer": "biguanide"}, "sanitizer", "must never be"),
    ],
)
def test_bad_pools_are_told_at_the_field(client: TestClient, change: dict, field: str, says: str) -> None:
    answer = client.post("/api/v1/pools", json=pool_body(**change))
    assert answer.status_code == 422
    assert says in {f["field"]: f["message"] for f in answer.json()["fields"]}[field]


def test_times_ids_bodies_and_hostile_strings(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    problem(client.post(f"{url}/tests", json=a_test(NOW + timedelta(days=1), fc="3")), 422, "in_future", "at")
    test = client.post(f"{url}/tests", json=a_test(fc="3")).json()
    for local, code in (
        ("2026-03-08T02:30", "no_such_time"),
        ("2027-01-01T00:00", "in_future"),
        ("soon", "not_a_time"),
        ("0001-01-01T00:00", "too_old"),
    ):
        body = {"local": local, "revision": 1, "readings": readings(fc="3")}
        problem(client.put(f"/api/v1/tests/{test['id']}", json=body), 422, code, "local")
    problem(client.get(f"/api/v1/events/{uuid7()}"), 404, "not_found")
    problem(client.get("/api/v1/events/xyz"), 422, "uuid_parsing", "event_id")
    problem(client.get("/api/nowhere"), 404, "http_404")
    assert client.get("/api/v1/pools", headers={"host": "elsewhere.example"}).status_code == 400
    problem(
        client.post(f"{url}/tests", json={**a_test(fc="3"), "raedings": []}),
        422,
        "extra_forbidden",
        "raedings",
    )
    problem(
        client.post(
            f"{url}/tests", json={**a_test(fc="3"), "id": pool["id"][:-1] + "0", "at": "2026-07-14T10:00:00"}
        ),
        422,
        "timezone_aware",
        "at",
    )
    assert (
        client.post(
            f"{url}/tests", content=b"x" * 300_000, headers={"content-type": "application/json"}
        ).status_code
        == 413
    )
    assert (
        client.post(f"{url}/tests", content=b"{", headers={"content-type": "application/json"}).status_code
        == 422
    )
    hostile = "Robert'); DROP TABLE pool;-- <script>alert(1)</script> \U0001f3ca"
    made = client.post("/api/v1/pools", json=pool_body(name=hostile)).json()
    assert client.get(f"/api/v1/pools/{made['id']}").json()["name"] == hostile
    wrong = {
        "id": str(uuid7()),
        "at": NOW.isoformat(),
        "product_id": "muriatic-31.45",
        "amount": "1",
        "unit": "lb",
    }
    problem(client.post(f"{url}/doses", json=wrong), 422, "wrong_unit", "amount_unit")
    cups = {**wrong, "product_id": "baking-soda", "unit": "cup"}
    problem(client.post(f"{url}/doses", json=cups), 422, "wrong_unit", "amount_unit")
    strong = {
        "readings": readings(**LOW),
        "products": {"raise_fc": {"product_id": "liquid-chlorine-12.5", "strength": 0.9}},
    }
    assert (
        client.post(f"{url}/plan-previews", json=strong).json()["problems"][0]["field"] == "products.raise_fc"
    )


SETTINGS = {
    "school": "flat_band",
    "answers": {"sun": "full"},
    "targets": {"salt": {"low": "3,000", "high": "4000", "why": "the cell's manual"}},
    "fill": {"ph": "7,8", "ta": "120", "ch": "300"},
    "hose": "600",
}


def test_school_targets_and_fill_water_change_what_is_planned(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    before = client.post(
        f"{url}/plan-previews", json={"readings": readings(fc="3", ph="7.5", cya="60")}
    ).json()
    assert before["plan"]["findings"][0]["word"] == "low" and before["differences"] == []
    looked = client.post(
        f"{url}/plan-previews",
        json={"readings": readings(fc="3", ph="7.5", cya="60"), "school": "flat_band"},
    ).json()
    assert looked["plan"]["school"] == "flat_band" and any(
        "Free chlorine is fine here, low under" in d for d in looked["differences"]
    )
    saved = client.put(f"{url}/settings", json={**SETTINGS, "revision": 1})
    assert saved.status_code == 200, saved.text
    assert (
        saved.json()["school"] == "flat_band" and saved.json()["settings"]["fill"]["ph"] == "7,8"
    )  # as typed
    target = next(t for t in saved.json()["targets"] if t["measure"] == "salt")
    assert (
        target["own"] == "the cell's manual"
        and target["band"] == "3,000 to 4,000, aim 3,500"
        and target["reason_id"] == "own_target"
    )
    after = client.post(
        f"{url}/plan-previews", json={"readings": readings(fc="3", ph="7.5", cya="60")}
    ).json()
    assert after["plan"]["findings"][0]["word"] == "fine"
    diluted = client.post(f"{url}/plan-previews", json={"readings": readings(fc="3", cya="150")}).json()[
        "plan"
    ]
    assert "at the rate of your hose" in next(s for s in diluted["steps"] if s["kind"] == "dilute")["how"]
    problem(client.put(f"{url}/settings", json={**SETTINGS, "revision": 1}), 409, "changed_meanwhile")
    assert client.get(url).json()["volume"]["amount"] == "15,000"  # the pool itself is as it was


@pytest.mark.parametrize(
    ("change", "field", "code"),
    [
        ({"targets": {"ph": {"low": "7.8", "high": "7.2"}}}, "targets.ph.high", "below_minimum"),
        ({"targets": {"ta": {"low": "80"}}}, "targets.ta.high", "empty"),
        ({"targets": {"fc": {"low": "3", "aim": "9", "high": "5"}}}, "targets.fc.aim", "outside_band"),
        ({"targets": {"cya": {"low": "lots"}}}, "targets.cya.low", "not_a_number"),
        ({"targets": {"fc": {"low": "30", "high": "40"}}}, "targets.fc.low", "out_of_range"),
        ({"targets": {"temp": {"low": "30"}}}, "targets.temp", "unknown_measure"),
        ({"fill": {"ph": "78"}}, "fill.ph", "out_of_range"),
        ({"hose": "2"}, "hose", "out_of_range"),
        ({"school": "alchemy"}, "school", "unknown_choice"),
        ({"answers": {"sun": "moon"}}, "answers.sun", "unknown_choice"),
        ({"answers": {"moon": "full"}}, "answers.moon", "unknown_choice"),
    ],
)
def test_wrong_settings_are_named_at_their_field_and_nothing_changes(
    client: TestClient, pool: dict, change: dict, field: str, code: str
) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    problem(
        client.put(f"{url}/settings", json={"school": "flat_band", **change, "revision": 1}), 422, code, field
    )
    assert client.get(url).json()["school"] == "scaled_to_stabilizer"


def test_drop_counts_visits_and_what_is_seen(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    counted = [
        {"measure": "ta", "text": "9", "unit": "ppm", "method": "drops", "drop_count": 9},
        {"measure": "fc", "text": "3", "unit": "ppm", "method": "drops_25", "drop_count": 3},
    ]
    found = {
        f["measure"]: f
        for f in client.post(f"{url}/plan-previews", json={"readings": counted}).json()["plan"]["findings"]
    }
    assert found["ta"]["text"] == "90 ppm" and found["ta"]["u95"] == "±10"  # 10 ppm a drop
    assert found["fc"]["text"] == "0.6 ppm"  # 0.2 ppm a drop of a 25 mL sample
    wrong = client.post(
        f"{url}/plan-previews",
        json={"readings": [{"measure": "ph", "text": "7", "method": "drops", "drop_count": 7}]},
    ).json()
    assert wrong["problems"][0]["code"] == "no_drops"
    short = client.post(
        f"{url}/plan-previews", json={"readings": readings(**LOW), "stay_min": 15, "seen": ["drain_cover"]}
    ).json()["plan"]
    # No time for acid and chlorine both; what is left is said, not planned.
    assert [s["role"] for s in short["steps"] if s["kind"] == "add"] == ["raise_fc"]
    assert any("acid" in one["sentence"] for one in short["later"])
    problem(
        client.post(f"{url}/plan-previews", json={"readings": [], "visits_days": [7, 3]}),
        422,
        "not_ascending",
        "visits_days",
    )
    soon, in_a_week = (
        client.post(
            f"{url}/plan-previews", json={"readings": readings(**LOW), "stay_min": 15, "visits_days": days}
        ).json()["plan"]["later"]
        for days in ([2, 7], [7])
    )
    acid = [
        next(one["sentence"] for one in later if "acid" in one["sentence"]) for later in (soon, in_a_week)
    ]
    assert acid[0].startswith("In 2 days, if pH") and acid[1].startswith("In a week, if pH")
    fine = {"readings": readings(fc="4", ph="7.5", ta="90", ch="220", cya="40")}
    by_wish = [
        client.post(f"{url}/plan-previews", json=fine | wish).json()["plan"]
        for wish in ({}, {"raise_calcium": True})
    ]
    assert [len(p["steps"]) > 0 for p in by_wish] == [False, True] and all(p["calcium_wish"] for p in by_wish)
    assert (
        short["headline"].startswith("Drain cover")
        and "drain cover" in short["swim"]
        and short["swim_allowed"] is False
    )
    problem(
        client.post(f"{url}/plan-previews", json={"readings": [], "seen": ["ghosts"]}),
        422,
        "unknown_choice",
        "seen",
    )
    body = {
        "id": str(uuid7()),
        "test": {"id": str(uuid7()), "at": NOW.isoformat(), "readings": counted},
        "stay_min": 15,
    }
    assert client.post(f"{url}/plans", json=body).status_code == 201
    test = next(e for e in client.get(f"{url}/events").json()["events"] if e["kind"] == "water_test")
    assert test["readings"][0]["drop_count"] == 9


def test_high_chlorine_is_waited_for_or_neutralised(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    high = {"readings": readings(fc="18", ph="7.5", ta="95", cya="40")}
    plan = client.post(
        f"{url}/plans", json={"id": str(uuid7()), "test": a_test(fc="18", ph="7.5", ta="95", cya="40")}
    ).json()
    assert plan["steps"][0]["plan"]["kind"] == "wait" and "neutraliser" in plan["steps"][0]["plan"]["how"]
    ticked = client.post(
        f"/api/v1/sheets/{plan['id']}/steps/{plan['steps'][0]['key']}/tick",
        json={"id": str(uuid7()), "at": NOW.isoformat()},
    )
    assert ticked.status_code == 201 and ticked.json()["title"] == "Waited for chlorine to fall"
    down = client.post(
        f"{url}/plan-previews", json={**high, "products": {"lower_fc": {"product_id": "thiosulfate"}}}
    ).json()["plan"]
    assert down["steps"][0]["role"] == "lower_fc" and down["steps"][0]["amount"]["unit"] == "lb"
    # 18 to the band's top of 8: 10 ppm at 0.073 lb a ppm in 10,000 gal (check values), 15,000 gal.
    assert down["steps"][0]["amount"]["value"] == pytest.approx(10 * 0.073 * 1.5, rel=0.1)


def test_what_follows_is_told_kept_as_told_and_cannot_be_ticked(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    low = {"fc": "0.5", "ph": "7.0", "ta": "50", "ch": "90", "cya": "10"}
    shown = client.post(f"{url}/plan-previews", json={"readings": readings(**low)}).json()["plan"]
    plan = client.post(f"{url}/plans", json={"id": str(uuid7()), "test": a_test(**low)}).json()
    assert [s["plan"]["title"] for s in plan["steps"]] == [s["title"] for s in shown["steps"]]
    assert [one["sentence"] for one in plan["later"]] == [one["sentence"] for one in shown["later"]]
    assert any(
        one["sentence"].startswith("In a week, ") and "stabilizer" in one["sentence"] for one in plan["later"]
    )
    names = {line["name"] for line in plan["totals"]}
    assert {"Baking soda", "Stabilizer (cyanuric acid)", "Liquid chlorine 12.5 %"} <= names
    ids = {s["key"] for s in plan["steps"]}
    assert len(ids) == len(plan["steps"]) and plan["earlier_rules"] == ""
    assert plan["steps"][-1]["plan"]["kind"] == "retest"


def test_a_plan_of_earlier_rules_is_shown_and_asks_for_a_test(
    client: TestClient, pool: dict, engine: Engine
) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    plan = client.post(f"{url}/plans", json={"id": str(uuid7()), "test": a_test(**LOW)}).json()
    with engine.begin() as connection:
        connection.execute(text("UPDATE sheet SET rule_version = '2026-11-25.1', follows = NULL"))
    shown = client.get(f"{url}/today").json()
    today = shown["sheets"][0]
    assert "Test again" in today["earlier_rules"] and today["later"] == []
    assert shown["lines"] == [] and not shown["headline"].startswith("Now")  # nothing of it is asked for
    step = plan["steps"][0]["key"]
    answer = client.post(
        f"/api/v1/sheets/{plan['id']}/steps/{step}/tick", json={"id": str(uuid7()), "at": NOW.isoformat()}
    )
    problem(answer, 409, "earlier_rules")


def test_what_went_in_today_keeps_what_must_be_kept_apart_from_it(client: TestClient, pool: dict) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    low = {"readings": readings(fc="3", ph="7.5", ta="50", ch="280", cya="40")}

    def roles() -> list[str]:
        steps = client.post(f"{url}/plan-previews", json=low).json()["plan"]["steps"]
        return [s["role"] for s in steps if s["kind"] == "add"]

    assert "raise_ta" in roles()
    acid = {
        "id": str(uuid7()), "at": NOW.isoformat(), "product_id": "muriatic-31.45", "amount": "8", "unit": "fl_oz",
    }  # fmt: skip
    assert client.post(f"{url}/doses", json=acid).status_code == 201
    assert "raise_ta" not in roles()  # acid and carbonate never share a day


def test_targets_are_those_of_the_stabilizer_the_log_knows(client: TestClient, pool: dict) -> None:
    def band() -> str:
        targets = client.get(f"/api/v1/pools/{pool['id']}").json()["targets"]
        return next(t["band"] for t in targets if t["measure"] == "fc")  # type: ignore[no-any-return]

    before = band()
    assert client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(cya="20")).status_code == 201
    assert band() == before == "2.2 to 7.4, aim 3.4"  # under 30 the figures of 30
    assert client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(cya="50")).status_code == 201
    assert band() == "3.6 to 8.0, aim 4.0"  # 4: the most one may swim in where no label is recorded


def test_amounts_are_told_in_the_persons_own_measures(client: TestClient, pool: dict) -> None:
    account = client.get("/api/v1/account").json()
    scoop = {"name": "green scoop", "liquid": False, "amount": "1.5", "unit": "lb"}
    body = {"unit_system": "us", "own_measures": [scoop], "revision": account["revision"]}
    wrong = {**body, "own_measures": [scoop, {**scoop, "amount": "some"}]}
    problem(client.put("/api/v1/account", json=wrong), 422, "not_a_number", "own_measures.1.amount")
    saved = client.put("/api/v1/account", json=body)
    assert saved.status_code == 200 and saved.json()["own_measures"] == [scoop]
    low = {"readings": readings(fc="3", ph="7.5", ta="50", ch="280", cya="40")}
    steps = client.post(f"/api/v1/pools/{pool['id']}/plan-previews", json=low).json()["plan"]["steps"]
    soda = next(s for s in steps if s["product_id"] == "baking-soda")["amount"]
    # 40 ppm in 15,000 gal is 8.4 lb (check values): 5 1/2 scoops of 1.5 lb, the pounds small beside them.
    assert soda["parts"] == [{"number": "5 ½", "unit": "× green scoop"}] and soda["text"] == "8 lb 4 oz"
    assert soda["exact"].startswith("8 lb 4 oz · 3.74 kg")
    assert all("scoop" not in str(s["amount"]) for s in steps if s["amount"] and s["role"] == "raise_fc")
