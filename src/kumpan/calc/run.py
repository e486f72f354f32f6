"""Standard input to standard output: one document or a list, an answer or an error in each place."""

import json
import math
import sys
from collections.abc import Callable
from typing import Any, TextIO

from pydantic import BaseModel, ValidationError

from kumpan.calc import commands, documents
from kumpan.core.errors import FieldProblem, InvalidInput, KumpanError


def _plan(document: documents.Plan) -> dict[str, Any]:
    from kumpan.calc.plan import plan  # it needs numpy, which the others start without

    return plan(document)


CALCULATORS: dict[str, tuple[type[BaseModel], Callable[..., dict[str, Any]]]] = {
    "speciation": (documents.Speciation, commands.speciation),
    "saturation": (documents.Saturation, commands.saturation),
    "effect": (documents.Effect, commands.effect),
    "dose": (documents.Dose, commands.dose),
    "dilute": (documents.Dilute, commands.dilute),
    "aerate": (documents.Aerate, commands.aerate),
    "plan": (documents.Plan, _plan),
}
_MOST_BYTES = 100_000_000  # far above any list that makes sense; it keeps a mistake from filling memory


def run(name: str, source: TextIO, target: TextIO) -> int:
    """Answer what stands in ``source``. Returns 0, or 2 where any document was wrong."""
    document_type, calculator = CALCULATORS[name]
    try:
        text = source.read(_MOST_BYTES + 1)
        if len(text) > _MOST_BYTES:
            raise ValueError("more than 100 MB")
        parsed = json.loads(text)
    except (ValueError, RecursionError) as error:  # UnicodeDecodeError and JSONDecodeError are ValueErrors
        problem = FieldProblem("", "not_json", f"This is not a JSON document: {error}.")
        return _write(target, _error((problem,)), 2)
    if isinstance(parsed, list):
        answers = [_answer(document_type, calculator, one) for one in parsed]
        return _write(target, answers, 2 if any("error" in a for a in answers) else 0)
    answer = _answer(document_type, calculator, parsed)
    return _write(target, answer, 2 if "error" in answer else 0)


def _answer(
    document_type: type[BaseModel], calculator: Callable[..., dict[str, Any]], parsed: object
) -> dict[str, Any]:
    try:
        return {key: _short(value) for key, value in calculator(document_type.model_validate(parsed)).items()}
    except ValidationError as error:
        return _error(
            tuple(
                _problem(e)
                for e in error.errors(include_url=False, include_context=False, include_input=False)
            )
        )
    except InvalidInput as error:
        return _error(error.fields)
    except KumpanError as error:
        return _error((FieldProblem("", error.code, error.message),))


_MESSAGES = {
    "missing": "This is needed.",
    "extra_forbidden": "Kumpan does not know this key; look at its spelling.",
    "finite_number": "An ordinary number, not infinite or NaN.",
}


def _problem(error: Any) -> FieldProblem:
    path = ".".join(str(p) for p in error["loc"])
    return FieldProblem(path, error["type"], _MESSAGES.get(error["type"], f"{error['msg']}."))


def _error(problems: tuple[FieldProblem, ...]) -> dict[str, Any]:
    fields = [{"field": p.field, "code": p.code, "message": p.message} for p in problems]
    return {"error": {**fields[0], "fields": fields}}


def _short(value: Any) -> Any:
    """Nine significant digits: past any meaning, and without the noise of the last bits. No infinity leaves
    as JSON.
    """
    if isinstance(value, float):
        return float(f"{value:.9g}") if math.isfinite(value) else None
    if isinstance(value, dict):
        return {key: _short(inner) for key, inner in value.items()}
    return [_short(inner) for inner in value] if isinstance(value, list) else value


def _write(target: TextIO, answer: object, status: int) -> int:
    target.write(json.dumps(answer, allow_nan=False) + "\n")
    return status


def main(name: str) -> int:
    """``kumpan calc NAME``."""
    sys.stdin.reconfigure(encoding="utf-8-sig", errors="strict")  # type: ignore[union-attr]
    return run(name, sys.stdin, sys.stdout)
