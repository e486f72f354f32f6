from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine

from support import Clock, app_on, client_on, pool_body


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def client(engine: Engine, clock: Clock) -> Iterator[TestClient]:
    with client_on(app_on(engine, clock)) as client:
        yield client


@pytest.fixture
def pool(client: TestClient) -> dict[str, Any]:
    answer = client.post("/api/v1/pools", json=pool_body())
    assert answer.status_code == 201, answer.text
    return answer.json()
