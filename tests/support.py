"""Shared by the tests: the fixed instant, an environment, bodies for the API."""

import io
import json
import os
import random
import threading
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from functools import cache
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from typing import Any

import httpx
from fastapi import FastAPI
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import Engine, select, text
from sqlalchemy.orm import Session, sessionmaker
from uuid6 import uuid7

from kumpan.actions.jobs.run import run_next
from kumpan.actions.panel.binding import refresh
from kumpan.actions.transfer.account_tables import TABLES
from kumpan.main import create_app
from kumpan.ops.work import STAGES
from kumpan.standins.panel import Panel
from kumpan.store import files
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.jobs import Job

NOW = datetime(2026, 7, 14, 22, 40, tzinfo=UTC)  # 17:40 in Chicago


class Clock:
    now = NOW

    def __call__(self) -> datetime:
        return self.now


@cache
def _app(engine: Engine, dist: Path | None, whose: str) -> FastAPI:
    return create_app(engine, dist)


def app_on(engine: Engine, clock: Clock, dist: Path | None = None, whose: str = "the first's") -> FastAPI:
    """The application as the tests of one process share it, set back to its start. One made anew works its
    routes out at its first request, for one to two seconds. whose: apart for a second account beside it.
    """
    app = _app(engine, dist, whose)
    app.state.clock = clock
    app.state.find_panel = lambda address: address
    app.dependency_overrides.clear()
    return app


def client_on(app: FastAPI, **more: Any) -> TestClient:
    """A client that calls the application by a name it answers to."""
    return TestClient(app, base_url="http://127.0.0.1", **more)


def pool_body(**more: Any) -> dict[str, Any]:
    return {
        "id": str(uuid7()),
        "name": "Garden",
        "place": "Larch Hollow",
        "time_zone": "America/Chicago",
        "volume": {"how": "typed", "unit": "gal", "amount": "15,000"},
        "surface": "plaster",
        "chlorine_source": "liquid",
        "installation": "in_ground",
        "sanitizer": "chlorine",
    } | more


def readings(**values: str) -> list[dict[str, Any]]:
    return [
        {
            "measure": m,
            "text": v,
            "unit": "" if m == "ph" else "°F" if m == "temp" else "ppm",
            "method": "thermometer" if m == "temp" else "drops",
        }
        for m, v in values.items()
    ]


def a_test(at: datetime = NOW, **values: str) -> dict[str, Any]:
    return {"id": str(uuid7()), "at": at.isoformat(), "readings": readings(**values)}


@contextmanager
def serving(reply: Callable[[], tuple[int, bytes]]) -> Iterator[str]:
    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            status, body = reply()
            self.send_response(status)
            self.end_headers()
            self.wfile.write(body)

        do_PUT = do_GET

        def log_message(self, format: str, *args: Any) -> None:
            pass

    server = HTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, args=(0.02,), daemon=True).start()  # seen to stop so soon
    try:
        yield f"http://127.0.0.1:{server.server_port}"
    finally:
        server.shutdown()
        server.server_close()


@contextmanager
def a_panel(folder: Path) -> Iterator[str]:
    """The address of a panel that answers whatever it is told with its state."""
    panel = Panel(folder, NOW)
    with serving(lambda: (200, json.dumps(panel.state(NOW)).encode())) as url:
        yield url


def bound_panel(client: httpx.Client, engine: Engine, pool_id: str, url: str) -> None:
    """Bind a pool to a panel, and let it tell."""
    answer = client.put(f"/api/v1/pools/{pool_id}/panel", json={"address": "standin"})
    assert answer.status_code == 200, answer.text
    assert refresh(engine_sessions(engine), lambda address: url, NOW) == 1


PIECE = 256 * 1024


def send(client: httpx.Client, data: bytes, name: str = "x.jpg", order: random.Random | None = None) -> str:
    """Upload in pieces (in any order) and return the file's id."""
    id = str(uuid7())
    assert client.post("/api/v1/files", json={"id": id, "name": name, "size": len(data)}).status_code == 201
    places = list(range(0, -(-len(data) // PIECE)))
    if order:
        order.shuffle(places)
    for place in places:
        answer = client.put(
            f"/api/v1/files/{id}/pieces/{place}",
            content=data[place * PIECE : (place + 1) * PIECE],
            headers={"Content-Type": "application/octet-stream"},
        )
        assert answer.status_code == 200, answer.text
    return id


def picture(form: str = "JPEG", size: tuple[int, int] = (60, 40), mode: str = "RGB", **more: Any) -> bytes:
    out = io.BytesIO()
    made = (
        Image.new(mode, size, 700)
        if mode == "I;16"
        else Image.frombytes("L", size, random.Random(1).randbytes(size[0] * size[1])).convert(mode)
    )
    made.save(out, form, **more)
    return out.getvalue()


def engine_sessions(engine: Engine) -> sessionmaker[Session]:
    return sessionmaker(engine, expire_on_commit=False)


def made_file(engine: Engine, pieces: Iterable[bytes]) -> str:
    """A job of the tests' account that is through, and the file it made."""
    with Session(engine) as session:
        account = session.scalars(select(Account).where(Account.name == "Test")).one()
        file = files.new_file(account.id, "all.json", "application/json", NOW)
        files.write_file(session, file, pieces)
        job = Job(
            id=uuid7(),
            account_id=account.id,
            kind="account_json",
            state="done",
            stage="write",
            parameters={},
            result={"pools": 0, "events": 0},
            out_file_id=file.id,
            created_at=NOW,
        )
        session.add(job)
        session.commit()
        return str(job.id)


def work_off(engine: Engine, clock: Clock | None = None) -> int:
    """Run every job that waits."""
    count = 0
    while run_next(engine_sessions(engine), "tests", STAGES, clock or Clock()):
        count += 1
    return count


def looked_through(
    client: TestClient, engine: Engine, pool: dict, data: bytes, name: str = "report.csv"
) -> dict[str, Any]:
    body = {"id": str(uuid7()), "file_id": send(client, data, name), "pool_id": pool["id"]}
    answer = client.post("/api/v1/imports", json=body)
    assert answer.status_code == 201, answer.text
    work_off(engine)
    return client.get(f"/api/v1/imports/{body['id']}").json()


FORMS = {"account_json": "json", "account_csv": "zip"}


def taken_out(client: TestClient, engine: Engine, kind: str) -> bytes:
    id = str(uuid7())
    assert client.post("/api/v1/exports", json={"id": id, "kind": kind}).status_code == 201
    work_off(engine)
    job = next(j for j in client.get("/api/v1/jobs").json() if j["id"] == id)
    assert job["state"] == "done" and job["message"].startswith("Ready to take away"), job
    answer = client.get(job["download"])
    assert answer.status_code == 200 and FORMS[kind] in answer.headers["content-disposition"]
    return answer.content


def brought_in(client: TestClient, engine: Engine, data: bytes, yes: bool = True) -> dict[str, Any]:
    id = str(uuid7())
    assert (
        client.post("/api/v1/imports", json={"id": id, "file_id": send(client, data, "all")}).status_code
        == 201
    )
    work_off(engine)
    view = client.get(f"/api/v1/imports/{id}").json()
    if yes and view["job"]["state"] == "to_confirm":
        client.post(f"/api/v1/imports/{id}/confirm", json={"revision": view["job"]["revision"]})
        work_off(engine)
        view = client.get(f"/api/v1/imports/{id}").json()
    return view["job"]


def wipe(engine: Engine) -> None:
    """Everything but the account goes."""
    with engine.begin() as connection:
        connection.execute(text("SET foreign_key_checks = 0"))
        for table in ("job", "file", "file_chunk", *(t.row.__tablename__ for t in TABLES)):
            connection.execute(text(f"DELETE FROM {table}"))
        connection.execute(text("UPDATE account SET name = 'Test', unit_system = 'us'"))
        connection.execute(text("SET foreign_key_checks = 1"))


LOW = {"fc": "1.0", "ph": "7.9", "ta": "95", "ch": "280", "cya": "40"}


def problem(answer, status: int, code: str, field: str | None = None) -> str:  # type: ignore[no-untyped-def]
    assert answer.status_code == status, answer.text
    body = answer.json()
    assert answer.headers["content-type"] == "application/problem+json"
    assert set(body) >= {"type", "title", "status", "code", "detail", "fields"} and body["status"] == status
    if field is None:
        assert body["code"] == code
        return str(body["detail"])
    found = [f for f in body["fields"] if f["field"] == field]
    assert found, body["fields"]
    assert found[0]["code"] == code
    return str(found[0]["message"])


def environment(**more: str) -> dict[str, str]:
    """The environment for a launched Kumpan."""
    return {**os.environ, "PYTHONPATH": str(Path(__file__).parents[1] / "src"), **more}
