"""The worker: whatever a job or a dropped file does ends that job or file alone."""

import io
import os
import signal
import threading
import time
import zipfile
from collections.abc import Iterator
from contextlib import suppress
from datetime import timedelta
from pathlib import Path
from typing import Any
from uuid import UUID

import pytest
from sqlalchemy import Engine, select, text, update
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions.context import Context
from kumpan.actions.files import pictures
from kumpan.actions.transfer.account_file import opened
from kumpan.actions.work import Outcome, Progress
from kumpan.core.errors import InvalidInput
from kumpan.core.intake.moments import looks_dated
from kumpan.ops import work
from kumpan.ops.inbox import take_dropped
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.store import files
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.jobs import Job
from support import NOW, engine_sessions, picture


@pytest.fixture
def worker(engine: Engine, server: PrivateMariaDB) -> Iterator[work.Worker]:
    """One with an input that stays open."""
    before, (reads, writes) = os.dup(0), os.pipe()
    os.dup2(reads, 0)
    yield work.Worker(server.url)
    os.dup2(before, 0)
    for file in (before, reads, writes):
        os.close(file)


def add_job(engine: Engine, data: bytes = b"", kind: str = "account_in") -> UUID:
    with Session(engine) as session:
        account = session.scalars(select(Account)).one()
        file = files.new_file(account.id, "x", "application/octet-stream", NOW)
        files.write_file(session, file, [data])
        job = Job(
            id=uuid7(),
            account_id=account.id,
            kind=kind,
            state="waiting",
            stage="check",
            parameters={"name": "x"},
            result={},
            in_file_id=file.id,
            created_at=NOW,
        )
        session.add(job)
        session.commit()
        return job.id


def how(engine: Engine, id: UUID) -> tuple[str, str]:
    with Session(engine) as session:
        job = session.get_one(Job, id)
        return job.state, job.result.get("message", "")


def stage(monkeypatch: pytest.MonkeyPatch, does: Any) -> None:
    def run(context: Context, job: Job, progress: Progress) -> Outcome:
        does()
        return Outcome("to_confirm", {"message": "through"})

    monkeypatch.setitem(work.STAGES, ("account_in", "check"), run)


def spin() -> None:
    while True:
        pass


def eat() -> None:
    held = []
    while True:
        held.append(bytes(1_000_000))


def end_badly() -> None:
    os._exit(77)


@pytest.mark.parametrize(
    ("does", "state", "says"),
    [
        (lambda: None, "to_confirm", "through"),
        (eat, "failed", "memory"),
        (spin, "failed", "no end"),
        (end_badly, "failed", "went wrong"),
        (lambda: 1 / 0, "failed", "went wrong"),
    ],
    ids=["well", "eats", "spins", "ends", "raises"],
)
def test_a_job_ends_alone_whatever_it_does(
    worker: work.Worker, engine: Engine, monkeypatch: pytest.MonkeyPatch, does: Any, state: str, says: str
) -> None:
    monkeypatch.setattr(work, "MOST_BYTES", 40_000_000)
    monkeypatch.setattr(work, "_MOST_CPU_S", 1)
    first = add_job(engine)
    stage(monkeypatch, does)
    assert worker.do_next() and not worker.do_next()
    assert how(engine, first)[0] == state and says in how(engine, first)[1]
    second = add_job(engine)
    stage(monkeypatch, lambda: None)
    assert worker.do_next() and how(engine, second)[0] == "to_confirm"


def test_a_document_that_swells_is_refused(
    worker: work.Worker, engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(work, "MOST_BYTES", 60_000_000)
    id = add_job(engine, b'{"events": [' + b"[]," * 2_000_000 + b"[]]}")
    assert worker.do_next()
    assert how(engine, id)[0] == "failed" and "memory" in how(engine, id)[1]


def test_one_that_does_not_stop_when_asked_is_stopped(
    worker: work.Worker, engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(work, "_PATIENCE_S", 0.3)
    id = add_job(engine)
    stage(monkeypatch, spin)

    def ask() -> None:
        time.sleep(0.5)
        with engine.begin() as c:
            c.execute(update(Job).values(cancel_asked=True))

    asking = threading.Thread(target=ask)
    asking.start()
    assert worker.do_next()
    asking.join()
    assert how(engine, id)[0] == "cancelled"


def test_one_killed_from_outside_is_taken_up_again_though_not_for_ever(
    worker: work.Worker, engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    id = add_job(engine)
    stage(monkeypatch, lambda: os.kill(os.getpid(), signal.SIGKILL))
    for _ in range(4):
        assert worker.do_next() and how(engine, id)[0] == "waiting"
    assert worker.do_next() and how(engine, id)[0] == "failed" and "several times" in how(engine, id)[1]


def test_what_workers_of_before_held_is_freed_whoever_has_their_number_now(
    worker: work.Worker, engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    id = add_job(engine)
    holder = worker.name.rsplit("-", 2)[0] + "-1-5"  # the first process of all is another user's
    with engine.begin() as c:
        c.execute(update(Job).values(state="running", worker=holder))

    def another_users(pid: int, number: int) -> None:
        raise PermissionError

    monkeypatch.setattr(os, "kill", another_users)
    work._let_go_of_the_dead(worker.sessions)
    assert how(engine, id)[0] == "waiting"


def test_a_worker_that_is_killed_leaves_no_job_running(
    worker: work.Worker, engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    add_job(engine)
    stage(monkeypatch, spin)
    pid = os.fork()
    if pid == 0:
        with suppress(BaseException):
            worker.do_next()
        os._exit(0)
    children = Path(f"/proc/{pid}/task/{pid}/children")
    end = time.monotonic() + 20
    while not (found := children.read_text().split()) or "kumpan-job" not in named(found[0]):
        assert time.monotonic() < end
        time.sleep(0.02)
    os.kill(pid, signal.SIGKILL)
    os.waitpid(pid, 0)
    while "kumpan-job" in named(found[0]):
        assert time.monotonic() < end
        time.sleep(0.02)


def named(pid: str) -> str:
    with suppress(OSError):
        return Path(f"/proc/{pid}/comm").read_text()
    return ""


# --- What is foretold.


def test_a_forecast_that_cannot_be_worked_out_stops_nothing_else(
    worker: work.Worker,
    demo_engine: Engine,
    monkeypatch: pytest.MonkeyPatch,
    caplog: pytest.LogCaptureFixture,
) -> None:
    monkeypatch.setattr(work, "_now", lambda: NOW)
    worker.foretell()
    with demo_engine.connect() as c:
        pools = c.execute(text("SELECT COUNT(DISTINCT pool_id), COUNT(DISTINCT made_at) FROM forecast")).one()
    assert tuple(pools) == (6, 1)
    monkeypatch.setattr(worker.maker, "make_due", lambda now: 1 / 0)
    with caplog.at_level("ERROR", "kumpan"):
        worker.foretell()
    assert "forecast" in caplog.text and not worker.do_next()


# --- Files that are dropped.


def test_the_inbox_takes_plain_files_of_any_name_and_follows_nothing(engine: Engine, tmp_path: Path) -> None:
    inbox, elsewhere = tmp_path / "inbox", tmp_path / "elsewhere"
    (inbox / "Garden").mkdir(parents=True)
    elsewhere.mkdir()
    table = b"Date,FC\n2026-07-01 10:00,3\n"
    names = [
        b"\xff\xfe odd.csv",
        b"two\nlines.csv",
        "ü".encode() * 125 + b".csv",
        b"-rf",
        b"a\x7f\x1b[31m.csv",
        b"'; --",
    ]
    for number, name in enumerate(names):
        path = os.fsencode(inbox) + b"/" + name
        Path(os.fsdecode(path)).write_bytes(b'{"number": %d}' % number)
    (elsewhere / "mine.csv").write_bytes(table)
    (inbox / "folder").symlink_to(elsewhere)
    (inbox / "file.csv").symlink_to(elsewhere / "mine.csv")
    os.mkfifo(inbox / "pipe.csv")
    (inbox / "Garden" / "deeper").mkdir()
    (inbox / "Garden" / "deeper" / "x.csv").write_bytes(table)
    (inbox / "nothing.csv").touch()
    later = NOW + timedelta(days=900)
    assert take_dropped(engine_sessions(engine), inbox, later) == len(names)
    assert take_dropped(engine_sessions(engine), inbox, later) == 0
    assert len(list((inbox / "taken").iterdir())) == len(names)
    assert [p.name for p in elsewhere.iterdir()] == ["mine.csv"]
    with engine.connect() as c:
        told = c.execute(text("SELECT JSON_VALUE(parameters, '$.name') FROM job")).scalars().all()
    assert len(told) == len(names) and all(name.isprintable() for name in told)


# --- What files hold that swells, or is hidden.


def test_cells_are_matched_in_no_time_and_only_up_to_a_length() -> None:
    assert looks_dated("4   Jul \t 2026   10:00")
    for cell in ("1" + " " * 1990 + "2", "1 1" + " " * 1990 + "x", "1" + " -" * 990):
        assert not looks_dated(cell)


def test_a_packed_file_is_read_in_plain_ways_alone() -> None:
    for method in (zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", method) as z:
            z.writestr("datapackage.json", "{}")
        with pytest.raises(InvalidInput, match="plain ZIP"):
            opened(out.getvalue())


def test_nothing_is_kept_behind_a_pictures_end() -> None:
    plain, width, height = pictures.encoded_anew(picture())
    assert pictures.kept_as_is(plain) == (plain, width, height)
    for hidden in (b"PK\x03\x04 hidden", b"x\xff\xd9", b"\0"):
        kept, *size = pictures.kept_as_is(plain + hidden)
        assert size == [width, height] and kept != plain + hidden and kept.endswith(b"\xff\xd9")


def test_a_picture_is_read_apart_as_it_is_here() -> None:
    data = picture()
    assert pictures.apart(data) == pictures.encoded_anew(data)
    for bad in (b"no picture", data[:200]):
        with pytest.raises(InvalidInput) as here:
            pictures.encoded_anew(bad)
        with pytest.raises(InvalidInput) as there:
            pictures.apart(bad)
        assert here.value.fields == there.value.fields


def test_a_fault_of_our_own_is_not_called_the_pictures(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pictures.sys, "executable", "/bin/false")
    with pytest.raises(RuntimeError, match="reading a picture failed"):
        pictures.apart(picture())
