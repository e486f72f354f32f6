"""No data across accounts: every route of the OpenAPI file is walked with the other account's ids."""

from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from zlib import crc32

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.api.deps import account_picker
from kumpan.store.tables.accounts import Account
from support import (
    LOW,
    NOW,
    Clock,
    a_panel,
    a_test,
    app_on,
    bound_panel,
    client_on,
    looked_through,
    made_file,
    picture,
    pool_body,
    readings,
    send,
    work_off,
)


@pytest.fixture
def other(engine: Engine) -> TestClient:
    with Session(engine) as session:
        session.add(Account(id=uuid7(), name="Other", created_at=NOW))
        session.commit()
    app = app_on(engine, Clock(), whose="another's")
    app.dependency_overrides[account_picker] = lambda: (
        lambda s: s.scalars(select(Account).where(Account.name == "Other")).one()
    )
    return client_on(app)


def a_job(client: TestClient, engine: Engine, pool: dict, path: str) -> str:
    """A job in the state that a route needs."""
    if path.endswith("/file"):
        return made_file(engine, [b"{}"])
    minute = crc32(path.encode()) % 1440  # each a test of its own
    table = f"when,ph\n2026-05-01 {minute // 60:02}:{minute % 60:02},7.4\n"
    view = looked_through(client, engine, pool, table.encode())
    id, revision = view["job"]["id"], {"revision": view["job"]["revision"]}
    if path.endswith(("revert", "restore")):
        client.post(f"/api/v1/imports/{id}/confirm", json=revision)
        work_off(engine)
    elif path == "/api/v1/jobs/{job_id}":
        client.post(f"/api/v1/jobs/{id}/cancel")
    return str(id)


@pytest.fixture
def panel_url(client: TestClient, tmp_path: Path) -> Iterator[str]:
    with a_panel(tmp_path) as url:
        client.app.state.find_panel = lambda address: url  # type: ignore[attr-defined]
        yield url


def test_every_route_with_the_other_accounts_ids_is_404(
    client: TestClient, pool: dict, other: TestClient, engine: Engine, panel_url: str
) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    plan = client.post(f"{url}/plans", json={"id": str(uuid7()), "test": a_test(**LOW)}).json()
    dose = client.post(
        f"{url}/doses",
        json={"id": str(uuid7()), "at": NOW.isoformat(), "product_id": "salt", "amount": "1", "unit": "lb"},
    ).json()
    before = client.post(f"{url}/tests", json=a_test(at=NOW - timedelta(days=5), salt="400")).json()
    client.post(
        f"{url}/doses",
        json={
            "id": str(uuid7()),
            "at": (NOW - timedelta(days=4)).isoformat(),
            "product_id": "salt",
            "amount": "300",
            "unit": "lb",
        },
    )
    after = client.post(f"{url}/tests", json=a_test(at=NOW - timedelta(days=2), salt="2800")).json()
    piece = client.post(f"{url}/equipment", json={"id": str(uuid7()), "kind": "filter"}).json()
    note = client.post(
        f"{url}/entries", json={"id": str(uuid7()), "at": NOW.isoformat(), "kind": "note", "note": "old"}
    ).json()
    item = client.post(
        "/api/v1/shelf/items",
        json={"id": str(uuid7()), "product_id": "salt", "pack": "40", "pack_unit": "lb"},
    ).json()
    upload = send(client, picture())
    photo = client.post(
        "/api/v1/photos",
        json={"id": str(uuid7()), "file_id": send(client, picture()), "event_id": note["id"]},
    ).json()
    proof = {"key": f"salt:{before['id']}:{after['id']}", "revision": 0}
    pool_fields = {k: v for k, v in pool_body().items() if k != "id"}
    tick = {"id": str(uuid7()), "at": NOW.isoformat()}
    dose_fields = {"product_id": "salt", "amount": "1", "unit": "lb"}
    tasks = client.get(f"{url}/care").json()["tasks"]
    clean = next(t for t in tasks if t["rule_id"] == "weekly_clean")
    own = {"id": str(uuid7()), "title": "Oil the gate", "repeat": {"anchor": "completion", "days": 9}}
    client.post(f"{url}/tasks", json=own)
    feed = client.post("/api/v1/feeds", json={"id": str(uuid7())}).json()
    asked = {"id": str(uuid7()), "file_id": send(client, b"%PDF-1.4 manual", "manual.pdf")}
    paper = client.post("/api/v1/papers", json={**asked, "equipment_id": piece["id"]}).json()
    bodies = {
        ("put", "/api/v1/pools/{pool_id}/care"): {"cadence": "weekly", "revision": 0},
        ("post", "/api/v1/pools/{pool_id}/tasks"): {**own, "id": str(uuid7())},
        ("put", "/api/v1/tasks/{task_id}"): {"on": True, "revision": 0},
        ("post", "/api/v1/tasks/{task_id}/done"): {"id": str(uuid7()), "at": NOW.isoformat()},
        ("post", "/api/v1/tasks/{task_id}/marks"): {
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "verb": "skip",
        },
        ("put", "/api/v1/pools/{pool_id}/panel"): {"address": "standin"},
        ("post", "/api/v1/pools/{pool_id}/panel/setting"): {
            "id": str(uuid7()),
            "percent": 40,
            "hours_day": 9,
        },
        ("post", "/api/v1/pools/{pool_id}/panel/fault"): {"fault": "cold"},
        ("post", "/api/v1/pools/{pool_id}/panel/reading"): {**tick, "id": str(uuid7())},
        ("post", "/api/v1/pools/{pool_id}/season-plans"): {
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "subject": "closing",
            "day": "2026-10-18",
        },
        ("post", "/api/v1/pools/{pool_id}/complaints"): {
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "kind": "cloudy",
        },
        ("post", "/api/v1/pools/{pool_id}/walks"): {
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "kind": "weekly",
        },
        ("put", "/api/v1/pools/{pool_id}"): {**pool_fields, "revision": 0},
        ("put", "/api/v1/pools/{pool_id}/settings"): {"school": "flat_band", "revision": 0},
        ("post", "/api/v1/pools/{pool_id}/plan-previews"): {"readings": readings(**LOW)},
        ("post", "/api/v1/pools/{pool_id}/clear-ups/preview"): {"severity": "tint"},
        ("post", "/api/v1/pools/{pool_id}/clear-ups"): {
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "asked": {"severity": "tint"},
        },
        ("post", "/api/v1/pools/{pool_id}/plans"): {"id": str(uuid7()), "test": a_test(**LOW)},
        ("post", "/api/v1/pools/{pool_id}/tests"): a_test(**LOW),
        ("post", "/api/v1/pools/{pool_id}/doses"): {**tick, **dose_fields},
        ("post", "/api/v1/sheets/{sheet_id}/steps/{key}/tick"): tick,
        ("post", "/api/v1/sheets/{sheet_id}/marks"): {**tick, "id": str(uuid7()), "verb": "pause"},
        ("post", "/api/v1/pools/{pool_id}/guides"): {
            **tick,
            "id": str(uuid7()),
            "subject": "filter",
            "given": {"medium": "sand", "valve": "multiport"},
        },
        ("put", "/api/v1/tests/{event_id}"): {
            "local": "2026-07-01T10:00",
            "revision": 0,
            "readings": readings(fc="1"),
        },
        ("put", "/api/v1/doses/{event_id}"): {"local": "2026-07-01T10:00", "revision": 0, **dose_fields},
        ("post", "/api/v1/pools/{pool_id}/volume-proofs"): proof,
        ("post", "/api/v1/pools/{pool_id}/volume-proofs/exclude"): proof,
        ("post", "/api/v1/pools/{pool_id}/equipment"): {"id": str(uuid7()), "kind": "pump"},
        ("put", "/api/v1/equipment/{equipment_id}"): {"kind": "filter", "revision": 0},
        ("put", "/api/v1/shelf/items/{item_id}"): {**item["typed"], "revision": 0},
        ("post", "/api/v1/shelf/items/{item_id}/restock"): {"revision": 0},
        ("post", "/api/v1/pools/{pool_id}/entries"): {
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "kind": "note",
            "note": "new",
        },
        ("put", "/api/v1/imports/{job_id}"): {
            "pool_id": pool["id"],
            "columns": [{"role": "when"}, {"role": "ph"}],
            "order": "ymd",
            "decimal": "point",
            "method": "drops",
            "revision": 0,
        },
        ("post", "/api/v1/imports/{job_id}/confirm"): {"revision": 0},
        ("put", "/api/v1/entries/{event_id}"): {"kind": "note", "note": "changed", "revision": 0},
    }

    def current(path: str, event: str) -> int:
        if "{event_id}" in path:
            return client.get(f"/api/v1/events/{event}").json()["revision"]
        if "{job_id}" in path:
            return client.get(f"/api/v1/imports/{ids['job_id']}").json()["job"]["revision"]
        if "{equipment_id}" in path:
            return next(
                e["revision"] for e in client.get(f"{url}/equipment").json() if e["id"] == piece["id"]
            )
        if "{task_id}" in path:
            return next(
                t["revision"]
                for t in client.get(f"{url}/care").json()["tasks"]
                if t["rule_id"] == "weekly_clean"
            )
        if "{item_id}" in path:
            return next(
                i["revision"] for i in client.get("/api/v1/shelf").json()["items"] if i["id"] == item["id"]
            )
        return client.get(url).json()["revision"]

    ids = {
        "equipment_id": piece["id"],
        "feed_id": feed["id"],
        "paper_id": paper["id"],
        "token": feed["path"].rpartition("/")[2].removesuffix(".ics"),
        "item_id": item["id"],
        "pool_id": pool["id"],
        "sheet_id": plan["id"],
        "key": plan["steps"][0]["key"],
        "file_id": upload,
        "position": 0,
        "photo_id": photo["id"],
    }
    salt = client.post("/api/v1/pools", json=pool_body(chlorine_source="chlorinator")).json()
    walked = 0
    for path, methods in client.get("/api/openapi.json").json()["paths"].items():
        for method in methods:
            if "{" not in path or "{token}" in path:  # a calendar's secret is its own key
                continue
            # Taken off last of what a path names: a task of one's own; a calendar is given a new address first.
            ids["task_id"] = (
                own["id"] if (method, path) == ("delete", "/api/v1/tasks/{task_id}") else clean["id"]
            )
            if (method, path) == ("delete", "/api/v1/feeds/{feed_id}"):
                ids["feed_id"] = client.post("/api/v1/feeds", json={"id": str(uuid7())}).json()["id"]
            event = (dose if "/doses/" in path else note if "/entries/" in path else {"id": plan["test_id"]})[
                "id"
            ]
            ids["pool_id"] = salt["id"] if "/panel" in path else pool["id"]
            if "/panel" in path:
                bound_panel(client, engine, salt["id"], panel_url)
            ids["job_id"] = a_job(client, engine, pool, path) if "{job_id}" in path else ""
            full = path.format(**ids, event_id=event)
            body = bodies.get((method, path))
            if body and "revision" in body:
                body = {**body, "revision": current(path, event)}
            if body and "id" in body:
                body = {**body, "id": str(uuid7())}
            full += "?start=2026-07-01T00:00:00Z&end=2026-07-02T00:00:00Z" if path.endswith("/graph") else ""
            full += "?days=9" if path.endswith("/away") else ""
            more = (
                {"content": picture(), "headers": {"Content-Type": "application/octet-stream"}}
                if "/pieces/" in path
                else {"json": body}
            )
            answer = other.request(method, full, **more)
            assert answer.status_code == 404, (method, path, answer.text)
            mine = client.request(method, full, **more)
            assert mine.status_code < 300, (method, path, mine.text)  # the same request works for its owner
            if method == "delete" and "{job_id}" not in path and "/panel" not in path:
                client.post(f"{full}/restore")
            walked += 1
    assert walked >= 40
    assert (
        other.get("/api/v1/shelf").json()["items"] == []
        and other.get("/api/v1/shelf", params={"pool_id": pool["id"]}).status_code == 404
    )
    assert other.get("/api/v1/pools").json() == []
    # An id in use elsewhere cannot be taken over, nor does the refusal show what it is.
    taken = other.post("/api/v1/pools", json=pool_body(id=pool["id"]))
    assert taken.status_code == 409 and pool["name"] not in taken.text
