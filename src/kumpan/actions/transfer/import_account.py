"""Bring a whole account in: what is missing here is added, what is here stays as it is; all of it
or nothing.
"""

from collections import Counter
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any, TypeVar
from uuid import UUID, uuid5

from pydantic import ValidationError
from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from kumpan.actions.context import Context
from kumpan.actions.files.papers import media_type_of
from kumpan.actions.files.photos import MOST_EACH
from kumpan.actions.files.pictures import kept_as_is
from kumpan.actions.transfer.account_file import AccountFile, opened
from kumpan.actions.transfer.account_format import check_details
from kumpan.actions.transfer.account_preview import PREVIEW, AccountPreview, TableCount
from kumpan.actions.transfer.account_tables import BY_NAME, DETAIL_NAMES, TABLES, Table, detail_of
from kumpan.actions.work import Outcome, Progress
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.log.kinds import KINDS
from kumpan.core.pool import equipment
from kumpan.store import database, files, queries
from kumpan.store.care import fit
from kumpan.store.stored_sheet import read_guide_step, read_step
from kumpan.store.tables.jobs import Job
from kumpan.store.work import moved

_MOST_TOLD = 50
_BATCH = 1000
_EVER = datetime(1, 1, 2, tzinfo=UTC)
# The field by which a row stands or falls with another.
_PARENT = {t.name: "event_id" for t in TABLES if "event_id" in t.refs and t.name != "photos"}

T = TypeVar("T")


Row = dict[str, Any]
Rows = dict[str, list[Row]]
_WORDS = {"missing": "This is needed.", "extra_forbidden": "Kumpan does not know this field."}


def check_account(context: Context, job: Job, progress: Progress) -> Outcome:
    """Look the file through and ask."""
    file, rows = _read(context.session, job, progress)
    _, counts = _merged(context, rows)
    preview = AccountPreview(file.head.account.name, f"{file.head.exported_at:%Y-%m-%d}", tuple(counts))
    return Outcome("to_confirm", PREVIEW.dump_python(preview, mode="json"))


def write_account(context: Context, job: Job, progress: Progress) -> Outcome:
    """Add what is missing here."""
    file, rows = _read(context.session, job, progress)
    new, counts = _merged(context, rows)
    if not queries.pools(
        context.session, context.account.id, archived=True
    ):  # an account just begun takes on the file's ways
        context.session.refresh(context.account, with_for_update=True)
        theirs = file.head.account
        for name in ("name", "unit_system", "currency", "own_measures"):
            setattr(context.account, name, getattr(theirs, name))
        context.account.revision += 1
    total, done = sum(map(len, new.values())), 0
    with database.parents_taken_for_granted(context.session):
        for table in TABLES:
            for batch in _batches(new[table.name]):
                progress(done, total)
                done += len(batch)
                for row in batch if table.holds else ():
                    name, kind = row.get("name", "photo.jpg"), row.get("media_type", "image/jpeg")
                    held = files.new_file(context.account.id, name, kind, context.now)
                    row["file_id"] = files.write_file(context.session, held, [row.pop(table.holds)]).id
                if "account_id" in table.row.__table__.c:
                    batch = [row | {"account_id": context.account.id} for row in batch]
                context.session.execute(insert(table.row), batch)
    for pool in queries.pools(context.session, context.account.id, archived=True):
        queries.pool(context.session, context.account.id, pool.id, lock=True)
        moved(context.session, pool.id, context.now, _EVER, context.now)
        fit(context.session, pool, context.now)
    return Outcome("done", {"added": sum(t.added for t in counts)})


def _read(session: Session, job: Job, progress: Progress) -> tuple[AccountFile, Rows]:
    """The file's rows, each of them fit and all of them fitting together. Raises InvalidInput naming table,
    row and column.
    """
    assert job.in_file_id
    file = opened(files.content(session, job.in_file_id))
    problems: list[FieldProblem] = []
    total, done = sum(file.counts.values()), 0
    rows: Rows = {}
    for table in TABLES:
        rows[table.name] = []
        for number, raw in enumerate(file.rows(table), 1):
            done += 1
            progress(done, total)
            if row := _fit(table, number, raw, file, problems):
                rows[table.name].append(row)
            if len(problems) >= _MOST_TOLD:
                raise _refused(problems)
    if not problems:
        _fit_together(rows, problems)
    if problems:
        raise _refused(problems)
    return file, rows


def _refused(problems: list[FieldProblem]) -> InvalidInput:
    count = (
        f"{_MOST_TOLD} things or more"
        if len(problems) >= _MOST_TOLD
        else "One thing"
        if len(problems) == 1
        else f"{len(problems)} things"
    )
    first = FieldProblem("file", "unfit", f"{count} in this file cannot be read, so nothing was brought in.")
    return InvalidInput(first, *problems[:_MOST_TOLD])


def _fit(table: Table, number: int, raw: Row, file: AccountFile, problems: list[FieldProblem]) -> Row | None:
    """A row with its values, or None and what is wrong with it."""
    try:
        row = table.record.model_validate(raw).model_dump()
        if table.name == "photos":
            row["picture"], row["width"], row["height"] = kept_as_is(file.held(row["picture"]))
        if table.name == "papers":
            row["content"] = file.held(row["content"])
            row["media_type"] = media_type_of(row["content"])
        if table.name == "equipment":
            check_details(equipment.KINDS[row["kind"]].fields, row["details"], row["typed"])
        return row
    except ValidationError as error:
        for e in error.errors():
            column = ".".join(map(str, e["loc"])) or "the row"
            problems.append(
                _at(
                    table,
                    number,
                    column,
                    e["type"],
                    _WORDS.get(e["type"], e["msg"].removeprefix("Value error, ")),
                )
            )
    except InvalidInput as error:
        problems += [
            _at(table, number, table.holds if f.field == "file" else f.field, f.code, f.message)
            for f in error.fields
        ]
    return None


def _at(table: Table, number: int, column: str, code: str, message: str) -> FieldProblem:
    text = message[0].upper() + message[1:]
    return FieldProblem(
        f"{table.name}.{number}.{column}",
        code,
        f"{table.name}, row {number}, {column}: {text}{'' if text.endswith('.') else '.'}",
    )


def _fit_together(rows: Rows, problems: list[FieldProblem]) -> None:
    """Whether every row stands once, points to rows that are there, and every event has the details of its
    kind and no others.
    """
    keys = {t.name: Counter(tuple(row[k] for k in t.key) for row in rows[t.name]) for t in TABLES}
    events = {row["id"]: row for row in rows["events"]}
    kinds, steps = _sheets(rows, events)
    for table in TABLES:
        for number, row in enumerate(rows[table.name], 1):
            mistakes = [
                *_stands_once(table, row, keys),
                *_of_its_kind(table, row, events),
                *_shown_as(table, row, kinds),
                *_ticks_a_step(table, row, steps),
            ]
            problems += [_at(table, number, *problem) for problem in mistakes]
            if len(problems) >= _MOST_TOLD:
                return
    detailed = {t.name: {row["event_id"] for row in rows[t.name]} for t in TABLES if "event_id" in t.fields}
    problems += _too_many_photos(rows)
    for number, event in enumerate(rows["events"], 1):
        table = detail_of(event["kind"])
        if event["id"] not in detailed[table.name]:
            text = f"There is nothing of this entry in {table.name}."
            problems.append(_at(BY_NAME["events"], number, "kind", "no_details", text))


def _sheets(
    rows: Rows, events: dict[UUID, Row]
) -> tuple[dict[UUID, tuple[str | None, int]], set[tuple[UUID, str]]]:
    """Kind and form of every sheet, and the steps there are."""
    kinds = {r["event_id"]: (events.get(r["event_id"], {}).get("kind"), r["form"]) for r in rows["sheets"]}
    return kinds, {(row["event_id"], row["key"]) for row in rows["sheet_steps"]}


Found = Iterator[tuple[str, str, str]]  # column, code, message


def _too_many_photos(rows: Rows) -> Iterator[FieldProblem]:
    owners = Counter[UUID]()
    for number, photo in enumerate(rows["photos"], 1):
        owner = photo["event_id"] or photo["equipment_id"]
        owners[owner] += photo["removed_at"] is None
        if owners[owner] > MOST_EACH:
            text = f"At most {MOST_EACH} photos each."
            yield _at(BY_NAME["photos"], number, "picture", "too_many", text)


def _stands_once(table: Table, row: Row, keys: dict[str, Counter[tuple[Any, ...]]]) -> Found:
    """Whether a row's key is its own and what it points to is there."""
    if keys[table.name][tuple(row[k] for k in table.key)] > 1:
        yield table.key[0], "twice", "This row stands there more than once."
    for name, to in table.refs.items():
        if row[name] is not None and (row[name],) not in keys[to]:
            yield name, "points_nowhere", f"There is no such row in {to}."
    if table.name == "photos" and (row["event_id"] is None) == (row["equipment_id"] is None):
        yield "event_id", "missing", "A photo belongs to an entry or to a piece of equipment."


def _of_its_kind(table: Table, row: Row, events: dict[UUID, Row]) -> Found:
    """Whether a detail belongs to an entry of its kind, and holds what that kind may."""
    event = events.get(row["event_id"]) if table.name in DETAIL_NAMES else None
    if event is None:
        return
    if detail_of(event["kind"]) is not table:
        yield "event_id", "other_kind", "The entry it belongs to is of another kind."
    elif table.name == "entries":
        try:
            check_details(KINDS[event["kind"]].fields, row["details"], row["typed"])
        except InvalidInput as error:
            yield from ((f.field, f.code, f.message) for f in error.fields)


def _shown_as(table: Table, row: Row, kinds: dict[UUID, tuple[str | None, int]]) -> Found:
    """Whether a step can be read in its sheet's form."""
    if table.name == "sheet_steps" and row["event_id"] in kinds:
        kind, form = kinds[row["event_id"]]
        try:
            read_guide_step(row["shown"]) if kind == "guide" else read_step(form, row["shown"])
        except (ValidationError, ValueError, TypeError, KeyError, AttributeError) as error:
            text = str(error).splitlines()[0] if not isinstance(error, ValidationError) else _first(error)
            yield "shown", "unfit", f"This is no step of a sheet: {text}"


def _ticks_a_step(table: Table, row: Row, steps: set[tuple[UUID, str]]) -> Found:
    """Whether a tick's step is there."""
    if table.name == "ticks" and (row["sheet_id"], row["key"]) not in steps:
        yield "key", "points_nowhere", "There is no such row in sheet_steps."


def _first(error: ValidationError) -> str:
    first = error.errors()[0]
    return f"{'.'.join(map(str, first['loc']))}: {first['msg']}"


def _merged(context: Context, rows: Rows) -> tuple[Rows, list[TableCount]]:
    """What is to be added, and for every table how much that is, how much is the same here, and how much
    differs and stays as it is here.

    An entry stands or falls with its details: one that is here already stays as it is in everything.
    """
    _renumber(context, rows)
    new: Rows = {}
    counts = []
    added: dict[str, set[UUID]] = {}
    for table in TABLES:
        parent, all_rows = _PARENT.get(table.name), rows[table.name]
        if parent is not None:
            new[table.name] = [row for row in all_rows if row[parent] in added["events"]]
            same, differ = len(all_rows) - len(new[table.name]), 0
        else:
            new[table.name], same = _missing(context, table, all_rows)
            differ = len(all_rows) - len(new[table.name]) - same
        if table.name == "shelf":
            new["shelf"], doubled = _listed_once(
                new["shelf"], {item.product_id for item in queries.shelf(context.session, context.account.id)}
            )
            differ += doubled
        added[table.name] = {row[table.key[0]] for row in new[table.name]}
        counts.append(TableCount(table.name, len(new[table.name]), same, differ))
    _check_steps(context, new, added["events"])
    return new, counts


def _missing(context: Context, table: Table, rows: list[Row]) -> tuple[list[Row], int]:
    """The rows that are not here, and how many are here just as they come."""
    here = _here(context.session, table, table.of_account(context.account.id), [row["id"] for row in rows])
    pairs = [(row, here.get(row["id"])) for row in rows]
    same = sum(own is not None and all(own[n] == row[n] for n in table.stored) for row, own in pairs)
    return [row for row, own in pairs if own is None], same


def _check_steps(context: Context, new: Rows, added: set[UUID]) -> None:
    """What was done of a sheet needs the sheet's step, here or in the file."""
    wanted = {(row["sheet_id"], row["key"]) for row in new["ticks"] if row["sheet_id"] not in added}
    columns = BY_NAME["sheet_steps"].row.__table__.c
    query = BY_NAME["sheet_steps"].of_account(context.account.id)
    for batch in _batches(sorted({sheet for sheet, _ in wanted})):
        here = context.session.execute(query.where(columns.event_id.in_(batch))).mappings()
        wanted -= {(row["event_id"], row["key"]) for row in here}
    if wanted:
        text = "An entry belongs to a step of a plan that stands otherwise here, so nothing was brought in."
        raise InvalidInput(FieldProblem("file", "other_plan", text))


def _listed_once(items: list[Row], listed: set[str]) -> tuple[list[Row], int]:
    """Items of products that are not listed yet; how many were left out. One that was taken off may be there
    as often as it likes.
    """
    kept = []
    for item in items:
        if item["removed_at"] is None and item["product_id"] in listed:
            continue
        if item["removed_at"] is None:
            listed.add(item["product_id"])
        kept.append(item)
    return kept, len(items) - len(kept)


def _here(session: Session, table: Table, query: Any, ids: list[UUID]) -> dict[UUID, Row]:
    mistakes: dict[UUID, Row] = {}
    for batch in _batches(ids):
        mistakes |= {
            row["id"]: dict(row)
            for row in session.execute(query.where(table.row.__table__.c.id.in_(batch))).mappings()
        }
    return mistakes


def _renumber(context: Context, rows: Rows) -> None:
    """Give rows whose id another account uses ids of their own; the same ones whenever the file is brought in
    again.
    """
    for table in TABLES:
        if table.key != ("id",):
            continue
        ids = [row["id"] for row in rows[table.name]]
        taken = set(_here(context.session, table, select(table.row.__table__.c.id), ids)) - set(
            _here(context.session, table, table.of_account(context.account.id), ids)
        )
        if not taken:
            continue
        named = {id: uuid5(context.account.id, str(id)) for id in taken}
        _rename(table, named, rows)
        _rename_in_tasks(named, rows["tasks"])
        if table.name == "tasks":
            for mark in rows["marks"]:
                own = named.get(UUID(mark["task_id"])) if mark["task_id"] else None
                mark["task_id"] = mark["task_id"] if own is None else str(own)
        if table.name == "events":
            _rename_proofs(named, rows["pools"])
            for mark in rows["marks"]:
                own = named.get(UUID(mark["sheet_id"])) if mark["sheet_id"] else None
                mark["sheet_id"] = mark["sheet_id"] if own is None else str(own)


def _rename(table: Table, named: dict[UUID, UUID], rows: Rows) -> None:
    """Ids of a table's rows, there and wherever others point to them."""
    targets = {table.name, *(["sheets"] if table.name == "events" else [])}  # a sheet is named by its event
    for other in TABLES:
        fields = [n for n, to in other.refs.items() if to in targets]
        fields += ["id"] if other is table else []
        for row in rows[other.name]:
            row |= {n: named[row[n]] for n in fields if row[n] in named}


def _rename_in_tasks(named: dict[UUID, UUID], tasks: list[Row]) -> None:
    """What a task comes from: a piece of equipment, or what was found."""
    texts = {str(old): str(own) for old, own in named.items()}
    for task in tasks:
        for name, value in task["params"].items():
            if isinstance(value, str):
                task["params"][name] = ":".join(texts.get(part, part) for part in value.split(":"))


def _rename_proofs(named: dict[UUID, UUID], pools: list[Row]) -> None:
    """A proof's key names two tests."""
    texts = {str(old): str(own) for old, own in named.items()}
    for pool in pools:
        for proof in pool["volume_input"].get("proofs", []):
            proof["key"] = ":".join(texts.get(part, part) for part in proof["key"].split(":"))


def _batches(rows: list[T]) -> Iterator[list[T]]:
    return (rows[begin : begin + _BATCH] for begin in range(0, len(rows), _BATCH))
