"""Two requests at one moment, or one sent again: nothing is stored twice, lost, or taken for what it is not."""

import threading
from collections.abc import Callable
from typing import Any

import httpx
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text
from uuid6 import uuid7

from support import NOW, Clock, a_test, app_on, client_on, pool_body, readings, send, work_off


def at_once(
    engine: Engine, clock: Clock, *asks: Callable[[TestClient], httpx.Response]
) -> list[httpx.Response]:
    """Answers to requests that begin at one moment, each by a client of its own."""
    app, line, answers = app_on(engine, clock), threading.Barrier(len(asks)), dict[int, httpx.Response]()

    def one(number: int) -> None:
        client = client_on(app)
        line.wait()
        answers[number] = asks[number](client)

    threads = [threading.Thread(target=one, args=(i,)) for i in range(len(asks))]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    return [answers[i] for i in range(len(asks))]


def creates(pool: dict[str, Any]) -> dict[str, tuple[str, dict[str, Any], dict[str, Any]]]:
    """Path, body, and what of it is sent otherwise."""
    url = f"/api/v1/pools/{pool['id']}"
    new = {"id": str(uuid7()), "at": NOW.isoformat()}
    return {
        "pool": ("/api/v1/pools", pool_body(), {"place": "elsewhere"}),
        "test": (f"{url}/tests", a_test(fc="3"), {"readings": readings(fc="5")}),
        "dose": (
            f"{url}/doses",
            {**new, "product_id": "muriatic-31.45", "amount": "5", "unit": "fl_oz"},
            {"amount": "50"},
        ),
        "entry": (f"{url}/entries", {**new, "kind": "note", "note": "first"}, {"note": "second"}),
        "task": (
            f"{url}/tasks",
            {"id": str(uuid7()), "title": "Look", "repeat": {"anchor": "completion", "days": 9}},
            {"title": "Look again"},
        ),
        "equipment": (f"{url}/equipment", {"id": str(uuid7()), "kind": "pump"}, {"note": "another"}),
        "shelf": ("/api/v1/shelf/items", {"id": str(uuid7()), "product_id": "salt"}, {"product_id": "borax"}),
        "file": ("/api/v1/files", {"id": str(uuid7()), "name": "a.csv", "size": 9}, {"name": "b.csv"}),
        "export": ("/api/v1/exports", {"id": str(uuid7()), "kind": "account_json"}, {"kind": "account_csv"}),
        "walk": (f"{url}/walks", {**new, "kind": "weekly"}, {"kind": "stop"}),
        "complaint": (f"{url}/complaints", {**new, "kind": "eyes"}, {"kind": "foam"}),
    }


WHAT = list(creates({"id": ""}))


@pytest.mark.parametrize("what", WHAT)
def test_one_create_sent_twice_at_once_is_one_and_with_other_content_refused(
    client: TestClient, pool: dict[str, Any], engine: Engine, clock: Clock, what: str
) -> None:
    path, body, other = creates(pool)[what]
    first, second = at_once(engine, clock, *[lambda c: c.post(path, json=body)] * 2)
    assert (first.status_code, second.status_code) == (201, 201), (first.text, second.text)
    assert first.json() == second.json()
    later = body | ({"at": "2026-07-14T22:41:00Z"} if "at" in body else {})  # pressed again, a minute later
    assert client.post(path, json=later).status_code == 201
    refused = client.post(path, json=body | other)
    assert (refused.status_code, refused.json()["code"]) == (409, "id_taken"), refused.text
    assert client.post(path, json=body).status_code == 201


def test_of_two_settings_of_the_account_at_once_one_is_told(
    client: TestClient, engine: Engine, clock: Clock
) -> None:
    for _ in range(5):
        revision = client.get("/api/v1/account").json()["revision"]
        bodies = [{"unit_system": u, "own_measures": [], "revision": revision} for u in ("us", "metric")]
        answers = at_once(engine, clock, *[lambda c, b=b: c.put("/api/v1/account", json=b) for b in bodies])
        assert sorted(a.status_code for a in answers) == [200, 409]
        kept = next(a for a in answers if a.status_code == 200).json()
        assert client.get("/api/v1/account").json() == kept


def test_two_imports_of_one_file_are_forgotten_one_by_one(
    client: TestClient, pool: dict[str, Any], engine: Engine
) -> None:
    file = send(client, b"Date,FC,pH\n2026-07-01 10:00,2.5,7.4\n", "a.csv")
    ids = [str(uuid7()), str(uuid7())]
    for id in ids:
        body = {"id": id, "file_id": file, "pool_id": pool["id"]}
        assert client.post("/api/v1/imports", json=body).status_code == 201
    work_off(engine)
    for left, id in enumerate(reversed(ids)):
        assert client.post(f"/api/v1/jobs/{id}/cancel").status_code == 200
        assert client.delete(f"/api/v1/jobs/{id}").status_code in (200, 204)
        with engine.connect() as c:
            assert c.execute(text("SELECT COUNT(*) FROM file")).scalar_one() == 1 - left
