"""Care through the API: ticks, words, changes, walks, the calendar; and what is kept beside the log equals it."""

import logging
import random
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, select, text
from sqlalchemy.orm import Session
from uuid6 import uuid7

from ical import read_calendar
from kumpan.store.care import dues
from kumpan.store.tables.care import TaskRow
from kumpan.store.tables.pools import Pool
from support import NOW, Clock, a_test, brought_in, pool_body, problem, send, taken_out, wipe

CHICAGO = ZoneInfo("America/Chicago")


def stamped(clock: Clock, **more: Any) -> dict[str, Any]:
    return {"id": str(uuid7()), "at": clock.now.isoformat(), **more}


def care(client: TestClient, pool: dict) -> dict[str, Any]:
    answer = client.get(f"/api/v1/pools/{pool['id']}/care")
    assert answer.status_code == 200, answer.text
    return answer.json()  # type: ignore[no-any-return]


def find(view: dict, rule_id: str) -> dict[str, Any]:
    return next(t for t in view["tasks"] if t["rule_id"] == rule_id)


def task(client: TestClient, pool: dict, rule_id: str) -> dict[str, Any]:
    return find(care(client, pool), rule_id)


def entry(
    client: TestClient, pool: dict, kind: str, at: str = "", note: str = "", **details: tuple[str, str]
) -> dict:
    typed = {name: {"text": text, "unit": unit} for name, (text, unit) in details.items()}
    body = {
        "id": str(uuid7()),
        "at": NOW.isoformat(),
        "kind": kind,
        "details": typed,
        "note": note,
        "local": at,
    }
    answer = client.post(f"/api/v1/pools/{pool['id']}/entries", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


def give(client: TestClient, pool: dict, kind: str, **details: str) -> dict:
    typed = {n: dict(zip(("text", "unit"), f"{t} ".split(" ")[:2], strict=True)) for n, t in details.items()}
    body = {"id": str(uuid7()), "kind": kind, "details": typed}
    answer = client.post(f"/api/v1/pools/{pool['id']}/equipment", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


def chosen(client: TestClient, pool: dict, **more: Any) -> Any:
    view = care(client, pool)
    body = view["chosen"] | {"revision": view["revision"]} | more
    return client.put(f"/api/v1/pools/{pool['id']}/care", json=body)


SAND = {"medium": "sand", "valve": "multiport", "clean": "10 psi"}


def test_one_tick_is_written_once_and_taken_back(client: TestClient, pool: dict, clock: Clock) -> None:
    clean = task(client, pool, "weekly_clean")
    assert (clean["state"], clean["when"]) == ("coming", "21 Jul")  # taken up today, due in a week
    body = stamped(clock, minutes="40")
    first = client.post(f"/api/v1/tasks/{clean['id']}/done", json=body)
    assert (
        first.status_code == 201
        and client.post(f"/api/v1/tasks/{clean['id']}/done", json=body).status_code == 201
    )
    log = client.get(f"/api/v1/pools/{pool['id']}/events").json()["events"]
    assert [(e["kind"], e["details"]["minutes"]["text"]) for e in log] == [("clean", "40")]
    assert "last done 14 Jul 2026" in find(first.json(), "weekly_clean")["why"]
    assert find(first.json(), "weekly_clean")["minutes"] == 53  # an hour, drawn towards the forty
    client.delete(f"/api/v1/events/{body['id']}")
    assert "not done yet" in task(client, pool, "weekly_clean")["why"]
    client.post(f"/api/v1/events/{body['id']}/restore")
    assert "last done" in task(client, pool, "weekly_clean")["why"]


def test_what_is_typed_elsewhere_counts_also_when_it_is_entered_late(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    give(client, pool, "filter", **SAND)
    assert task(client, pool, "filter")["state"] == "due"
    late = entry(client, pool, "backwash", "2026-07-09T10:00")
    assert (
        task(client, pool, "filter")["when"] == "6 Aug"
    )  # four weeks after it was done, whenever it was typed
    entry(client, pool, "pressure", "2026-07-13T10:00", pressure=("19", "psi"))
    loaded = task(client, pool, "filter")
    assert loaded["state"] == "overdue" and "9 psi over the clean pressure" in loaded["why"]
    client.delete(f"/api/v1/events/{late['id']}")
    entry(client, pool, "backwash")
    assert task(client, pool, "filter")["state"] == "coming"
    test = client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(fc="3", ph="7.5"))
    assert test.status_code == 201 and task(client, pool, "test_fc")["when"] == "Friday"
    assert task(client, pool, "test_ta")["state"] == "due"


def test_after_heavy_rain_anybody_tests_and_the_quarterly_owner_hears_of_nothing_else(
    client: TestClient, pool: dict
) -> None:
    test = a_test(fc="3", ph="7.5", ta="90", ch="300", cya="40") | {"local": "2026-07-14T10:00"}
    client.post(f"/api/v1/pools/{pool['id']}/tests", json=test)
    assert chosen(client, pool, cadence="quarterly").status_code == 200
    assert care(client, pool)["visit"]["now"] == []
    entry(client, pool, "rain", "2026-07-14T17:20", fell=("0.4", "in"))
    assert care(client, pool)["visit"]["now"] == []  # a shower
    entry(client, pool, "rain", "2026-07-14T17:30", fell=("1.5", "in"))
    again = task(client, pool, "test_after")
    assert again["when"] == "tomorrow" and again["why"] == "After the heavy rain of 14 Jul 2026."
    entry(client, pool, "storm", "2026-07-13T12:00", what=("wind", ""))
    assert task(client, pool, "after_storm")["when"] == "today"
    entry(client, pool, "clean", what=("baskets", ""))
    assert task(client, pool, "after_storm")["state"] == "none"


def test_put_off_skipped_and_why(client: TestClient, pool: dict, clock: Clock) -> None:
    clean = task(client, pool, "weekly_clean")
    clock.now = NOW + timedelta(days=9)
    assert task(client, pool, "weekly_clean")["when"] == "2 days over"
    word = stamped(clock, verb="snooze", value="2026-07-26")
    view = client.post(f"/api/v1/tasks/{clean['id']}/marks", json=word)
    assert view.status_code == 201
    off = find(view.json(), "weekly_clean")
    assert (off["state"], off["when"]) == ("coming", "Sunday") and off["why"].endswith(
        "Put off until 26 Jul 2026."
    )
    client.delete(f"/api/v1/events/{word['id']}")
    assert task(client, pool, "weekly_clean")["when"] == "2 days over"
    skipped = client.post(
        f"/api/v1/tasks/{clean['id']}/marks", json=stamped(clock, verb="skip", value="away")
    ).json()
    after = find(skipped, "weekly_clean")
    assert after["when"] == "30 Jul" and "Skipped on 23 Jul 2026: away." in after["why"]
    clock.now = NOW + timedelta(days=40)
    assert task(client, pool, "weekly_clean")["when"] == "3 weeks over"
    visit = care(client, pool)["visit"]
    line = next(x for x in visit["now"] + visit["waits"] if x["group"] == "clean")
    assert line["tasks"][0]["missed"] == 3 and "skim the water" in line["parts"]  # one line, however often


BAD: list[tuple[str, dict[str, Any], str]] = [
    ("repeat", {"anchor": "completion", "days": 0}, "days"),
    ("repeat", {"anchor": "completion", "days": -1}, "days"),
    ("repeat", {"anchor": "completion", "days": 99_999}, "days"),
    ("repeat", {"anchor": "calendar"}, "unit"),
    ("repeat", {"anchor": "calendar", "every": {"unit": "week"}}, "weekdays"),
    ("repeat", {"anchor": "calendar", "every": {"unit": "month", "day": 40}}, "day"),
    (
        "repeat",
        {"anchor": "calendar", "every": {"unit": "year", "day": 5, "months": [1]}, "season_from": "04-01",
        "season_to": "10-01"},
        "season_from",
    ),
    ("repeat", {"anchor": "completion", "days": 7, "season_from": "02-31", "season_to": "10-01"},
    "season_from"),
    ("repeat", {"anchor": "once", "on": "2026-07-01"}, "on"),
    ("repeat", {"anchor": "once", "on": "2099-07-01"}, "on"),
    ("repeat", {"anchor": "once", "on": "soon"}, "on"),
    ("repeat", {"anchor": "run_hours", "hours": 0}, "hours"),
    ("repeat", {"anchor": "completion", "days": 7, "clock": "half past"}, "clock"),
    ("repeat", {"anchor": "sometimes"}, "anchor"),
    ("word", {"verb": "snooze", "value": "2026-07-01"}, "value"),
    ("word", {"verb": "snooze", "value": "2031-07-01"}, "value"),
    ("word", {"verb": "snooze", "value": ""}, "value"),
    ("word", {"verb": "dance"}, "verb"),
    ("done", {"minutes": "0"}, "details.minutes"),
    ("done", {"minutes": "an hour"}, "details.minutes"),
    ("done", {"local": "2031-07-01T10:00"}, "local"),
    ("care", {"cadence": "hourly"}, "cadence"),
    ("care", {"minutes": 2}, "minutes"),
    ("care", {"season_from": "13-01", "season_to": "10-01"}, "season_from"),
    ("care", {"order": "backwards"}, "order"),
    ("own", {"title": " "}, "title"),
    ("own", {"minutes": 0}, "minutes"),
]  # fmt: skip


def test_what_cannot_be_is_told_at_its_field_and_changes_nothing(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    before = care(client, pool)
    for what, body, field in BAD:
        _is_refused(client, pool, clock, find(before, "weekly_clean"), (what, body, field))
    assert care(client, pool) == before


def _is_refused(
    client: TestClient, pool: dict, clock: Clock, clean: dict, bad: tuple[str, dict[str, Any], str]
) -> None:
    what, body, field = bad
    own = {"id": str(uuid7()), "title": "Oil the gate", "repeat": {"anchor": "completion", "days": 9}}
    url = f"/api/v1/tasks/{clean['id']}"
    answer = {
        "repeat": lambda: client.put(url, json={"repeat": body, "revision": clean["revision"]}),
        "word": lambda: client.post(f"{url}/marks", json=stamped(clock, **body)),
        "done": lambda: client.post(f"{url}/done", json=stamped(clock, **body)),
        "care": lambda: chosen(client, pool, **body),
        "own": lambda: client.post(f"/api/v1/pools/{pool['id']}/tasks", json=own | body),
    }[what]()
    assert answer.status_code == 422, (what, body, answer.text)
    told = answer.json()["fields"]
    assert [f["field"] for f in told] == [field] and len(told[0]["message"]) > 10, (what, body)


def test_how_it_comes_round_is_changed_and_goes_back(client: TestClient, pool: dict) -> None:
    def put(rule_id: str, revision: int, **body: Any) -> Any:
        id = task(client, pool, rule_id)["id"]
        return client.put(f"/api/v1/tasks/{id}", json={"revision": revision, **body})

    view = put(
        "weekly_clean",
        1,
        repeat={"anchor": "calendar", "every": {"unit": "week", "weekdays": [5]}, "clock": "09:00"},
    )
    assert view.status_code == 200, view.text
    clean = find(view.json(), "weekly_clean")
    assert (clean["when"], clean["why"], clean["own"]) == ("Saturday", "Every Saturday.", True)
    problem(put("weekly_clean", 1, on=False), 409, "changed_meanwhile")
    chosen(client, pool, cadence="weekly", season_from="06-01", season_to="09-01")  # what a person set stays
    assert (
        task(client, pool, "weekly_clean")["why"] == "Every Saturday."
        and task(client, pool, "test_fc")["season"]
    )
    off = find(put("weekly_clean", 2, on=False).json(), "weekly_clean")
    assert (
        off["off"]
        and off["when"] == ""
        and not any(d["due"] == ["The weekly clean"] for d in care(client, pool)["calendar"])
    )
    back = find(put("weekly_clean", 3).json(), "weekly_clean")
    assert (back["days"], back["own"], back["season"]) == (7, False, "06-01/09-01")


def test_ones_own_work_is_added_done_and_taken_off(client: TestClient, pool: dict, clock: Clock) -> None:
    body = {
        "id": str(uuid7()),
        "title": "Oil the gate",
        "minutes": 5,
        "repeat": {"anchor": "completion", "days": 90},
    }
    for _ in range(2):  # a lost answer
        view = client.post(f"/api/v1/pools/{pool['id']}/tasks", json=body)
        assert view.status_code == 201
    own = [t for t in view.json()["tasks"] if t["mine"]]
    assert [(t["title"], t["state"], t["minutes"]) for t in own] == [("Oil the gate", "due", 5)]
    done = client.post(f"/api/v1/tasks/{body['id']}/done", json=stamped(clock)).json()
    assert find(done, "own")["when"] == "12 Oct"
    log = client.get(f"/api/v1/pools/{pool['id']}/events").json()["events"]
    assert (log[0]["kind"], log[0]["note"]) == ("upkeep", "Oil the gate")
    gone = client.delete(f"/api/v1/tasks/{body['id']}").json()
    assert not [t for t in gone["tasks"] if t["mine"]]
    problem(client.delete(f"/api/v1/tasks/{task(client, pool, 'weekly_clean')['id']}"), 409, "not_own")


def test_work_of_equipment_that_is_gone_is_refused_plainly_and_comes_back_with_it(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    piece = give(client, pool, "filter", **SAND)
    rings = task(client, pool, "o_rings")
    client.delete(f"/api/v1/equipment/{piece['id']}")
    assert "o_rings" not in {t["rule_id"] for t in care(client, pool)["tasks"]}
    problem(client.post(f"/api/v1/tasks/{rings['id']}/done", json=stamped(clock)), 409, "ended")
    client.post(f"/api/v1/equipment/{piece['id']}/restore")
    assert task(client, pool, "o_rings")["id"] == rings["id"]


def test_a_warranty_is_told_before_it_ends_and_never_after(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    body = {
        "id": str(uuid7()),
        "kind": "pump",
        "details": {},
        "bought": "2024-07-20",
        "warranty_until": "2026-08-20",
    }
    client.post(f"/api/v1/pools/{pool['id']}/equipment", json=body)
    ends = task(client, pool, "warranty")
    assert ends["title"] == "Warranty of the pump ends" and ends["state"] == "overdue"
    assert "20 Aug 2026" in ends["why"]
    clock.now = NOW + timedelta(days=60)
    assert task(client, pool, "warranty")["state"] == "none"


def test_papers_stand_with_their_piece_and_only_papers(client: TestClient, pool: dict) -> None:
    piece = give(client, pool, "filter", **SAND)
    upload = send(client, b"%PDF-1.4 the manual", "manual for Ünit 7.pdf")
    made = client.post(
        "/api/v1/papers", json={"id": str(uuid7()), "file_id": upload, "equipment_id": piece["id"]}
    )
    assert made.status_code == 201, made.text
    listed = client.get(f"/api/v1/pools/{pool['id']}/equipment").json()[0]["papers"]
    assert [p["name"] for p in listed] == ["manual for Ünit 7.pdf"]
    got = client.get(listed[0]["url"])
    assert got.content == b"%PDF-1.4 the manual" and got.headers["content-type"] == "application/pdf"
    assert (
        got.headers["content-disposition"].startswith("attachment")
        and "sandbox" in got.headers["content-security-policy"]
    )
    for data, name in ((b"<html><script>", "x.pdf"), (b"GIF89a", "x.gif")):
        body = {"id": str(uuid7()), "file_id": send(client, data, name), "equipment_id": piece["id"]}
        answer = client.post("/api/v1/papers", json=body)
        assert answer.status_code == 422 and answer.json()["fields"][0]["field"] == "file"
    client.delete(f"/api/v1/papers/{made.json()['id']}")
    assert client.get(f"/api/v1/pools/{pool['id']}/equipment").json()[0]["papers"] == []


def test_out_of_season_today_is_quiet_and_says_until_when(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    test = a_test(fc="0", ph="8.4") | {"local": "2026-07-14T10:00"}
    client.post(f"/api/v1/pools/{pool['id']}/tests", json=test)
    chosen(client, pool, season_from="04-28", season_to="10-06")
    clock.now = NOW + timedelta(days=120)
    today = client.get(f"/api/v1/pools/{pool['id']}/today").json()
    assert today["headline"] == "Out of season until 28 Apr. Nothing is due." and today["visit"]["now"] == []
    clock.now = NOW + timedelta(days=290)  # the season is begun anew
    lines = care(client, pool)["visit"]["now"]
    assert lines and all(line["on"] >= "2027-04-28" for line in lines)


# --- Walks.


def say(
    client: TestClient, sheet: dict, clock: Clock, key: str, value: str = "done", verb: str = "answer"
) -> dict:
    clock.now += timedelta(minutes=2)
    body = stamped(clock, key=key, verb=verb, value=value)
    answer = client.post(f"/api/v1/sheets/{sheet['id']}/marks", json=body)
    assert answer.status_code == 201, (key, answer.text)
    return answer.json()  # type: ignore[no-any-return]


def begin(client: TestClient, pool: dict, clock: Clock, kind: str = "weekly") -> dict:
    answer = client.post(f"/api/v1/pools/{pool['id']}/walks", json=stamped(clock, kind=kind))
    assert answer.status_code == 201, answer.text
    return answer.json()  # type: ignore[no-any-return]


def kinds(client: TestClient, pool: dict) -> list[str]:
    return [e["kind"] for e in client.get(f"/api/v1/pools/{pool['id']}/events").json()["events"]]


def test_the_owners_week_is_walked_and_written_down_as_it_goes(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    give(client, pool, "filter", **SAND)
    walk = begin(client, pool, clock)
    assert begin(client, pool, clock)["id"] == walk["id"]  # one clean, one walk
    assert [s["key"] for s in walk["steps"]] == [
        "look", "skimmer", "filter", "pot", "gauge", "clean", "test", "doses", "minutes",
    ]  # fmt: skip
    today = client.get(f"/api/v1/pools/{pool['id']}/today").json()
    assert today["lines"][0]["title"] == "Look before you touch"
    assert "clean" not in {line["group"] for line in today["visit"]["now"]}  # it is under way
    for key, value, verb in (
        ("look", "fine", "answer"),
        ("skimmer", "done", "answer"),
        ("filter", "yes", "decide"),
    ):
        say(client, walk, clock, key, value, verb)
    clock.now += timedelta(minutes=20)  # the guide that follows is walked in its own tests; it writes this
    entry(client, pool, "backwash", clock.now.astimezone(CHICAGO).strftime("%Y-%m-%dT%H:%M"))
    state = {s["key"]: s["state"] for s in client.get(f"/api/v1/sheets/{walk['id']}").json()["steps"]}
    assert (state["pot"], state["gauge"], state["clean"]) == ("done", "done", "open")  # the backwash did both
    say(client, walk, clock, "clean")
    assert kinds(client, pool) == ["clean", "backwash"]  # at once, whether or not the walk is ended
    clock.now += timedelta(minutes=30)
    low = {"fc": "0.5", "ph": "7.9", "ta": "90", "ch": "300", "cya": "40"}
    accepted = client.post(
        f"/api/v1/pools/{pool['id']}/plans", json={"id": str(uuid7()), "test": a_test(at=clock.now, **low)}
    )
    assert accepted.status_code == 201, accepted.text
    plan = accepted.json()
    state = {s["key"]: s["state"] for s in client.get(f"/api/v1/sheets/{walk['id']}").json()["steps"]}
    assert (state["test"], state["doses"]) == ("done", "open")
    line = next(x for x in client.get(f"/api/v1/pools/{pool['id']}/today").json()["lines"] if x["pours"])
    assert line["free"] and line["sheet_id"] == plan["id"]  # nothing stops the pump any more
    client.post(f"/api/v1/sheets/{plan['id']}/steps/{line['key']}/tick", json=stamped(clock))
    ending = client.get(f"/api/v1/sheets/{walk['id']}").json()
    assert ending["next_key"] == "minutes" and ending["steps"][-1]["guide"]["suggested"].endswith(" min")
    over = say(client, walk, clock, "minutes", "65 min")
    assert over["state"] == "done"
    clean = next(
        e for e in client.get(f"/api/v1/pools/{pool['id']}/events").json()["events"] if e["kind"] == "clean"
    )
    assert clean["details"]["minutes"]["text"] == "65"
    assert task(client, pool, "weekly_clean")["minutes"] == 62
    assert task(client, pool, "filter")["state"] == "coming"


def test_a_dose_waits_while_the_walk_still_stops_the_pump(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    give(client, pool, "filter", **SAND)
    chosen(client, pool, cadence="technician")
    stop = begin(client, pool, clock, "stop")
    say(client, stop, clock, "look", "fine")
    low = {"tc": "0.5", "ph": "8.0", "ta": "90", "ch": "300", "cya": "40"}
    accepted = client.post(
        f"/api/v1/pools/{pool['id']}/plans", json={"id": str(uuid7()), "test": a_test(at=clock.now, **low)}
    )
    assert accepted.status_code == 201
    lines = client.get(f"/api/v1/pools/{pool['id']}/today").json()["lines"]
    pours = [line for line in lines if line["pours"]]
    assert pours and not pours[0]["free"] and pours[0]["held"] == "The stop has the pump off."
    say(client, stop, clock, "pad", "fine")
    pours = [x for x in client.get(f"/api/v1/pools/{pool['id']}/today").json()["lines"] if x["pours"]]
    assert pours[0]["free"]


def test_what_a_walk_finds_is_followed_up_with_a_photo_and_taken_back(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    walk = begin(client, pool, clock, "stop")
    clock.now += timedelta(minutes=1)
    mark = stamped(clock, key="look", verb="answer", value="drain,low,algae")
    seen = client.post(f"/api/v1/sheets/{walk['id']}/marks", json=mark).json()
    assert {(f["id"], bool(f["event_id"]), f["opens"]) for f in seen["found"]} == {
        ("low", False, ""), ("algae", True, "clear-up"), ("drain", True, ""),
    }  # fmt: skip
    view = care(client, pool)
    first = view["visit"]["now"][0]
    assert first["title"] == "Replace the drain cover" and first["harm"]  # a hazard owns the list
    assert "Clear the algae" in {line["title"] for line in view["visit"]["now"]}
    client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(at=clock.now, fc="3", ph="7.5"))
    today = client.get(f"/api/v1/pools/{pool['id']}/today").json()
    assert today["swim"]["allowed"] is False and "drain cover" in today["swim"]["sentence"]
    assert today["headline"] == "First: replace the drain cover."
    client.delete(f"/api/v1/events/{mark['id']}")
    titles = {line["title"] for line in care(client, pool)["visit"]["now"]}
    assert not {"Replace the drain cover", "Clear the algae"} & titles and "inspection" not in kinds(
        client, pool
    )
    client.post(f"/api/v1/events/{mark['id']}/restore")
    drain = next(t for t in care(client, pool)["tasks"] if t["title"] == "Replace the drain cover")
    done = client.post(
        f"/api/v1/tasks/{drain['id']}/done", json=stamped(clock, note="new cover, screwed down")
    )
    assert done.status_code == 201
    assert "Replace the drain cover" not in {line["title"] for line in care(client, pool)["visit"]["now"]}
    # Not found whole again until somebody looks.
    assert client.get(f"/api/v1/pools/{pool['id']}/today").json()["swim"]["allowed"] is False
    clock.now += timedelta(days=1)
    client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(at=clock.now, fc="3", ph="7.5"))
    say(client, begin(client, pool, clock), clock, "look", "fine")
    assert client.get(f"/api/v1/pools/{pool['id']}/today").json()["swim"]["allowed"] is not False


def test_an_answer_given_anew_moves_what_the_first_one_moved(
    client: TestClient, engine: Engine, pool: dict, clock: Clock
) -> None:
    before = task(client, pool, "barrier")
    clock.now += timedelta(days=3)
    walk = begin(client, pool, clock, "stop")
    say(client, walk, clock, "look", "gate")
    assert task(client, pool, "barrier")["when"] != before["when"]  # looked at today
    say(client, walk, clock, "look", "low")
    assert "inspection" not in kinds(client, pool)
    assert task(client, pool, "barrier")["when"] == before["when"]
    assert "Mend the gate" not in {t["title"] for t in care(client, pool)["tasks"]}
    _kept_equals_the_log(engine, "answered anew")


# --- The calendar.


def test_the_feed_is_read_by_others_and_its_key_is_kept_nowhere(
    client: TestClient, pool: dict, engine: Engine, clock: Clock, caplog: pytest.LogCaptureFixture
) -> None:
    caplog.set_level(logging.DEBUG)
    logging.getLogger("httpx").setLevel(logging.WARNING)  # the reader's own log, not ours
    adelaide = client.post(
        "/api/v1/pools", json=pool_body(name="South", time_zone="Australia/Adelaide")
    ).json()
    for one, title, clock_time in ((pool, "Lock up", "02:30"), (adelaide, "Cover on", "19:30")):
        body = {
            "id": str(uuid7()),
            "title": title,
            "repeat": {"anchor": "completion", "days": 1, "clock": clock_time},
        }
        assert client.post(f"/api/v1/pools/{one['id']}/tasks", json=body).status_code == 201
    fixed = {
        "anchor": "calendar",
        "every": {"unit": "month", "day": 31},
        "season_from": "10-15",
        "season_to": "04-20",
    }
    client.post(
        f"/api/v1/pools/{adelaide['id']}/tasks", json={"id": str(uuid7()), "title": "Meter", "repeat": fixed}
    )
    made = client.post("/api/v1/feeds", json={"id": str(uuid7())}).json()
    answer = client.get(made["path"])
    assert answer.headers["content-type"].startswith("text/calendar")
    events: dict[str, list[str]] = {}
    for one in read_calendar(answer.text):
        events[one["summary"]] = sorted(events.get(one["summary"], []) + one["times"])
    # Shown as a clock at the pool shows it, wherever the reader is: UTC by the offset of that very day.
    locked = events["Lock up, Garden"]
    assert locked[:2] == ["2026-07-14T07:30:00.000Z", "2026-07-15T07:30:00.000Z"]
    assert "2026-12-01T08:30:00.000Z" in locked  # after the clocks went back
    covered = events["Cover on, South"]
    assert (
        covered[0] == "2026-07-15T10:00:00.000Z" and "2026-12-01T09:00:00.000Z" in covered
    )  # UTC+9:30, then +10:30
    months = ["2026-10-31", "2026-11-30", "2026-12-31", "2027-01-31", "2027-02-28", "2027-03-31"]
    assert events["Meter, South"][:6] == months and "2027-04-30" not in events["Meter, South"]
    assert len({e["uid"] for e in read_calendar(answer.text)}) == len(read_calendar(answer.text))
    # The hour that the clocks skip: told an hour later that day, once, and no day without it.
    march = [t for t in events["Lock up, Garden"] if t.startswith("2027-03-1")]
    assert march[:6] == [
        "2027-03-10T08:30:00.000Z", "2027-03-11T08:30:00.000Z", "2027-03-12T08:30:00.000Z",
        "2027-03-13T08:30:00.000Z", "2027-03-14T08:30:00.000Z", "2027-03-15T07:30:00.000Z",
    ]  # fmt: skip
    token = made["path"].rpartition("/")[2].removesuffix(".ics")
    with engine.connect() as connection:
        held = str(connection.execute(text("SELECT * FROM feed")).all())
    assert token not in held and token not in caplog.text and token not in str(care(client, pool))
    again = client.post(f"/api/v1/feeds/{made['id']}/rotate").json()
    assert client.get(made["path"]).status_code == 404 and client.get(again["path"]).status_code == 200
    client.delete(f"/api/v1/feeds/{again['id']}")
    problem(client.get(again["path"]), 404, "not_found")


def test_the_feed_tells_the_days_that_care_tells(client: TestClient, pool: dict, clock: Clock) -> None:
    give(client, pool, "filter", **SAND)
    chosen(client, pool, cadence="weekly", season_from="05-01", season_to="10-01")
    clock.now = NOW + timedelta(days=12)
    view = care(client, pool)
    events = read_calendar(client.get(f"/api/v1/pools/{pool['id']}/care.ics").text)
    told: dict[str, set[str]] = {}
    for event in events:
        for day in event["times"]:
            told.setdefault(day, set()).add(event["summary"].removesuffix(", Garden"))
    for day in view["calendar"]:
        if day["day"] >= view["year"]["today"]:
            assert set(day["due"]) == told.get(day["day"], set()), day
    assert (
        max(d for e in events if e["summary"].startswith("The weekly clean") for d in e["times"])
        > "2027-05-01"
    )
    assert not [
        d
        for e in events
        if e["summary"].startswith("The weekly clean")
        for d in e["times"]
        if "2026-10-02" <= d < "2027-05-01"
    ]


# --- Kept beside the log.


def test_what_is_kept_equals_what_the_log_says_after_any_changes(
    client: TestClient, pool: dict, engine: Engine, clock: Clock
) -> None:
    """Random creates, corrections, deletions, restorings, words and changes: next_due as kept is next_due as worked
    out anew; also after the account left and came back.
    """
    dice = random.Random(1717)
    give(client, pool, "filter", **SAND)
    chosen(client, pool, cadence="weekly", shock="two_weeks")
    written: list[tuple[str, str]] = []
    for step in range(45):
        clock.now += timedelta(hours=dice.choice([1, 30, 90]))
        local = (clock.now - timedelta(days=dice.randrange(9), hours=5)).strftime("%Y-%m-%dT%H:%M")
        if local < "2026-07-01":
            local = "2026-07-01T10:00"
        act = dice.randrange(7)
        if act == 0:
            kind, details = dice.choice([
                ("clean", {"what": {"text": dice.choice(["whole", "brushed"])}}), ("backwash", {}),
                ("shock", {}),
                ("rain", {"fell": {"text": "40", "unit": "mm"}}), ("storm", {"what": {"text": "wind"}}),
                ("pressure", {"pressure": {"text": str(dice.randrange(9, 25)), "unit": "psi"}}),
                ("upkeep", {"what": {"text": "orings"}}), ("inspection", {"what": {"text": "breaker"}}),
            ])  # fmt: skip
            body = {
                "id": str(uuid7()),
                "at": clock.now.isoformat(),
                "kind": kind,
                "details": details,
                "local": local,
            }
            if client.post(f"/api/v1/pools/{pool['id']}/entries", json=body).status_code == 201:
                written.append((body["id"], kind))
        elif act == 1:
            body = a_test(at=clock.now, fc="2", ph="7.4", **({"ta": "90"} if dice.random() < 0.5 else {})) | {
                "local": local
            }
            assert client.post(f"/api/v1/pools/{pool['id']}/tests", json=body).status_code == 201
            written.append((body["id"], "water_test"))
        elif act == 2 and written:
            client.delete(f"/api/v1/events/{dice.choice(written)[0]}")
        elif act == 3 and written:
            client.post(f"/api/v1/events/{dice.choice(written)[0]}/restore")
        elif act == 4 and written:
            id, kind = dice.choice(written)
            held = client.get(f"/api/v1/events/{id}").json()
            if kind not in ("water_test", "mark") and not held["deleted"]:
                body = {
                    "kind": kind,
                    "details": held["details"],
                    "local": local,
                    "revision": held["revision"],
                }
                assert client.put(f"/api/v1/entries/{id}", json=body).status_code == 200
        elif act == 5:
            one = dice.choice(care(client, pool)["tasks"])
            until = (clock.now + timedelta(days=dice.randrange(1, 20))).date().isoformat()
            body = stamped(clock, verb=dice.choice(["snooze", "skip"]), value=until)
            if client.post(f"/api/v1/tasks/{one['id']}/marks", json=body).status_code == 201:
                written.append((body["id"], "mark"))
        elif act == 6:
            one = dice.choice([t for t in care(client, pool)["tasks"] if t["anchor"] == "completion"])
            repeat = (
                {"anchor": "completion", "days": dice.randrange(1, 30)}
                if dice.random() < 0.6
                else {"anchor": ""}
            )
            client.put(f"/api/v1/tasks/{one['id']}", json={"repeat": repeat, "revision": one["revision"]})
        _kept_equals_the_log(engine, f"step {step}")
    assert len(written) > 12
    before = _kept(engine)
    data = taken_out(client, engine, "account_json")
    wipe(engine)
    brought_in(client, engine, data)
    _kept_equals_the_log(engine, "brought in")
    assert _kept(engine) == before


def _kept_equals_the_log(engine: Engine, when: str) -> None:
    with Session(engine) as session:
        for pool in session.scalars(select(Pool)):
            rows = list(
                session.scalars(select(TaskRow).where(TaskRow.pool_id == pool.id, TaskRow.ended_at.is_(None)))
            )
            for row, due in dues(session, pool, rows):
                kept = (row.next_due, row.next_why, row.next_lapses)
                assert kept == (due.on, due.why[:400], due.lapses), (when, row.rule_id)


def _kept(engine: Engine) -> set[tuple[str, date | None, str]]:
    with Session(engine) as session:
        rows = session.scalars(select(TaskRow).where(TaskRow.ended_at.is_(None)))
        return {(row.rule_id, row.next_due, row.next_why) for row in rows}


def test_an_account_of_this_version_from_before_there_were_tasks_is_taken(
    client: TestClient, pool: dict, engine: Engine
) -> None:
    import json

    data = json.loads(taken_out(client, engine, "account_json"))
    assert data.pop("tasks") and data.pop("papers") == []
    wipe(engine)
    brought_in(client, engine, json.dumps(data).encode())
    assert find(care(client, pool), "weekly_clean")["state"] == "coming"


def test_what_is_due_at_other_pools_goes_by_their_own_day(
    client: TestClient, pool: dict, clock: Clock
) -> None:
    far = client.post("/api/v1/pools", json=pool_body(name="Far", time_zone="Pacific/Kiritimati")).json()
    body = {"id": str(uuid7()), "title": "Look", "repeat": {"anchor": "once", "on": "2026-07-16"}}
    for one in (pool, far):
        for name in ("test_fc", "test_ta", "test_ch", "test_cya"):
            client.put(f"/api/v1/tasks/{task(client, one, name)['id']}", json={"on": False, "revision": 1})
        assert (
            client.post(f"/api/v1/pools/{one['id']}/tasks", json=body | {"id": str(uuid7())}).status_code
            == 201
        )
    clock.now = datetime.fromisoformat("2026-07-15T12:00:00+00:00")  # the 16th already, there
    assert [(o["name"], o["due"]) for o in care(client, pool)["others"]] == [("Far", 1)]
    assert care(client, far)["others"] == []
