"""Bring a database to where this code can use it."""

import json
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session
from uuid6 import uuid7

from kumpan.ops.backup import backup
from kumpan.ops.folder import make_folder
from kumpan.ops.mariadb import PrivateMariaDB
from kumpan.ops.serve import MOST_CONNECTIONS, say
from kumpan.standins import panel
from kumpan.store import migrate
from kumpan.store.care import fit_all
from kumpan.store.database import engine_for
from kumpan.store.tables.accounts import Account


def prepare(db: PrivateMariaDB, now: datetime, processes: int = 1) -> Engine:
    """Bring the schema up to this code's, after a backup if it holds older data; make the account. processes:
    how many will answer on this engine, each with connections of its own.
    """
    engine = engine_for(db.url, MOST_CONNECTIONS // processes)
    revision = migrate.current(engine)
    migrate.refuse_newer(revision)
    head = migrate.revisions()[-1]
    if revision is not None and revision != head:
        folder = db.folder / "backups"
        make_folder(folder)
        file = folder / f"before-schema-{head}-{now:%Y%m%dT%H%M%S}.sql.gz"
        backup(db, file, now)
        say(f"Backed up to {file} before changing the schema.")
    bring_up(engine, now)
    return engine


def bring_up(engine: Engine, now: datetime) -> None:
    """Bring an engine's schema up to this code's; make the account, and what rules make of a log."""
    revision, head = migrate.current(engine), migrate.revisions()[-1]
    if revision != head:
        migrate.upgrade(engine)
    with Session(engine) as session:
        if session.scalars(select(Account).limit(1)).first() is None:
            session.add(Account(id=uuid7(), name="Home", created_at=now))
        fit_all(session, now, anew=revision is not None and revision != head)
        session.commit()


def fill_demo(engine: Engine, folder: Path) -> None:
    """Load the demo where there is none yet."""
    from kumpan.demo.load import end_state, load_demo

    if load_demo(engine, datetime.now(UTC)):
        (folder / panel.BEGUN).write_text(json.dumps(end_state(datetime.now(UTC))))
        (folder / panel.JOURNAL).unlink(missing_ok=True)
        say("Loaded the demo data.")
