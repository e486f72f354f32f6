"""Migrations on populated schemas, backup and restore, the private server, and kills at random moments."""

import os
import random
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from datetime import timedelta
from functools import partial
from pathlib import Path

import httpx
import pytest
from alembic import op
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import Connection, Engine, text
from uuid6 import uuid7

from kumpan.main import Beside, create_app
from kumpan.ops.mariadb import FAST_AND_UNSAFE, PrivateMariaDB
from kumpan.ops.prepare import prepare
from kumpan.store import migrate
from kumpan.store.database import engine_for
from kumpan.store.tables.base import Base
from support import NOW, Clock, a_test, client_on, environment, pool_body, readings, send


def dump(engine: Engine) -> dict[str, list[tuple]]:
    """Every row of every table of the newest schema."""
    with engine.connect() as c:
        return {
            t.name: sorted(map(tuple, c.execute(t.select())), key=repr) for t in Base.metadata.sorted_tables
        }


@pytest.fixture
def fresh(server: PrivateMariaDB) -> Engine:
    """An empty schema beside the shared one."""
    server.dismiss("kumpan_fresh")
    server.admit("kumpan_fresh", "fresh")
    return engine_for(server.url_of("kumpan_fresh", "fresh"))


# Rows as each revision would have held them, written in SQL so that later code cannot change their meaning.
POPULATE = {
    "0001": [
        "INSERT INTO account VALUES (UUID(), 'Old', 'us', 'USD', 1, NOW(6))",
        (
            "INSERT INTO pool (id, account_id, name, place, time_zone, volume_l, volume_input, surface,"
            " chlorine_source, installation, sanitizer, school, revision, created_at) SELECT UUID(), id, 'Old"
            " pool', '', 'UTC', 50000, '{}', 'vinyl', 'liquid', 'in_ground', 'chlorine',"
            " 'scaled_to_stabilizer', 1, NOW(6) FROM account"
        ),
        (
            "INSERT INTO event (id, pool_id, at, kind, who, revision, created_at) SELECT UUID(), id,"
            " '2025-07-01 10:00:00', 'water_test', 'you', 1, NOW(6) FROM pool"
        ),
        (
            "INSERT INTO reading (event_id, measure, position, value, text, unit, method) SELECT id, 'fc', 0,"
            " 2.5, '2,5', 'ppm', 'drops' FROM event"
        ),
    ]
}
POPULATE["0002"] = POPULATE["0001"]
# A list of products in a column, and a pool whose volume was ticked as proved.
_SALT = (
    '{"product_id": "salt", "strength": "", "stock": "4", "stock_unit": "bag_40lb", "pack": "", "pack_unit":'
    ' "", "price": "", "canonical": {"strength": null, "stock": 72574.8, "pack": null, "price_minor": null,'
    ' "bought": null, "kept_c": null}}'
)
POPULATE["0003"] = [
    f"INSERT INTO account VALUES (UUID(), 'Old', 'us', 'USD', 1, NOW(6), '[{_SALT}]')",
    POPULATE["0001"][1].replace("'{}'", '\'{"how": "typed", "unit": "gal", "amount": "15,000"}\''),
    *POPULATE["0001"][2:],
    'UPDATE pool SET settings = \'{"sun": "full", "volume_proved": true}\'',
]
POPULATE["0004"] = POPULATE["0005"] = POPULATE["0001"]
# A plan with a step of fresh water done, an entry, a correction, and an import that asks.
_PLAN = '{"fraction": 0.25, "to_ph": null, "title": "Replace 25 % of the water"}'
POPULATE["0006"] = [
    "INSERT INTO account VALUES (UUID(), 'Old', 'metric', 'USD', 1, NOW(6))",
    POPULATE["0001"][1],
    *(
        "INSERT INTO event (id, pool_id, at, kind, who, spot, revision, created_at) SELECT UUID(), id,"
        f" '2025-07-0{day} 10:00:00', '{kind}', 'Mara', '{spot}', 1, NOW(6) FROM pool"
        for day, kind, spot in (
            (1, "water_test", "deep end"),
            (2, "plan", ""),
            (3, "task", ""),
            (4, "rain", ""),
        )
    ),
    POPULATE["0001"][3] + " WHERE kind = 'water_test'",
    (
        "INSERT INTO plan (event_id, test_event_id, rule_version, headline, swim, inputs) SELECT p.id, t.id, '1',"
        " 'High.', '', '{}' FROM event p JOIN event t ON t.kind = 'water_test' WHERE p.kind = 'plan'"
    ),
    (
        "INSERT INTO plan_step (id, plan_event_id, position, kind, due_at, shown) SELECT UUID(), event_id, 0,"
        f" 'dilute', '2025-07-02 10:00:00', '{_PLAN}' FROM plan"
    ),
    (
        "INSERT INTO task (event_id, what, fraction, plan_step_id) SELECT e.id, 'dilute', 0.25, s.id FROM event e"
        " JOIN plan_step s WHERE e.kind = 'task'"
    ),
    (
        "INSERT INTO happening (event_id, details, typed, note) SELECT id, '{\"fell\": 20}', '{}', 'hail' FROM"
        " event WHERE kind = 'rain'"
    ),
    (
        "INSERT INTO correction (id, event_id, at, who, was_at, was, `before`) SELECT UUID(), id, NOW(6), 'Mara',"
        " at, 'Rain', '{}' FROM event WHERE kind = 'rain'"
    ),
    (
        "INSERT INTO job (id, account_id, kind, state, stage, given, found, done, total, claims, cancel_asked,"
        " revision, created_at) SELECT UUID(), id, 'readings', 'asks', 'check', '{\"settings\": {}}', '{}', 0, 0,"
        " 0, 0, 1, NOW(6) FROM account"
    ),
]
# The same in today's names, as an account of the schema before holds it: a test and an accepted plan.
POPULATE["0007"] = [
    "INSERT INTO account VALUES (UUID(), 'Old', 'metric', 'USD', 1, NOW(6))",
    POPULATE["0001"][1],
    *(
        "INSERT INTO event (id, pool_id, at, kind, performed_by, sampling_point, revision, created_at) SELECT"
        f" UUID(), id, '2025-07-0{day} 10:00:00', '{kind}', 'Mara', '', 1, NOW(6) FROM pool"
        for day, kind in ((1, "water_test"), (2, "plan"))
    ),
    POPULATE["0001"][3] + " WHERE kind = 'water_test'",
    POPULATE["0006"][7].replace("inputs)", "inputs, form)").replace("'{}' FROM", "'{}', 2 FROM"),
]
# And of the schema in which plans had tables of their own: two steps, one a dose that was poured, one of fresh water
# that was done.
POPULATE["0008"] = [
    POPULATE["0007"][0].replace("NOW(6))", "NOW(6), NULL)"),
    POPULATE["0007"][1],
    *(
        "INSERT INTO event (id, pool_id, at, kind, performed_by, sampling_point, revision, created_at) SELECT"
        f" UUID(), id, '2025-07-0{day} 10:00:00', '{kind}', 'Mara', '', 1, NOW(6) FROM pool"
        for day, kind in ((1, "water_test"), (2, "plan"), (3, "dose"), (4, "step_done"))
    ),
    POPULATE["0007"][4],
    POPULATE["0007"][5],
    *(
        "INSERT INTO plan_step (id, plan_event_id, position, kind, due_at, product_id, amount, fraction, shown) SELECT"
        f" UUID(), event_id, {i}, '{kind}', '2025-07-0{2 + i} 10:00:00', {product}, {amount}, {share}, '{shown}' FROM plan"
        for i, (kind, product, amount, share, shown) in enumerate(
            (
                (
                    "add",
                    "'liquid-chlorine-12.5'",
                    946.35,
                    "NULL",
                    '{"title": "Liquid chlorine", "key": "add-0"}',
                ),
                ("dilute", "NULL", "NULL", 0.25, _PLAN),
            )
        )
    ),
    (
        "INSERT INTO dose (event_id, product_id, amount, text, unit, plan_step_id) SELECT e.id,"
        " 'liquid-chlorine-12.5', 900, '30', 'fl_oz', s.id FROM event e JOIN plan_step s ON s.position = 0 WHERE"
        " e.kind = 'dose'"
    ),
    (
        "INSERT INTO step_done (event_id, what, fraction, plan_step_id) SELECT e.id, 'dilute', 0.25, s.id FROM"
        " event e JOIN plan_step s ON s.position = 1 WHERE e.kind = 'step_done'"
    ),
]
# Since then a plan is a sheet; one step of it, ticked.
POPULATE["0009"] = [
    *POPULATE["0008"][:7],
    POPULATE["0007"][5].replace("INTO plan", "INTO sheet"),
    (
        "INSERT INTO sheet_step (event_id, `key`, position, due_at, shown) SELECT event_id, 'add-0', 0,"
        " '2025-07-02 10:00:00', '{}' FROM sheet"
    ),
    (
        "INSERT INTO dose (event_id, product_id, amount, text, unit) SELECT id, 'liquid-chlorine-12.5', 900,"
        " '30', 'fl_oz' FROM event WHERE kind = 'dose'"
    ),
    "INSERT INTO step_done (event_id, what, fraction) SELECT id, 'dilute', 0.25 FROM event WHERE kind = 'step_done'",
    "INSERT INTO tick SELECT e.id, s.event_id, 'add-0' FROM event e JOIN sheet s WHERE e.kind = 'dose'",
]

POPULATE["0010"] = POPULATE["0011"] = POPULATE["0009"]
POPULATE["0012"] = [
    *POPULATE["0011"],
    "INSERT INTO panel SELECT id, 'standin', NOW(6), NULL, NULL, '', 'made up', 1, '{}', NOW(6) FROM pool",
]
POPULATE["0013"] = [
    *POPULATE["0012"],
    "INSERT INTO estimate SELECT id, NOW(6), NOW(6), 'old', 'a digest', '{}' FROM pool",
]
POPULATE["0014"] = [
    *POPULATE["0013"],
    "INSERT INTO first_sent SELECT id, UUID(), 'a digest', NOW(6) FROM account",
]


def assert_sheets(connection: Connection) -> None:
    """What ``POPULATE["0008"]`` holds, as sheets: keys are the ids of old, ticks know their entries."""
    rows = connection.execute(
        text(
            "SELECT e.kind, d.product_id, JSON_VALUE(s.shown, '$.act.product_id'), JSON_VALUE(s.shown, '$.act.amount'),"
            " JSON_VALUE(s.shown, '$.act.fraction'), JSON_VALUE(s.shown, '$.title'), LENGTH(s.`key`) FROM tick t"
            " JOIN sheet_step s ON s.event_id = t.sheet_id AND s.`key` = t.`key`"
            " JOIN event e ON e.id = t.event_id LEFT JOIN dose d ON d.event_id = e.id ORDER BY s.position"
        )
    ).all()
    liquid = "liquid-chlorine-12.5"
    assert [tuple(row) for row in rows] == [
        ("dose", liquid, liquid, "946.35", None, "Liquid chlorine", 36),
        ("step_done", None, None, None, "0.25", "Replace 25 % of the water", 36),
    ]
    assert connection.execute(text("SELECT subject, state, form FROM sheet")).one() == (
        "dose",
        "under_way",
        2,
    )


@pytest.mark.parametrize("revision", sorted(POPULATE))
def test_migrating_a_populated_earlier_schema_keeps_its_rows(fresh: Engine, revision: str) -> None:
    migrate.upgrade(fresh, revision)
    with fresh.begin() as connection:
        for statement in POPULATE[revision]:
            connection.execute(text(statement))
    migrate.upgrade(fresh)
    with fresh.connect() as connection:
        assert connection.execute(text("SELECT text, value FROM reading")).one() == ("2,5", 2.5)
        if revision == "0006":
            for query, kept in (
                ("SELECT unit_system FROM account", "metric"),
                ("SELECT sampling_point FROM event WHERE kind = 'water_test'", "deep end"),
                ("SELECT what FROM step_done JOIN event ON id = event_id WHERE kind = 'step_done'", "dilute"),
                ("SELECT JSON_VALUE(shown, '$.act.fraction') FROM sheet_step", "0.25"),
                ("SELECT form FROM sheet", 1),
                ("SELECT note FROM entry", "hail"),
                ("SELECT actor FROM correction", "Mara"),
                ("SELECT CONCAT(state, stage, JSON_LENGTH(parameters)) FROM job", "waitingcheck0"),
            ):
                assert connection.execute(text(query)).scalar_one() == kept, query
        if revision == "0007":  # a plan of before told nothing of later visits
            assert connection.execute(text("SELECT follows, form FROM sheet")).one() == (None, 2)
        if revision == "0008":
            assert_sheets(connection)
        if revision == "0003":
            assert connection.execute(
                text("SELECT product_id, stock FROM shelf_item WHERE counted_at IS NOT NULL")
            ).one() == ("salt", 72574.8)
            kept = connection.execute(
                text(
                    "SELECT JSON_VALUE(volume_input, '$.sure'), JSON_VALUE(volume_input, '$.within') FROM"
                    " pool"
                )
            ).one()
            assert kept == ("proved", "0.03")
        differences = compare_metadata(
            MigrationContext.configure(connection, opts={"compare_type": False}), Base.metadata
        )
    assert differences == []
    assert migrate.current(fresh) == migrate.revisions()[-1]
    assert len(POPULATE) == len(migrate.revisions()) - 1, "a new migration needs rows of the schema before it"


@pytest.mark.parametrize(
    ("before", "after", "least"),
    [
        ("", "0006", 12),
        ("0006", "0007", 10),
        ("0008", "0009", 12),
        ("0009", "0010", 1),
        ("0010", "0011", 2),
        ("0011", "0012", 1),
        ("0012", "0013", 1),
        ("0013", "0014", 1),
        ("0014", "0015", 1),
    ],
)
def test_a_migration_killed_between_any_two_statements_is_finished_on_restart(
    fresh: Engine, monkeypatch: pytest.MonkeyPatch, before: str, after: str, least: int
) -> None:
    """Each statement commits by itself: a migration, stopped before every one of them in turn."""
    if before:
        migrate.upgrade(fresh, before)
        with fresh.begin() as connection:
            for statement in POPULATE[before]:
                connection.execute(text(statement))
    names = ("execute", "create_table", "create_index", "add_column", "drop_column")
    real = {name: getattr(op, name) for name in names}
    stops = 0

    class Killed(Exception): ...

    while migrate.current(fresh) != after:
        ran = 0

        def stopped(*args, stop=stops, done, **more) -> None:  # type: ignore[no-untyped-def]
            nonlocal ran
            if ran == stop:
                raise Killed
            ran += 1
            done(*args, **more)

        for name, done in real.items():
            monkeypatch.setattr(op, name, partial(stopped, done=done))
        with suppress(Killed):
            migrate.upgrade(fresh, after)
        stops += 1
    assert stops > least
    if not before:
        return
    with fresh.connect() as connection:
        assert connection.execute(text("SELECT COUNT(*) FROM step_done")).scalar_one() == 1
        if after == "0007":
            assert connection.execute(text("SELECT fraction FROM plan_step")).scalar_one() == 0.25
        elif after == "0009":
            assert_sheets(connection)
        else:
            assert connection.execute(text("SELECT COUNT(*) FROM weather_day")).scalar_one() == 0


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


def launch(home: Path, port: int) -> subprocess.Popen:
    env = environment(KUMPAN_HOME=str(home), KUMPAN_PORT=str(port))
    return subprocess.Popen(
        [sys.executable, "-m", "kumpan", "start"],
        env=env,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )


def name_of(pid: int) -> str:
    try:
        return Path(f"/proc/{pid}/comm").read_text().strip()
    except OSError:
        return ""


def within(seconds: float, holds: Callable[[], bool]) -> None:
    end = time.monotonic() + seconds
    while not holds():
        assert time.monotonic() < end
        time.sleep(0.05)


def wait_up(port: int, seconds: float = 40) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        try:
            if httpx.get(f"http://127.0.0.1:{port}/api/health", timeout=2).status_code == 200:
                return
        except httpx.HTTPError:
            time.sleep(0.1)
    raise AssertionError("Kumpan did not come up")


def test_nothing_acknowledged_is_lost_when_server_and_database_are_killed(short_folder: Path) -> None:
    home, port, rng = short_folder / "kill", free_port(), random.Random(7)
    db = PrivateMariaDB(home / "real")
    running = launch(home, port)
    acknowledged: list[str] = []
    stop = threading.Event()
    try:
        wait_up(port)
        base = f"http://127.0.0.1:{port}/api/v1"
        pool = pool_body()
        assert httpx.post(f"{base}/pools", json=pool).status_code == 201

        def killer() -> None:
            nonlocal running
            for round_ in range(6):
                if stop.wait(rng.uniform(0.3, 1.2)):
                    return
                if round_ % 2:
                    running.send_signal(signal.SIGKILL)
                    running.wait()
                    running = launch(home, port)
                elif pid := db.running_pid():
                    os.kill(pid, signal.SIGKILL)
                    time.sleep(0.5)

        thread = threading.Thread(target=killer)
        thread.start()
        for number in range(50):
            test = a_test(NOW - timedelta(minutes=number), fc="3", ph="7.5")
            end = time.monotonic() + 60
            while time.monotonic() < end:
                try:
                    answer = httpx.post(f"{base}/pools/{pool['id']}/tests", json=test, timeout=5)
                except httpx.HTTPError:
                    time.sleep(0.1)
                    continue
                if answer.status_code == 201:
                    acknowledged.append(test["id"])
                    break
                assert answer.status_code == 503, answer.text
                time.sleep(0.1)
            else:
                raise AssertionError("nothing was acknowledged for a minute")
            time.sleep(0.08)
        stop.set()
        thread.join()
        wait_up(port)
        events, cursor = [], None
        while True:
            # The database may still be recovering from the last kill: on a busy machine that takes longer
            # than the client's usual patience.
            page = httpx.get(
                f"{base}/pools/{pool['id']}/events",
                params={"limit": 20} | ({"cursor": cursor} if cursor else {}),
                timeout=60,
            ).json()
            events += [e["id"] for e in page["events"]]
            if not (cursor := page["next"]):
                break
        assert len(acknowledged) == 50
        assert sorted(events) == sorted(acknowledged)  # every one, and none twice
        running.send_signal(signal.SIGINT)
        told = running.communicate(timeout=60)[0]
        assert "Stopped." in told and running.returncode == 0
        assert db.running_pid() is None
    finally:
        stop.set()
        if running.poll() is None:
            running.kill()
        db.stop()


def children_of(launcher: int) -> dict[str, int]:
    """The launcher's children, by name."""
    found = {}
    for file in Path(f"/proc/{launcher}/task").glob("*/children"):
        for pid in file.read_text().split():
            with suppress(OSError):  # it ended meanwhile
                found[Path(f"/proc/{pid}/comm").read_text().strip()] = int(pid)
    return found


def worker_of(launcher: int) -> int:
    """The launcher's worker."""
    return children_of(launcher)["kumpan-work"]


def test_an_import_killed_again_and_again_is_all_there_once(short_folder: Path) -> None:
    home, port, rows = short_folder / "midway", free_port(), 10_000
    db = PrivateMariaDB(home / "real")
    running = launch(home, port)
    try:
        wait_up(port)
        client = httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60)
        pool = pool_body()
        client.post("/api/v1/pools", json=pool)
        lines = [
            f"{NOW - timedelta(hours=7 * i):%Y-%m-%dT%H:%M:%SZ},{1 + i % 30 / 10},{7 + i % 11 / 10}"
            for i in range(rows)
        ]
        id = str(uuid7())
        client.post(
            "/api/v1/imports",
            json={
                "id": id,
                "file_id": send(client, "\n".join(["when,fc,ph", *lines]).encode()),
                "pool_id": pool["id"],
            },
        )

        def job(*states: str, done: int = 0) -> dict:
            end, found = time.monotonic() + 60, None
            while time.monotonic() < end:
                try:
                    found = client.get(f"/api/v1/imports/{id}").json().get("job")
                    if found and found["state"] in states and found["done"] >= done:
                        return found
                except (httpx.HTTPError, ValueError):
                    time.sleep(0.1)
                time.sleep(0.02)
            raise AssertionError(f"never {states}: {found}")

        client.post(f"/api/v1/imports/{id}/confirm", json={"revision": job("to_confirm")["revision"]})
        for victim in ("worker", "database", "launcher"):
            job("running", done=1)
            # Acknowledged meanwhile, and nothing of the import beside it.
            assert client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(fc="3")).status_code == 201
            assert len(client.get(f"/api/v1/pools/{pool['id']}/events?limit=200").json()["events"]) < 10
            if victim == "worker":
                os.kill(worker_of(running.pid), signal.SIGKILL)
            elif victim == "database":
                os.kill(db.running_pid() or 0, signal.SIGKILL)
            else:
                running.send_signal(signal.SIGKILL)
                running.wait()
                running = launch(home, port)
        assert job("done")["message"].startswith(f"Brought in: {rows:,} tests")
        with engine_for(db.url).connect() as connection:
            assert (
                connection.execute(text("SELECT COUNT(*) FROM event WHERE job_id IS NOT NULL")).scalar()
                == rows
            )
    finally:
        running.send_signal(signal.SIGINT)
        running.communicate(timeout=60)
        db.stop()


def test_starting_twice_and_a_taken_port_are_told_plainly(short_folder: Path) -> None:
    home, port = short_folder / "twice", free_port()
    running = launch(home, port)
    try:
        wait_up(port)
        second = launch(home, port)
        assert f"already running on these data: http://127.0.0.1:{port}/" in second.communicate(timeout=30)[0]
        assert second.returncode == 0
        other = launch(short_folder / "third", port)
        assert "is taken by another program" in other.communicate(timeout=30)[0]
        assert other.returncode == 1
        # Of those who answer one is killed: the rest answer, and soon there is another.
        before = children_of(running.pid)
        os.kill(before["kumpan-web-0"], signal.SIGKILL)
        wait_up(port)
        within(10, lambda: children_of(running.pid).get("kumpan-web-0", 0) not in (0, before["kumpan-web-0"]))
        # The launcher is killed: none of its children stays.
        children = children_of(running.pid)
        running.kill()
        running.communicate(timeout=60)
        ours = {name: pid for name, pid in children.items() if name.startswith("kumpan")}
        assert len(ours) >= 2
        within(10, lambda: not any(name_of(pid) == name for name, pid in ours.items()))
        running = launch(home, port)  # which finds the database that was left running
        wait_up(port)
    finally:
        running.send_signal(signal.SIGINT)
        told = running.communicate(timeout=60)[0]
    assert "still running from an earlier start" in told and "Traceback" not in told
    assert (home / "real" / "mariadb").is_dir()


def test_database_away_is_503_and_nothing_is_half_done(short_folder: Path) -> None:
    db = PrivateMariaDB(short_folder / "away", FAST_AND_UNSAFE)
    db.start()
    engine = prepare(db, NOW)
    client = client_on(create_app(engine, clock=Clock()), raise_server_exceptions=False)
    db.stop()
    answer = client.post("/api/v1/pools", json={**pool_body(), "id": str(uuid7())})
    assert answer.status_code == 503 and answer.json()["code"] == "database_away"
    assert client.get("/api/health").status_code == 503


def test_the_worker_is_called_after_a_change_and_not_for_a_look_or_a_plan_while_typing(
    engine: Engine,
) -> None:
    calls: list[int] = []
    app = create_app(engine, clock=Clock(), beside=Beside(changed=lambda: calls.append(1)))
    with client_on(app) as client:
        pool = client.post("/api/v1/pools", json=pool_body()).json()
        assert len(calls) == 1
        typed = {"readings": readings(fc="1", ph="7.8")}
        assert client.post(f"/api/v1/pools/{pool['id']}/plan-previews", json=typed).status_code == 200
        assert client.get(f"/api/v1/pools/{pool['id']}/today").status_code == 200
        refused = client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(fc="-3"))
        assert refused.status_code == 422 and len(calls) == 1
        assert client.post(f"/api/v1/pools/{pool['id']}/tests", json=a_test(fc="3")).status_code == 201
        assert len(calls) == 2


@pytest.mark.parametrize("within", ["", "deeper/still"])
def test_a_home_that_cannot_be_is_told_plainly(tmp_path: Path, within: str) -> None:
    (tmp_path / "file").write_text("somebody's")
    home = tmp_path / "file" / within if within else tmp_path / "file"
    for command in (["start"], ["backup", str(tmp_path / "b.gz")]):
        done = subprocess.run(
            [sys.executable, "-m", "kumpan", *command],
            env=environment(KUMPAN_HOME=str(home)),
            capture_output=True,
            text=True,
            timeout=60,
        )
        told = done.stdout + done.stderr
        assert done.returncode == 1 and "Choose another folder" in told and "Traceback" not in told, told
    assert (tmp_path / "file").read_text() == "somebody's"
