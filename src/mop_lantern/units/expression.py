"""Arithmetic in values: ``= supply / 2``, ``= 2 * gap + 3 mm``, ``= 3 L/s * ramp(t, 0 s, 2 s)``.

Python's grammar is read by ``ast`` and walked with a whitelist; nothing is ever executed. A name may stand
for an array (places, times): then the result is an array.
"""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any

import numpy as np

from mop_lantern.units.quantity import UnitFault, parse, read, registry, to_si, unit
from mop_lantern.units.trade import value_spelled

Names = Mapping[str, Callable[[], Any]]
"""Names an expression may use, each a function giving its registry quantity.

``name()`` is a table, called with its place.
"""

_BINARY = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}
_COMPARE = {
    ast.Lt: operator.lt,
    ast.LtE: operator.le,
    ast.Gt: operator.gt,
    ast.GtE: operator.ge,
}
_PLAIN_FUNCTIONS = {
    "exp": np.exp,
    "log": np.log,
    "sin": np.sin,
    "cos": np.cos,
    "tan": np.tan,
}
FUNCTIONS = ("min", "max", "abs", "sqrt", *_PLAIN_FUNCTIONS, "ramp", "pulse", "step")
_NUMBER_THEN_UNIT = re.compile(
    r"((?<![\w.])(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(?![eE][+-]?\d)\s*(°?[A-Za-zµ][\w³²]*)(?!\s*\()"
)
_MAX_LENGTH = 500


def unit_typed(text: str) -> str:
    """Give the unit of a plain number as it was typed; of an expression, the unit it works out to."""
    text = value_spelled(text[: 2 * _MAX_LENGTH].strip())
    plain = re.fullmatch(r"[-+−]?[\d.,]+(?:[eE][-+]?\d+)?\s*(.*)", text, re.S)
    return plain.group(1) if plain else f"{quantity(text, {}).units:~}".replace(" ", "").replace("**", "^")


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
    source = _source(body)
    try:
        tree = ast.parse(source, mode="eval")
        with np.errstate(all="ignore"):
            return _walk(tree.body, names)
    except UnitFault:
        raise
    except SyntaxError:
        raise UnitFault(f"“{body}” is not arithmetic. Write it like = 2 * width + 3 mm.") from None
    except ZeroDivisionError:
        raise UnitFault(f"“{body}” divides by zero.") from None
    except (RecursionError, MemoryError):
        raise UnitFault("the expression is nested too deeply; use parameters for its parts.") from None
    except Exception as problem:  # the registry has a dozen error types of its own; they mean units clash
        clash = type(problem).__module__.startswith("pint")
        what = f"mixes units that do not go together{_clash(problem)}" if clash else "cannot be calculated"
        raise UnitFault(f"“{body}” {what}.") from None


def _clash(problem: Exception) -> str:
    """Name the two units that do not go together, where the registry says which."""
    first, second = getattr(problem, "units1", None), getattr(problem, "units2", None)
    if first is None or second is None:
        return ""
    named = (f"{registry().Unit(unit):~}".replace(" ** ", "^").replace(" ", "") for unit in (first, second))
    return ": " + " and ".join(unit or "a plain number" for unit in named)


def names_in(text: str) -> frozenset[str]:
    """Give the names an expression mentions, tables as ``name()``; none when the text is no expression or no
    arithmetic.
    """
    body = text.strip()
    return _names_in(body) if body.startswith("=") and len(body) <= _MAX_LENGTH else frozenset()


@lru_cache(maxsize=8192)
def _names_in(body: str) -> frozenset[str]:
    try:
        tree = ast.parse(_source(body), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return frozenset()
    called = {node.func for node in ast.walk(tree) if isinstance(node, ast.Call)}
    plain = {node.id for node in ast.walk(tree) if isinstance(node, ast.Name) and node not in called}
    return frozenset(plain | {f"{node.id}()" for node in called if isinstance(node, ast.Name)})


def evaluate(text: str, dimension: str, names: Names) -> Any:
    """Give the SI value of a typed value or expression: a float, or an array where a name stands for one.

    Raises
    ------
    UnitFault : as `quantity`, or the result has another dimension.
    """
    if not text.strip().startswith("="):
        return read(text, dimension)
    value = to_si(registry().Quantity(1, "") * quantity(text, names), dimension)
    if not np.isfinite(value).all():
        raise UnitFault(f"“{text.strip()}” is not a finite number.")
    return value


_CELSIUS = re.compile(r"(?<![\w.])(\d+\.?\d*|\.\d+)((?:[eE][+-]?\d+)?)\s*(?:°|deg)([CF])\b")


def _kelvin(found: re.Match[str]) -> str:
    value = float(found[1] + found[2])
    return f"({value + 273.15 if found[3] == 'C' else (value + 459.67) / 1.8!r} K)"


def _source(body: str) -> str:
    """Give Python's grammar: a temperature in °C or °F is an absolute one, in kelvin; a number before a unit
    multiplies it.
    """
    body = _CELSIUS.sub(_kelvin, body)
    return _NUMBER_THEN_UNIT.sub(r"(\1*\2)", re.sub(r"\bin\b", "inch", body[1:].replace("^", "**"))).strip()


def _walk(node: ast.expr, names: Names) -> Any:
    if (
        isinstance(node, ast.Constant)
        and isinstance(node.value, int | float)
        and not isinstance(node.value, bool)
    ):
        return registry().Quantity(float(node.value), "")
    if isinstance(node, ast.Name):
        return _name(node.id, names)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.UAdd):
        value = _walk(node.operand, names)
        return -value if isinstance(node.op, ast.USub) else value
    if isinstance(node, ast.BinOp):
        left = _walk(node.left, names)
        right = _walk(node.right, names)
        if isinstance(node.op, ast.Pow):
            power = float(right.to("").magnitude)  # an array here would have no one unit
            if abs(power) > 12:
                raise UnitFault("powers above 12 are not allowed.")
            return _real(left, power)
        if type(node.op) in _BINARY:
            return _BINARY[type(node.op)](left, right)
    if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _COMPARE:
        left = _walk(node.left, names)
        right = _walk(node.comparators[0], names)
        return registry().Quantity(1.0 * np.asarray(_COMPARE[type(node.ops[0])](left, right)), "")
    if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and not node.keywords and node.args:
        arguments = [_walk(arg, names) for arg in node.args]
        if f"{node.func.id}()" in names and len(arguments) == 1:
            return names[f"{node.func.id}()"](*arguments)
        return _call(node.func.id, arguments)
    raise UnitFault(
        f"only numbers, names, + - * / ** < >, brackets and the functions {' '.join(FUNCTIONS)} may be used."
    )


def _real(base: Any, power: float) -> Any:
    """Give a power that is a real number."""
    if power != int(power) and np.any(np.asarray(base.magnitude) < 0):
        raise UnitFault("the root of a negative value is not a real number.")
    return base**power


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
        low = name == "min"
        result = args[0]
        for other in args[1:]:
            other = other.to(result.units)
            result = registry().Quantity(
                (np.minimum if low else np.maximum)(result.magnitude, other.magnitude), result.units
            )
        return result
    if name == "abs" and len(args) == 1:
        return abs(args[0])
    if name == "sqrt" and len(args) == 1:
        return _real(args[0], 0.5)
    if name in _PLAIN_FUNCTIONS and len(args) == 1:
        return registry().Quantity(_PLAIN_FUNCTIONS[name](args[0].to("").magnitude), "")
    if (name, len(args)) in (
        ("ramp", 3),
        ("pulse", 3),
        ("step", 2),
    ):
        at, *ends = (arg.to(args[0].units).magnitude for arg in args)
        if name == "step":
            value = 1.0 * (np.asarray(at) >= ends[0])
        elif name == "pulse":
            value = 1.0 * ((np.asarray(at) >= ends[0]) & (np.asarray(at) < ends[1]))
        else:
            value = np.clip((at - ends[0]) / ((ends[1] - ends[0]) or 1e-300), 0.0, 1.0)
        return registry().Quantity(value, "")
    raise UnitFault(
        f"“{name}” is not a function that can be used here. Functions: {' '.join(FUNCTIONS)}; tables "
        "by their id."
    )
