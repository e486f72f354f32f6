"""Tables of readings brought in: looked through, matched, doubted, written all or nothing, taken back; and
the work behind it.
"""

import threading
from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text
from sqlalchemy.exc import DataError
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions import work
from kumpan.actions.context import Context
from kumpan.actions.jobs import jobs
from kumpan.actions.jobs.run import claim, let_go, run_next
from kumpan.actions.work import Outcome
from kumpan.ops.inbox import take_dropped
from kumpan.ops.work import STAGES
from kumpan.store import database
from kumpan.store.tables.jobs import Job
from support import (
    NOW,
    Clock,
    a_test,
    engine_sessions,
    looked_through,
    picture,
    pool_body,
    problem,
    send,
    work_off,
)

REPORT = (
    "Pool report;;;;\r\nDatum;Zeit;Free chlorine (mg/l);pH;Alkalinity [mmol/l];Temp;Remarks;Operator\r\n"
    "13.05.2026;08:15;1,25;7,4;1,6;24,5;;Robin\r\n"
    "14.05.2026;08:20;0,8;7,6;;25;cloudy;Robin\r\n"
    "15.05.2026;08:10;<0,02;7,9;1,7;25;;Robin\r\n"
)


def settings_of(view: dict[str, Any], **more: Any) -> dict[str, Any]:
    told = view["preview"]["settings"]
    columns = [{"role": c["role"], "unit": c["unit"]} for c in told["columns"]]
    return {
        "pool_id": view["preview"]["pool_id"],
        "revision": view["job"]["revision"],
        "columns": columns,
        **{k: told[k] for k in ("order", "decimal", "method", "exclude")},
    } | more


def say_yes(client: TestClient, engine: Engine, view: dict[str, Any]) -> dict[str, Any]:
    answer = client.post(
        f"/api/v1/imports/{view['job']['id']}/confirm", json={"revision": view["job"]["revision"]}
    )
    assert answer.status_code == 200, answer.text
    work_off(engine)
    return client.get(f"/api/v1/imports/{view['job']['id']}").json()["job"]


def log_of(client: TestClient, pool: dict) -> list[dict[str, Any]]:
    return client.get(f"/api/v1/pools/{pool['id']}/events?limit=200").json()["events"]


def test_a_report_becomes_tests_after_a_look_and_goes_again(
    client: TestClient, engine: Engine, pool: dict, clock: Clock
) -> None:
    view = looked_through(client, engine, pool, REPORT.encode("utf-16"))
    seen = view["preview"]
    assert (seen["encoding"], seen["separator"], seen["settings"]["decimal"], seen["settings"]["order"]) == (
        "UTF-16",
        ";",
        "comma",
        "dmy",
    )
    assert [c["role"] for c in seen["columns"]] == [
        "date",
        "time",
        "fc",
        "ph",
        "ta",
        "temp",
        "note",
        "performed_by",
    ]  # the first by what it holds
    assert "Datum: Taken as the date by what it holds." in seen["remarks"] and log_of(client, pool) == []
    columns = settings_of(view)["columns"]
    for role, columns_now, problem_now in (
        ("", columns, "Say which column holds the date."),
        ("date", columns, ""),
    ):
        columns_now[0]["role"] = role
        assert (
            client.put(
                f"/api/v1/imports/{view['job']['id']}", json=settings_of(view, columns=columns_now)
            ).status_code
            == 200
        )
        work_off(engine)
        view = client.get(f"/api/v1/imports/{view['job']['id']}").json()
        assert view["preview"]["problem"] == problem_now
    seen = view["preview"]
    assert (seen["problem"], seen["new"], seen["notes"], seen["bad"], seen["doubtful"]) == ("", 3, 1, 0, 1)
    assert (
        seen["doubtful_told"][0]["line"] == 5 and seen["doubtful_told"][0]["column"] == "Free chlorine (mg/l)"
    )
    # 1.6 mmol/L of acid capacity are 80 ppm as CaCO3 (50.04 a mmol)
    assert seen["tests"][0] == {
        "line": 3,
        "local": "2026-05-13 08:15",
        "performed_by": "Robin",
        "readings": "FC 1.25, pH 7.4, TA 80, Water 24.5 °C",
        "note": "",
    }
    done = say_yes(client, engine, view)
    assert (done["state"], done["message"]) == ("done", f"Brought in: 3 tests and 1 note in {pool['name']}.")
    brought = log_of(client, pool)
    assert [e["kind"] for e in brought].count("water_test") == 3 and [
        e["note"] for e in brought if e["kind"] == "note"
    ] == ["cloudy"]
    again = looked_through(client, engine, pool, REPORT.replace("Datum", "Date").encode())
    assert (again["preview"]["new"], again["preview"]["notes"], again["preview"]["again"]) == (0, 0, 3)
    problem(
        client.post(
            f"/api/v1/imports/{again['job']['id']}/confirm", json={"revision": again["job"]["revision"]}
        ),
        422,
        "nothing_new",
        "columns",
    )
    # An entry deleted by hand since stays deleted, whatever becomes of the import.
    client.delete(f"/api/v1/events/{brought[0]['id']}")
    before = log_of(client, pool)
    clock.now += timedelta(minutes=1)
    assert client.post(f"/api/v1/imports/{view['job']['id']}/revert").json()["taken_back"] is True
    assert log_of(client, pool) == []
    client.post(f"/api/v1/imports/{view['job']['id']}/revert")  # twice: the same
    back = client.post(f"/api/v1/imports/{view['job']['id']}/restore").json()
    assert back["taken_back"] is False and log_of(client, pool) == before
    assert (
        client.delete(f"/api/v1/jobs/{view['job']['id']}").status_code == 204
        and log_of(client, pool) == before
    )


def test_bad_rows_stop_everything_until_left_out(client: TestClient, engine: Engine, pool: dict) -> None:
    rows = [
        "when,ph,fc",
        "2026-05-01 10:00,7.4,2",
        "2026-05-02 10:00,seven,2",
        "2026-05-32 10:00,7.4,2",
        "2026-05-04 10:00,7.4,40",
        "2027-05-04,7.4,1",
    ]
    view = looked_through(client, engine, pool, "\n".join(rows).encode())
    assert [(t["line"], t["column"], t["message"]) for t in view["preview"]["bad_told"]] == [
        (3, "ph", "“seven” is not a number."),
        (4, "when", "“2026-05-32 10:00” is no date read as year, month, day."),
        (6, "when", "“2027-05-04” is in the future."),
    ]
    assert [t["line"] for t in view["preview"]["doubtful_told"]] == [5, 5]
    url = f"/api/v1/imports/{view['job']['id']}"
    problem(
        client.post(f"{url}/confirm", json={"revision": view["job"]["revision"]}), 422, "bad_rows", "exclude"
    )
    for exclude, new in (("bad", 2), ("doubtful", 1)):
        client.put(url, json=settings_of(view, exclude=exclude))
        work_off(engine)
        view = client.get(url).json()
        assert view["preview"]["new"] == new
    problem(
        client.post(f"{url}/confirm", json={"revision": view["job"]["revision"] - 1}),
        409,
        "changed_meanwhile",
    )
    assert say_yes(client, engine, view)["message"].startswith("Brought in: 1 test in")
    assert [e["detail"] for e in log_of(client, pool)] == ["FC 2.0, pH 7.4"]
    problem(client.put(url, json=settings_of(view)), 409, "changed_meanwhile")


@pytest.mark.parametrize(
    ("change", "field", "code"),
    [({"order": "dym"}, "order", "unknown_choice"), ({"method": "guess"}, "method", "unknown_choice"), ({"decimal": ";"}, "decimal", "unknown_choice"),
     ({"columns": [{"role": "colour"}]}, "columns.0.role", "unknown_choice"), ({"columns": [{"role": "ta", "unit": "f"}]}, "columns.0.unit", "unknown_unit"),
     ({"exclude": "all"}, "exclude", "unknown_choice")],
)  # fmt: skip
def test_a_matching_that_cannot_be_is_told_at_its_field(
    client: TestClient, engine: Engine, pool: dict, change: dict, field: str, code: str
) -> None:
    view = looked_through(client, engine, pool, b"when,ph\n2026-05-01,7.4\n")
    problem(
        client.put(f"/api/v1/imports/{view['job']['id']}", json=settings_of(view) | change), 422, code, field
    )


def test_a_matching_changed_while_it_is_looked_through_counts(
    client: TestClient, engine: Engine, pool: dict
) -> None:
    view = looked_through(client, engine, pool, b"when,ph,x\n2026-05-01,7.4,80\n")
    url = f"/api/v1/imports/{view['job']['id']}"
    columns = settings_of(view)["columns"]
    first = client.put(
        url, json=settings_of(view, columns=[*columns[:2], {"role": "ch", "unit": "ppm"}])
    ).json()

    def slow(context: Context, *rest: Any) -> Outcome:
        """While it looks, the person chooses otherwise."""
        later = settings_of(
            view, columns=[*columns[:2], {"role": "ta", "unit": "ppm"}], revision=first["revision"]
        )
        assert client.put(url, json=later).status_code == 200
        return STAGES["readings", "check"](context, *rest)

    assert run_next(engine_sessions(engine), "slow", {("readings", "check"): slow}, Clock())
    assert client.get(url).json()["job"]["state"] == "waiting"
    for _ in range(6):  # taken up and changed again and again: that is no job that takes its workers down
        with Session(engine) as session:
            assert claim(session, "busy") is not None
            session.commit()
        last = settings_of(
            view,
            columns=[*columns[:2], {"role": "ta", "unit": "ppm"}],
            revision=client.get(url).json()["job"]["revision"],
        )
        assert client.put(url, json=last).status_code == 200
    work_off(engine)
    assert client.get(url).json()["preview"]["tests"][0]["readings"] == "pH 7.4, TA 80"


def test_what_is_no_table_fails_plainly_and_leaves_nothing(
    client: TestClient, engine: Engine, pool: dict
) -> None:
    view = looked_through(client, engine, pool, b"%PDF-1.7 whatever")
    assert view["job"]["state"] == "failed" and "PDF" in view["job"]["message"] and view["preview"] is None
    body = {"id": str(uuid7()), "file_id": send(client, b"when,ph\n2026-05-01,7.4\n")}
    problem(client.post("/api/v1/imports", json=body), 422, "missing", "pool_id")
    assert client.delete(f"/api/v1/jobs/{view['job']['id']}").status_code == 204
    assert [j["id"] for j in client.get("/api/v1/jobs").json()] == []


def test_tests_taken_out_as_csv_come_back_as_the_same_tests(
    client: TestClient, engine: Engine, pool: dict
) -> None:
    url = f"/api/v1/pools/{pool['id']}"
    for day, values in enumerate(
        (
            {"fc": "3.5", "cc": "0.2", "ph": "7.5", "temp": "84"},
            {"ta": "90", "ch": "250", "cya": "40", "salt": "3100"},
            {"fc": "2", "tc": "2.5"},
        )
    ):
        client.post(
            f"{url}/tests",
            json=a_test(at=NOW - timedelta(days=day + 1), **values) | {"performed_by": "=cmd()"},
        )
    out = client.get(f"{url}/tests.csv").content
    assert b"'=cmd()" in out
    view = looked_through(client, engine, pool, out)
    assert (view["preview"]["again"], view["preview"]["new"], view["preview"]["bad"]) == (3, 0, 0)
    told = [(e["at"], e["detail"]) for e in log_of(client, pool)]
    for event in log_of(client, pool):
        client.delete(f"/api/v1/events/{event['id']}")
    view = looked_through(client, engine, pool, out)
    say_yes(client, engine, view)
    assert [(e["at"], e["detail"]) for e in log_of(client, pool)] == told


# --- the work behind it


def waiting(engine: Engine, kind: str = "readings", **more: Any) -> Job:
    with Session(engine, expire_on_commit=False) as session:
        account = session.execute(text("SELECT id FROM account")).scalar_one()
        job = Job(
            id=uuid7(),
            account_id=account,
            kind=kind,
            state="waiting",
            stage="check",
            parameters={},
            result={},
            created_at=NOW,
            **more,
        )
        session.add(job)
        session.commit()
        return job


def state(engine: Engine, job: Job) -> tuple[str, str | None]:
    with engine.connect() as connection:
        return tuple(
            connection.execute(text("SELECT state, worker FROM job WHERE id = :id"), {"id": job.id.hex}).one()
        )  # type: ignore[return-value]


def test_each_of_many_jobs_is_done_by_one_of_many_workers(engine: Engine) -> None:
    jobs = [waiting(engine) for _ in range(12)]
    done: list[Any] = []
    gate = threading.Barrier(4)

    def stage(context: Context, job: Job, progress: Any) -> Outcome:
        done.append(job.id)
        return Outcome("done")

    def worker(name: str) -> None:
        gate.wait()
        while run_next(engine_sessions(engine), name, {("readings", "check"): stage}, Clock()):
            pass

    threads = [threading.Thread(target=worker, args=(f"w{i}",)) for i in range(4)]
    [t.start() for t in threads]
    [t.join() for t in threads]
    assert sorted(done) == sorted(j.id for j in jobs) and {state(engine, j) for j in jobs} == {("done", None)}


def test_a_lease_runs_out_and_the_late_worker_changes_nothing(
    engine: Engine, client: TestClient, pool: dict
) -> None:
    job = waiting(engine)

    def slow(context: Context, own: Job, progress: Any) -> Outcome:
        """While it works its lease runs out, and another worker does the job."""
        context.session.execute(text("UPDATE pool SET name = 'half done'"))
        with engine.begin() as other:
            other.execute(text("UPDATE job SET lease_until = UTC_TIMESTAMP(6) - INTERVAL 1 SECOND"))
        assert run_next(
            engine_sessions(engine),
            "second",
            {("readings", "check"): lambda *_: Outcome("done", {"by": "second"})},
            Clock(),
        )
        return Outcome("done", {"by": "first"})

    assert run_next(engine_sessions(engine), "first", {("readings", "check"): slow}, Clock())
    with engine.connect() as connection:
        assert "second" in connection.execute(text("SELECT result FROM job")).scalar_one()
    assert (
        state(engine, job) == ("done", None)
        and client.get(f"/api/v1/pools/{pool['id']}").json()["name"] == pool["name"]
    )


def test_a_cancelled_job_stops_and_leaves_nothing(
    engine: Engine, client: TestClient, pool: dict, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(work, "_SAID_EVERY_S", 0.0)
    job = waiting(engine)

    def stage(context: Context, own: Job, progress: Any) -> Outcome:
        context.session.execute(text("UPDATE pool SET name = 'half done'"))
        progress(1, 10)
        assert client.get("/api/v1/jobs").json()[0]["done"] == 1  # seen while it runs
        assert client.post(f"/api/v1/jobs/{job.id}/cancel").json()["message"] == "Stopping …"
        progress(2, 10)
        raise AssertionError("went on")

    with engine.begin() as connection:
        connection.execute(text('UPDATE job SET parameters = \'{"name": "x.csv"}\''))
    assert run_next(engine_sessions(engine), "w", {("readings", "check"): stage}, Clock())
    assert (
        state(engine, job) == ("cancelled", None)
        and client.get(f"/api/v1/pools/{pool['id']}").json()["name"] == pool["name"]
    )
    problem(
        client.post(
            f"/api/v1/imports/{job.id}/confirm",
            json={"revision": client.get("/api/v1/jobs").json()[0]["revision"]},
        ),
        409,
        "not_asking",
    )


def test_a_job_that_takes_its_workers_down_is_given_up(engine: Engine) -> None:
    job = waiting(engine)
    for i in range(4):
        with Session(engine) as session:
            assert claim(session, f"w{i}") is not None
            session.commit()
        assert state(engine, job) == ("running", f"w{i}")
        let_go(engine_sessions(engine), f"w{i}")
    assert run_next(engine_sessions(engine), "w5", STAGES, Clock())
    assert state(engine, job) == ("failed", None)


def test_a_dropped_file_is_asked_about_once(
    engine: Engine, client: TestClient, pool: dict, tmp_path: Any
) -> None:
    other = client.post("/api/v1/pools", json=pool_body(name="Quarry Row")).json()
    (tmp_path / "quarry row").mkdir()
    (tmp_path / "quarry row" / "a.csv").write_text("when,ph\n2026-05-01,7.4\n")
    (tmp_path / "b.csv").write_text("when,ph\n2026-05-01,7.5\n")
    (tmp_path / ".hidden").write_text("x")
    (tmp_path / "empty.csv").touch()
    later = NOW + timedelta(days=3650)
    assert take_dropped(engine_sessions(engine), tmp_path, later) == 2
    assert take_dropped(engine_sessions(engine), tmp_path, later) == 0
    jobs = client.get("/api/v1/jobs").json()
    work_off(engine)
    pools = {j["title"]: client.get(f"/api/v1/imports/{j['id']}").json()["preview"]["pool"] for j in jobs}
    assert pools == {"Readings from a.csv": other["name"], "Readings from b.csv": pool["name"]}
    assert len(list((tmp_path / "taken").iterdir())) == 2


def test_what_nobody_needs_any_more_goes_and_what_is_used_stays(
    client: TestClient, engine: Engine, pool: dict
) -> None:
    kept = looked_through(client, engine, pool, b"when,ph\n2026-05-01,7.4\n")
    done = say_yes(client, engine, looked_through(client, engine, pool, b"when,ph\n2026-05-02,7.4\n"))
    note = client.post(
        f"/api/v1/pools/{pool['id']}/entries",
        json={"id": str(uuid7()), "at": NOW.isoformat(), "kind": "note", "note": "x"},
    ).json()
    photo = client.post(
        "/api/v1/photos",
        json={"id": str(uuid7()), "file_id": send(client, picture()), "event_id": note["id"]},
    ).json()
    client.post("/api/v1/exports", json={"id": str(uuid7()), "kind": "account_json"})
    work_off(engine)
    send(client, b"never used")

    def files() -> int:
        with engine.connect() as connection:
            return int(connection.execute(text("SELECT COUNT(*) FROM file")).scalar_one())

    for days, left, kinds in (
        (0.5, 5, 3),
        (2, 4, 3),
        (8, 2, 2),
        (40, 2, 2),
        (48, 1, 2),
    ):  # the question not answered ends after 30 days, its file a week later
        with Session(engine) as session:
            jobs.tidy(session, NOW + timedelta(days=days))
            session.commit()
        assert (days, files(), len(client.get("/api/v1/jobs").json())) == (days, left, kinds)
    assert client.get(f"/api/v1/imports/{kept['job']['id']}").json()["job"]["state"] == "cancelled"
    assert client.get(photo["url"]).status_code == 200
    assert (
        client.post(f"/api/v1/imports/{done['id']}/revert").json()["taken_back"] is True
    )  # long after its file went


def test_a_write_that_fails_leaves_the_connection_looking_at_foreign_keys(engine: Engine) -> None:
    sessions = engine_sessions(engine)

    def work(session: Session) -> None:
        with database.parents_taken_for_granted(session):
            session.add(
                Job(
                    id=uuid7(),
                    account_id=uuid7(),
                    kind="x" * 30,
                    state="waiting",
                    stage="check",
                    parameters={},
                    result={},
                    created_at=NOW,
                )
            )
            session.flush()  # its kind is too long: the session is of no use any more

    with pytest.raises(DataError):
        database.run(sessions, work)
    for _ in range(12):  # every connection of the pool
        with engine.connect() as connection:
            assert connection.execute(text("SELECT @@SESSION.foreign_key_checks")).scalar() == 1
