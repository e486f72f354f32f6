"""Sheets through the API: what is refused and how, races, and what is kept beside the fold equals it."""

import random
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.store.tables.log import Event
from kumpan.store.tables.sheets import SheetRow
from kumpan.store.work import progress_of
from support import NOW, Clock, a_test, pool_body, problem, readings, send, work_off

SAND = {"medium": "sand", "valve": "multiport"}
LOW = {"fc": "0.5", "ph": "7.9", "ta": "60", "ch": "280", "cya": "40"}


def stamped(clock: Clock, **more: Any) -> dict[str, Any]:
    return {"id": str(uuid7()), "at": clock.now.isoformat(), **more}


def begin(client: TestClient, pool: dict, clock: Clock, **more: str) -> dict:
    body = stamped(clock, subject="filter", given=SAND | more)
    answer = client.post(f"/api/v1/pools/{pool['id']}/guides", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


def accept(client: TestClient, pool: dict, clock: Clock) -> dict:
    body = {"id": str(uuid7()), "test": a_test(at=clock.now, **LOW)}
    answer = client.post(f"/api/v1/pools/{pool['id']}/plans", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


def say(client: TestClient, sheet: dict, clock: Clock, verb: str, key: str = "", value: str = "") -> Any:
    body = stamped(clock, verb=verb, key=key, value=value)
    return client.post(f"/api/v1/sheets/{sheet['id']}/marks", json=body)


@pytest.mark.parametrize(
    ("body", "code", "field"),
    [
        ({"verb": "answer", "key": "off"}, "not_now", None),  # what comes before it is not done
        ({"verb": "answer", "key": "sing"}, "not_now", None),
        ({"verb": "dance", "key": "before"}, "unknown_choice", "verb"),
        ({"verb": "answer", "key": "before", "value": "much psi"}, "not_a_number", "value"),
        ({"verb": "answer", "key": "before", "value": "18 stone"}, "unknown_unit", "value"),
        ({"verb": "answer", "key": "before", "value": "-4 psi"}, "out_of_range", "value"),
        ({"verb": "answer", "key": "before"}, "not_a_number", "value"),
    ],
)
def test_a_word_that_cannot_be_is_refused_plainly_and_changes_nothing(
    client: TestClient, pool: dict, clock: Clock, body: dict, code: str, field: str | None
) -> None:
    guide = begin(client, pool, clock)
    answer = client.post(f"/api/v1/sheets/{guide['id']}/marks", json=stamped(clock, **body))
    assert answer.status_code in (409, 422)
    if field is None:
        problem(answer, 409, code)
    else:
        problem(answer, 422, code, field)
    after = client.get(f"/api/v1/sheets/{guide['id']}").json()
    assert after["next_key"] == "before" and {s["state"] for s in after["steps"]} == {"open", "later"}


def test_a_word_is_said_once_undone_and_not_after_the_end(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    guide = begin(client, pool, clock)
    assert begin(client, pool, clock)["id"] == guide["id"]  # one filter, one guide
    body = stamped(clock, verb="answer", key="before", value="18 psi")
    first = client.post(f"/api/v1/sheets/{guide['id']}/marks", json=body)
    assert (
        client.post(f"/api/v1/sheets/{guide['id']}/marks", json=body).json() == first.json()
    )  # a lost answer
    assert first.json()["steps"][0]["value"] == "18 psi" and first.json()["next_key"] == "hose"
    assert say(client, guide, clock, "skip", "hose").json()["code"] == "not_now"  # needed by what comes after
    client.delete(f"/api/v1/events/{body['id']}")
    assert client.get(f"/api/v1/sheets/{guide['id']}").json()["next_key"] == "before"
    for key in ("before", "hose", "off"):
        assert say(client, guide, clock, "answer", key, "18 psi").status_code == 201
    given_up = say(client, guide, clock, "give_up").json()
    assert given_up["state"] == "given_up" and given_up["left"].startswith(
        "The pump was left off and the valve at filter"
    )
    problem(say(client, guide, clock, "answer", "before", "18 psi"), 409, "not_now")
    assert client.get(f"/api/v1/pools/{pool['id']}/today").json()["sheets"] == []
    events = client.get(f"/api/v1/pools/{pool['id']}/events").json()["events"]
    assert events == []  # what was said of work does not drown the log


def test_a_guide_that_was_left_does_not_stand_in_the_way_of_the_next(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    left = begin(client, pool, clock)
    clock.now += timedelta(hours=13)
    assert client.get(f"/api/v1/sheets/{left['id']}").json()["state"] == "given_up"
    again = begin(client, pool, clock)
    assert again["id"] != left["id"] and again["state"] == "under_way"
    assert [s["id"] for s in client.get(f"/api/v1/pools/{pool['id']}/today").json()["sheets"]] == [
        again["id"]
    ]


def test_equipment_says_which_guide_and_what_it_does_not_say_is_asked(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    asked = stamped(clock, subject="filter")
    problem(client.post(f"{url}/guides", json=asked), 422, "missing", "medium")
    problem(client.post(f"{url}/guides", json=asked | {"given": {"medium": "sand"}}), 422, "missing", "valve")
    piece = {"kind": "filter", "details": {"medium": {"text": "cartridge", "unit": ""}}}
    assert client.post(f"{url}/equipment", json={"id": str(uuid7()), **piece}).status_code == 201
    guide = client.post(f"{url}/guides", json=asked).json()
    assert guide["name"] == "Filter clean" and "bleed" in [s["key"] for s in guide["steps"]]


def test_a_guide_done_is_one_entry_with_what_was_read_and_ran(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    guide = begin(client, pool, clock, valve="push_pull")
    answers = {"before": "19 psi", "after": "11 psi", "lost": "95 gal", "zero": "zero"}
    while guide["state"] == "under_way":
        key = guide["next_key"]
        if key == "wash":
            say(client, guide, clock, "timer", key)
            clock.now += timedelta(minutes=2)
        guide = say(client, guide, clock, "answer", key, answers.get(key, "done")).json()
        clock.now += timedelta(seconds=20)
    assert guide["state"] == "done"
    (entry,) = client.get(f"/api/v1/pools/{pool['id']}/events").json()["events"]
    assert (entry["title"], entry["detail"]) == (
        "Backwash",
        "2.0 min, 95 gal lost, 19 psi before, 11 psi after",
    )
    # Undone and done again, it is still one entry.
    last = guide["steps"][-1]
    client.delete(f"/api/v1/events/{last['said_id']}")
    assert say(client, guide, clock, "answer", "lost", "120 gal").json()["state"] == "done"
    (entry,) = client.get(f"/api/v1/pools/{pool['id']}/events").json()["events"]
    assert "120 gal lost" in entry["detail"]


def test_one_of_many_ticks_at_once_counts(client: TestClient, pool: dict, clock: Clock) -> None:
    plan = accept(client, pool, clock)
    url = f"/api/v1/sheets/{plan['id']}/steps/{plan['next_key']}/tick"
    with ThreadPoolExecutor(6) as threads:
        codes = list(threads.map(lambda _: client.post(url, json=stamped(clock)).status_code, range(6)))
    assert sorted(codes) == [201] + [409] * 5
    guide = begin(client, pool, clock)
    with ThreadPoolExecutor(6) as threads:  # two phones on one sheet: the last word counts, none is an error
        said = list(
            threads.map(lambda n: say(client, guide, clock, "answer", "before", f"{n + 10} psi"), range(6))
        )
    assert {answer.status_code for answer in said} == {201}


def test_only_a_test_that_reads_what_was_asked_ends_a_plan(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    plan = accept(client, pool, clock)
    url = f"/api/v1/pools/{pool['id']}"

    def sheet() -> dict:
        return client.get(f"/api/v1/sheets/{plan['id']}").json()  # type: ignore[no-any-return]

    clock.now += timedelta(minutes=20)
    few = {**stamped(clock), "readings": readings(ch="280")}
    assert client.post(f"{url}/tests", json=few).status_code == 201
    assert sheet()["state"] == "under_way"
    clock.now += timedelta(minutes=5)
    all_of_it = {**stamped(clock), "readings": readings(fc="2", ph="7.5", ta="90", ch="280", cya="40")}
    assert client.post(f"{url}/tests", json=all_of_it).status_code == 201
    assert sheet()["state"] == "superseded" and client.get(f"{url}/today").json()["sheets"] == []
    client.delete(f"/api/v1/events/{all_of_it['id']}")  # taken back, the plan goes on
    assert sheet()["state"] == "under_way" and len(client.get(f"{url}/today").json()["sheets"]) == 1
    assert accept(client, pool, clock)["id"] != plan["id"] and sheet()["state"] == "superseded"


def bring_in(client: TestClient, engine: Engine, clock: Clock, pool: dict, data: bytes) -> None:
    """A table of readings, by a worker on the same clock."""
    id = str(uuid7())
    body = {"id": id, "file_id": send(client, data, "r.csv"), "pool_id": pool["id"]}
    assert client.post("/api/v1/imports", json=body).status_code == 201
    work_off(engine, clock)
    job = client.get(f"/api/v1/imports/{id}").json()["job"]
    client.post(f"/api/v1/imports/{id}/confirm", json={"revision": job["revision"]})
    work_off(engine, clock)


CSV = "date,fc,ph,ta\n2026-07-14 {hour}:{minute:02d},{fc},7.5,90\n"


@pytest.mark.parametrize("seed", range(4))
def test_what_is_kept_of_a_sheet_equals_the_fold(
    client: TestClient, pool: dict, clock: Clock, engine: Engine, seed: int
) -> None:
    """After any create, correct, delete, restore and import: state, end, and the next step with its time."""
    rng, url = random.Random(seed), f"/api/v1/pools/{pool['id']}"
    sheets, events = [accept(client, pool, clock)], []
    for _ in range(28):
        clock.now += timedelta(minutes=rng.choice((1, 5, 12, 40)))
        sheet = client.get(f"/api/v1/sheets/{rng.choice(sheets)['id']}").json()
        step = rng.choice(sheet["steps"])
        act = rng.choice(
            [
                "test",
                "tick",
                "tick",
                "mark",
                "mark",
                "mark",
                "delete",
                "restore",
                "correct",
                "plan",
                "guide",
                "season",
                "csv",
            ]
        )
        if act == "test":
            some = dict(
                rng.sample(
                    sorted({"fc": "2", "ph": "7.4", "ta": "90", "ch": "280"}.items()), rng.randint(1, 4)
                )
            )
            body = {**stamped(clock), "readings": readings(**some)}
            events.append(client.post(f"{url}/tests", json=body).json()["id"])
        elif act == "tick":
            answer = client.post(
                f"/api/v1/sheets/{sheet['id']}/steps/{step['key']}/tick", json=stamped(clock)
            )
            events += [answer.json()["id"]] if answer.status_code == 201 else []
        elif act == "mark":
            verb = rng.choice(("answer", "timer", "skip", "pause", "resume", "give_up", "move", "add"))
            key = rng.choice((sheet["next_key"] or "", step["key"]))
            value = f"2026-07-{rng.randint(15, 24)}" if verb == "move" else "done"
            body = stamped(
                clock, verb=verb, key="" if value != "done" and rng.random() < 0.5 else key, value=value
            )
            if client.post(f"/api/v1/sheets/{sheet['id']}/marks", json=body).status_code == 201:
                events.append(body["id"])
        elif act in ("delete", "restore") and events:
            id = rng.choice(events)
            client.delete(f"/api/v1/events/{id}") if act == "delete" else client.post(
                f"/api/v1/events/{id}/restore"
            )
        elif act == "correct" and events:
            entry = client.get(f"/api/v1/events/{rng.choice(events)}").json()
            if entry["kind"] == "water_test":
                local = (clock.now - timedelta(hours=5, minutes=rng.randint(0, 90))).strftime(
                    "%Y-%m-%dT%H:%M"
                )
                change = {
                    "local": local,
                    "revision": entry["revision"],
                    "readings": readings(fc="2", ph="7.5", ta="90"),
                }
                client.put(f"/api/v1/tests/{entry['id']}", json=change)
        elif act == "plan":
            sheets.append(accept(client, pool, clock))
        elif act == "guide":
            sheets.append(begin(client, pool, clock))
        elif act == "season":
            body = stamped(clock, subject=rng.choice(("opening", "closing")), day="2026-07-18")
            sheets.append(client.post(f"{url}/season-plans", json=body).json())
        elif act == "csv" and rng.random() < 0.4:
            here = clock.now - timedelta(hours=5)
            text = CSV.format(hour=here.hour, minute=here.minute, fc=2)
            bring_in(client, engine, clock, pool, text.encode())
    with Session(engine) as session:
        for event in session.scalars(select(Event).join(SheetRow, SheetRow.event_id == Event.id)):
            row, found = event.detail, progress_of(session, event, clock.now)
            assert isinstance(row, SheetRow)
            following = found.next
            assert (row.state, row.ended_at) == (found.state, found.ended_at)
            assert row.next_line == (following.step.words.title if following else "")
            assert row.next_at == (following.due_at if following else None)
    assert NOW < clock.now < NOW + timedelta(hours=12)  # within the day nothing lapses


# ---- Complaints.


def complain(client: TestClient, pool: dict, clock: Clock, kind: str) -> dict:
    answer = client.post(f"/api/v1/pools/{pool['id']}/complaints", json=stamped(clock, kind=kind))
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


def step_of(sheet: dict, key: str) -> dict:
    return next(s for s in sheet["steps"] if s["key"] == key)


def test_a_complaint_is_judged_by_what_was_read_and_ended_by_what_helped(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    url = f"/api/v1/pools/{pool['id']}/complaints"
    problem(client.post(url, json=stamped(clock, kind="ghosts")), 422, "unknown_choice", "kind")
    sheet = complain(client, pool, clock, "eyes")
    assert sheet["next_key"] == "combined_read" and sheet["name"] == "Eyes sting, or it smells"
    assert complain(client, pool, clock, "eyes")["id"] == sheet["id"]  # gone on with
    clock.now += timedelta(minutes=5)
    test = a_test(at=clock.now, fc="2", cc="0.8", ph="7.5")
    assert client.post(f"/api/v1/pools/{pool['id']}/tests", json=test).status_code == 201
    asked = client.get(f"/api/v1/sheets/{sheet['id']}").json()
    assert asked["next_key"] == "combined"
    told = step_of(asked, "combined")["told"]
    assert "combined chlorine 0.8 ppm, high" in told and "pH 7.5, in its band" in told
    assert not any(s["key"].endswith("_is") for s in asked["steps"])  # no cause is told before it is shown
    clock.now += timedelta(minutes=1)
    named = say(client, sheet, clock, "answer", "combined", "high").json()
    assert named["next_key"] == "combined_is" and "too little free" in str(
        step_of(named, "combined_is")["guide"]
    )
    clock.now += timedelta(days=1)
    done = say(client, sheet, clock, "answer", "combined_is", "was").json()
    assert done["state"] == "done" and step_of(done, "beyond")["state"] == "skipped"


def test_the_bucket_does_its_sum(client: TestClient, clock: Clock) -> None:
    """32 by 16 ft are 512 sq ft: half an inch a day more than the bucket is 160 gal (calc)."""
    shape = {"how": "shape", "unit": "ft", "plan": "rectangle", "length": "32", "width": "16", "shallow": "4"}
    pool = client.post("/api/v1/pools", json=pool_body(volume=shape | {"bottom": "level"})).json()
    sheet = complain(client, pool, clock, "level")
    for key, value, hours in (
        ("waste_look", "done", 0.1), ("waste", "dry", 0.1), ("bucket_set", "done", 0.1),
        ("bucket_wait", "done", 24), ("bucket_pool", "0.7 in", 0), ("bucket_inside", "0.2 in", 0),
    ):  # fmt: skip
        if key == "bucket_wait":
            assert say(client, sheet, clock, "timer", key).status_code == 201
        clock.now += timedelta(hours=hours)
        answer = say(client, sheet, clock, "answer", key, value)
        assert answer.status_code == 201, answer.text
    told = step_of(client.get(f"/api/v1/sheets/{sheet['id']}").json(), "bucket")["told"]
    assert "that is a leak" in told and "gal" in told
