"""What keeps other pages, endless senders and odd text out, and what every answer says to the browser."""

import asyncio
import json
import logging
import socket
import threading
import time
from collections.abc import Iterator
from typing import Any

import httpx
import pytest
import uvicorn
from fastapi.testclient import TestClient
from sqlalchemy import Engine
from sqlalchemy.exc import OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from uuid6 import uuid7

from kumpan.api import deps, guard
from kumpan.api.headers import HEADERS
from kumpan.main import create_app
from kumpan.ops import impatient
from kumpan.store import files
from support import NOW, Clock, a_test, app_on, client_on, made_file, pool_body, readings

UNSAFE = ("post", "put", "delete", "patch")


def test_no_other_site_changes_anything(client: TestClient, pool: dict[str, Any]) -> None:
    routes = [
        (method, path.replace("{pool_id}", pool["id"]))
        for path, methods in client.get("/api/openapi.json").json()["paths"].items()
        for method in methods
        if method in UNSAFE
    ]
    assert len(routes) > 60
    theirs = (
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site", "Origin": "http://127.0.0.1"},
        {"Origin": "http://evil.example"},
        {"Origin": "null"},
        {"Origin": "http://127.0.0.1:9999"},
        {"Origin": "https://127.0.0.1"},
    )
    for number, (method, path) in enumerate(routes):
        answer = client.request(method, path, headers=theirs[number % len(theirs)])
        assert answer.status_code == 403 and answer.json()["code"] == "other_site", (method, path)
    for headers in theirs:
        assert client.post("/api/v1/pools", json=pool_body(), headers=headers).status_code == 403
    assert len(client.get("/api/v1/pools", headers=theirs[0]).json()) == 1  # looking is not changing
    for headers in (
        {},
        {"Origin": "http://127.0.0.1"},
        {"Sec-Fetch-Site": "none"},
        {"Sec-Fetch-Site": "same-origin", "Origin": "http://localhost:5173"},
    ):
        assert client.post("/api/v1/pools", json=pool_body(), headers=headers).status_code == 201


def broken(error: Exception) -> Any:
    def fail() -> None:
        raise error

    return fail


def test_every_answer_tells_the_browser_what_it_may_do(engine: Engine, clock: Clock) -> None:
    app = app_on(engine, clock)
    with client_on(app, raise_server_exceptions=False) as client:
        answers = {
            200: client.get("/api/v1/pools"),
            201: client.post("/api/v1/pools", json=pool_body()),
            400: client.get("/api/v1/pools", headers={"Host": "testserver"}),
            403: client.post("/api/v1/pools", headers={"Origin": "null"}),
            404: client.get("/api/v1/nothing"),
            405: client.patch("/api/v1/pools"),
            413: client.post("/api/v1/pools", content=b"x" * 300_000),
            422: client.post("/api/v1/pools", json={}),
        }
        app.dependency_overrides[deps.account_picker] = broken(RuntimeError("a secret"))
        answers[500] = client.get("/api/v1/pools")
        app.dependency_overrides.clear()
    for status, answer in answers.items():
        assert answer.status_code == status, answer.text
        assert {n: answer.headers.get(n) for n in HEADERS} == HEADERS, status
        if status >= 403:
            assert answer.headers["content-type"] == "application/problem+json", status
    for part in ("base-uri 'none'", "form-action 'self'", "object-src 'none'", "frame-ancestors 'none'"):
        assert part in HEADERS["Content-Security-Policy"]


def refused_by_check() -> OperationalError:
    return OperationalError("INSERT …", {"note": "private"}, Exception(4025, "CONSTRAINT `x` failed"))


@pytest.mark.parametrize(
    ("error", "status", "code"),
    [
        (RuntimeError("a secret of the log"), 500, "failed"),
        (refused_by_check(), 500, "failed"),  # an answer of the database, not its absence
        (OperationalError("SELECT 1", {}, Exception(2006, "gone away")), 503, "database_away"),
        (PoolTimeout("QueuePool limit"), 503, "busy"),
    ],
)
def test_whatever_fails_is_a_problem_that_gives_nothing_away(
    engine: Engine, clock: Clock, caplog: pytest.LogCaptureFixture, error: Exception, status: int, code: str
) -> None:
    app = app_on(engine, clock)
    app.dependency_overrides[deps.account_picker] = broken(error)
    with client_on(app, raise_server_exceptions=False) as client, caplog.at_level(logging.WARNING, "kumpan"):
        answer = client.get("/api/v1/pools")
    app.dependency_overrides.clear()
    told = answer.json()
    assert (answer.status_code, told["code"]) == (status, code)
    assert not any(word in answer.text for word in ("secret", "INSERT", "Queue", "Traceback", "/src/"))
    if status == 500:
        mark = told["detail"].split()[-1].rstrip(".")
        assert len(mark) == 8 and mark in caplog.text


def test_what_people_typed_is_not_in_the_log(engine: Engine) -> None:
    with engine.connect() as connection, pytest.raises(OperationalError) as told:
        connection.exec_driver_sql("SELECT * FROM account WHERE nothing = %s", ("my private note",))
    assert "private" not in str(told.value)


# --- Odd values, typed or sent.

ENDS = ("0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-12:00", "1949-12-31T00:00:00Z")


def test_the_ends_of_the_calendar_are_refused_at_their_field(
    client: TestClient, pool: dict[str, Any]
) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    product = {"product_id": "muriatic-31.45", "amount": "5", "unit": "fl_oz"}
    bodies = {
        "tests": {"readings": readings(fc="3")},
        "doses": product,
        "entries": {"kind": "note", "note": "x"},
    }
    for at in ENDS:
        for path, more in bodies.items():
            body = {"id": str(uuid7()), "at": at, **more}
            answer = client.post(f"{url}/{path}", json=body)
            assert (answer.status_code, answer.json()["fields"][0]["field"]) == (422, "at"), (path, at)
            body |= {"at": NOW.isoformat(), "local": at[:16]}
            answer = client.post(f"{url}/{path}", json=body)
            assert (answer.status_code, answer.json()["fields"][0]["field"]) == (422, "local"), (path, at)
        for span in ({"start": at, "end": NOW.isoformat()}, {"start": NOW.isoformat(), "end": at}):
            assert client.get(f"{url}/graph", params=span).status_code == 422


@pytest.mark.parametrize(
    "name", ["\u200b", "\u3164", "\u2060 \u115f", "Garden\x00", "\u202enedraG", "a\u2066b", "bell\x07"]
)
def test_names_that_cannot_be_seen_are_refused(client: TestClient, pool: dict[str, Any], name: str) -> None:
    answer = client.post("/api/v1/pools", json=pool_body(name=name))
    assert (answer.status_code, answer.json()["fields"][0]["field"]) == (422, "name")
    test = {**a_test(fc="3"), "performed_by": name}
    answer = client.post(f"/api/v1/pools/{pool['id']}/tests", json=test)
    assert (answer.status_code, answer.json()["fields"][0]["field"]) == (422, "performed_by")
    dose = {"id": str(uuid7()), "at": NOW.isoformat(), "kind": "note", "note": f"line\n{name}"}
    status = client.post(f"/api/v1/pools/{pool['id']}/entries", json=dose).status_code
    assert status == (201 if name.isprintable() or name in ("\u200b", "\u2060 \u115f") else 422)


def test_names_of_any_script_are_taken(client: TestClient) -> None:
    for name in ("Größe ½", "プール", "حوض", "👩‍👧 pool", "Ñandú’s"):
        assert client.post("/api/v1/pools", json=pool_body(name=name)).json()["name"] == name


@pytest.mark.parametrize("zone", ["Factory", "localtime", "posix/UTC", "../UTC", "UTC\x00", "", "utc "])
def test_time_zones_are_places(client: TestClient, zone: str) -> None:
    answer = client.post("/api/v1/pools", json=pool_body(time_zone=zone))
    assert (answer.status_code, answer.json()["fields"][0]["field"]) == (422, "time_zone")


# --- Senders that never end and readers that never read, at the real server.


@pytest.fixture
def serving(engine: Engine, monkeypatch: pytest.MonkeyPatch) -> Iterator[uvicorn.Server]:
    monkeypatch.setattr(impatient, "HEAD_S", 0.4)
    monkeypatch.setattr(guard, "PATIENCE_S", 0.6)
    config = uvicorn.Config(
        create_app(engine, clock=Clock()),
        port=0,
        http=impatient.Impatient,
        log_level="error",
        timeout_graceful_shutdown=1,
    )
    server = uvicorn.Server(config)
    thread = threading.Thread(target=lambda: asyncio.run(server.serve()), daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield server
    server.should_exit = True
    thread.join()


@pytest.fixture
def served(serving: uvicorn.Server) -> int:
    """The port it listens on."""
    return serving.servers[0].sockets[0].getsockname()[1]  # type: ignore[no-any-return]


def said(port: int, *parts: bytes) -> bytes:
    """What comes back until the other side closes."""
    with socket.create_connection(("127.0.0.1", port), timeout=5) as s:
        for part in parts:
            s.sendall(part)
        got = b""
        while piece := s.recv(65536):
            got += piece
        return got


def test_half_a_request_is_not_waited_for(served: int) -> None:
    host = b"Host: 127.0.0.1:%d\r\n" % served
    assert said(served) == said(served, b"GET /api/health HT") == said(served, b"GET / HTTP/1.1\r\nHo") == b""
    post = b"POST /api/v1/pools HTTP/1.1\r\n" + host + b"Content-Length: 90\r\n\r\n{"
    answer = said(served, post)
    assert (
        answer.startswith(b"HTTP/1.1 408") and json.loads(answer.split(b"\r\n\r\n")[1])["code"] == "too_slow"
    )
    # One that is whole, and then half of another on the same connection.
    answer = said(served, b"GET /api/health HTTP/1.1\r\n" + host + b"\r\n", b"GET /api/he")
    assert answer.count(b"HTTP/1.1 200") == 1


def test_downloads_that_nobody_reads_hold_up_nothing(
    served: int, serving: uvicorn.Server, engine: Engine
) -> None:
    path = f"/api/v1/jobs/{made_file(engine, (bytes(files.CHUNK_BYTES) for _ in range(40)))}/file"
    asked = [socket.socket() for _ in range(60)]
    try:
        for s in asked:
            # Of its own the system would hold 10 MB for one who does not read.
            s.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 64 * 1024)
            s.connect(("127.0.0.1", served))
            s.sendall(f"GET {path} HTTP/1.1\r\nHost: 127.0.0.1:{served}\r\n\r\n".encode())
        time.sleep(0.5)
        began = time.monotonic()
        assert httpx.get(f"http://127.0.0.1:{served}/api/v1/pools", timeout=5).status_code == 200
        assert time.monotonic() - began < 3
        while engine.pool.checkedout():  # type: ignore[attr-defined]  # the last pieces on their way
            assert time.monotonic() - began < 10
            time.sleep(0.05)
        while serving.server_state.tasks:  # until nobody is waited for any more
            assert time.monotonic() - began < 30
            time.sleep(0.05)
        asked[0].settimeout(5)
        got = 0
        while piece := asked[0].recv(1 << 20):
            got += len(piece)
        assert got < 40 * files.CHUNK_BYTES
    finally:
        for s in asked:
            s.close()
