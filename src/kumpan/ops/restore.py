"""Bring a backup back: read as nothing but tables and rows, loaded aside by a user who can do nothing else,
brought up to this code, and only then put in place of what was there, in one step.
"""

import gzip
import itertools
import re
import secrets
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from pymysql.err import Error
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from kumpan.core.errors import KumpanError
from kumpan.ops.backup import read_revision
from kumpan.ops.mariadb import APPLICATION, PrivateMariaDB
from kumpan.ops.prepare import bring_up
from kumpan.store import migrate
from kumpan.store.database import engine_for
from kumpan.store.tables.base import Base

_INCOMING, _OUTGOING = "kumpan_incoming", "kumpan_outgoing"
_LONGEST = 64_000_000  # of a statement: a file that is kept is at most half of that, and written in hex

_NAME = r"`[a-z0-9_]+`"
_TEXT = r"'(?:[^'\\]|\\.|'')*+'"
_VALUE = rf"(?:_binary )?(?:NULL|-?[0-9.]+(?:e[-+]?[0-9]+)?|0x[0-9A-F]+|{_TEXT})"
_PART = rf"(?:{_NAME}|{_TEXT}|[a-z0-9_]+|[(),.<>=+ -])"  # of what describes a column
# What a backup is made of, line by line. What only sets the client up, or makes room, is passed over.
_PASSED_OVER = re.compile(
    rf"(?:--.*|/\*M?![0-9]+(?:\\-)? .*\*/;? ?|DROP TABLE IF EXISTS {_NAME};|LOCK TABLES {_NAME} WRITE;"
    r"|UNLOCK TABLES;|set autocommit=0;|commit;|)"  # the last two as newer clients write them
)
_TABLE = re.compile(rf"CREATE TABLE {_NAME} \(")
_COLUMN = re.compile(rf"  (?:{_NAME}|PRIMARY KEY|UNIQUE KEY|KEY|CONSTRAINT) {_PART}*+,?", re.IGNORECASE)
_TABLE_ENDS = re.compile(r"\) ENGINE=InnoDB(?: AUTO_INCREMENT=[0-9]+)? DEFAULT CHARSET=utf8mb4 COLLATE=\w+;")
_ROWS = re.compile(rf"INSERT INTO {_NAME} VALUES(?: (?P<first>\(.*))?", re.DOTALL)
_VALUES = rf"\({_VALUE}(?:,{_VALUE})*+\)"
_ROW = re.compile(rf"{_VALUES}(?:,{_VALUES})*+[,;]", re.DOTALL)
# The session as a backup wants it.
_SESSION = (
    "SET NAMES utf8mb4, SESSION time_zone = '+00:00', foreign_key_checks = 0, unique_checks = 0,"
    " sql_mode = 'STRICT_ALL_TABLES,NO_AUTO_VALUE_ON_ZERO'"
)


def restore(db: PrivateMariaDB, file: Path, now: datetime) -> None:
    """Replace all data by a backup's. Raises KumpanError; nothing is changed then."""
    revision = read_revision(file)
    migrate.refuse_newer(revision)
    password = secrets.token_urlsafe(24)
    db.dismiss(_INCOMING)  # of one that was killed
    db.admit(_INCOMING, password)
    incoming = engine_for(db.url_of(_INCOMING, password))
    try:
        _load(incoming, file)
        if migrate.current(incoming) != revision:
            raise KumpanError("not_a_backup", f"{file} says it is of schema {revision}, and is not.")
        bring_up(incoming, now)
        _check_tables(incoming, file)
        _swap(db)
    except (Error, SQLAlchemyError) as error:
        reason = error.args[-1] if error.args else error
        raise KumpanError(
            "restore_failed", f"The backup could not be loaded; nothing was changed: {str(reason)[:400]}"
        ) from error
    finally:
        incoming.dispose()
        db.dismiss(_INCOMING)


def statements(file: Path) -> Iterator[str]:
    """The statements of a backup that make tables and rows. Raises KumpanError at any line that is no part
    of one.
    """
    held, size, inside = list[str](), 0, ""
    with gzip.open(file, "rb") as source:
        for number in itertools.count(1):
            raw = source.readline(_LONGEST + 1)
            if not raw:
                return
            size += len(raw)
            line = raw.removesuffix(b"\n").decode(errors="replace")
            if not inside and _PASSED_OVER.fullmatch(line):
                size = 0
                continue
            inside = _goes_on(inside, line)
            if not inside or size > _LONGEST:
                raise KumpanError(
                    "not_a_backup",
                    f"{file}: line {number} is no part of a Kumpan backup. Nothing was changed.",
                )
            held.append(line)
            if line.endswith(";"):
                yield "\n".join(held)
                held, size, inside = [], 0, ""


def _goes_on(inside: str, line: str) -> str:
    """What a line is in (a table's description, or rows), the one before it being in ``inside``; empty if it
    is in neither.
    """
    if inside == "table":
        return inside if _COLUMN.fullmatch(line) or _TABLE_ENDS.fullmatch(line) else ""
    if inside == "rows":
        return inside if _ROW.fullmatch(line) else ""
    if _TABLE.fullmatch(line):
        return "table"
    rows = _ROWS.fullmatch(line)
    return "rows" if rows and (rows["first"] is None or _ROW.fullmatch(rows["first"])) else ""


def _load(engine: Engine, file: Path) -> None:
    with engine.connect() as connection:
        raw = connection.connection.dbapi_connection
        assert raw is not None
        cursor = raw.cursor()
        cursor.execute(_SESSION)
        for statement in statements(file):
            cursor.execute(statement)
        raw.commit()
        connection.invalidate()  # its session is not one to go back to the pool


def _check_tables(engine: Engine, file: Path) -> None:
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": False})
        differences = compare_metadata(context, Base.metadata)
    if differences:
        raise KumpanError("not_a_backup", f"{file} holds other tables than Kumpan's. Nothing was changed.")


def _swap(db: PrivateMariaDB) -> None:
    with db.connect() as connection, connection.cursor() as cursor:
        cursor.execute(f"DROP DATABASE IF EXISTS {_OUTGOING}")
        cursor.execute(f"CREATE DATABASE {_OUTGOING}")
        moves = []
        for source, target in ((APPLICATION, _OUTGOING), (_INCOMING, APPLICATION)):
            cursor.execute(
                "SELECT table_name FROM information_schema.tables WHERE table_schema = %s", (source,)
            )
            moves += [f"{source}.`{name}` TO {target}.`{name}`" for (name,) in cursor.fetchall()]
        cursor.execute("RENAME TABLE " + ", ".join(moves))
        cursor.execute(f"DROP DATABASE {_OUTGOING}")
