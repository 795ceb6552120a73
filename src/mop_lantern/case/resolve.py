"""Work a case out to SI numbers: parameters, expressions, dimensions, limits. All faults are found in one go."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from mop_lantern.case.document import Case
from mop_lantern.declare import Declared, Numbers, Record, declared
from mop_lantern.errors import Fault
from mop_lantern.units import DIMENSIONS, UnitFault, evaluate, preferred, show
from mop_lantern.units.expression import quantity

AUTO = "auto"


class Resolver:
    """Turns the texts of one case into numbers, gathering faults by path."""

    def __init__(self, case: Case) -> None:
        self.case = case
        self.faults: list[Fault] = []
        self._values: dict[str, Any] = {}
        self._working: list[str] = []
        self.names: dict[str, Callable[[], Any]] = {key: lambda key=key: self._parameter(key) for key in case.parameters}  # type: ignore[misc]

    def parameters(self) -> None:
        """Work out every parameter, so that faults of unused ones are found too."""
        for key in self.case.parameters:
            try:
                self._parameter(key)
            except UnitFault as fault:
                self.faults.append(Fault(f"parameters.{key}.value", str(fault)))

    def _parameter(self, key: str) -> Any:
        if key in self._values:
            return self._values[key]
        if key in self._working:
            ring = " → ".join([*self._working[self._working.index(key) :], key])
            raise UnitFault(f"the parameters {ring} depend on each other in a circle. Give one of them a number.")
        self._working.append(key)
        try:
            self._values[key] = quantity(self.case.parameters[key].value, self.names)
        finally:
            self._working.pop()
        return self._values[key]

    def record(self, record: Record, path: str) -> Numbers:
        """Work out a section or kind: quantities to floats, points to arrays, all else as it is."""
        values: dict[str, Any] = {}
        rules = declared(type(record))
        for name in type(record).model_fields:
            value, rule = getattr(record, name), rules.get(name)
            if rule and rule.form in ("quantity", "count"):
                values[name] = None if value == AUTO else self._number(value, rule, f"{path}.{name}")
            elif rule and rule.form == "point":
                values[name] = self._point(value, rule, f"{path}.{name}")
            elif rule and rule.form == "points":
                values[name] = np.array([self._point(p, rule, f"{path}.{name}.{i}") for i, p in enumerate(value)]).reshape(-1, 2)
            elif isinstance(value, dict):
                values[name] = {k: self.record(v, f"{path}.{name}.{k}") if isinstance(v, Record) else v for k, v in value.items()}
            else:
                values[name] = value
        return Numbers(**values)

    def _point(self, value: Any, rule: Declared, path: str) -> Any:
        return np.array([self._number(part, rule, f"{path}.{index}") for index, part in enumerate(value)])

    def _number(self, text: str, rule: Declared, path: str) -> float:
        try:
            value = evaluate(text, rule.dimension, self.names)
        except UnitFault as fault:
            self.faults.append(Fault(path, str(fault)))
            return float("nan")
        broken = rule.broken_limit(value)
        if broken:
            unit = preferred(rule.dimension, self.case.units)
            limit = show(broken[1], rule.dimension, unit)
            self.faults.append(Fault(path, f"{rule.label} {broken[0]} {limit} (it is {show(value, rule.dimension, unit)}).", "Change the value."))
            return float("nan")
        if rule.form == "count" and abs(value - round(value)) > 1e-9:
            self.faults.append(Fault(path, f"{rule.label} must be a whole number.", "Change the value."))
        return value


def resolve(case: Case) -> tuple[Numbers, list[Fault]]:
    """Work out a case (variant already applied).

    Returns
    -------
    numbers : sections with SI floats; a value at fault is nan. faults : in the order of the sheet.
    """
    resolver = Resolver(case)
    resolver.parameters()
    for name, unit_ in case.units.items():
        try:
            evaluate(f"1 {unit_}", name, {})
        except UnitFault:
            known = ", ".join(unit for unit in DIMENSIONS[name].units if unit)
            resolver.faults.append(Fault(f"units.{name}", f"“{unit_}” is not a unit of {DIMENSIONS[name].label}.", f"Use one of {known}."))
    numbers = Numbers(
        shape=resolver.record(case.shape, "shape"),
        media={key: resolver.record(medium, f"media.{key}") for key, medium in case.media.items()},
        openings={key: resolver.record(item, f"field.openings.{key}") for key, item in case.field.openings.items()},
        walls={key: resolver.record(item, f"field.walls.{key}") for key, item in case.field.walls.items()},
        grid=resolver.record(case.field.grid, "field.grid"),
        run=resolver.record(case.field.run, "field.run"),
        readings={key: resolver.record(item, f"readings.{key}") for key, item in case.readings.items()},
    )
    return numbers, resolver.faults
