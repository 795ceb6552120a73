"""Work a case out to SI numbers: parameters, expressions, dimensions, limits. All faults are found in one
go.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from mop_lantern.case.bodies import solids_alone
from mop_lantern.case.document import Case
from mop_lantern.case.sections import SECTIONS
from mop_lantern.declare import Declared, Numbers, Record, declared, discover
from mop_lantern.declare.reason import beyond_reason
from mop_lantern.errors import Fault
from mop_lantern.judge.field_result import (
    CARRIED,
    COMFORT,
    FLOW_QUANTITIES,
    IN_SPACE,
    MOIST,
    ROUND_AXIS,
    TURBULENT,
)
from mop_lantern.judge.regime import BY_NUMBER, CHOSEN
from mop_lantern.units import DIMENSIONS, PLACES, UnitFault, Varying, evaluate, names_in, preferred, show
from mop_lantern.units.expression import quantity
from mop_lantern.units.quantity import registry, unit

AUTO = "auto"
_TO_SOLVE = {
    "T": "Set temperature to solved.",
    "age": "Set the mean age of the fluid to solved.",
    **dict.fromkeys(MOIST, "Set temperature to solved and add a species that is water vapour."),
    "radiant": "Set temperature and radiation to solved.",
    "swing": "Follow the flow in time and let the answer show the mean over time.",
    **dict.fromkeys(COMFORT, "Set temperature to solved and comfort to worked out."),
}


def _unknown(name: str, known: dict[str, tuple[str, str]], path: str) -> Fault:
    """Tell that a reading asks for a quantity there is none of, or by what it is called on screen.

    Parameters
    ----------
    known : words and dimension of the quantities of the case, by the names they have in it.
    """
    every = {**CARRIED, **known}
    spelled = next((key for key, (words, _) in every.items() if words == name.strip().lower()), "")
    if spelled in known:
        return Fault(path, f"“{name}” is what the quantity {spelled} is called.", f"Write {spelled}.")
    choices = ", ".join(key if key == words else f"{key} ({words})" for key, (words, _) in known.items())
    return Fault(
        path,
        f"“{CARRIED[name][0] if name in CARRIED else name}” is not solved in this case.",
        _TO_SOLVE.get(spelled or name, f"Choose one of: {choices}."),
    )


class Scope:
    """The names of a case: its parameters, its tables, and the varying names when they are set.

    Parameters
    ----------
    set_ : registry quantities of t, x, y, z, r, across; empty while nothing may vary.
    """

    def __init__(self, case: Case, set_: Mapping[str, Any]) -> None:
        self.case = case
        self._values: dict[str, Any] = {}
        self._broken: dict[str, str] = {}
        self.names: dict[str, Callable[..., Any]] = {
            name: lambda value=value: value for name, value in set_.items()
        }  # type: ignore[misc]
        self.names |= {key: lambda key=key: self.parameter(key) for key in case.parameters}  # type: ignore[misc]
        self.names |= {
            f"{key}()": lambda at, table=table: _looked_up(table, at) for key, table in case.tables.items()
        }  # type: ignore[misc]

    def parameter(self, key: str) -> Any:
        """Give a parameter's registry quantity."""
        if key in self._broken:
            raise UnitFault(self._broken[key])
        waiting = [key]  # a chain of thousands must not be a stack of thousands
        try:
            self._work_out(waiting)
        except UnitFault as fault:
            self._broken |= dict.fromkeys(waiting, str(fault))
            raise
        return self._values[key]

    def _work_out(self, waiting: list[str]) -> None:
        """Work out the last of some parameters, and before it those it depends on."""
        while waiting:
            top = waiting[-1]
            text = self.case.parameters[top].value
            missing = (
                [name for name in names_in(text) if name in self.case.parameters and name not in self._values]
                if top not in self._values
                else []
            )
            for name in missing:
                if name in waiting:
                    ring_of = [*waiting[waiting.index(name) :], name]
                    ring = " → ".join(ring_of if len(ring_of) <= 8 else [*ring_of[:4], "…", *ring_of[-3:]])
                    raise UnitFault(
                        f"the parameters {ring} depend on each other in a circle. Give one of them a number."
                    )
            if missing:
                waiting.append(missing[0])
                continue
            if top not in self._values:
                self._values[top] = quantity(text, self.names)
            waiting.pop()


def _looked_up(table: Any, at: Any) -> Any:
    rows = np.array(sorted(table.rows), float).reshape(-1, 2)
    place = at.to(unit(table.along)).magnitude
    return registry().Quantity(np.interp(place, rows[:, 0], rows[:, 1]), unit(table.gives))


class Resolver:
    """Turns the texts of one case into numbers, gathering faults by path."""

    def __init__(self, case: Case) -> None:
        self.case = case
        self.faults: list[Fault] = []
        self.scope = Scope(case, {})
        self.names = self.scope.names
        self._uses: dict[str, frozenset[str]] = {}

    def uses(self, text: str) -> frozenset[str]:
        """Give the varying names a text depends on, through parameters too."""
        if not text.lstrip().startswith("="):
            return frozenset()
        found: set[str] = set()
        for name in names_in(text):
            found |= self._places_of(name)
        return frozenset(found)

    def _places_of(self, name: str) -> frozenset[str]:
        """Give the varying names a parameter depends on, or the name itself if it is one."""
        if name not in self.case.parameters:
            return frozenset([name]) if name in PLACES else frozenset()
        waiting = [name]  # as deep as a chain may be
        while waiting:
            top = waiting[-1]
            inner = names_in(self.case.parameters[top].value)
            missing = [
                other
                for other in inner
                if other in self.case.parameters and other not in self._uses and other not in waiting
            ]
            if missing and top not in self._uses:
                waiting.append(missing[0])
                continue
            own = frozenset(other for other in inner if other in PLACES and other not in self.case.parameters)
            self._uses[top] = own.union(*(self._uses.get(other, frozenset()) for other in inner))
            waiting.pop()
        return self._uses[name]

    def parameters(self) -> None:
        """Work out every parameter, so that faults of unused ones are found too."""
        for key in self.case.parameters:
            try:
                if self.uses(self.case.parameters[key].value):
                    self._scope_at(
                        {
                            name: registry().Quantity(300.0 if name == "T" else 0.0, of)
                            for name, of in PLACES.items()
                        }
                    )[key]()
                else:
                    self.scope.parameter(key)
            except UnitFault as fault:
                self.faults.append(Fault(f"parameters.{key}.value", str(fault)))

    def tables(self) -> None:
        """Check that every table has rows and units."""
        for key, table in self.case.tables.items():
            if not table.rows or not np.isfinite(np.array(table.rows, float)).all():
                self.faults.append(
                    Fault(
                        f"tables.{key}.rows",
                        "the table has no rows, or rows that are not numbers.",
                        "Import it again.",
                    )
                )
            for name in ("along", "gives"):
                try:
                    unit(getattr(table, name))
                except UnitFault as fault:
                    self.faults.append(Fault(f"tables.{key}.{name}", str(fault)))

    def _scope_at(self, set_: Mapping[str, Any]) -> Mapping[str, Callable[..., Any]]:
        return Scope(self.case, set_).names

    def record(self, record: Record, path: str) -> Numbers:
        """Work out a section or kind: quantities to floats, points to arrays, all else as it is."""
        values: dict[str, Any] = {}
        rules = declared(type(record))
        for name in type(record).model_fields:
            value = getattr(record, name)
            rule = rules.get(name)
            if rule and rule.form in ("quantity", "count"):
                values[name] = None if value == AUTO else self._number(value, rule, f"{path}.{name}")
            elif rule and rule.form == "point":
                values[name] = self._place(value, rule, f"{path}.{name}")
            elif rule and rule.form == "points":
                ways = min((len(place) for place in value), default=2)
                values[name] = np.array(
                    [self._point(p[:ways], rule, f"{path}.{name}.{i}") for i, p in enumerate(value)]
                ).reshape(-1, ways)
            elif rule and rule.form == "amounts":
                values[name] = self._amounts(value, rule, f"{path}.{name}")
            elif isinstance(value, Record):
                values[name] = self.record(value, f"{path}.{name}")
            elif isinstance(value, dict):
                values[name] = {
                    k: self.record(v, f"{path}.{name}.{k}") if isinstance(v, Record) else v
                    for k, v in value.items()
                }
            else:
                values[name] = value
        return Numbers(**values)

    def _place(
        self,
        value: Any,
        rule: Declared,
        path: str,
    ) -> Any:
        """Work out a place: as many numbers as the shape has directions, 0 left out where all are."""
        wanted = 3 if self.case.shape.space == "space" and not path.startswith("shape.parts") else 2
        if len(value) != wanted and any(part.split()[0] != "0" for part in map(str, value) if part.strip()):
            names = "x, y and z" if wanted == 3 else "x and y"
            self.faults.append(
                Fault(
                    path,
                    f"a place has {wanted} numbers here: {names}.",
                    "Add z." if wanted == 3 else "Remove the third.",
                )
            )
        found = self._point(value[:wanted], rule, path)
        return np.concatenate([found, np.zeros(wanted - len(found))])

    def _point(
        self,
        value: Any,
        rule: Declared,
        path: str,
    ) -> Any:
        rules = (replace(rule, dimension=rule.along), rule) if rule.along else (rule,) * 3
        return np.array(
            [
                self._number(part, each, f"{path}.{index}")
                for index, (part, each) in enumerate(zip(value, rules, strict=False))
            ]
        )

    def reading(self, record: Record, path: str) -> Numbers:
        """Work out a reading; ``of`` gets label and dimension of what it reads."""
        numbers = self.record(record, path)
        name = getattr(numbers, "quantity", None)
        there = True
        if name is not None:
            known = quantities(self.case)
            there = name in known
            if not there:
                self.faults.append(_unknown(name, known, f"{path}.quantity"))
            numbers.of = known.get(name, ("", "number"))
        for field in getattr(type(record), "IN_QUANTITY", ()):
            rule = Declared("quantity", field, "", numbers.of[1])
            given = str(getattr(numbers, field)).strip()
            value = self._number(given, rule, f"{path}.{field}") if given and there else float("inf")
            setattr(numbers, field, value)
        swings = getattr(numbers, "swings", None)
        if swings is not None:
            able = [
                key
                for key, other in self.case.readings.items()
                if type(other).on == "field" and not type(other).over_time
            ]
            if swings not in able:
                self.faults.append(
                    Fault(
                        f"{path}.swings",
                        f"there is no reading “{swings}” that could be followed.",
                        f"Readings: {', '.join(able) or 'none yet'}.",
                    )
                )
                return numbers
            followed: Any = self.case.readings[swings]
            told = len(self.faults)  # those of the other are told at the other
            numbers.followed = type(followed).dimension_of(self.reading(followed, f"readings.{swings}"))
            del self.faults[told:]
            for field in getattr(type(record), "IN_OTHER", ()):
                rule = Declared("quantity", field, "", numbers.followed)
                setattr(numbers, field, self._number(getattr(numbers, field), rule, f"{path}.{field}"))
        return numbers

    def species(self, record: Record, path: str) -> Numbers:
        """Work out a species; its start has the dimension of its measure."""
        numbers = self.record(record, path)
        rule = Declared(
            "quantity",
            "start",
            "",
            numbers.measure,
            varies=("x", "y", "r"),
        )
        numbers.start = self._number(numbers.start, rule, f"{path}.start")
        return numbers

    def _amounts(
        self,
        value: dict[str, str],
        rule: Declared,
        path: str,
    ) -> dict[str, Any]:
        """Work out one value for every species, zero where none is given."""
        found: dict[str, Any] = {}
        for key in value:
            if key not in self.case.field.species:
                known = ", ".join(self.case.field.species) or "none"
                self.faults.append(
                    Fault(f"{path}.{key}", f"there is no species “{key}”.", f"Species: {known}.")
                )
        for key, species in self.case.field.species.items():
            found[key] = self._number(
                value.get(key, "0"), replace(rule, dimension=species.measure), f"{path}.{key}"
            )
        return found

    def _number(
        self,
        text: str,
        rule: Declared,
        path: str,
    ) -> Any:
        anyhow = rule.dimension in ("fraction", "density") and rule.broken_limit(0.0) is None
        if text.strip() == "0" and anyhow:
            return 0.0  # nothing is nothing in any measure
        uses = self.uses(text)
        if uses - set(rule.varies):
            allowed = f"It may use {', '.join(rule.varies)}." if rule.varies else "It must be a fixed value."
            self.faults.append(
                Fault(
                    path,
                    f"{rule.label} cannot change with {', '.join(sorted(uses - set(rule.varies)))}.",
                    allowed,
                )
            )
            return float("nan")
        if uses:
            return self._varying(text, rule, path, uses)
        try:
            value = evaluate(text, rule.dimension, self.names)
        except UnitFault as fault:
            self.faults.append(Fault(path, str(fault)))
            return float("nan")
        broken = rule.broken_limit(value)
        if broken:
            unit = preferred(rule.dimension, self.case.units)
            limit = show(broken[1], rule.dimension, unit)
            self.faults.append(
                Fault(
                    path,
                    f"{rule.label} {broken[0]} {limit} (it is {show(value, rule.dimension, unit)}).",
                    _in_per_cent(text, rule, value),
                )
            )
            return float("nan")
        reason = beyond_reason(value, rule.dimension, rule.above == 0)
        if reason is not None:
            unit = preferred(rule.dimension, self.case.units)
            words = (
                f"{rule.label}: {show(value, rule.dimension, unit)} is beyond reason; the limit is "
                f"{show(reason, rule.dimension, unit)}."
            )
            self.faults.append(Fault(path, words, "Look at its unit and its power of ten."))
            return float("nan")
        if rule.form == "count" and abs(value - round(value)) > 1e-9:
            self.faults.append(Fault(path, f"{rule.label} must be a whole number.", "Change the value."))
        return value

    def _varying(
        self,
        text: str,
        rule: Declared,
        path: str,
        uses: frozenset[str],
    ) -> Any:
        """Give a varying value after trying it at a few places."""
        made = Varying(text, rule.dimension, uses, self._scope_at)
        line = np.linspace(-1.0, 1.0, 5)
        try:
            tried = made.at(
                {
                    "t": 0.0,
                    "x": line,
                    "y": line,
                    "r": np.abs(line),
                    "across": line,
                    "T": 300.0,
                }
                if uses != {"t"}
                else {"t": 0.0}
            )
        except UnitFault as fault:
            self.faults.append(Fault(path, str(fault)))
            return float("nan")
        broken = rule.broken_limit(float(np.min(tried))) or rule.broken_limit(float(np.max(tried)))
        if broken and uses == {"t"}:
            limit = show(broken[1], rule.dimension, preferred(rule.dimension, self.case.units))
            self.faults.append(
                Fault(
                    path,
                    f"{rule.label} {broken[0]} {limit}; at the start it is not.",
                    "Change the expression.",
                )
            )
        return made


def _in_per_cent(text: str, rule: Declared, value: float) -> str:
    """Say how to fix a value beyond its limit: a bare 50 for a fraction is likely meant as 50 %."""
    plain = rule.dimension == "fraction" and text.strip().replace(".", "", 1).isdigit()
    fits = plain and rule.broken_limit(value / 100) is None
    return f"Write {text.strip()} %." if fits else "Change the value."


def quantities(case: Case) -> dict[str, tuple[str, str]]:
    """Give everything of a case that can be read or shown: key to label and dimension."""
    across = IN_SPACE if case.shape.space == "space" else ROUND_AXIS if case.shape.space == "axis" else {}
    found = {} if solids_alone(case) else FLOW_QUANTITIES | across
    if case.field.heat.solve:
        found["T"] = CARRIED["T"]
    if case.field.age.solve:
        found["age"] = CARRIED["age"]
    if case.field.radiation.solve and case.field.heat.solve and found.get("pressure"):
        found["radiant"] = CARRIED["radiant"]
    if case.field.heat.solve and any(each.nature == "vapour" for each in case.field.species.values()):
        found |= {name: CARRIED[name] for name in MOIST}
    if case.field.comfort.solve and case.field.heat.solve:
        found |= {name: CARRIED[name] for name in COMFORT}
    found |= {
        f"c.{key}": (species.title or key, species.measure) for key, species in case.field.species.items()
    }
    medium: Any = next(iter(case.media.values()), None)
    if hasattr(medium, "law") or (case.field.heat.solve and _follows(case, medium)):
        found["viscosity"] = CARRIED["viscosity"]
    if case.field.physics.buoyancy != "none":
        found["density"] = CARRIED["density"]
    if case.field.physics.flow != "laminar" and "pressure" in found:
        found |= {name: CARRIED[name] for name in (*TURBULENT, *_seconds(case))}
    if case.field.time.mode == "transient" and case.field.time.shows == "mean" and "pressure" in found:
        found["swing"] = CARRIED["swing"]
    return found


def _seconds(case: Case) -> list[str]:
    """Name the second quantity of the closures that a case may get."""
    flow = case.field.physics.flow
    closure: Any = discover("mop_lantern.field.closures").get(CHOSEN if flow == BY_NUMBER else flow)
    return [closure.second] if closure is not None and closure.second else []


def _follows(case: Case, medium: Any) -> bool:
    """Whether the properties of a fluid follow the temperature."""
    if hasattr(medium, "follow"):
        return bool(medium.follow)
    resolver = Resolver(case)
    return medium is not None and any(
        "T" in resolver.uses(text) for text in medium.model_dump().values() if isinstance(text, str)
    )


def resolve(case: Case) -> tuple[Numbers, list[Fault]]:
    """Work out a case (variant already applied).

    Returns
    -------
    numbers : sections with SI floats; a value at fault is nan. faults : in the order of the sheet.
    """
    resolver = Resolver(case)
    resolver.tables()
    resolver.parameters()
    for name, unit_ in case.units.items():
        try:
            evaluate(f"1 {unit_}", name, {})
        except UnitFault:
            known = ", ".join(unit for unit in DIMENSIONS[name].units if unit)
            resolver.faults.append(
                Fault(
                    f"units.{name}",
                    f"“{unit_}” is not a unit of {DIMENSIONS[name].label}.",
                    f"Use one of {known}.",
                )
            )
    numbers = Numbers()
    how = {"record": resolver.record, "species": resolver.species, "reading": resolver.reading}
    for section in SECTIONS:
        if not section.resolved:
            continue
        work_out = how[section.resolved]
        found = section.of(case)
        made: Any = (
            {key: work_out(item, f"{section.path}.{key}") for key, item in found.items()}
            if section.many
            else work_out(found, section.path)
        )
        setattr(numbers, section.name, made)
    conducting = numbers.solids.values() if numbers.heat.solve else ()
    numbers.shape.kept = tuple(solid.part for solid in conducting)
    return numbers, resolver.faults
