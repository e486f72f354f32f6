"""Random requests on the demo: never a 5xx, and every route is reached.

For each operation of the OpenAPI description there is a good request with ids of the demo. Every second request
is sent as it is; the others have one part replaced by what the description allows there.
"""

import random
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import timedelta
from pathlib import Path
from typing import Any
from urllib.parse import quote

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.core import NotSet
from sqlalchemy import Engine, create_engine, event, select
from uuid6 import uuid7

from kumpan.main import create_app
from kumpan.store.tables.base import Base
from kumpan.store.tables.log import Event
from kumpan.store.tables.pools import EquipmentRow, Pool
from kumpan.store.tables.shelf import ShelfItem
from support import (
    NOW,
    Clock,
    a_panel,
    a_test,
    bound_panel,
    client_on,
    engine_sessions,
    looked_through,
    picture,
    pool_body,
    readings,
    send,
    work_off,
)

# One application for the description; the demo is put under it per operation.
app = create_app(create_engine("mariadb+pymysql://nobody@localhost/none"), clock=Clock())
schema = schemathesis.openapi.from_dict(app.openapi())

EXAMPLES = 8  # each is asked twice, undisturbed and disturbed
CSV = "Date,FC,pH\n2026-07-01 {:02}:{:02},2.5,7.4\n"


@dataclass
class World:
    """The demo behind the API, and what the next good request is made of. writes: whether a row changed."""

    client: TestClient
    engine: Engine
    dice: random.Random = field(default_factory=lambda: random.Random(0))
    writes: int = 0

    def any(self, table: type[Base], *where: Any) -> Any:
        """A row of a table."""
        with engine_sessions(self.engine)() as session:
            return self.dice.choice(session.scalars(select(table).where(*where).order_by(table.id)).all())

    def get(self, url: str) -> Any:
        """What the API says there."""
        answer = self.client.get(f"/api/v1{url}")
        assert answer.status_code == 200, answer.text
        return answer.json()

    def did(self, method: str, url: str, **body: Any) -> Any:
        """What the API answers to a good request."""
        answer = self.client.request(method, f"/api/v1{url}", **({"json": body} if body else {}))
        assert answer.status_code < 300, answer.text
        return answer.json() if answer.content else None

    def event(self, kind: str) -> Event:
        """An entry of the log."""
        return self.any(Event, Event.kind == kind, Event.deleted_at.is_(None))

    def pool(self) -> str:
        """The id of a pool."""
        return str(self.any(Pool).id)

    def salt_pool(self) -> str:
        """The id of a pool with a chlorinator."""
        return str(self.any(Pool, Pool.chlorine_source == "chlorinator").id)

    def panel(self) -> str:
        """The id of a pool whose panel is bound, and has told."""
        pool = self.salt_pool()
        bound_panel(self.client, self.engine, pool, app.state.find_panel("standin"))
        return pool

    def heater(self) -> str:
        """The id of a machine just written down."""
        asked = HEATER | {"id": str(uuid7())}
        return str(self.did("POST", f"/pools/{self.pool()}/equipment", **asked)["id"])

    def item(self) -> str:
        """The id of a line of the shelf, standing there."""
        row = self.any(ShelfItem)
        if row.removed_at:
            self.did("POST", f"/shelf/items/{row.id}/restore")
        return str(row.id)

    def file(self, data: bytes = b"", name: str = "x.jpg") -> str:
        """An uploaded file."""
        return send(self.client, data or picture(), name)

    def photo(self) -> str:
        """A photo of an entry."""
        asked = {"id": str(uuid7()), "file_id": self.file(), "event_id": str(self.event("water_test").id)}
        return str(self.did("POST", "/photos", **asked)["id"])

    def table(self) -> dict[str, Any]:
        """A table of readings, looked through."""
        text = CSV.format(self.dice.randrange(24), self.dice.randrange(60)).encode()
        return looked_through(self.client, self.engine, {"id": self.pool()}, text)

    def brought_in(self) -> str:
        """An import that is done."""
        job = self.table()["job"]
        self.did("POST", f"/imports/{job['id']}/confirm", revision=job["revision"])
        work_off(self.engine)
        return str(job["id"])

    def export(self) -> str:
        """An export that waits."""
        return str(self.did("POST", "/exports", id=str(uuid7()), kind="account_csv")["id"])

    def proof(self) -> tuple[str, str]:
        """A pool and the key of a proof of its volume."""
        pool = self.did("POST", "/pools", **pool_body())["id"]
        for day, salt in ((3, "500"), (0, "1670")):
            test = a_test(at=NOW - timedelta(days=day), salt=salt)
            test["readings"][0]["method"] = "salt_meter"
            self.did("POST", f"/pools/{pool}/tests", **test)
        self.did(
            "POST",
            f"/pools/{pool}/doses",
            **dose(at=(NOW - timedelta(days=2)).isoformat(), product_id="salt"),
        )
        return pool, self.get(f"/pools/{pool}/volume-proofs")[0]["key"]


def fresh(**more: Any) -> dict[str, Any]:
    return {"id": str(uuid7()), "at": NOW.isoformat()} | more


def dose(**more: Any) -> dict[str, Any]:
    return fresh(product_id="bleach-6", amount="170", unit="lb" if "product_id" in more else "fl_oz") | more


CLEAR_UPS: tuple[dict[str, Any], ...] = (
    {"severity": "steps", "answers": {"colour": "green", "where": "walls"}},
    {"severity": "hidden", "method": "strip", "looks": 1},
    {"aim": "shock", "cause": "smell"},
    {"aim": "shock", "cause": "routine", "means": "oxidiser"},
)
NOTE = {"kind": "note", "details": {}, "note": "swept"}
HEATER = {"kind": "heater", "make_model": "H 250"}
Request = tuple[dict[str, Any], Any]  # parameters by name, body
Good = Callable[[World], Request]


def on_pool(body: Callable[[World], Any] | None = None, **query: Any) -> Good:
    return lambda w: ({"pool_id": w.pool()} | query, body(w) if body else None)


def changed(name: str, table: type[Base], body: dict[str, Any] | None = None, *where: Any) -> Good:
    """A change of a row at its revision."""

    def good(w: World) -> Request:
        row = w.any(table, *where)
        return {name: str(row.id)}, None if body is None else body | {"revision": row.revision}

    return good


def correction(of: str, /, **body: Any) -> Good:
    return changed("event_id", Event, body, Event.kind == of, Event.deleted_at.is_(None))


def volume_proof(w: World, exclude: bool) -> Request:
    pool, key = w.proof()
    if exclude:
        w.did("POST", f"/pools/{pool}/volume-proofs", key=key, revision=1)
    return {"pool_id": pool}, {"key": key, "revision": 1 + exclude}


def matched_anew(w: World) -> Request:
    found = w.table()
    how = found["preview"]["settings"]
    columns = [{"role": c["role"], "unit": c["unit"]} for c in how["columns"]]
    body = {
        **how,
        "columns": columns,
        "method": "strip",
        "pool_id": w.pool(),
        "revision": found["job"]["revision"],
    }
    return {"job_id": found["job"]["id"]}, body


def confirmed(w: World) -> Request:
    job = w.table()["job"]
    return {"job_id": job["id"]}, {"revision": job["revision"]}


def restored_import(w: World) -> Request:
    id = w.brought_in()
    w.did("POST", f"/imports/{id}/revert")
    return {"job_id": id}, None


def renamed(w: World) -> Request:
    made = w.did("POST", "/pools", **pool_body())
    body = {k: v for k, v in pool_body(name="Yard", revision=made["revision"]).items() if k != "id"}
    return {"pool_id": made["id"]}, body


def noted(w: World) -> Request:
    entry = w.did("POST", f"/pools/{w.pool()}/entries", **fresh(), **NOTE)
    return {"event_id": entry["id"]}, NOTE | {"note": "brushed", "revision": entry["revision"]}


def archived(w: World) -> Request:
    id = w.pool()
    w.did("POST", f"/pools/{id}/archive")
    return {"pool_id": id}, None


def unlisted(w: World) -> Request:
    """A product that does not stand on the shelf yet, or is taken off first."""
    product = w.any(ShelfItem).product_id
    with engine_sessions(w.engine)() as session:
        stands = select(ShelfItem.id).where(ShelfItem.product_id == product, ShelfItem.removed_at.is_(None))
        listed = session.scalars(stands).all()
    for item in listed:
        w.did("DELETE", f"/shelf/items/{item}")
    return {}, {"id": str(uuid7()), "product_id": product, "bought": "2026-05-01"}


def first_step(w: World) -> Request:
    asked = {"id": str(uuid7()), "test": a_test(fc="1", ph="7.9", ta="95", ch="280", cya="40")}
    plan = w.did("POST", f"/pools/{w.pool()}/plans", **asked)
    return {"sheet_id": plan["id"], "key": plan["steps"][0]["key"]}, fresh()


def on_task(what: str = "weekly_clean") -> Callable[[World], tuple[dict[str, str], dict[str, Any]]]:
    """A task of a new pool; what: its rule."""

    def good(w: World) -> tuple[dict[str, str], dict[str, Any]]:
        pool = w.did("POST", "/pools", **pool_body())["id"]
        held = w.get(f"/pools/{pool}/care")["tasks"]
        row = next(t for t in held if t["rule_id"] == what)
        body = {
            "done": fresh(minutes="40"),
            "marks": fresh(verb=w.dice.choice(["snooze", "skip"]), value="2026-07-20"),
            "put": {"repeat": w.dice.choice(REPEATS), "revision": row["revision"]},
        }
        return {"task_id": row["id"]}, body

    return good


def task_body(name: str) -> Good:
    def good(w: World) -> Request:
        ids, bodies = on_task()(w)
        return ids, bodies[name]

    return good


def own_task(w: World) -> Request:
    pool = w.did("POST", "/pools", **pool_body())["id"]
    id = str(uuid7())
    w.did("POST", f"/pools/{pool}/tasks", id=id, title="Oil the gate", repeat=REPEATS[0])
    return {"task_id": id}, None


def kept_care(w: World) -> Request:
    made = w.did("POST", "/pools", **pool_body())
    cadence = w.dice.choice(["weekly", "technician", "quarterly"])
    return {"pool_id": made["id"]}, {"cadence": cadence, "revision": made["revision"]}


def made_feed(w: World) -> dict[str, Any]:
    """A calendar of all pools; those before it are taken back, as there are twenty at most."""
    for one in w.get(f"/pools/{w.pool()}/care")["feeds"]:
        w.did("DELETE", f"/feeds/{one['id']}")
    made: dict[str, Any] = w.did("POST", "/feeds", id=str(uuid7()))
    return made


def a_feed(w: World) -> Request:
    return {"feed_id": made_feed(w)["id"]}, None


def read_feed(w: World) -> Request:
    return {"token": made_feed(w)["path"].rpartition("/")[2].removesuffix(".ics")}, None


def new_feed(w: World) -> Request:
    w.did("DELETE", f"/feeds/{made_feed(w)['id']}")
    return {}, {"id": str(uuid7())}


def a_paper(w: World) -> str:
    asked = {
        "id": str(uuid7()),
        "file_id": w.file(b"%PDF-1.4 manual", "manual.pdf"),
        "equipment_id": w.heater(),
    }
    return str(w.did("POST", "/papers", **asked)["id"])


def taken_off_paper(w: World) -> Request:
    id = a_paper(w)
    w.did("DELETE", f"/papers/{id}")
    return {"paper_id": id}, None


REPEATS: list[dict[str, Any]] = [
    {"anchor": "completion", "days": 9},
    {"anchor": "calendar", "every": {"unit": "month", "day": 31}, "clock": "02:30"},
    {"anchor": "once", "on": "2026-09-01"},
    {"anchor": "run_hours", "hours": 200},
    {"anchor": "completion", "days": 3, "season_from": "10-01", "season_to": "03-31"},
]
GUIDE = {"subject": "filter", "given": {"medium": "sand", "valve": "multiport"}}


def guided(w: World) -> Request:
    """A guide begun, and laid aside."""
    guide = w.did("POST", f"/pools/{w.pool()}/guides", **fresh(), **GUIDE)
    return {"sheet_id": guide["id"]}, fresh() | {"verb": "pause"}


def forgotten(w: World) -> Request:
    id = w.export()
    w.did("POST", f"/jobs/{id}/cancel")
    return {"job_id": id}, None


def made(w: World) -> Request:
    id = w.export()
    work_off(w.engine)
    return {"job_id": id}, None


def piece(w: World) -> Request:
    data = picture()
    id = str(uuid7())
    w.did("POST", "/files", id=id, name="x.jpg", size=len(data))
    return {"file_id": id, "position": 0}, data


def gone(url: str, name: str, make: Callable[[World], str]) -> Good:
    """What was removed, to be put back."""

    def good(w: World) -> Request:
        id = make(w)
        w.did("DELETE", f"{url}/{id}")
        return {name: id}, None

    return good


def to_pool(more: dict[str, Any]) -> Good:
    return lambda w: ({"pool_id": (row := w.any(Pool)).id}, more | {"revision": row.revision})


PREVIEW = {"readings": readings(fc="1", ph="7.9", ta="95", ch="280", cya="40")}
GOOD: dict[str, Good] = {
    "GET /meta": lambda w: ({}, None),
    "GET /account": lambda w: ({}, None),
    "PUT /account": lambda w: (
        {},
        {"unit_system": w.dice.choice(["us", "metric"]), "revision": w.get("/account")["revision"]},
    ),
    "GET /pools": lambda w: ({}, None),
    "POST /pools": lambda w: ({}, pool_body()),
    "GET /pools/{pool_id}": on_pool(),
    "PUT /pools/{pool_id}": renamed,
    "PUT /pools/{pool_id}/settings": to_pool({"school": "flat_band"}),
    "GET /pools/{pool_id}/volume-proofs": on_pool(),
    "POST /pools/{pool_id}/volume-proofs": lambda w: volume_proof(w, False),
    "POST /pools/{pool_id}/volume-proofs/exclude": lambda w: volume_proof(w, True),
    "POST /pools/{pool_id}/archive": on_pool(),
    "POST /pools/{pool_id}/unarchive": archived,
    "POST /volumes": lambda w: ({}, {"how": "typed", "unit": "gal", "amount": "15,000"}),
    "GET /equipment-kinds": lambda w: ({}, None),
    "GET /pools/{pool_id}/equipment": on_pool(),
    "POST /pools/{pool_id}/equipment": on_pool(lambda w: HEATER | {"id": str(uuid7())}),
    "PUT /equipment/{equipment_id}": lambda w: changed(
        "equipment_id", EquipmentRow, {"kind": (k := w.any(EquipmentRow)).kind}, EquipmentRow.id == k.id
    )(w),
    "DELETE /equipment/{equipment_id}": changed("equipment_id", EquipmentRow),
    "POST /equipment/{equipment_id}/restore": gone("/equipment", "equipment_id", World.heater),
    "GET /shelf": lambda w: ({"pool_id": w.pool()}, None),
    "POST /shelf/items": unlisted,
    "PUT /shelf/items/{item_id}": lambda w: changed(
        "item_id",
        ShelfItem,
        {"product_id": (i := w.any(ShelfItem)).product_id, "price": ""},
        ShelfItem.id == i.id,
    )(w),
    "DELETE /shelf/items/{item_id}": changed("item_id", ShelfItem),
    "POST /shelf/items/{item_id}/restock": changed(
        "item_id", ShelfItem, {"packs": 1}, ShelfItem.pack.is_not(None)
    ),
    "POST /shelf/items/{item_id}/restore": gone("/shelf/items", "item_id", World.item),
    "GET /pools/{pool_id}/today": on_pool(),
    "POST /pools/{pool_id}/plan-previews": on_pool(lambda w: PREVIEW),
    "POST /pools/{pool_id}/plans": on_pool(
        lambda w: {"id": str(uuid7()), "test": a_test(fc="1", ph="7.9", ta="95", ch="280", cya="40")}
    ),
    "GET /sheets/{sheet_id}": lambda w: ({"sheet_id": str(w.event("plan").id)}, None),
    "POST /sheets/{sheet_id}/steps/{key}/tick": first_step,
    "POST /sheets/{sheet_id}/marks": guided,
    "POST /pools/{pool_id}/guides": on_pool(lambda w: fresh() | GUIDE),
    "POST /pools/{pool_id}/clear-ups/preview": on_pool(lambda w: w.dice.choice(CLEAR_UPS)),
    "POST /pools/{pool_id}/clear-ups": lambda w: (
        {"pool_id": w.did("POST", "/pools", **pool_body())["id"]},
        fresh(asked=w.dice.choice(CLEAR_UPS)),
    ),
    "GET /pools/{pool_id}/care": on_pool(),
    "GET /pools/{pool_id}/care.ics": on_pool(),
    "PUT /pools/{pool_id}/care": kept_care,
    "POST /pools/{pool_id}/tasks": on_pool(
        lambda w: {"id": str(uuid7()), "title": "Oil the gate", "repeat": w.dice.choice(REPEATS)}
    ),
    "PUT /tasks/{task_id}": task_body("put"),
    "DELETE /tasks/{task_id}": own_task,
    "POST /tasks/{task_id}/done": task_body("done"),
    "POST /tasks/{task_id}/marks": task_body("marks"),
    "POST /feeds": new_feed,
    "POST /feeds/{feed_id}/rotate": a_feed,
    "DELETE /feeds/{feed_id}": a_feed,
    "GET /calendar/{token}.ics": read_feed,
    "GET /pools/{pool_id}/machines": on_pool(),
    "GET /pools/{pool_id}/ahead": on_pool(),
    "GET /pools/{pool_id}/away": on_pool(days=9),
    "GET /pools/{pool_id}/season": on_pool(),
    "GET /pools/{pool_id}/today.pdf": on_pool(size="a4"),
    "GET /pools/{pool_id}/parts.pdf": on_pool(),
    "GET /sheets/{sheet_id}/paper.pdf": lambda w: ({"sheet_id": str(w.event("plan").id)}, None),
    "POST /pools/{pool_id}/season-plans": lambda w: (
        {"pool_id": w.did("POST", "/pools", **pool_body())["id"]},
        {
            "id": str(uuid7()),
            "at": NOW.isoformat(),
            "subject": w.dice.choice(("opening", "closing", "drain")),
            "day": "2026-10-18",
            "given": {"school": "kit", "pipe_length": "120 ft", "antifreeze": "yes"},
        },
    ),
    "PUT /pools/{pool_id}/panel": lambda w: ({"pool_id": w.salt_pool()}, {"address": "standin"}),
    "DELETE /pools/{pool_id}/panel": lambda w: ({"pool_id": w.panel()}, None),
    "POST /pools/{pool_id}/panel/setting": lambda w: (
        {"pool_id": w.panel()},
        {"id": str(uuid7()), "percent": 40, "hours_day": 9},
    ),
    "POST /pools/{pool_id}/panel/fault": lambda w: ({"pool_id": w.panel()}, {"fault": "cold"}),
    "POST /pools/{pool_id}/panel/reading": lambda w: ({"pool_id": w.panel()}, fresh()),
    "POST /pools/{pool_id}/complaints": lambda w: (
        {"pool_id": w.did("POST", "/pools", **pool_body())["id"]},
        fresh(kind=w.dice.choice(["cloudy", "stains", "foam", "level", "eyes"])),
    ),
    "POST /pools/{pool_id}/walks": lambda w: (
        {"pool_id": w.did("POST", "/pools", **pool_body())["id"]},
        fresh(kind=w.dice.choice(["weekly", "stop"])),
    ),
    "POST /papers": lambda w: (
        {},
        {"id": str(uuid7()), "file_id": w.file(b"%PDF-1.4 x", "x.pdf"), "equipment_id": w.heater()},
    ),
    "GET /papers/{paper_id}/file": lambda w: ({"paper_id": a_paper(w)}, None),
    "DELETE /papers/{paper_id}": lambda w: ({"paper_id": a_paper(w)}, None),
    "POST /papers/{paper_id}/restore": taken_off_paper,
    "GET /pools/{pool_id}/events": on_pool(),
    "GET /pools/{pool_id}/costs": on_pool(),
    "GET /pools/{pool_id}/graph": on_pool(start="2026-07-01T00:00:00Z", end="2026-07-14T00:00:00Z"),
    "GET /entry-kinds": lambda w: ({}, None),
    "GET /pools/{pool_id}/usual-entries": on_pool(),
    "POST /pools/{pool_id}/entries": on_pool(lambda w: fresh() | NOTE),
    "PUT /entries/{event_id}": noted,
    "POST /pools/{pool_id}/tests": on_pool(lambda w: a_test(fc="2", ph="7.6")),
    "PUT /tests/{event_id}": correction("water_test", readings=readings(fc="2", ph="7.6")),
    "POST /pools/{pool_id}/doses": on_pool(lambda w: dose()),
    "PUT /doses/{event_id}": correction("dose", product_id="bleach-6", amount="12", unit="fl_oz"),
    "GET /events/{event_id}": correction("water_test"),
    "DELETE /events/{event_id}": lambda w: ({"event_id": str(w.event("water_test").id)}, None),
    "POST /events/{event_id}/restore": gone("/events", "event_id", lambda w: str(w.event("water_test").id)),
    "GET /pools/{pool_id}/tests.csv": on_pool(),
    "GET /pools/{pool_id}/doses.csv": on_pool(),
    "POST /files": lambda w: ({}, {"id": str(uuid7()), "name": "x.jpg", "size": 9}),
    "PUT /files/{file_id}/pieces/{position}": piece,
    "POST /photos": lambda w: (
        {},
        {"id": str(uuid7()), "file_id": w.file(), "event_id": str(w.event("water_test").id)},
    ),
    "GET /photos/{photo_id}/picture": lambda w: ({"photo_id": w.photo()}, None),
    "DELETE /photos/{photo_id}": lambda w: ({"photo_id": w.photo()}, None),
    "POST /photos/{photo_id}/restore": gone("/photos", "photo_id", World.photo),
    "GET /inbox": lambda w: ({}, None),
    "POST /imports": lambda w: (
        {},
        {"id": str(uuid7()), "file_id": w.file(CSV.format(9, 30).encode(), "r.csv"), "pool_id": w.pool()},
    ),
    "GET /imports/{job_id}": lambda w: ({"job_id": w.table()["job"]["id"]}, None),
    "PUT /imports/{job_id}": matched_anew,
    "POST /imports/{job_id}/confirm": confirmed,
    "POST /imports/{job_id}/revert": lambda w: ({"job_id": w.brought_in()}, None),
    "POST /imports/{job_id}/restore": restored_import,
    "POST /exports": lambda w: ({}, {"id": str(uuid7()), "kind": "account_csv"}),
    "GET /jobs": lambda w: ({}, None),
    "POST /jobs/{job_id}/cancel": lambda w: ({"job_id": w.export()}, None),
    "DELETE /jobs/{job_id}": forgotten,
    "GET /jobs/{job_id}/file": made,
}
# Looked at with POST, since the question does not fit into a line
WRITES_NOTHING = {
    "POST /volumes",
    "POST /pools/{pool_id}/plan-previews",
    "POST /pools/{pool_id}/clear-ups/preview",
}


def disturbed(request: Request, case: schemathesis.Case, dice: random.Random) -> Request:
    """A good request with one part as the description allows it."""
    names, body = dict(request[0]), request[1]
    given = dict(case.path_parameters or {}) | dict(case.query or {})
    fields = list(case.body) if isinstance(case.body, dict) and isinstance(body, dict) else []
    choices = [("name", n) for n in sorted(given)] + [("field", f) for f in sorted(fields)] * 2
    choices += [("drop", f) for f in sorted(body)] if isinstance(body, dict) else []
    if isinstance(body, bytes) and not isinstance(case.body, NotSet):
        choices.append(("body", ""))
    if not choices:
        return request
    what, name = dice.choice(choices)
    if what == "name":
        names[name] = given[name]
    elif what == "body":
        body = b"\0" * dice.randrange(99)
    else:
        body = {k: v for k, v in body.items() if k != name} | (
            {name: case.body[name]} if what == "field" else {}
        )
    return names, body


@pytest.fixture
def world(demo_engine: Engine, tmp_path: Path) -> Iterator[World]:
    app.state.sessions.configure(bind=demo_engine)
    with a_panel(tmp_path) as url, client_on(app, raise_server_exceptions=False) as client:
        app.state.find_panel = lambda address: url
        world = World(client, demo_engine)

        def note(conn: Any, cursor: Any, statement: str, *rest: Any) -> None:
            verb, *names = statement.split(None, 3)[:3]
            # What a look keeps of its own work is no change: the log makes it anew.
            if verb in ("INSERT", "UPDATE", "DELETE") and "estimate" not in names and cursor.rowcount > 0:
                world.writes += 1

        event.listen(demo_engine, "after_cursor_execute", note)
        yield world
        event.remove(demo_engine, "after_cursor_execute", note)


OPERATIONS = {
    f"{found.ok().method.upper()} {found.ok().path.removeprefix('/api/v1')}": found.ok()
    for found in schema.get_all_operations()
}
del OPERATIONS["GET /api/health"]


def test_every_operation_has_its_good_request() -> None:
    assert set(GOOD) == set(OPERATIONS)


@pytest.mark.parametrize("name", OPERATIONS)
def test_no_request_makes_a_server_error(world: World, name: str) -> None:
    """At least 40 % of an operation's requests are answered 2xx, so of all; one that writes changed a row, one
    that reads did not.
    """
    operation, counts = OPERATIONS[name], Counter[str]()

    @settings(
        max_examples=EXAMPLES,
        derandomize=True,
        deadline=None,
        database=None,
        suppress_health_check=list(HealthCheck),
        phases=[Phase.generate],
    )
    @given(case=operation.as_strategy())
    def ask(case: schemathesis.Case) -> None:
        for undisturbed in (True, False):
            good = GOOD[name](world)
            names, body = good if undisturbed else disturbed(good, case, world.dice)
            path = [n for n in names if f"{{{n}}}" in operation.path]
            url = operation.path.format(**{n: quote(str(names[n]), safe="") for n in path})
            query = {n: v for n, v in names.items() if n not in path}
            sent = {"content": body} if isinstance(body, bytes) else {} if body is None else {"json": body}
            headers = {"Content-Type": "application/octet-stream"} if isinstance(body, bytes) else {}
            before = world.writes
            answer = world.client.request(
                operation.method.upper(), url, params=query, headers=headers, **sent
            )
            assert answer.status_code < 500, (names, body, answer.text)
            if undisturbed:
                assert answer.status_code < 300, (names, body, answer.text)
            counts["asked"] += 1
            counts["good"] += answer.status_code < 300
            counts["wrote"] += world.writes > before

    ask()
    assert counts["good"] >= 0.4 * counts["asked"], counts
    writing = not name.startswith("GET") and name not in WRITES_NOTHING
    assert (counts["wrote"] > 0) == writing, counts
