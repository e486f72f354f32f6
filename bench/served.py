"""The demo served as in earnest, by several processes on a durable database, for the benches that put load on
it; with one more route, which inserts a row and does nothing else."""

import os
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import text
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.demo.load import load_demo
from kumpan.main import create_app
from kumpan.ops.children import Children
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.ops.serve import MOST_CONNECTIONS, _answer
from kumpan.store import migrate
from kumpan.store.database import engine_for
from kumpan.store.tables.accounts import Account


@dataclass(frozen=True)
class Served:
    """Where it and its database answer, and the processes that do: Kumpan's, and the database's."""

    url: str
    socket: str
    web: tuple[int, ...]
    database: int

    def cpu_s(self) -> tuple[float, float]:
        """What they have used so far: Kumpan's, and the database's."""
        return sum(map(_cpu_s, self.web)), _cpu_s(self.database)


def _cpu_s(pid: int) -> float:
    fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")


@contextmanager
def served(workers: int) -> Iterator[Served]:
    """The demo as it is now."""
    db = PrivateMariaDB(Path(tempfile.mkdtemp(prefix="kumpan-bench-")) / "db")
    db.start()
    children = Children()
    listener = socket.socket()
    try:
        engine = engine_for(db.url, MOST_CONNECTIONS // workers)
        migrate.upgrade(engine)
        now = datetime.now(UTC)
        with Session(engine) as session:
            session.add(Account(id=uuid7(), name="Bench", created_at=now))
            session.execute(
                text("CREATE TABLE bare (id UUID PRIMARY KEY, at DATETIME(6), note TEXT, value DOUBLE)")
            )
            session.commit()
        load_demo(engine, now)
        engine.dispose()
        app = create_app(engine)

        @app.post("/api/bare", status_code=201)
        def bare(body: dict[str, object]) -> dict[str, object]:
            with app.state.sessions() as session:
                session.execute(
                    text("INSERT INTO bare VALUES (UUID(), NOW(6), :note, :value)"),
                    {"note": str(body["note"]), "value": 7.5},
                )
                session.commit()
            return body

        listener.bind(("127.0.0.1", 0))
        listener.listen(128)
        for number in range(workers):
            children.begin(f"bench-web-{number}", lambda: _answer(app, listener))
        time.sleep(1)
        pid = db.running_pid()
        assert pid is not None
        url = f"http://127.0.0.1:{listener.getsockname()[1]}"
        yield Served(url, str(db.socket), tuple(children.running), pid)
    finally:
        listener.close()
        children.end()
        db.stop()


def elsewhere(*arguments: str) -> str:
    """What a bench prints that runs in a process of its own, as clients do."""
    done = subprocess.run([sys.executable, *arguments], check=True, capture_output=True, text=True)
    return done.stdout
