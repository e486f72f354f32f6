"""Attacks on a running Kumpan that take too long for the tests: a folder of files made to swell, first starts
and restores killed at random moments. Says what each came to, peak memory and time.

Run: PYTHONPATH=src .venv/bin/python bench/attack.py [kills] [bombs] [starts] [restores], all unless told;
KUMPAN_SEED repeats a round."""

import bz2
import contextlib
import io
import json
import os
import random
import resource
import signal
import struct
import subprocess
import sys
import tempfile
import threading
import time
import zipfile
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import httpx
from fastapi.testclient import TestClient
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.actions.files import pictures
from kumpan.core.errors import InvalidInput
from kumpan.demo.load import load_demo
from kumpan.main import create_app
from kumpan.ops.backup import backup
from kumpan.ops.mariadb import FAST_AND_UNSAFE, PrivateMariaDB
from kumpan.ops.prepare import prepare
from kumpan.ops.work import Worker
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.base import Base

SEED = int(os.environ.get("KUMPAN_SEED", time.time_ns() % 10**6))
STARTS, RESTORES, KILLS = 30, 12, 40
NOW = datetime.now(UTC)
POOL = {
    "id": str(uuid7()),
    "name": "Attacked",
    "place": "",
    "time_zone": "UTC",
    "volume": {"how": "typed", "unit": "gal", "amount": "15000"},
    "surface": "plaster",
    "chlorine_source": "liquid",
    "installation": "in_ground",
    "sanitizer": "chlorine",
}


def png(side: int, mode: int = 6) -> bytes:
    """A picture of one colour, far larger unpacked than packed. mode: 6 with a mask, 2 without."""
    head = struct.pack(">IIBBBBB", side, side, 8, mode, 0, 0, 0)
    line = b"\0" + bytes(side * (4 if mode == 6 else 3))
    packer = zlib.compressobj(9)
    body = b"".join(packer.compress(line) for _ in range(side)) + packer.flush()

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", body) + chunk(b"IEND", b"")


def packed(method: int, *entries: tuple[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as z:
        for name, data in entries:
            z.writestr(name, data)
    return out.getvalue()


def lying(data: bytes, declared: int) -> bytes:
    """A packed file whose one entry says it is smaller than it unpacks to, in both its heads."""
    whole = packed(zipfile.ZIP_BZIP2, ("datapackage.json", data))
    return whole.replace(struct.pack("<I", len(data)), struct.pack("<I", declared))


def bombs() -> dict[str, Callable[[], bytes]]:
    """Made when asked for: what this process holds counts for those it begins."""
    million = 1_000_000
    return {
        "a packed file that says less than it holds": lambda: lying(bytes(1500 * million), 900),
        "a packed file of 500 MB of zeroes": lambda: packed(
            zipfile.ZIP_DEFLATED, ("datapackage.json", bytes(500 * million))
        ),
        "a packed file of 30,000 entries": lambda: packed(0, *((f"{i}.csv", b"") for i in range(30_000))),
        "a JSON document of ten million lists": lambda: b'{"events": [' + b"[]," * 10_300_000 + b"[]]}",
        "a JSON document of numbers": lambda: b'{"events": [' + b"1," * 15_000_000 + b"1]}",
        "a JSON document nested deep": lambda: b"[" * 31_000_000,
        "a JSON document of one long text": lambda: b'{"format": "' + b"\\u00e9" * 5_000_000 + b'"}',
        "a table of dates in spaces": lambda: b"Date,FC\n" + (b"1" + b" " * 1900 + b",1\n") * 3,
        "a table of long numbers": lambda: (
            b"Date,FC\n" + (b"2026-07-01 10:00," + b"1 " * 900 + b"x\n") * 3000
        ),
        "a table of 250,000 lines of 100 cells": lambda: (
            b"Date,FC\n" + (b",".join([b"1"] * 100) + b"\n") * 250_000
        ),
        "a table in one cell": lambda: b"Date,FC\n" + b'"' + b"x" * 30_000_000,
        "bytes of no kind": lambda: random.Random(SEED).randbytes(30_000_000),
        "a packed file in a packed file": lambda: bz2.compress(bytes(100 * million)),
    }


@contextmanager
def running() -> Iterator[tuple[PrivateMariaDB, TestClient]]:
    folder = Path(tempfile.mkdtemp(prefix="kumpan-attack-"))
    folder.chmod(0o711)
    db = PrivateMariaDB(folder / "db", FAST_AND_UNSAFE)
    db.start()
    engine = prepare(db, NOW)
    try:
        with TestClient(
            create_app(engine), base_url="http://127.0.0.1", raise_server_exceptions=False
        ) as client:
            yield db, client
    finally:
        db.stop()


def send(client: TestClient, data: bytes, name: str) -> str:
    id, piece = str(uuid7()), 256 * 1024
    body = {"id": id, "name": name, "size": len(data)}
    assert client.post("/api/v1/files", json=body).status_code == 201
    for i in range(-(-len(data) // piece)):
        answer = client.put(f"/api/v1/files/{id}/pieces/{i}", content=data[i * piece : (i + 1) * piece])
        assert answer.status_code == 200, answer.text
    return id


def peak_mb() -> float:
    """Of this process and of all it began and waited for."""
    return (
        max(resource.getrusage(w).ru_maxrss for w in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)) / 1024
    )


def apart(what: str, argument: str) -> tuple[str, float, float]:
    """What one of ``APART`` says, done in a process of its own; its peak memory (MB) and seconds."""
    began = time.monotonic()
    with subprocess.Popen(
        [sys.executable, "-W", "ignore", __file__, what, argument],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    ) as done:
        assert done.stdout
        told, peak = json.loads(done.stdout.read())
    return told, peak, time.monotonic() - began


def one_job(url: str) -> str:
    return str(Worker(url).do_next())


def one_picture(file: str) -> str:
    try:
        return f"{len(pictures.apart(Path(file).read_bytes())[0])} bytes kept"
    except InvalidInput as error:
        return error.message


APART = {"job": one_job, "picture": one_picture}


def attack_with_bombs() -> None:
    with running() as (db, client):
        assert client.post("/api/v1/pools", json=POOL).status_code == 201
        worst = 0.0
        for name, make in bombs().items():
            id, data = str(uuid7()), make()
            size = f"{len(data) / 1e6:.1f} MB"
            body = {"id": id, "file_id": send(client, data, "bomb"), "pool_id": POOL["id"]}
            del data
            assert client.post("/api/v1/imports", json=body).status_code == 201

            _, peak, took = apart("job", db.url)
            view = client.get(f"/api/v1/imports/{id}").json()["job"]
            worst = max(worst, peak)
            print(f"{name} ({size}): {view['state']} in {took:.1f} s, {peak:.0f} MB; {view['message']}")
        for name, data in {"a picture of 80 megapixels": png(8900), "one of 400": png(20_000, 2)}.items():
            file = db.folder / "bomb.png"
            file.write_bytes(data)
            told, peak, took = apart("picture", str(file))
            worst = max(worst, peak)
            print(f"{name} ({len(data) / 1e6:.1f} MB) in {took:.1f} s, {peak:.0f} MB; {told}")
        print(f"peak over all: {worst:.0f} MB")


def attack_first_starts() -> None:
    """Each a folder of its own, killed once or by Ctrl-C at a random moment, then started in earnest."""
    dice, good, times = random.Random(SEED), 0, []
    for number in range(STARTS):
        home = Path(tempfile.mkdtemp(prefix="kumpan-attack-"))
        env = os.environ | {"KUMPAN_HOME": str(home), "KUMPAN_PORT": str(20_000 + dice.randrange(9000))}
        begin = [sys.executable, "-m", "kumpan", "start"]
        first = subprocess.Popen(
            begin,
            env=env,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
        )
        time.sleep(dice.uniform(0.05, 4.0))
        os.killpg(first.pid, signal.SIGKILL if number % 2 else signal.SIGINT)
        told = first.communicate(timeout=60)[0]
        assert "Traceback" not in told, told
        began = time.monotonic()
        second = subprocess.Popen(begin, env=env, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
        lines = []
        assert second.stdout
        for line in second.stdout:
            lines.append(line)
            if "Kumpan is at" in line:
                good += 1
                times.append(time.monotonic() - began)
                break
        else:
            print(f"start {number} failed: {''.join(lines)}")
        second.send_signal(signal.SIGINT)
        second.communicate(timeout=60)
        PrivateMariaDB(home / "real").stop()
    slowest = f"the slowest in {max(times):.1f} s (seed {SEED})"
    print(f"first starts killed: {STARTS}; good starts after: {good}, {slowest}")


def checksums(db: PrivateMariaDB) -> tuple[tuple[object, ...], ...]:
    with db.connect("kumpan") as connection, connection.cursor() as cursor:
        cursor.execute("CHECKSUM TABLE " + ", ".join(t.name for t in Base.metadata.sorted_tables))
        return tuple(cursor.fetchall())


def attack_restores() -> None:
    """A restore killed at random moments: all is as before, or all is as in the backup."""
    dice = random.Random(SEED)
    folder = Path(tempfile.mkdtemp(prefix="kumpan-attack-"))
    folder.chmod(0o711)
    home, file = folder / "home", folder / "b.sql.gz"
    db = PrivateMariaDB(home / "real")
    db.start()
    engine = prepare(db, NOW)
    load_demo(engine, NOW)
    backup(db, file, NOW)
    restored = checksums(db)
    with Session(engine) as session:
        session.query(Account).update({"name": "Changed since"})
        session.commit()
    engine.dispose()
    before, counted = checksums(db), {"before": 0, "restored": 0, "neither": 0}
    changed = folder / "changed.sql.gz"
    backup(db, changed, NOW)
    db.stop()
    env = os.environ | {"KUMPAN_HOME": str(home)}
    for _ in range(RESTORES):
        running_ = subprocess.Popen(
            [sys.executable, "-m", "kumpan", "restore", str(file)],
            env=env,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        time.sleep(dice.uniform(0.5, 4.0))
        running_.kill()
        running_.wait()
        db.start()
        now = checksums(db)
        counted["before" if now == before else "restored" if now == restored else "neither"] += 1
        db.stop()
        if now != before:
            subprocess.run(
                [sys.executable, "-m", "kumpan", "restore", str(changed)],
                env=env,
                check=True,
                stdout=subprocess.DEVNULL,
            )
    found = ", ".join(f"{n} {state}" for state, n in counted.items())
    print(f"restores killed: {RESTORES}; data after it: {found} (seed {SEED})")


def attack_under_writes() -> None:
    """Server and database killed in turn while tests are written: what was acknowledged is there once."""
    dice, home = random.Random(SEED), Path(tempfile.mkdtemp(prefix="kumpan-attack-"))
    port = 20_000 + dice.randrange(9000)
    env = os.environ | {"KUMPAN_HOME": str(home), "KUMPAN_PORT": str(port)}
    base, db = f"http://127.0.0.1:{port}/api/v1", PrivateMariaDB(home / "real")
    acknowledged: list[str] = []
    over = threading.Event()

    def start() -> subprocess.Popen[bytes]:
        return subprocess.Popen([sys.executable, "-m", "kumpan", "start"], env=env, stdout=subprocess.DEVNULL)

    def answered(what: str, path: str, **more: Any) -> httpx.Response | None:
        with contextlib.suppress(httpx.HTTPError):
            return httpx.request(what, base + path, timeout=20, **more)
        return None

    def write(pool_id: str) -> None:
        read = [{"measure": "fc", "text": "3", "unit": "ppm", "method": "drops"}]
        body = {"id": str(uuid7()), "at": NOW.isoformat(), "readings": read}
        while not over.is_set():
            answer = answered("POST", f"/pools/{pool_id}/tests", json=body)
            if answer is not None and answer.status_code == 201:
                acknowledged.append(body["id"])
                body = body | {"id": str(uuid7())}
            else:
                time.sleep(0.05)

    running_ = start()
    while answered("GET", "/pools") is None:
        time.sleep(0.1)
    assert answered("POST", "/pools", json=POOL)
    writers = [threading.Thread(target=write, args=(POOL["id"],)) for _ in range(4)]
    for w in writers:
        w.start()
    for number in range(KILLS):
        time.sleep(dice.uniform(0.5, 4.0))
        if number % 2:
            running_.kill()
            running_.wait()
            running_ = start()
        elif pid := db.running_pid():
            os.kill(pid, signal.SIGKILL)
    time.sleep(5)
    over.set()
    for w in writers:
        w.join()
    stored: list[str] = []
    cursor: str | None = ""
    while cursor is not None:
        page = answered(
            "GET", f"/pools/{POOL['id']}/events?limit=200" + (f"&cursor={cursor}" if cursor else "")
        )
        assert page is not None
        stored += [e["id"] for e in page.json()["events"]]
        cursor = page.json()["next"]
    lost, doubled = set(acknowledged) - set(stored), len(stored) - len(set(stored))
    running_.send_signal(signal.SIGINT)
    running_.wait()
    print(
        f"kills under writes: {KILLS}; acknowledged {len(acknowledged)}, lost {len(lost)}, doubled {doubled}"
    )


ATTACKS = {
    "kills": attack_under_writes,
    "bombs": attack_with_bombs,
    "starts": attack_first_starts,
    "restores": attack_restores,
}

if __name__ == "__main__":
    if sys.argv[1:] and sys.argv[1] in APART:
        print(json.dumps([APART[sys.argv[1]](sys.argv[2]), peak_mb()]))
        sys.exit()
    for name in sys.argv[1:] or ATTACKS:
        ATTACKS[name]()
