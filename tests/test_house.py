"""The house's rules that a machine can hold: size, and one home for each thing."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

from radon.complexity import cc_visit

from kumpan.settings import REPO

SRC = REPO / "src" / "kumpan"
MOST_LINES, MOST_FUNCTION_LINES, MOST_COMPLEXITY, MOST_ARGUMENTS = 400, 60, 15, 5


def modules() -> Iterator[tuple[str, str]]:
    for path in sorted(SRC.rglob("*.py")):
        if "migrations/versions" not in str(path):
            yield str(path.relative_to(SRC)), path.read_text()


def functions(text: str) -> Iterator[ast.FunctionDef | ast.AsyncFunctionDef]:
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            yield node


def arguments(node: ast.FunctionDef | ast.AsyncFunctionDef) -> int:
    named = [a.arg for a in (*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs)]
    return len([n for n in named if n not in ("self", "cls")])


def complexities(text: str) -> Iterator[tuple[str, int]]:
    for block in cc_visit(text):
        for part in (block, *getattr(block, "methods", ()), *getattr(block, "closures", ())):
            if part.letter in "FM":
                yield part.name, part.complexity


def test_no_function_is_more_complex_than_it_may_be() -> None:
    over = {
        f"{m} {name}": n for m, text in modules() for name, n in complexities(text) if n > MOST_COMPLEXITY
    }
    assert over == {}


def test_no_function_takes_more_arguments_than_it_may() -> None:
    over = {
        f"{m} {f.name}": arguments(f)
        for m, text in modules()
        for f in functions(text)
        if arguments(f) > MOST_ARGUMENTS
    }
    assert over == {}


def test_no_function_or_module_is_longer_than_it_may_be() -> None:
    functions_over = [
        f"{m} {f.name}"
        for m, text in modules()
        for f in functions(text)
        if f.end_lineno - f.lineno >= MOST_FUNCTION_LINES
    ]
    over = {m: len(text.splitlines()) for m, text in modules() if len(text.splitlines()) > MOST_LINES}
    assert functions_over == [] and over == {}


def test_no_rule_of_size_is_switched_off() -> None:
    off = [m for m, text in modules() if re.search(r"noqa:[^\n]*(C901|PLR|E501)", text)]
    assert off == []


def named(folder: Path, pattern: str, suffixes: tuple[str, ...]) -> set[str]:
    files = [p for p in folder.rglob("*") if p.suffix in suffixes and "node_modules" not in p.parts]
    return {str(p.relative_to(folder)) for p in files if re.search(pattern, p.read_text())}


def test_a_measure_stands_in_its_row_and_nowhere_else() -> None:
    """Phosphate, which nothing computes with but what follows a clear-up: its row, and the text on why. (The
    remover is a product.)
    """
    literal = r"""["'`]phosphate["'`]"""
    asked_for = {"core/clearup/around.py", "core/clearup/compare.py", "core/clearup/prevention.py"}
    assert named(SRC, literal, (".py",)) - asked_for == {
        "core/water/measures.py",
        "core/guidance/reasons/balance.py",
    }
    client = REPO / "web" / "src"
    assert {
        f for f in named(client, literal, (".ts", ".tsx")) if ".test." not in f and not f.startswith("test/")
    } == set()


def lost_words(text: str) -> Iterator[int]:
    """Lines on which a string is a statement of its own and no docstring: the lost half of a sentence."""
    for node in ast.walk(ast.parse(text)):
        bodies = (getattr(node, name, None) for name in ("body", "orelse", "finalbody"))
        for body in (b for b in bodies if isinstance(b, list)):
            documented = isinstance(node, ast.Module | ast.ClassDef | ast.FunctionDef | ast.AsyncFunctionDef)
            for one in body[1:] if documented else body:
                if isinstance(one, ast.Expr) and isinstance(one.value, ast.Constant | ast.JoinedStr):
                    yield one.lineno


def test_no_sentence_loses_its_second_half() -> None:
    assert [f"{name}:{line}" for name, text in modules() for line in lost_words(text)] == []
    assert list(lost_words('def f():\n    x = "half a"\n    " sentence"\n')) == [3]
