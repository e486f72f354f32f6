"""A pool's equipment, with what follows from it."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints
from sqlalchemy.orm import Session

from kumpan.actions.pools import equipment
from kumpan.actions.pools.equipment import EquipmentInput
from kumpan.actions.shown import PaperView, PhotoView, show_paper, show_photo
from kumpan.api.bodies import Body, Id, RecordField, Revision, Text
from kumpan.api.deps import InScope
from kumpan.api.records import KindMeta, kind_meta
from kumpan.api.routes import Routes
from kumpan.core.pool.equipment import KINDS
from kumpan.core.records import UNITS, TypedField
from kumpan.store import queries
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.pools import EquipmentRow

router = Routes("equipment")


class FactView(BaseModel):
    """What follows from a record."""

    text: str
    level: str
    reason_id: str


class EquipmentView(BaseModel):
    """One piece: as typed, what is known of it in words, what follows, and what cannot be said."""

    id: UUID
    kind: str
    label: str
    make_model: str
    details: dict[str, RecordField]
    known: str
    bought: str
    warranty_until: str
    note: str
    facts: list[FactView]
    missing: list[str]
    photos: list[PhotoView]
    papers: list[PaperView]
    revision: int


class EquipmentFields(Body):
    """A piece of equipment as typed."""

    kind: Id
    details: Annotated[dict[Id, RecordField], Field(max_length=20)] = {}
    make_model: Annotated[str, StringConstraints(max_length=120)] = ""
    bought: Text = ""
    warranty_until: Text = ""
    note: Annotated[str, StringConstraints(max_length=400)] = ""

    def piece(self) -> EquipmentInput:
        """As the use case takes it."""
        details = {name: TypedField(t.text, t.unit) for name, t in self.details.items()}
        return EquipmentInput(
            self.kind, details, self.make_model, self.bought, self.warranty_until, self.note
        )


class NewEquipment(EquipmentFields):
    """A piece to add. id: a UUID version 7 made by the client."""

    id: UUID


class EquipmentChange(EquipmentFields):
    """A changed piece."""

    revision: Revision


@router.get("/equipment-kinds")
def get_kinds(scope: InScope) -> list[KindMeta]:
    """Every kind with its fields, in the person's measures."""
    metric = scope.run(lambda c: c.account.unit_system == "metric")
    return [kind_meta(kind.id, kind.label, kind.fields, metric) for kind in KINDS.values()]


def _view(session: Session, account: Account, row: EquipmentRow, now: datetime) -> EquipmentView:
    pool = queries.pool(session, account.id, row.pool_id)
    facts, missing = equipment.consequences(row, pool, account, now)
    kind, known = KINDS[row.kind], []
    for field in kind.fields:
        typed = row.typed.get(field.id)
        if typed:
            unit = UNITS[field.quantity][typed["unit"]][0] if field.kind == "number" else ""
            text = dict(field.choices)[typed["text"]] if field.kind == "choice" else typed["text"]
            known.append(f"{field.label}: {text} {unit}".strip())
    return EquipmentView(
        id=row.id,
        kind=row.kind,
        label=kind.label,
        make_model=row.make_model,
        known=" · ".join(known),
        note=row.note,
        revision=row.revision,
        details={name: RecordField(**t) for name, t in row.typed.items()},
        bought="" if row.bought is None else row.bought.isoformat(),
        warranty_until="" if row.warranty_until is None else row.warranty_until.isoformat(),
        facts=[FactView(text=f.text, level=f.level, reason_id=f.reason_id) for f in facts],
        missing=list(missing),
        photos=[show_photo(p) for p in row.photos],
        papers=[show_paper(p) for p in row.papers],
    )


@router.get("/pools/{pool_id}/equipment")
def list_equipment(pool_id: UUID, scope: InScope) -> list[EquipmentView]:
    """The pool's equipment, in the order it was added."""
    return scope.run(
        lambda c: [
            _view(c.session, c.account, row, c.now)
            for row in queries.pool(c.session, c.account.id, pool_id).equipment
        ]
    )


@router.post("/pools/{pool_id}/equipment", status_code=201)
def add_equipment(pool_id: UUID, body: NewEquipment, scope: InScope) -> EquipmentView:
    """Add a piece. Sending it again returns the first result."""
    return scope.create(
        body.id,
        lambda c: _view(
            c.session, c.account, equipment.add_equipment(c, pool_id, body.id, body.piece()), c.now
        ),
    )


@router.put("/equipment/{equipment_id}")
def put_equipment(equipment_id: UUID, body: EquipmentChange, scope: InScope) -> EquipmentView:
    """Change a piece; 409 if it was changed meanwhile."""
    return scope.run(
        lambda c: _view(
            c.session,
            c.account,
            equipment.change_equipment(c, equipment_id, body.piece(), body.revision),
            c.now,
        )
    )


@router.delete("/equipment/{equipment_id}")
def remove_equipment(equipment_id: UUID, scope: InScope) -> EquipmentView:
    """Take a piece off. Nothing of it is dropped."""
    return scope.run(
        lambda c: _view(c.session, c.account, equipment.remove_equipment(c, equipment_id, True), c.now)
    )


@router.post("/equipment/{equipment_id}/restore")
def restore_equipment_equipment(equipment_id: UUID, scope: InScope) -> EquipmentView:
    """Undo taking it off."""
    return scope.run(
        lambda c: _view(c.session, c.account, equipment.remove_equipment(c, equipment_id, False), c.now)
    )
