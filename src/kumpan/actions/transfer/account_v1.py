"""Version 1 of the open format: its names and shapes turned into those of version 2, row by row.

Version 2 renamed tables and fields, gave a plan the form of what it stores, took a step's fraction and pH out
of ``shown``, and added marks.
"""

from typing import Any

Row = dict[str, Any]
_TABLES = {"entries": "happenings", "steps_done": "tasks"}
_NEW_TABLES = frozenset({"marks"})
_FIELDS: dict[str, dict[str, str]] = {
    "events": {"who": "performed_by", "spot": "sampling_point"},
    "corrections": {"who": "actor"},
}


def table_name(name: str) -> str | None:
    """What version 1 called a table; None for one it did not have."""
    return None if name in _NEW_TABLES else _TABLES.get(name, name)


def field_name(table: str, name: str) -> str:
    """A version 1 field of a table by its name in version 2."""
    return _FIELDS.get(table, {}).get(name, name)


def converted(table: str, row: Row) -> Row:
    """A row of version 1, by version 2's name of its table, as version 2 has it."""
    if not isinstance(row, dict):
        return row
    row = {field_name(table, name): value for name, value in row.items()}
    if table == "events" and row.get("kind") == "task":
        row["kind"] = "step_done"
    if table == "plans":
        row["form"] = 1
    if table == "plan_steps":
        shown = row.get("shown")
        held = shown if isinstance(shown, dict) else {}
        row |= {name: held.get(name) for name in ("fraction", "to_ph")}
    return row


def head(row: Row) -> Row:
    """What a file of version 1 says of itself, as version 2 has it."""
    account = row.get("account")
    if isinstance(account, dict) and "measures" in account:
        account = {("unit_system" if k == "measures" else k): v for k, v in account.items()}
    return row | {"version": 2, "account": account}
