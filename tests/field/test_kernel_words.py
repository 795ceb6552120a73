"""Every compiled loop says what its arguments are: in its own words, or in those of its file."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2] / "src" / "mop_lantern"
TABLE = ast.get_docstring(ast.parse((ROOT / "field" / "kernels.py").read_text("utf-8"))) or ""

CUTTING = ast.get_docstring(ast.parse((ROOT / "grid" / "cutting.py").read_text("utf-8"))) or ""


def kernels() -> list[tuple[str, ast.FunctionDef, str]]:
    """Give every public compiled function: where it stands, itself, and the words of its file."""
    found = []
    for path in sorted(ROOT.rglob("*.py")):
        tree = ast.parse(path.read_text("utf-8"))
        words = ast.get_docstring(tree) or ""
        if "as in `kernels`" in words:
            words += TABLE
        if "as in `cutting`" in words:
            words += CUTTING
        for node in tree.body:
            compiled = isinstance(node, ast.FunctionDef) and any(
                "njit" in ast.unparse(mark) for mark in node.decorator_list
            )
            if compiled and isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
                found.append((f"{path.relative_to(ROOT)}:{node.name}", node, words))
    return found


@pytest.mark.parametrize(("place", "node", "words"), kernels(), ids=[place for place, _, _ in kernels()])
def test_a_kernel_names_its_arguments(place: str, node: ast.FunctionDef, words: str) -> None:
    own = ast.get_docstring(node) or ""
    assert len(own) > 20, place
    unnamed = [
        each.arg for each in node.args.args if not re.search(rf"(?<!\w){each.arg}(?!\w)", f"{own} {words}")
    ]
    assert unnamed == [], place


def test_shapes_and_units_stand_in_the_table_of_the_field_kernels() -> None:
    """A row a symbol, `name : shape unit` or a few names before one colon."""
    rows = [line for line in TABLE.splitlines() if re.match(r"^[\w, ]+ : ", line)]
    assert len(rows) > 25
    for row in rows:
        says = row.split(" : ", 1)[1]
        assert "(" in says or says.startswith(("whether", "share", "tuple")), row


def test_the_look_for_unnamed_arguments_can_fail() -> None:
    node = ast.parse("@njit\ndef f(a, b):\n    'Give the sum of a and of the other one.'").body[0]
    assert isinstance(node, ast.FunctionDef)
    with pytest.raises(AssertionError):
        test_a_kernel_names_its_arguments("here", node, "")
