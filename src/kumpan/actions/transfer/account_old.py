"""Versions 1 and 2 of the open format: their tables and names turned into those of today, row by row.

Version 2 renamed tables and fields, gave a plan the form of what it stores, took a step's fraction and pH
out of ``shown``, and added marks. Version 3 made plans sheets, keyed their steps within them, put what a rule
needs of a step under ``act``, and made ticks rows of their own.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from kumpan.actions.transfer.account_tables import Table

Row = dict[str, Any]
_TABLES = {"sheets": "plans", "sheet_steps": "plan_steps"}
_TABLES_1 = {"entries": "happenings", "steps_done": "tasks"}
_FIELDS_1: dict[str, dict[str, str]] = {
    "events": {"who": "performed_by", "spot": "sampling_point"},
    "corrections": {"who": "actor"},
}
_ACT = ("kind", "product_id", "strength", "amount", "fraction", "to_ph")


@dataclass(frozen=True)
class Shape:
    """Columns of a table in a file. needed: there must be; known: may be; open: an empty cell is nothing;
    structured: hold JSON.
    """

    needed: frozenset[str]
    known: frozenset[str]
    open: frozenset[str]
    structured: frozenset[str]


def shape_of(table: Table, version: int) -> Shape:
    """The columns of a table as its version wrote them."""
    needed = frozenset(n for n, info in table.record.model_fields.items() if info.is_required())
    today = Shape(needed, frozenset(table.fields), table.open_fields, table.structured)
    if version >= 3:
        return today
    if table.name == "sheets":
        held = frozenset({"event_id", "test_event_id", "rule_version", "headline", "swim", "inputs"})
        held |= {"form"} if version == 2 else set()
        return Shape(held, held | {"follows"}, frozenset({"follows"}), frozenset({"inputs", "follows"}))
    if table.name == "sheet_steps":
        held = frozenset({"id", "plan_event_id", "position", "due_at", "shown", *_ACT[:4]})
        held |= set(_ACT) if version == 2 else set()
        return Shape(held, held, frozenset(_ACT[1:]), frozenset({"shown"}))
    if table.name in ("doses", "steps_done"):
        more = {"plan_step_id"}
        return Shape(today.needed | more, today.known | more, today.open | more, today.structured)
    if version == 1:
        back = {new: old for old, new in _FIELDS_1.get(table.name, {}).items()}
        had, may = (frozenset(back.get(n, n) for n in names) for names in (today.needed, today.known))
        return Shape(had, may, today.open, today.structured)
    return today


def table_name(name: str, version: int) -> str | None:
    """What a version called a table; None for one it did not have."""
    if version >= 3:
        return name
    if name in ("ticks", "tasks", "papers") or (name == "marks" and version == 1):
        return None
    return (_TABLES | (_TABLES_1 if version == 1 else {})).get(name, name)


def rows(name: str, version: int, read: Callable[[str], Iterator[Row]]) -> Iterator[Row]:
    """The rows of a table of today out of a file of an earlier version. read: the rows of a table of today's
    name, as the file has them.
    """
    if name == "ticks":
        plan_of = {
            row.get("id"): row.get("plan_event_id") for row in read("sheet_steps") if isinstance(row, dict)
        }
        for row in (*read("doses"), *read("steps_done")):
            step = row.get("plan_step_id") if isinstance(row, dict) else None
            if step is not None:
                yield {
                    "event_id": row.get("event_id"),
                    "sheet_id": plan_of.get(step),
                    "key": str(step).lower(),
                }
    elif table_name(name, version) is not None:
        for row in read(name):
            yield _converted(name, version, row) if isinstance(row, dict) else row


def _converted(name: str, version: int, row: Row) -> Row:
    row = _from_1(name, row) if version == 1 else dict(row)
    if name == "sheet_steps":
        act = {n: _number(row.pop(n, None)) for n in _ACT}
        shown = row.get("shown")
        row["shown"] = shown | {"act": act} if isinstance(shown, dict) else shown
        row["event_id"], row["key"] = row.pop("plan_event_id", None), str(row.pop("id", "")).lower()
    if name in ("doses", "steps_done"):
        row = {n: value for n, value in row.items() if n != "plan_step_id"}
    return row


def _number(value: Any) -> Any:
    """A number as JSON has it, where a cell holds one."""
    try:
        return float(value) if isinstance(value, str) and value[:1] in "0123456789" and value else value
    except ValueError:
        return value


def _from_1(name: str, row: Row) -> Row:
    row = {_FIELDS_1.get(name, {}).get(n, n): value for n, value in row.items()}
    if name == "events" and row.get("kind") == "task":
        row["kind"] = "step_done"
    if name == "sheets":
        row["form"] = 1
    if name == "sheet_steps":
        shown = row.get("shown")
        held = shown if isinstance(shown, dict) else {}
        row |= {n: held.get(n) for n in ("fraction", "to_ph")}
    return row


def head(row: Row, version: int) -> Row:
    """What a file of an earlier version says of itself, as today's has it."""
    account = row.get("account")
    if version == 1 and isinstance(account, dict) and "measures" in account:
        account = {("unit_system" if k == "measures" else k): v for k, v in account.items()}
    return row | {"version": 3, "account": account}
