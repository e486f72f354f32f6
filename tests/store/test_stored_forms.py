"""Whatever the types allow to be stored is read again, and taken as part of an account: generated from them."""

import json
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from kumpan.actions.transfer.account_structures import Follows, Inputs
from kumpan.actions.transfer.account_tables import TABLES, Table
from kumpan.core.dosing.request import Swim
from kumpan.store import stored_sheet as s

INPUTS, FOLLOWS = TypeAdapter(Inputs), TypeAdapter(Follows)
_ACT, _STEP, _GUIDE_STEP, _FOLLOWED = (
    TypeAdapter(t) for t in (s.StoredAct, s.StoredStep, s.StoredGuideStep, s.StoredFollows)
)


def kept(held: Any) -> Any:
    """As it comes out of the database."""
    try:
        return json.loads(json.dumps(held, allow_nan=False))
    except ValueError:
        assume(False)  # no rule works out what is no number


@given(st.from_type(Swim))
def test_a_plan_of_any_swim_state_is_taken(swim: Swim) -> None:
    held = kept(s.store_swim(swim))
    assert INPUTS.validate_python(held) == held


def test_no_swim_state_is_left_out() -> None:
    """As the first did that was refused on its way back: nobody may swim, at no level to wait for."""
    INPUTS.validate_python(s.store_swim(Swim(False, None, "", ())))


@given(st.from_type(s.StoredFollows))
def test_what_was_told_to_follow_is_taken(follows: s.StoredFollows) -> None:
    held = kept(_FOLLOWED.dump_python(follows, mode="json"))
    assert s.read_follows(FOLLOWS.validate_python(held)) == follows


@given(st.one_of(st.from_type(s.StoredStep), st.from_type(s.StoredGuideStep)), st.from_type(s.StoredAct))
def test_steps_and_acts_are_read_as_they_were_stored(
    step: s.StoredStep | s.StoredGuideStep, act: s.StoredAct
) -> None:
    plan = isinstance(step, s.StoredStep)
    held = kept(s.store_live_step(step, act) if plan else s.store_guide_step(step, act))
    assert (s.read_step(s.FORM, held) if plan else s.read_guide_step(held)) == step
    assert s.read_act(held) == act


@pytest.mark.parametrize("table", TABLES, ids=lambda t: t.name)
def test_whatever_a_column_may_hold_its_field_takes(table: Table) -> None:
    columns, fields = table.row.__table__.c, table.record.model_fields
    seen = 0
    for name, field in fields.items():
        if name not in columns:
            continue
        takes = TypeAdapter(field.rebuild_annotation())
        seen += 1
        if columns[name].nullable:
            assert takes.validate_python(None) is None, (table.name, name)
        if length := getattr(columns[name].type, "length", None):
            try:
                takes.validate_python("x" * length)
            except ValidationError as error:  # what it may be is told by other rules
                assert "string_too_long" not in {e["type"] for e in error.errors()}, (table.name, name)
    assert seen
