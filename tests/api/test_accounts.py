"""No data across accounts: every route of the OpenAPI file is walked with the other account's ids."""

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.api.deps import account_picker
from kumpan.main import create_app
from kumpan.store.tables import Account
from support import LOW, NOW, Clock, a_test, pool_body, readings


@pytest.fixture
def other(engine: Engine) -> TestClient:
    with Session(engine) as session:
        session.add(Account(id=uuid7(), name="Other", created_at=NOW))
        session.commit()
    app = create_app(engine, clock=Clock())
    app.dependency_overrides[account_picker] = lambda: lambda s: s.scalars(select(Account).where(Account.name == "Other")).one()
    return TestClient(app)


def test_every_route_with_the_other_accounts_ids_is_404(client: TestClient, pool: dict, other: TestClient) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    plan = client.post(f"{url}/plans", json={"id": str(uuid7()), "test": a_test(**LOW)}).json()
    dose = client.post(f"{url}/doses", json={"id": str(uuid7()), "at": NOW.isoformat(), "product_id": "salt", "amount": "1", "unit": "lb"}).json()
    pool_fields = {k: v for k, v in pool_body().items() if k != "id"}
    tick = {"id": str(uuid7()), "at": NOW.isoformat()}
    dose_fields = {"product_id": "salt", "amount": "1", "unit": "lb"}
    bodies = {
        ("put", "/api/v1/pools/{pool_id}"): {**pool_fields, "revision": 1},
        ("put", "/api/v1/pools/{pool_id}/settings"): {"school": "flat_band", "revision": 2},
        ("post", "/api/v1/pools/{pool_id}/plan-previews"): {"readings": readings(**LOW)},
        ("post", "/api/v1/pools/{pool_id}/plans"): {"id": str(uuid7()), "test": a_test(**LOW)},
        ("post", "/api/v1/pools/{pool_id}/tests"): a_test(**LOW),
        ("post", "/api/v1/pools/{pool_id}/doses"): {**tick, **dose_fields},
        ("post", "/api/v1/plan-steps/{step_id}/tick"): tick,
        ("put", "/api/v1/tests/{event_id}"): {"local": "2026-07-01T10:00", "revision": 1, "readings": readings(fc="1")},
        ("put", "/api/v1/doses/{event_id}"): {"local": "2026-07-01T10:00", "revision": 1, **dose_fields},
    }
    ids = {"pool_id": pool["id"], "plan_id": plan["id"], "step_id": plan["steps"][0]["id"]}
    walked = 0
    for path, methods in client.get("/api/openapi.json").json()["paths"].items():
        for method in methods:
            if "{" not in path:
                continue
            event = dose["id"] if "/doses/" in path else plan["test_id"]
            full = path.format(**ids, event_id=event)
            body = bodies.get((method, path))
            answer = other.request(method, full, json=body)
            assert answer.status_code == 404, (method, path, answer.text)
            if body and "revision" in body and "{event_id}" in path:  # deleting and undoing above changed it
                body = {**body, "revision": client.get(f"/api/v1/events/{event}").json()["revision"]}
            mine = client.request(method, full, json=body)
            assert mine.status_code < 300, (method, path, mine.text)  # the same request works for its owner
            if method == "delete":
                client.post(f"{full}/undelete")
            walked += 1
    assert walked >= 15
    assert other.get("/api/v1/pools").json() == []
    # An id in use elsewhere cannot be taken over, nor does the refusal show what it is.
    taken = other.post("/api/v1/pools", json=pool_body(id=pool["id"]))
    assert taken.status_code == 409 and pool["name"] not in taken.text
