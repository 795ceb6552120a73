"""Arithmetic in values: ``= supply / 2``, ``= 2 * gap + 3 mm``.

Python's grammar is read by ``ast`` and walked with a whitelist; nothing is ever executed.
"""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable, Mapping
from typing import Any

from mop_lantern.units.quantity import UnitFault, parse, read, registry, to_si, unit

Names = Mapping[str, Callable[[], Any]]
"""Names an expression may use, each a function giving its registry quantity."""

_BINARY = {
    ast.Add: operator.add, ast.Sub: operator.sub, ast.Mult: operator.mul, ast.Div: operator.truediv,
}  # fmt: skip
_PLAIN_FUNCTIONS = {"exp": math.exp, "log": math.log, "sin": math.sin, "cos": math.cos, "tan": math.tan}
_NUMBER_THEN_UNIT = re.compile(r"((?<![\w.])(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*(°?[A-Za-zµ][\w³²]*)(?!\s*\()")
_MAX_LENGTH = 500


def quantity(text: str, names: Names) -> Any:
    """Give the registry quantity a text stands for: a number with a unit, or ``= expression``.

    Raises
    ------
    UnitFault : unknown name, wrong form, or units that do not go together.
    """
    body = text.strip()
    if not body.startswith("="):
        return parse(body)
    if len(body) > _MAX_LENGTH:
        raise UnitFault("the expression is too long; use parameters for its parts.")
    source = _NUMBER_THEN_UNIT.sub(r"(\1*\2)", re.sub(r"\bin\b", "inch", body[1:].replace("^", "**"))).strip()
    try:
        tree = ast.parse(source, mode="eval")
        return _walk(tree.body, names)
    except UnitFault:
        raise
    except SyntaxError:
        raise UnitFault(f"“{body}” is not arithmetic. Write it like = 2 * width + 3 mm.") from None
    except ZeroDivisionError:
        raise UnitFault(f"“{body}” divides by zero.") from None
    except (RecursionError, MemoryError):
        raise UnitFault("the expression is nested too deeply; use parameters for its parts.") from None
    except Exception as problem:  # the registry has a dozen error types of its own; they mean that units clash
        clash = type(problem).__module__.startswith("pint")
        what = "mixes units that do not go together" if clash else "cannot be worked out"
        raise UnitFault(f"“{body}” {what}: {problem}.") from None


def evaluate(text: str, dimension: str, names: Names) -> float:
    """Give the SI value of a typed value or expression.

    Raises
    ------
    UnitFault : as `quantity`, or the result has another dimension.
    """
    if not text.strip().startswith("="):
        return read(text, dimension)
    value = to_si(registry().Quantity(1, "") * quantity(text, names), dimension)
    if not math.isfinite(value):
        raise UnitFault(f"“{text.strip()}” is not a finite number.")
    return value


def _walk(node: ast.expr, names: Names) -> Any:
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return registry().Quantity(float(node.value), "")
    if isinstance(node, ast.Name):
        return _name(node.id, names)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.UAdd):
        value = _walk(node.operand, names)
        return -value if isinstance(node.op, ast.USub) else value
    if isinstance(node, ast.BinOp):
        left, right = _walk(node.left, names), _walk(node.right, names)
        if isinstance(node.op, ast.Pow):
            power = float(right.to("").magnitude)
            if abs(power) > 12:
                raise UnitFault("powers above 12 are not allowed.")
            return left**power
        if type(node.op) in _BINARY:
            return _BINARY[type(node.op)](left, right)
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and not node.keywords and node.args:
        return _call(node.func.id, [_walk(arg, names) for arg in node.args])
    raise UnitFault("only numbers, names, + - * / **, brackets and the functions min max abs sqrt exp log sin cos tan may be used.")


def _name(name: str, names: Names) -> Any:
    if name in names:
        return names[name]()
    if name == "pi":
        return registry().Quantity(math.pi, "")
    try:
        return registry().Quantity(1.0, unit(name))
    except UnitFault:
        known = ", ".join(sorted(names)) or "none yet"
        raise UnitFault(f"“{name}” is neither a parameter nor a unit. Parameters: {known}.") from None


def _call(name: str, args: list[Any]) -> Any:
    if name in ("min", "max"):
        return (min if name == "min" else max)(args)
    if name == "abs" and len(args) == 1:
        return abs(args[0])
    if name == "sqrt" and len(args) == 1:
        return args[0] ** 0.5
    if name in _PLAIN_FUNCTIONS and len(args) == 1:
        return registry().Quantity(_PLAIN_FUNCTIONS[name](float(args[0].to("").magnitude)), "")
    raise UnitFault(f"“{name}” is not a function that can be used here.")
