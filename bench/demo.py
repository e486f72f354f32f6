"""The demo in a database of its own, for the benches that look at it."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.demo.load import load_demo
from kumpan.ops.mariadb import FAST_AND_UNSAFE, PrivateMariaDB
from kumpan.store import migrate
from kumpan.store.database import engine_for
from kumpan.store.tables.accounts import Account


@contextmanager
def demo(now: datetime) -> Iterator[tuple[Engine, Path]]:
    """An engine on the demo as it is at an instant, and the folder it lies in."""
    folder = Path(tempfile.mkdtemp(prefix="kumpan-bench-"))
    db = PrivateMariaDB(folder / "db", FAST_AND_UNSAFE)
    db.start()
    try:
        engine = engine_for(db.url)
        migrate.upgrade(engine)
        with Session(engine) as session:
            session.add(Account(id=uuid7(), name="Bench", created_at=now))
            session.commit()
        load_demo(engine, now)
        yield engine, folder
    finally:
        db.stop()
