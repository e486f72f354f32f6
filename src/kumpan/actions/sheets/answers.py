"""What may be answered at a step, and what closes one."""

from kumpan.core.care.findings import FINE
from kumpan.core.errors import Conflict, FieldProblem, InvalidInput
from kumpan.core.records import UNITS
from kumpan.core.units import parse_number
from kumpan.store.stored_sheet import StoredAct


def check_answer(act: StoredAct, value: str) -> None:
    """Whether an answer is one to what a step asks: a choice, several of them, or a number with its unit
    (``18 psi``). Raises InvalidInput at ``value``.
    """
    if act.kind not in ("look", "decide") or act.text:
        return
    if act.unit:
        _, unit = _measured(value)
        if unit not in UNITS[act.unit]:
            raise InvalidInput(FieldProblem("value", "unknown_unit", "Choose the unit."))
        return
    named = set(value.split(",") if act.many else [value])
    if not named <= {choice[0] for choice in act.choices} or (FINE in named and len(named) > 1):
        raise InvalidInput(FieldProblem("value", "unknown_choice", "Choose one of the answers."))


def _measured(value: str) -> tuple[float, str]:
    text, _, unit = value.strip().rpartition(" ")
    text, unit = (text, unit) if text else (unit, "")  # what is counted has no unit
    number = parse_number(text, "value")
    if not 0 <= number <= 1_000_000:
        raise InvalidInput(FieldProblem("value", "out_of_range", "That is more than there can be."))
    return number, unit


def refuse_unfit(act: StoredAct | None, verb: str) -> None:
    """Raise Conflict for a word that a pour, a test or another step of a plan is not closed by."""
    if verb in ("add", "move"):
        return
    closed_by_words = act is None or act.kind in ("do", "look", "timer", "decide")
    if not closed_by_words and verb in ("answer", "decide", "timer"):
        raise Conflict("tick_by_pouring", "This step is closed by pouring or testing, or skipped.")
