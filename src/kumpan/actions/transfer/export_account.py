"""Write everything of an account into one file: a JSON document, or a folder of CSV files with their table
schema.
"""

import base64
import csv
import io
import json
import tempfile
import zipfile
from collections.abc import Iterator
from datetime import datetime
from typing import IO, Any
from uuid import UUID

from sqlalchemy import JSON, Date, Float, Integer, func, select
from sqlalchemy.orm import Session

from kumpan.actions.context import Context
from kumpan.actions.transfer.account_format import FORMAT, VERSION
from kumpan.actions.transfer.account_tables import TABLES, Table, plain
from kumpan.actions.work import Outcome, Progress
from kumpan.core.cells import guarded
from kumpan.store import files
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.base import UtcInstant
from kumpan.store.tables.jobs import Job

FOLDER = "kumpan-account"
_ENDINGS = {"image/jpeg": "jpg", "image/png": "png", "application/pdf": "pdf"}
_AT_ONCE = 2000
# Types of the Table Schema (specs.frictionlessdata.io) by the database's; all else is a string.
_TYPES = (
    (JSON, {"type": "object"}),
    (UtcInstant, {"type": "datetime", "format": "any"}),
    (Date, {"type": "date"}),
    (Integer, {"type": "integer"}),
    (Float, {"type": "number"}),
)


class _Snapshot:
    """The account as it stood at one instant, read while others go on writing."""

    def __init__(self, session: Session, account: Account, progress: Progress) -> None:
        self.session, self.account, self.progress = session, account, progress
        queries = {t.name: t.of_account(account.id).order_by(None).subquery() for t in TABLES}
        self.counts = {
            name: session.scalar(select(func.count()).select_from(rows)) or 0
            for name, rows in queries.items()
        }
        self.done = 0

    def rows(self, table: Table) -> Iterator[dict[str, Any]]:
        """A table's rows, a few in memory at a time."""
        result = self.session.execute(table.of_account(self.account.id).execution_options(yield_per=_AT_ONCE))
        for row in result.mappings():
            self.done += 1
            self.progress(self.done, sum(self.counts.values()))
            yield {name: plain(row[name]) for name in table.stored}

    def held(self, table: Table, id: str) -> bytes:
        """What a photo or a paper holds."""
        row: Any = self.session.get_one(table.row, UUID(id))
        return files.content(self.session, row.file_id)

    def head(self, now: datetime) -> dict[str, Any]:
        """What the file says of itself."""
        account = {n: getattr(self.account, n) for n in ("name", "unit_system", "currency", "own_measures")}
        return {"format": FORMAT, "version": VERSION, "exported_at": plain(now), "account": account}


def export_json(context: Context, job: Job, progress: Progress) -> Outcome:
    """Everything as one JSON document, a record a line."""
    return _export(context, progress, _write_json, "json", "application/json")


def export_csv(context: Context, job: Job, progress: Progress) -> Outcome:
    """Everything as a packed folder of CSV files, with photos beside them."""
    return _export(context, progress, _write_csv, "zip", "application/zip")


def _export(
    context: Context,
    progress: Progress,
    write: Any,
    ending: str,
    media_type: str,
) -> Outcome:
    # Its own transaction, in which nothing moves: the one the job ends in sees what others write meanwhile.
    still = context.session.get_bind().execution_options(isolation_level="REPEATABLE READ")
    with tempfile.TemporaryFile() as out:
        with Session(still) as reading:
            snapshot = _Snapshot(reading, context.account, progress)
            write(snapshot, out, context.now)
        out.seek(0)
        name = f"kumpan-{context.now:%Y-%m-%d}.{ending}"
        row = files.new_file(context.account.id, name, media_type, context.now)
        files.write_file(context.session, row, iter(lambda: out.read(files.CHUNK_BYTES), b""))
    return Outcome("done", {"pools": snapshot.counts["pools"], "events": snapshot.counts["events"]}, row.id)


def _write_json(snapshot: _Snapshot, out: IO[bytes], now: datetime) -> None:
    def put(text: str) -> None:
        out.write(text.encode())

    put(json.dumps(snapshot.head(now), ensure_ascii=False)[:-1])
    for table in TABLES:
        put(f',\n"{table.name}": [')
        between = "\n"
        for row in list(snapshot.rows(table)) if table.holds else snapshot.rows(table):
            if table.holds:
                row[table.holds] = base64.b64encode(snapshot.held(table, row["id"])).decode()
            put(between + json.dumps(row, ensure_ascii=False, allow_nan=False))
            between = ",\n"
        put("]")
    put("\n}\n")


def _write_csv(snapshot: _Snapshot, out: IO[bytes], now: datetime) -> None:
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        package = {
            "name": FORMAT,
            "profile": "tabular-data-package",
            "kumpan": snapshot.head(now),
            "resources": [_resource(t) for t in TABLES],
        }
        packed.writestr(f"{FOLDER}/datapackage.json", json.dumps(package, indent=1, ensure_ascii=False))
        for table in TABLES:
            held = {}
            with packed.open(f"{FOLDER}/{table.name}.csv", "w", force_zip64=True) as file:
                writer = csv.writer(text := io.TextIOWrapper(file, "utf-8", newline=""))
                writer.writerow(table.fields)
                for row in snapshot.rows(table):
                    if table.holds:
                        ending = _ENDINGS[row.get("media_type", "image/jpeg")]
                        held[row["id"]] = row[table.holds] = f"{table.name}/{row['id']}.{ending}"
                    writer.writerow([_cell(table, name, row[name]) for name in table.fields])
                text.flush()
                text.detach()
            for id, path in held.items():
                named = zipfile.ZipInfo(f"{FOLDER}/{path}", now.timetuple()[:6])
                packed.writestr(named, snapshot.held(table, id))


def _cell(table: Table, name: str, value: Any) -> object:
    if value is None:
        return ""
    if name in table.structured:
        return json.dumps(value, ensure_ascii=False, allow_nan=False)
    return guarded(value)


def _resource(table: Table) -> dict[str, Any]:
    """A table as the Table Schema describes it."""
    types = {n: table.row.__table__.c[n].type for n in table.stored}
    fields = [
        {"name": n}
        | next((known for sql, known in _TYPES if isinstance(types.get(n), sql)), {"type": "string"})
        for n in table.fields
    ]
    keys = {t.name: t.key[0] for t in TABLES}
    points = [
        {"fields": name, "reference": {"resource": to, "fields": keys[to]}} for name, to in table.refs.items()
    ]
    schema = {"fields": fields, "primaryKey": list(table.key), "foreignKeys": points, "missingValues": [""]}
    return {
        "name": table.name,
        "path": f"{table.name}.csv",
        "profile": "tabular-data-resource",
        "encoding": "utf-8",
        "schema": schema,
    }
