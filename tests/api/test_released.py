"""What earlier releases wrote is still read: whole accounts of formats 1 and 2, and stored plans of each form.

The files in ``tests/released`` were written by the releases themselves, from their made-up sample data:
account-1-first.json by the first that wrote accounts (it did not know where a sample was taken), account-1.json by
the last of that format, account-2.json by the last of its; stored-plan-1 to -4.json what four of them stored of an
accepted plan, stored-sheet-3.json what the first with sheets stored of a plan and of a guide, stored-run-1.json
how the first with clear-up runs stored one.
"""

import csv
import io
import json
import zipfile
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine

from kumpan.store.stored_run import read_foretold, read_run
from kumpan.store.stored_sheet import (
    FORM,
    StoredAct,
    read_act,
    read_guide_step,
    read_step,
    shown_step,
    store_step,
)
from support import NOW, brought_in

RELEASED = Path(__file__).parents[1] / "released"
ACCOUNTS = ("account-1-first", "account-1", "account-2")


def as_folder(document: dict[str, Any]) -> bytes:
    """A document as its release would have packed it: a folder of CSV files, without pictures."""
    out, head = io.BytesIO(), {k: v for k, v in document.items() if not isinstance(v, list)}
    with zipfile.ZipFile(out, "w") as packed:
        packed.writestr("kumpan-account/datapackage.json", json.dumps({"kumpan": head}))
        for name, rows in document.items():
            if isinstance(rows, list):
                text = io.StringIO()
                rows = [] if name == "photos" else rows
                # A table without rows says its columns all the same: those of the rows that the format describes.
                columns = list(rows[0]) if rows else EMPTY.get(name, [])
                writer = csv.writer(text)
                writer.writerow(columns)
                for row in rows:
                    writer.writerow([cell(row[c]) for c in columns])
                packed.writestr(f"kumpan-account/{name}.csv", text.getvalue())
    return out.getvalue()


EMPTY = {
    "marks": ["event_id", "sheet_id", "task_id", "key", "verb", "value"],
    "steps_done": ["event_id", "what", "fraction", "to_ph", "note", "plan_step_id"],
    "tasks": ["event_id", "what", "fraction", "to_ph", "note", "plan_step_id"],
    "photos": ["id", "event_id", "equipment_id", "created_at", "removed_at", "picture"],
}


def cell(value: Any) -> Any:
    return json.dumps(value) if isinstance(value, dict | list) else "" if value is None else value


@pytest.mark.parametrize("name", ACCOUNTS)
@pytest.mark.parametrize("form", ["json", "csv"])
def test_an_account_of_an_earlier_format_is_read_whole(
    client: TestClient, engine: Engine, name: str, form: str
) -> None:
    data = (RELEASED / f"{name}.json").read_bytes()
    document = json.loads(data)
    assert document["version"] == int(name.split("-")[1])
    assert ("spot" in document["events"][0]) == (name == "account-1")
    job = brought_in(client, engine, data if form == "json" else as_folder(document))
    assert job["state"] == "done", job["problems"]
    assert client.get("/api/v1/account").json()["unit_system"] == "us"
    pools = {p["name"]: p for p in client.get("/api/v1/pools").json()}
    assert set(pools) == {p["name"] for p in document["pools"]}
    home = f"/api/v1/pools/{pools['Fernway Court']['id']}"
    logged = {e["id"]: e for e in client.get(f"{home}/events?limit=200").json()["events"]}
    for event in document["events"]:
        if event["pool_id"] == pools["Fernway Court"]["id"] and event["deleted_at"] is None:
            assert logged[event["id"]]["performed_by"] == event.get("who", event.get("performed_by"))
    steps = client.get(f"{home}/today").json()["sheets"][0]["steps"]
    stored = sorted(document["plan_steps"], key=lambda s: s["position"])
    assert [s["plan"]["title"] for s in steps] == [s["shown"]["title"] for s in stored]
    assert sum(s["done"] is not None for s in steps) == 1  # the one that was ticked
    assert any("was Muriatic acid" in h for e in logged.values() for h in e["history"])


@pytest.mark.parametrize("name", sorted(p.stem for p in RELEASED.glob("stored-plan-*.json")))
def test_a_stored_plan_of_every_release_is_read_and_shown(name: str) -> None:
    steps = json.loads((RELEASED / f"{name}.json").read_text())["steps"]
    assert len(steps) >= 3
    form = 2 if name == "stored-plan-4" else 1
    for shown in steps:
        step = read_step(form, shown)
        view = shown_step(step, NOW, "18:00")
        assert (view.title, view.clock, view.amount is None) == (
            shown["title"],
            "18:00",
            shown["amount"] is None,
        )
        assert [s.u95 for s in view.slots] == [s.get("plus_minus", s.get("u95")) for s in shown["slots"]]
        act = StoredAct(shown["kind"], measures=("ph",))
        again = store_step(view, act)  # and once more in today's form
        assert read_step(FORM, again) == step and read_act(again) == act


def test_a_stored_sheet_of_every_release_is_read() -> None:
    held = json.loads((RELEASED / "stored-sheet-3.json").read_text())
    for shown in held["plan"]:
        assert read_step(3, shown).title == shown["title"] and read_act(shown).kind == shown["kind"]
    for shown in held["guide"]:
        assert read_guide_step(shown).title == shown["title"]
    kinds = [read_act(shown).kind for shown in held["guide"]]
    assert {"do", "look", "timer"} == set(kinds) and len(held["plan"]) >= 3


def test_a_stored_season_of_every_release_is_read() -> None:
    held = json.loads((RELEASED / "stored-sheet-3-season.json").read_text())["season"]
    acts = [read_act(shown) for shown in held]
    assert {a.kind for a in acts} == {"do", "look", "timer", "decide", "retest"} and all(
        a.planned for a in acts
    )
    assert any(a.only_if for a in acts) and any(a.text for a in acts) and any(a.wait_min for a in acts)
    said = [read_guide_step(shown) for shown in held if shown["act"]["kind"] != "retest"]
    assert any(s.helper for s in said) and {s.opens for s in said} == {"", "bench", "clear-up"}
    assert [s.place for s in said if s.part == "cell"] == ["linen cupboard"] * 2


def test_a_stored_run_of_every_release_is_read() -> None:
    inputs = json.loads((RELEASED / "stored-run-1.json").read_text())
    run, told = read_run(inputs, "id", NOW), read_foretold(inputs)
    assert (run.school, run.severity, run.water.cya_ppm, run.back) == ("hold", "steps", 40.0, False)
    assert told is not None and told.days.low < told.days.mean < told.days.high
    newer = inputs | {"run": inputs["run"] | {"form": 2}}
    with pytest.raises(ValueError, match="form 2"):
        read_run(newer, "id", NOW)
