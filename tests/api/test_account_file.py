"""A whole account leaves and comes back without loss, as JSON and as CSV; independent packages read both; bad
files change nothing.

Read back by jsonschema, pandas and frictionless (packages of others). The demo account is the example: it
holds every kind of record.
"""

import base64
import copy
import csv
import io
import json
import zipfile
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid5

import frictionless
import jsonschema
import pandas
import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import Engine, text
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions.transfer.account_tables import TABLES
from kumpan.api.deps import account_picker
from kumpan.ops.schema import account_schema_text
from kumpan.settings import REPO
from kumpan.store.care import fit
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.log import EntryRow, Event
from kumpan.store.tables.pools import Pool
from sample import load_sample
from support import FORMS, NOW, Clock, a_test, app_on, brought_in, client_on, picture, send, taken_out, wipe


@pytest.fixture
def full(client: TestClient, engine: Engine) -> TestClient:
    """The demo account with photos, a correction, deletions, own targets, a proof of the volume and things
    put away.
    """
    load_sample(engine, NOW - timedelta(minutes=30))
    pools = {p["name"]: p for p in client.get("/api/v1/pools").json()}
    home = f"/api/v1/pools/{pools['Fernway Court']['id']}"
    note = {
        "id": str(uuid7()),
        "at": NOW.isoformat(),
        "kind": "note",
        "note": "=HYPERLINK(1)\n'quoted', \"so\" – ünïcode 🏊",
    }
    client.post(f"{home}/entries", json=note)
    piece = client.get(f"{home}/equipment").json()[0]["id"]
    paper = {
        "id": str(uuid7()),
        "file_id": send(client, b"%PDF-1.4 manual", "manual.pdf"),
        "equipment_id": piece,
    }
    assert client.post("/api/v1/papers", json=paper).status_code == 201
    verb = {"verb": {"text": "skip"}, "key": {"text": "brush"}, "sheet_id": {"text": str(uuid7())}}
    mark = {"id": str(uuid7()), "at": NOW.isoformat(), "kind": "mark", "details": verb}
    assert client.post(f"{home}/entries", json=mark).status_code == 201
    plan = client.get(f"{home}/today").json()["sheets"][0]
    pour = {"id": str(uuid7()), "at": NOW.isoformat()}
    tick = client.post(f"/api/v1/sheets/{plan['id']}/steps/{plan['next_key']}/tick", json=pour)
    assert tick.status_code == 201, tick.text
    guide = {"id": str(uuid7()), "at": NOW.isoformat(), "subject": "filter"}
    guide["given"] = {"medium": "sand", "valve": "multiport"}
    key = client.post(f"{home}/guides", json=guide).json()["next_key"]
    said = {"id": str(uuid7()), "at": NOW.isoformat(), "key": key, "verb": "answer", "value": "18 psi"}
    assert client.post(f"/api/v1/sheets/{guide['id']}/marks", json=said).status_code == 201
    client.put(
        f"/api/v1/entries/{note['id']}", json={"kind": "note", "note": note["note"] + "!", "revision": 1}
    )
    events = client.get(f"{home}/events?limit=200").json()["events"]
    client.delete(f"/api/v1/events/{next(e for e in events if e['kind'] == 'rain')['id']}")
    piece = client.get(f"{home}/equipment").json()
    client.delete(f"/api/v1/equipment/{piece[-1]['id']}")
    for owner in ({"event_id": note["id"]}, {"equipment_id": piece[0]["id"]}):
        assert (
            client.post(
                "/api/v1/photos", json={"id": str(uuid7()), "file_id": send(client, picture()), **owner}
            ).status_code
            == 201
        )
    pool = client.get(home).json()
    own = pool["settings"] | {
        "targets": {"ta": {"low": "70", "aim": "80", "high": "90", "why": "+me"}},
        "fill": {"ph": "7.9", "ta": "160"},
        "hose": "540",
    }
    assert client.put(f"{home}/settings", json=own | {"revision": pool["revision"]}).status_code == 200
    inn = f"/api/v1/pools/{pools['Signal House Inn']['id']}"
    offer = client.get(f"{inn}/volume-proofs").json()[0]
    assert (
        client.post(
            f"{inn}/volume-proofs", json={"key": offer["key"], "revision": client.get(inn).json()["revision"]}
        ).status_code
        == 200
    )
    client.post(f"/api/v1/pools/{pools['Upper Garth']['id']}/archive")
    return client


def document(client: TestClient, engine: Engine) -> dict[str, Any]:
    found = json.loads(taken_out(client, engine, "account_json"))
    del found["exported_at"]
    return found


def seen(client: TestClient) -> list[Any]:
    """What the person sees of it."""
    pools = client.get("/api/v1/pools?archived=true").json()
    logs = [client.get(f"/api/v1/pools/{p['id']}/events?limit=200").json() for p in pools]
    today = [
        client.get(f"/api/v1/pools/{p['id']}/{what}").json() for p in pools for what in ("equipment", "today")
    ]
    return [
        pools,
        logs,
        today,
        client.get("/api/v1/shelf").json(),
        client.get("/api/v1/account").json()["name"],
    ]


@pytest.mark.parametrize("kind", FORMS)
def test_all_of_it_comes_back_the_same(full: TestClient, engine: Engine, kind: str) -> None:
    before, shown, file = document(full, engine), seen(full), taken_out(full, engine, kind)
    assert all(before[t.name] for t in TABLES if t.name != "steps_done"), [
        t.name for t in TABLES if not before[t.name]
    ]
    assert brought_in(full, engine, file)["message"] == "Everything in this file was here already."
    assert document(full, engine) == before
    wipe(engine)
    job = brought_in(full, engine, file)
    assert job["state"] == "done", job
    assert document(full, engine) == before and seen(full) == shown
    for photo in before["photos"]:
        assert full.get(f"/api/v1/photos/{photo['id']}/picture").content == base64.b64decode(photo["picture"])


def test_what_is_here_stays_and_what_is_missing_comes(full: TestClient, engine: Engine) -> None:
    file = taken_out(full, engine, "account_json")
    notes = [e for e in json.loads(file)["events"] if e["kind"] == "note"]
    full.put(f"/api/v1/entries/{notes[0]['id']}", json={"kind": "note", "note": "newer", "revision": 2})
    with engine.begin() as connection:  # lost here, as if never entered
        lost = connection.execute(
            text("SELECT event_id FROM entry JOIN event ON event.id = event_id WHERE kind = 'cell'")
        ).scalar_one()
        connection.execute(text("DELETE FROM entry WHERE event_id = :id"), {"id": lost})
        connection.execute(text("DELETE FROM event WHERE id = :id"), {"id": lost})
    here = document(full, engine)
    assert brought_in(full, engine, file)["message"] == "Brought in 2 records."
    after = document(full, engine)
    assert full.get(f"/api/v1/events/{notes[0]['id']}").json()["note"] == "newer"
    assert len(after["events"]) == len(here["events"]) + 1 and after["corrections"] == here["corrections"]


def test_another_account_gets_ids_of_its_own_every_time_the_same(full: TestClient, engine: Engine) -> None:
    mine = document(full, engine)
    other_id = uuid7()
    with Session(engine) as session:
        session.add(Account(id=other_id, name="Other", created_at=NOW))
        session.commit()
    app = app_on(engine, Clock(), whose="another's")
    app.dependency_overrides[account_picker] = lambda: lambda s: s.get(Account, other_id)
    with client_on(app) as other:
        file = json.dumps(mine | {"exported_at": NOW.isoformat()}).encode()
        assert brought_in(other, engine, file)["state"] == "done"
        theirs = document(other, engine)
        assert brought_in(other, engine, file)["message"] == "Everything in this file was here already."
    ids = {
        row["id"]: str(uuid5(other_id, row["id"])) for t in TABLES if t.key == ("id",) for row in mine[t.name]
    }
    for table in TABLES:
        told = json.dumps([json.dumps(row) for row in mine[table.name]])
        for old, new in ids.items():
            told = told.replace(old, new)
        assert sorted(json.loads(told)) == sorted(json.dumps(row) for row in theirs[table.name]), table.name
    assert document(full, engine) == mine


def test_others_read_it_too(full: TestClient, engine: Engine, tmp_path: Any) -> None:
    file = json.loads(taken_out(full, engine, "account_json"))
    published = (REPO / "docs" / "account.schema.json").read_text()
    assert published == account_schema_text()  # ./kumpan schema > docs/account.schema.json
    jsonschema.validate(file, json.loads(published), format_checker=jsonschema.FormatChecker())
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(
            file | {"pools": [file["pools"][0] | {"volume_l": "a lot"}]}, json.loads(published)
        )
    with zipfile.ZipFile(io.BytesIO(taken_out(full, engine, "account_csv"))) as packed:
        packed.extractall(tmp_path)
    folder = tmp_path / "kumpan-account"
    report = frictionless.Package(str(folder / "datapackage.json")).validate()
    assert report.valid, report.flatten(["title", "message"])[:5]
    for table in TABLES:
        frame = pandas.read_csv(folder / f"{table.name}.csv", dtype=str, keep_default_na=False)
        assert list(frame.columns) == list(table.fields) and len(frame) == len(file[table.name])
        assert not any(
            frame[c].str.match(r"^[=+@\t\r]").any() for c in frame.columns
        )  # nothing acts as a formula
    readings = pandas.read_csv(folder / "readings.csv")
    assert sorted(readings["value"]) == sorted(r["value"] for r in file["readings"])
    (folder / "readings.csv").write_text("event_id,measure\nx,1\n")
    assert not frictionless.Package(str(folder / "datapackage.json")).validate().valid


words = st.text(st.characters(exclude_categories=["Cs"]), max_size=60)
numbers = st.floats(1e-12, 1e9)
instants = st.datetimes(datetime(1990, 1, 1), datetime(2026, 7, 14), timezones=st.just(UTC))


@settings(
    max_examples=12,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
    deadline=None,
)
@given(
    st.lists(st.tuples(words, words, numbers, instants), min_size=1, max_size=8),
    words.filter(str.strip),
    st.sampled_from(sorted(FORMS)),
)
def test_whatever_was_typed_comes_back(
    client: TestClient, engine: Engine, entries: list, name: str, kind: str
) -> None:
    wipe(engine)
    with Session(engine) as session:
        account = session.query(Account).one()
        given_volume = {"how": "typed", "unit": "gal", "amount": "15,000", "within": 0.1, "proofs": []}
        pool = Pool(
            id=uuid7(),
            account_id=account.id,
            name=name,
            place=name,
            time_zone="Europe/Vienna",
            volume_l=56_781.1768,
            volume_input=given_volume,
            surface="tile",
            chlorine_source="liquid",
            installation="in_ground",
            sanitizer="chlorine",
            school="flat_band",
            created_at=NOW,
        )
        session.add(pool)
        fit(session, pool, NOW)
        for note, who, value, at in entries:
            event = Event(id=uuid7(), pool=pool, at=at, kind="bathers", performed_by=who, created_at=NOW)
            event.detail = EntryRow(
                details={"people": value}, typed={"people": {"text": note, "unit": ""}}, note=note
            )
            session.add(event)
        session.commit()
    before, file = document(client, engine), taken_out(client, engine, kind)
    wipe(engine)
    assert brought_in(client, engine, file)["state"] == "done"
    assert document(client, engine) == before


def edited(change: Callable[[dict[str, Any]], Any]) -> Callable[[dict[str, Any]], bytes]:
    def make(document: dict[str, Any]) -> bytes:
        changed = copy.deepcopy(document)
        made = change(changed)
        return json.dumps(
            changed if made is None or not isinstance(made, dict) or "format" not in made else made
        ).encode()

    return make


def at(table: str, field: str, value: Any, row: int = 0) -> Callable[[dict[str, Any]], bytes]:
    return edited(lambda d: d[table][row].__setitem__(field, value))


BAD: list[tuple[Callable[[dict[str, Any]], bytes], str]] = [
    (
        at("pools", "volume_l", "a lot"),
        "pools, row 1, volume_l: Input should be a valid number, unable to parse string as a number.",
    ),
    (at("pools", "volume_l", -1), "pools, row 1, volume_l"),
    (at("pools", "time_zone", "Moon/Crater"), "pools, row 1, time_zone: This is no time zone"),
    (at("pools", "surface", "glass"), "pools, row 1, surface"),
    (at("pools", "colour", "blue"), "pools, row 1, colour: Kumpan does not know this field."),
    (edited(lambda d: d["pools"][0].pop("name")), "pools, row 1, name: This is needed."),
    (
        at("pools", "volume_input", {"how": "typed", "unit": "gal", "amount": "x"}),
        "pools, row 1, volume_input",
    ),
    (at("pools", "settings", {"sun": "moon"}), "pools, row 1, settings"),
    (at("events", "kind", "party", 3), "events, row 4, kind"),
    (at("events", "pool_id", str(uuid7()), 2), "events, row 3, pool_id: There is no such row in pools."),
    (at("events", "at", "yesterday"), "events, row 1, at"),
    (at("events", "at", "0001-01-01T00:00:00Z"), "events, row 1, at: The year should be between"),
    (at("readings", "value", 1e9), "readings, row 1, the row"),
    (at("readings", "measure", "lead"), "readings, row 1, measure"),
    (at("doses", "product_id", "bleach"), "doses, row 1, product_id"),
    (at("doses", "amount", 0), "doses, row 1, amount"),
    (at("entries", "details", {"people": "many"}), "entries, row 1, details"),
    (at("equipment", "typed", {"output": {"text": "1"}}), "equipment, row 1, typed.output"),
    (at("sheet_steps", "shown", {}), "sheet_steps, row 1, the row: Shown.act:"),
    (
        edited(lambda d: d["sheet_steps"][0]["shown"].pop("amount")),
        "sheet_steps, row 1, the row: Shown holds no amount.",
    ),
    (
        edited(lambda d: d["sheet_steps"][0]["shown"].update(slots="none")),
        "sheet_steps, row 1, shown: This is no step of a sheet: slots",
    ),
    (at("ticks", "key", "none"), "ticks, row 1, key: There is no such row in sheet_steps."),
    (at("photos", "picture", "AAAA"), "photos, row 1, picture: This is not a picture"),
    (at("photos", "picture", "?"), "photos, row 1, picture: This is no file in base64."),
    (at("shelf", "typed", {"pack_unit": "barrel"}), "shelf, row 1, typed"),
    (
        edited(lambda d: d["readings"].append(d["readings"][0])),
        "readings, row 1, event_id: This row stands there more than once.",
    ),
    (edited(lambda d: d["entries"].pop()), "kind: There is nothing of this entry in entries."),
    (edited(lambda d: d.pop("doses")), "The list “doses” is missing."),
    (edited(lambda d: d.update(extra=[])), "Kumpan does not know “extra”."),
    (edited(lambda d: d.update(version=4)), "written by a newer Kumpan"),
    (edited(lambda d: d.update(format="other")), "holds no Kumpan account"),
    (edited(lambda d: d["account"].update(currency="dollars")), "account.currency"),
    (lambda d: json.dumps(d).encode()[:-20], "breaks off or is torn"),
    (lambda d: b'{"a": ' + b"[" * 100_000, "nested deeper"),
    (
        lambda d: json.dumps(d).encode().replace(b'"volume_l": ', b'"volume_l": NaN, "x": ', 1),
        "NaN is no number",
    ),
]


def told(job: dict[str, Any]) -> str:
    return " / ".join([job["message"], *(p["message"] for p in job["problems"])])


def test_a_bad_document_names_its_row_and_changes_nothing(full: TestClient, engine: Engine) -> None:
    good = json.loads(taken_out(full, engine, "account_json"))
    wipe(engine)
    for make, says in BAD:
        job = brought_in(full, engine, make(good))
        assert job["state"] == "failed" and says in told(job), (says, told(job))
    assert full.get("/api/v1/pools?archived=true").json() == []


def packed(**files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, data in files.items():
            made.writestr(name.replace("_", "."), data)
    return out.getvalue()


def named_again(good: bytes, times: int) -> bytes:
    """The folder with its first photo's row that often, each with an id of its own."""
    return with_rows(good, lambda rows: [rows[0] | {"id": str(uuid7())} for _ in range(times)], {})


def with_photos(good: bytes, many: int) -> bytes:
    """With so many photos of one entry, each with a file of its own."""
    more = {f"photos/{i}.jpg": picture() for i in range(many)}
    return with_rows(good, lambda rows: [rows[0] | {"id": str(uuid7()), "picture": n} for n in more], more)


def with_rows(
    good: bytes, change: Callable[[list[dict[str, str]]], list[dict[str, str]]], more: dict[str, bytes]
) -> bytes:
    out, file = io.BytesIO(), "kumpan-account/photos.csv"
    with zipfile.ZipFile(io.BytesIO(good)) as source, zipfile.ZipFile(out, "w") as made:
        for entry in source.infolist():
            data = source.read(entry)
            if entry.filename == file:
                rows = list(csv.DictReader(io.StringIO(data.decode("utf-8-sig"))))
                text = io.StringIO()
                writer = csv.DictWriter(text, rows[0])
                writer.writeheader()
                writer.writerows(change(rows))
                data = text.getvalue().encode()
            made.writestr(entry.filename, data)
        for name, data in more.items():
            made.writestr(f"kumpan-account/{name}", data)
    return out.getvalue()


def test_a_bad_folder_is_told_and_changes_nothing(full: TestClient, engine: Engine) -> None:
    good = taken_out(full, engine, "account_csv")
    wipe(engine)

    def changed(name: str, old: bytes, new: bytes) -> bytes:
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(good)) as source, zipfile.ZipFile(out, "w") as made:
            for entry in source.infolist():
                data = source.read(entry)
                assert entry.filename != f"kumpan-account/{name}" or old in data
                made.writestr(
                    entry, data.replace(old, new, 1) if entry.filename == f"kumpan-account/{name}" else data
                )
        return out.getvalue()

    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("datapackage.json", "{}")
        with made.open("pools.csv", "w", force_zip64=True) as big:
            for _ in range(600):
                big.write(bytes(2**20))
    assert len(bomb.getvalue()) < 1_000_000
    for data, says in (
        (good[: len(good) // 2], "torn"),
        (bomb.getvalue(), "more than Kumpan takes"),
        (packed(sheet_xml=b"<x/>"), "no Kumpan account"),
        (packed(datapackage_json=b"{"), "cannot be read"),
        (packed(datapackage_json=b"[]"), "no Kumpan account"),
        (
            packed(datapackage_json=b'{"kumpan": {"format": "kumpan-account", "version": 2}}'),
            "pools.csv is missing",
        ),
        (packed(datapackage_json=b"{}"), "no Kumpan account"),
        (changed("pools.csv", b"volume_l", b"volume"), "other columns"),
        (changed("readings.csv", b",ppm,", b",ppm,,,,,"), "readings, row"),
        (changed("pools.csv", b"plaster", b"marble"), "pools, row"),
        (changed("photos.csv", b"photos/", b"../../etc/"), "is not in the folder"),
        (named_again(good, 2), "holds photos/"),  # one file named by many rows would be kept many times
        (with_photos(good, 13), "At most 12 photos each"),
    ):
        job = brought_in(full, engine, data)
        assert job["state"] == "failed" and says in told(job), (says, told(job))
    # Saved anew by a spreadsheet: semicolons, another encoding. Still the same.
    with zipfile.ZipFile(io.BytesIO(good)) as source:
        pools = pandas.read_csv(
            io.BytesIO(source.read("kumpan-account/pools.csv")), dtype=str, keep_default_na=False
        )
        old = source.read("kumpan-account/pools.csv")
    again = changed("pools.csv", old, pools.to_csv(index=False, sep=";").encode("utf-16"))
    assert brought_in(full, engine, again)["state"] == "done" and len(
        full.get("/api/v1/pools?archived=true").json()
    ) == len(pools)


# Waters whose plans differ in when people may swim: at once, by a reading at some level, not by this plan.
SWUM = [
    {"fc": "4", "ph": "7.9"},
    {"fc": "0.5", "ph": "7.9"},
    {"fc": "25", "ph": "7.5"},
    {"fc": "5", "ph": "6.9"},
]


def test_plans_of_every_swim_state_come_back(
    client: TestClient, engine: Engine, pool: dict[str, Any]
) -> None:
    for number, water in enumerate(SWUM):
        water = {"ta": "90", "ch": "300", "cya": "40"} | water
        test = a_test(NOW - timedelta(hours=9 - number), **water)
        body = {"id": str(uuid7()), "test": test}
        assert client.post(f"/api/v1/pools/{pool['id']}/plans", json=body).status_code == 201
    with engine.connect() as c:
        query = "SELECT DISTINCT JSON_TYPE(JSON_EXTRACT(inputs, '$.swim_from_min')), JSON_TYPE(JSON_EXTRACT(inputs, '$.swim_least_fc_ppm')) FROM sheet"
        assert len({tuple(row) for row in c.execute(text(query))}) >= 2
    before, file = document(client, engine), taken_out(client, engine, "account_json")
    wipe(engine)
    assert brought_in(client, engine, file)["state"] == "done"
    assert document(client, engine) == before
