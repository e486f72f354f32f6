"""A kind of entry is one row of the registry: one made up here, and one with a table of its own, go through
everything that a log's entry goes through.
"""

import json
from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine
from uuid6 import uuid7

from kumpan.core.log.entry import Details, Effect, LogEntry
from kumpan.core.log.kinds import KINDS, EventKind
from kumpan.core.pool.traits import PoolTraits
from kumpan.core.records import number
from support import NOW, a_test, brought_in, taken_out, wipe


def flooded(entry: LogEntry, traits: PoolTraits) -> Effect:
    assert isinstance(entry.payload, Details)
    return Effect(replaced=entry.payload.number("share") / 100)


FLOOD = EventKind(
    "flood", "Flooded", (number("share", "Share", "percent", (1, 100)),), needs="share", effect=flooded
)
FIELDS = {
    "flood": ({"share": "40"}, {"share": "50"}, "Flooded"),
    "mark": ({"verb": "skip", "key": "brush"}, {"verb": "snooze", "key": "brush"}, "Mark"),
}


def details(values: dict[str, str]) -> dict[str, Any]:
    return {name: {"text": text, "unit": "%" if name == "share" else ""} for name, text in values.items()}


@pytest.mark.parametrize("kind", FIELDS)
def test_a_kind_goes_through_everything(
    client: TestClient, engine: Engine, pool: dict, kind: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setitem(KINDS, "flood", FLOOD)
    first, second, title = FIELDS[kind]
    url = f"/api/v1/pools/{pool['id']}"
    settings = {
        "school": "flat_band",
        "fill": {"ph": "7.6", "ta": "90", "ch": "150", "salt": "0"},
        "revision": 1,
    }
    assert client.put(f"{url}/settings", json=settings).status_code == 200
    client.post(
        f"{url}/tests", json=a_test(at=NOW - timedelta(days=1), fc="3", ph="7.5", ta="100", salt="3000")
    )

    def salt() -> float:
        shown = {m["measure"]: m["shown"] for m in client.get(f"{url}/today").json()["water_now"]}
        return float(shown["salt"].replace(",", ""))

    def told() -> list[dict[str, Any]]:
        events = client.get(f"{url}/events", params={"kind": kind}).json()["events"]
        return [e for e in events if e["title"] == title]

    before = salt()
    entry = {
        "id": str(uuid7()),
        "at": (NOW - timedelta(hours=2)).isoformat(),
        "kind": kind,
        "details": details(first),
    }
    made = client.post(f"{url}/entries", json=entry)
    assert made.status_code == 201, made.text
    assert client.post(f"{url}/entries", json=entry).json()["id"] == entry["id"]  # sent again: once
    assert [e["id"] for e in told()] == [entry["id"]]
    change = {"kind": kind, "details": details(second), "revision": 1}
    corrected = client.put(f"/api/v1/entries/{entry['id']}", json=change)
    assert corrected.status_code == 200 and len(corrected.json()["history"]) == 1, corrected.text

    share = 0.5 if kind == "flood" else 0.0
    assert salt() == pytest.approx(before * (1 - share), rel=0.02)
    window = {"start": (NOW - timedelta(days=2)).isoformat(), "end": (NOW + timedelta(hours=1)).isoformat()}
    graph = client.get(f"{url}/graph", params=window).json()
    assert [m["kind"] for m in graph["marks"]] == [kind]
    salt = next(s for s in graph["series"] if s["measure"] == "salt")
    steps = [s["value"] for run in salt["estimate"] for s in run]
    assert steps[-1] == pytest.approx(steps[0] * (1 - share), rel=0.03)

    both = {form: taken_out(client, engine, form) for form in ("account_json", "account_csv")}
    shown = told()
    for data in both.values():
        wipe(engine)
        assert brought_in(client, engine, data)["state"] == "done"
        assert told() == shown
        assert json.loads(taken_out(client, engine, "account_json"))["corrections"]


def test_the_log_offers_a_kind_that_a_person_enters(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setitem(KINDS, "flood", FLOOD)
    offered = {k["id"]: k for k in client.get("/api/v1/entry-kinds").json()}
    assert [f["id"] for f in offered["flood"]["fields"]] == ["share"] and "mark" not in offered
