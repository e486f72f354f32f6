"""A pool's equipment: add, change, take off; what follows from it, and what an unknown costs."""

from dataclasses import dataclass
from datetime import date, datetime
from uuid import UUID

from kumpan.actions.context import Context
from kumpan.actions.times import today_at
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput, check_revision
from kumpan.core.pool.equipment import checked
from kumpan.core.pool.equipment_facts import Fact, facts, unknowns, warranty
from kumpan.core.records import TypedField, checked_date
from kumpan.store import care, queries
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.pools import EquipmentRow, Pool

_MOST = 40


@dataclass(frozen=True)
class EquipmentInput:
    """One piece as typed: its kind, fields by id, make and model in the person's words, dates as
    YYYY-MM-DD.
    """

    kind: str
    details: dict[str, TypedField]
    make_model: str = ""
    bought: str = ""
    warranty_until: str = ""
    note: str = ""


def add_equipment(
    context: Context,
    pool_id: UUID,
    equipment_id: UUID,
    piece: EquipmentInput,
) -> EquipmentRow:
    """Add a piece to a pool. Sending it again returns the first result."""
    pool = queries.pool(context.session, context.account.id, pool_id, lock=True)
    known = context.session.get(EquipmentRow, equipment_id)
    if known is not None:
        if known.pool_id != pool.id:
            raise Conflict("id_taken", "This id is already used for something else.")
        return known
    if len(pool.equipment) >= _MOST:
        raise InvalidInput(FieldProblem("kind", "too_many", f"At most {_MOST} pieces."))
    row = EquipmentRow(id=equipment_id, pool_id=pool.id, revision=1, created_at=context.now)
    _fill(row, pool, piece, context.now)
    context.session.add(row)
    care.fit(context.session, pool, context.now)
    return row


def change_equipment(
    context: Context,
    equipment_id: UUID,
    piece: EquipmentInput,
    revision: int,
) -> EquipmentRow:
    """Change a piece, if nobody changed it since."""
    row, pool = _locked(context, equipment_id)
    check_revision(row.revision, revision, "piece of equipment")
    _fill(row, pool, piece, context.now)
    row.revision += 1
    care.fit(context.session, pool, context.now)
    return row


def remove_equipment(context: Context, equipment_id: UUID, away: bool) -> EquipmentRow:
    """Take a piece off, or bring it back (not ``away``). Nothing of it is dropped."""
    row, pool = _locked(context, equipment_id)
    if not away:
        _fits(row.kind, pool)
    if (row.removed_at is None) == away:
        row.removed_at = context.now if away else None
        row.revision += 1
    care.fit(context.session, pool, context.now)
    return row


def _locked(context: Context, equipment_id: UUID) -> tuple[EquipmentRow, Pool]:
    """A piece and its pool, the pool's row locked first: its tasks follow from its pieces."""
    held = queries.equipment(context.session, context.account.id, equipment_id)
    pool = queries.pool(context.session, context.account.id, held.pool_id, lock=True)
    return queries.equipment(context.session, context.account.id, equipment_id, lock=True), pool


def _fits(kind: str, pool: Pool) -> None:
    if kind == "chlorinator" and pool.chlorine_source != "chlorinator":
        text = (
            "This pool is not chlorinated by a salt chlorinator. Change how it is chlorinated first, on the"
            " Pool page."
        )
        raise InvalidInput(FieldProblem("kind", "no_chlorinator_here", text))


def _fill(row: EquipmentRow, pool: Pool, piece: EquipmentInput, now: datetime) -> None:
    today = today_at(pool, now)
    problems: list[FieldProblem] = []
    details: dict[str, float | str] = {}
    dates: dict[str, date | None] = {"bought": None, "warranty_until": None}
    try:
        _fits(piece.kind, pool)
    except InvalidInput as error:
        problems += error.fields
    try:
        details = checked(piece.kind, piece.details, today)
    except InvalidInput as error:
        problems += error.fields
    for name, past in (("bought", True), ("warranty_until", False)):
        text = getattr(piece, name)
        try:
            dates[name] = checked_date(text, today, name, past) if text.strip() else None
        except InvalidInput as error:
            problems += error.fields
    bought, until = dates["bought"], dates["warranty_until"]
    if bought and until and until < bought:
        problems.append(
            FieldProblem(
                "warranty_until",
                "before_bought",
                "The warranty would end before it was bought: swap the two?",
            )
        )
    if problems:
        raise InvalidInput(*problems)
    row.kind, row.details, row.make_model, row.note = (
        piece.kind,
        details,
        piece.make_model.strip(),
        piece.note.strip(),
    )
    row.typed = {name: vars(typed) for name, typed in piece.details.items() if typed.text.strip()}
    row.bought, row.warranty_until = bought, until


def consequences(
    row: EquipmentRow, pool: Pool, account: Account, now: datetime
) -> tuple[tuple[Fact, ...], tuple[str, ...]]:
    """What follows from a piece's record in this pool today, and what cannot be said of it."""
    today = today_at(pool, now)
    follows = facts(row.kind, row.details, pool.volume_l, account.unit_system == "metric", today)
    under = warranty(row.warranty_until, today)
    return (*follows, *((under,) if under else ())), unknowns(row.kind, row.details)
