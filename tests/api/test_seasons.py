"""Openings, closings, winter and drains through the API."""

import io
import json
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from fastapi.testclient import TestClient
from pypdf import PdfReader
from sqlalchemy import Engine
from sqlalchemy.orm import sessionmaker
from uuid6 import uuid7

from kumpan.actions.weather.refresh import refresh
from kumpan.actions.weather.source import Answer, Asked
from kumpan.core.simulation.climate import place_at
from kumpan.core.weather import WeatherDay
from kumpan.standins.weather import days as told_days
from support import NOW, Clock, a_test, pool_body, work_off

PLACED = {"latitude": 41.5, "longitude": -93.6}
BALANCED = {"fc": "3", "ph": "7.5", "ta": "90", "ch": "250", "cya": "40", "salt": "1000", "temp": "58"}


class Season:
    """One pool through its seasons, on a clock that goes on."""

    def __init__(self, client: TestClient, clock: Clock, **pool: Any) -> None:
        self.client, self.clock = client, clock
        self.pool = self.ok(client.post("/api/v1/pools", json=pool_body(**pool)))
        self.home = f"/api/v1/pools/{self.pool['id']}"
        self.sheet: dict[str, Any] = {}

    @staticmethod
    def ok(answer: Any) -> Any:
        assert answer.status_code in (200, 201), answer.text
        return answer.json()

    def add(self, kind: str, **fields: str) -> None:
        details = {
            n: dict(zip(("text", "unit"), (*v.split(" "), ""), strict=False)) for n, v in fields.items()
        }
        body = {"id": str(uuid7()), "kind": kind, "details": details}
        self.ok(self.client.post(f"{self.home}/equipment", json=body))

    def begin(self, subject: str, day: str, **given: str) -> dict[str, Any]:
        body = {
            "id": str(uuid7()),
            "at": self.clock.now.isoformat(),
            "subject": subject,
            "day": day,
            "given": given,
        }
        self.sheet = self.ok(self.client.post(f"{self.home}/season-plans", json=body))
        self.clock.now += timedelta(minutes=1)
        return self.sheet

    def to(self, local: str) -> None:
        self.clock.now = datetime.fromisoformat(local).replace(tzinfo=ZoneInfo("America/Chicago"))

    def say(self, key: str, value: str = "", verb: str = "answer") -> Any:
        body = {
            "id": str(uuid7()),
            "at": self.clock.now.isoformat(),
            "key": key,
            "verb": verb,
            "value": value,
        }
        answer = self.client.post(f"/api/v1/sheets/{self.sheet['id']}/marks", json=body)
        if answer.status_code == 201:
            self.sheet = answer.json()
            self.clock.now += timedelta(minutes=2)
        return answer

    def said(self, key: str, value: str = "", verb: str = "answer") -> None:
        self.ok(self.say(key, value, verb))

    def read(self, **values: str) -> None:
        self.ok(self.client.post(f"{self.home}/tests", json=a_test(self.clock.now, **values)))
        self.clock.now += timedelta(minutes=2)
        if self.sheet:
            self.look()

    def pour(self, key: str) -> Any:
        body = {"id": str(uuid7()), "at": self.clock.now.isoformat()}
        answer = self.client.post(f"/api/v1/sheets/{self.sheet['id']}/steps/{key}/tick", json=body)
        self.clock.now += timedelta(minutes=2)
        return answer

    def look(self) -> dict[str, Any]:
        self.sheet = self.ok(self.client.get(f"/api/v1/sheets/{self.sheet['id']}"))
        return self.sheet

    def step(self, key: str) -> dict[str, Any]:
        return next(s for s in self.look()["steps"] if s["key"] == key)

    def view(self) -> dict[str, Any]:
        return self.ok(self.client.get(f"{self.home}/season"))

    def kinds(self, since: datetime) -> list[str]:
        events = self.ok(self.client.get(f"{self.home}/events"))["events"]
        return sorted(e["kind"] for e in events if datetime.fromisoformat(e["at"]) >= since)

    def tasks(self) -> set[str]:
        return {t["rule_id"] for t in self.ok(self.client.get(f"{self.home}/care"))["tasks"]}

    def waited(self) -> bool:
        """Let the time pass that the next step waits for, up to a night."""
        steps = [s for s in self.sheet["steps"] if s["state"] == "later"]
        due = min((datetime.fromisoformat(s["due_at"]) for s in steps), default=None)
        if due is None or not self.clock.now < due < self.clock.now + timedelta(hours=20):
            return False
        self.clock.now = due + timedelta(minutes=1)
        self.look()
        return True

    def walk(self, answers: dict[str, str], until: str = "") -> None:
        """Do whatever is at hand, in the plan's order, until a step or the end."""
        self.look()
        for _ in range(120):
            may = [s for s in self.sheet["steps"] if (s["state"] == "open" or s["ready"]) and not s["held"]]
            if not may and self.waited():
                continue
            if not may or any(s["key"] == until for s in may) or self.sheet["state"] != "under_way":
                return
            step = may[0]
            guide = step["guide"]
            if guide is None and step["plan"]["kind"] == "retest":
                self.read(**{m: BALANCED[m] for m in (*step["measures"], "temp")})
            elif guide is None:
                self.ok(self.pour(step["key"]))
                self.look()
            elif guide["kind"] == "timer":
                self.said(step["key"], verb="timer")
                self.clock.now += timedelta(minutes=guide["minutes"])
                self.look()
            else:
                verb = "decide" if guide["kind"] == "decide" else "answer"
                usual = guide["choices"][0][0] if guide["choices"] else "shed" if guide["text"] else ""
                self.said(step["key"], answers.get(step["key"], usual), verb)
        raise AssertionError("it does not end")


@pytest.fixture
def above(client: TestClient, clock: Clock) -> Season:
    season = Season(client, clock, surface="vinyl", installation="above_ground", **PLACED)
    season.add("filter", medium="cartridge")
    season.add("pump")
    season.add("cover", what="solid")
    season.add("steps", what="ladder")
    return season


PLACES = {
    "returns": "blue box, shelf", "hoses": "hook by the door", "pump": "cellar", "filter": "cellar",
    "small": "in the pump basket", "steps": "behind the shed", "notes": "Buy a new gasket.",
}  # fmt: skip


def closed(season: Season) -> None:
    """Closed on 18 October, five days of it."""
    season.to("2026-10-01T10:00:00")
    season.begin("closing", "2026-10-18")
    season.to("2026-10-13T17:00:00")
    season.read(**BALANCED)
    season.said("balance")
    season.to("2026-10-13T19:00:00")
    season.ok(season.pour("shock"))
    season.to("2026-10-17T12:00:00")
    season.said("pillow_test")
    season.to("2026-10-18T09:00:00")
    season.walk(PLACES)


def test_an_above_ground_pool_is_closed_and_opened_from_its_own_parts_list(above: Season) -> None:
    start = above.clock.now
    closed(above)
    assert above.sheet["state"] == "done", above.sheet["next_key"]
    assert {"cover", "season", "dose"} <= set(above.kinds(start))
    assert any("Closed on 18 Oct 2026" in line for line in above.sheet["outcome"])
    view = above.view()
    assert view["kind"] == "opening" and view["state"] == "closed"
    assert {p["label"]: p["place"] for p in view["parts"]}["Pump"] == "cellar"
    assert view["plans"][0]["notes"] == "Buy a new gasket."
    paper = PdfReader(io.BytesIO(above.client.get(f"{above.home}/parts.pdf?size=a4").content))
    told = paper.pages[0].extract_text()
    assert len(paper.pages) == 1 and told.index("Return fittings") < told.index("Pump: cellar")
    # Under the cover its own duties come round, and no summer's.
    assert {"winter_water", "winter_leaves", "winter_look", "winter_test"} <= above.tasks()
    assert not {"test_fc", "clean", "freeze"} & above.tasks()
    # In spring each part is asked for where it lies.
    above.to("2027-04-24T09:00:00")
    above.begin("opening", "2027-04-24")
    assert above.sheet["notes"] == "Buy a new gasket."
    feed = above.client.get(f"{above.home}/care.ics").text
    assert "SUMMARY:Opening\\, Garden" in feed and "DTSTART;VALUE=DATE:20270425" in feed
    calendar = above.ok(above.client.get(f"{above.home}/care"))["calendar"]
    assert any("Opening: " in line for day in calendar for line in day["due"])
    pump = above.step("pump")
    assert "By the last list: cellar." in pump["guide"]["how"]
    assert not any("cell" in s["key"] for s in above.sheet["steps"])
    above.walk(
        {"cover": "loft", "plugs": "blue box", "fill_above": "900 gal", "clean_kpa": "9 psi", "temp": "56 f"},
        "shock",
    )
    assert above.step("run")["state"] == above.step("dusk")["state"] == "skipped"
    assert "dusk" in above.step("shock")["plan"]["sentence"] or above.step("shock")["state"] == "later"
    above.to("2027-04-24T20:10:00")
    above.ok(above.pour("shock"))
    above.to("2027-04-25T19:00:00")
    above.walk({})
    above.to("2027-04-26T10:00:00")
    above.walk({"stabilizer": ""})
    assert above.look()["state"] == "done"
    last = above.view()["last"]
    assert [one["what"] for one in last] == ["Opened", "Closed"]
    assert last[0] == {
        "what": "Opened",
        "day": "24 Apr 2027",
        "water": "56 °F",
        "looked": "the water was clear",
    }
    assert "test_fc" in above.tasks() and "winter_water" not in above.tasks() and "freeze" in above.tasks()
    assert {p["label"]: p["place"] for p in above.view()["parts"]}["Winter cover"] == "loft"


def test_closing_is_refused_plainly(client: TestClient, clock: Clock) -> None:
    plaster = Season(client, clock, surface="plaster", chlorine_source="tablets")
    plaster.add("feeder", what="floater")
    plaster.to("2026-10-13T10:00:00")
    plaster.begin("closing", "2026-10-18")
    assert "not done" in plaster.say("balance").json()["detail"]
    plaster.read(**BALANCED | {"ch": "120", "ta": "60", "ph": "7.2"})
    refused = plaster.say("balance").json()
    assert refused["code"] == "not_now" and "eats plaster" in refused["detail"]
    assert "calcium" in refused["detail"] and "baking soda" in plaster.step("balance")["told"]
    plaster.read(**BALANCED | {"ph": "8.0"})
    told = plaster.say("balance").json()["detail"]
    assert "at most 7.8" in told and ("pH to 7.5" in told or "pH 7.5" in told)
    plaster.read(**BALANCED)
    plaster.said("balance")
    # A floater cannot be passed over; equipment is not put beside chemicals; nothing is said of that.
    assert "bleaches" in plaster.say("floater", verb="skip").json()["detail"]
    beside = plaster.say("feeder", "on the shelf with the acid").json()
    assert beside["code"] == "invalid" or beside["fields"][0]["code"] == "beside_chemicals"
    assert plaster.say("feeder", " ").json()["fields"][0]["code"] == "missing"
    plaster.said("feeder", "Placid Bay shed, top shelf")  # no acid is in that
    plaster.said("feeder", "Carry the chlorine down", "add")  # a step of one's own is no place
    # Algaecide waits for a reading under 5.
    plaster.to("2026-10-13T19:30:00")
    plaster.ok(plaster.pour("shock"))
    plaster.to("2026-10-18T09:00:00")
    plaster.said("floater", "out")
    plaster.said("clean")
    plaster.read(fc="7")
    plaster.said("sequestrant", verb="skip")
    plaster.clock.now += timedelta(minutes=40)
    assert "read 7 ppm" in plaster.say("algaecide").json()["detail"]
    plaster.read(fc="4")
    plaster.said("algaecide")
    # Vinyl is told, and not refused.
    vinyl = Season(client, clock, surface="vinyl", name="Liner")
    vinyl.begin("closing", "2026-10-23")
    vinyl.read(**BALANCED | {"ch": "80", "ta": "60", "ph": "7.2"})
    assert "told, not refused" in vinyl.step("balance")["told"]
    vinyl.said("balance")


def test_days_move_own_steps_come_in_and_what_is_wrong_is_told_at_its_field(above: Season) -> None:
    above.to("2026-10-01T10:00:00")
    for bad, field in (
        ({"day": "soon"}, "day"),
        ({"day": "2026-09-30"}, "day"),
        ({"day": "2029-01-01"}, "day"),
    ):
        body = {"id": str(uuid7()), "at": above.clock.now.isoformat(), "subject": "closing", **bad}
        answer = above.client.post(f"{above.home}/season-plans", json=body)
        assert answer.status_code == 422 and answer.json()["fields"][0]["field"] == field
    for given, field in (
        ({"school": "moon"}, "school"),
        ({"pipe_length": "120"}, "pipe_length"),
        ({"pipe_length": "much ft"}, "pipe_length"),
        ({"pipe_length": "120 ft", "pipe_size": "9"}, "pipe_size"),
    ):
        body = {
            "id": str(uuid7()),
            "at": above.clock.now.isoformat(),
            "subject": "closing",
            "day": "2026-10-18",
            "given": given,
        }
        answer = above.client.post(f"{above.home}/season-plans", json=body)
        assert answer.status_code == 422 and answer.json()["fields"][0]["field"] == field, given
    above.begin("closing", "2026-10-18")
    assert above.begin("closing", "2026-12-01")["day"] == "2026-10-18"  # it is under way: gone on with
    above.said("", "2026-10-25", "move")
    assert above.sheet["day_words"] == "Sun 25 Oct"
    assert above.step("pillow_test")["planned_on"] == "2026-10-24"
    refused = above.say("pillow", "2026-10-20", "move")
    assert refused.status_code == 422 and "comes after" in refused.json()["fields"][0]["message"]
    above.said("steps", "2026-10-22", "move")
    assert above.step("steps")["day_words"] == "Thu 22 Oct"
    assert above.say("", "x" * 90, "add").status_code == 422
    above.said("steps", "Take the rope down", "add")
    own = next(s for s in above.look()["steps"] if s["guide"] and s["guide"]["title"] == "Take the rope down")
    above.said(own["key"])
    assert above.step(own["key"])["state"] == "done"
    undo = above.step(own["key"])["said_id"]
    assert above.client.delete(f"/api/v1/events/{undo}").status_code == 200
    assert above.step(own["key"])["ready"]
    # Today shows one line of it, the next day of it; and the water is not held by a pump that stops in weeks.
    today = above.ok(above.client.get(f"{above.home}/today"))
    assert "Closing" in json.dumps(today)


def test_green_goes_into_clear_up_and_comes_back(client: TestClient, clock: Clock) -> None:
    salt = Season(client, clock, chlorine_source="chlorinator", **PLACED)
    salt.add("chlorinator", salt_low="2700 ppm", salt_high="3400 ppm", output="600 g_day")
    salt.add("pump")
    salt.to("2026-05-20T09:00:00")
    salt.begin("opening", "2026-05-20")
    salt.walk({"look": "green", "temp": "71 f", "fill": "3000 gal"}, "run")
    assert salt.step("shock")["state"] == "skipped" and salt.step("first_test")["state"] == "later"
    run = {
        "id": str(uuid7()),
        "at": salt.clock.now.isoformat(),
        "asked": {"aim": "algae", "severity": "tint", "looks": 2, "method": "drops"},
    }
    salt.read(fc="0", ph="7.4", ta="90", ch="250", cya="30", temp="71")
    answer = client.post(f"{salt.home}/clear-ups", json=run)
    assert answer.status_code == 201, answer.text
    salt.clock.now += timedelta(minutes=2)
    assert salt.step("run")["state"] == "done"  # begun: it is under way
    salt.said("ten", verb="timer")
    salt.clock.now += timedelta(minutes=11)
    held = salt.step("first_test")
    assert "has the water" in held["held"]
    salt.ok(client.post(f"/api/v1/sheets/{answer.json()['id']}/marks", json={
        "id": str(uuid7()), "at": salt.clock.now.isoformat(), "key": "", "verb": "give_up"
    }))  # fmt: skip
    salt.clock.now += timedelta(minutes=2)
    assert salt.step("first_test")["held"] == ""
    salt.walk({}, "cell")
    salt.to("2026-05-22T10:00:00")
    salt.walk({}, "cell")
    # The cell waits for its salt.
    assert "wants 2,700" in salt.say("cell").json()["detail"]
    salt.read(salt="3100", ph="7.5")
    salt.said("cell")
    assert salt.view()["last"][0]["looked"] == "the water was green"


def test_a_drain_is_planned_by_the_pools_own_rules(client: TestClient, clock: Clock) -> None:
    pool = Season(client, clock, surface="vinyl")
    pool.add("pump", flow="40 gpm")
    pool.read(fc="4", ph="7.5", cya="120")
    told = pool.view()["drain"]
    assert "stabilizer 120, to 50 takes 88 %" in told and "33 % in one go" in told
    pool.begin("drain", "2026-07-20")
    # 5,000 gal at 40 gal a minute: 125 min.
    assert "5,000 gal, about 2.1 h" in pool.step("pump_out")["guide"]["title"]
    assert "No outlook" in pool.step("heat")["guide"]["how"]
    pool.to("2026-07-20T08:00:00")
    for key, value, verb in (
        ("why", "", "answer"),
        ("ground", "low", "decide"),
        ("heat", "", "answer"),
        ("may", "", "answer"),
        ("off", "", "answer"),
    ):
        pool.said(key, value, verb)
    assert pool.say("pump_out").status_code == 409
    pool.read(fc="4", ph="7.5")
    # 0.073 lb per ppm and 10,000 gal (check values): 0.44 lb for 4 ppm in 15,000 gal.
    assert "7 oz" in pool.step("dechlorinate")["told"]
    pool.said("dechlorinate")
    assert "read 4 ppm" in pool.say("pump_out").json()["detail"]
    pool.read(fc="0", ph="7.5")
    pool.said("pump_out")
    pool.said("brush")
    pool.said("went", "5000 gal")
    assert "drain" in pool.kinds(NOW)
    # High ground water ends it.
    other = Season(client, clock, surface="vinyl", name="Wet")
    other.begin("drain", "2026-07-20")
    other.said("ground", "high", "decide")
    assert other.look()["state"] == "done" and other.step("pump_out")["state"] == "skipped"


def test_the_proposal_follows_the_weather_and_one_reading_is_asked_for_without(
    client: TestClient, clock: Clock, engine: Engine
) -> None:
    bare = Season(client, clock, name="Bare")
    assert bare.view()["asks"] and bare.view()["chosen"] is None
    assert "How warm is the water?" in bare.view()["headline"]
    placed = Season(client, clock, name="Placed", **PLACED)

    def told(one: Asked) -> Answer:
        days = told_days(
            place_at(one.latitude, one.longitude), ZoneInfo(one.zone), one.first, one.last, clock.now
        )
        as_days = [WeatherDay(**(d | {"day": datetime.fromisoformat(d["day"]).date()})) for d in days]
        return Answer("made up", True, tuple(as_days))

    assert refresh(sessionmaker(engine), told, clock.now) == 1
    view = placed.view()
    assert view["kind"] == "closing" and view["chosen"] == view["day"] and view["day"].startswith("2026-")
    assert 8 < int(view["day"][5:7]) < 12 and len(view["warmth"]) > 300
    assert [d["chosen"] for d in view["delays"]].count(True) == 1
    body = {
        "season_from": "05-09",
        "season_to": "12-24",
        "cadence": "weekly",
        "revision": placed.ok(client.get(placed.home))["revision"],
    }
    placed.ok(client.put(f"{placed.home}/care", json=body))
    view = placed.view()
    assert view["own"] == view["chosen"] == "2026-12-24" and "Your day counts" in view["lines"][0]
    assert "frost" in view["lines"][0]


def test_seasons_go_out_and_come_back_whole(above: Season, engine: Engine) -> None:
    above.begin("closing", "2026-07-20")
    above.said("steps", "behind the shed")
    season = {"what": {"text": "closed", "unit": ""}, "temp": {"text": "55", "unit": "f"}}
    body = {
        "id": str(uuid7()),
        "at": above.clock.now.isoformat(),
        "kind": "season",
        "details": season,
        "note": "",
    }
    above.ok(above.client.post(f"{above.home}/entries", json=body))
    before = above.view()
    body = {"id": str(uuid7()), "kind": "account_json"}
    job = above.ok(above.client.post("/api/v1/exports", json=body))
    assert work_off(engine, above.clock) == 1
    held = above.client.get(f"/api/v1/jobs/{job['id']}/file").text
    assert '"season"' in held and "behind the shed" in held
    assert above.view() == before
