"""The case as sentences: the lines of the sheet, shared by window, command line and report."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from typing import Any

from mop_lantern.case.conditions import REGIMES
from mop_lantern.case.document import Case
from mop_lantern.declare import Declared, Record, declared

_SLOT = re.compile(r"\{(\w+)\}")
SECTIONS = (
    "Shape",
    "Fluid",
    "Physics",
    "Transported quantities",
    "Openings",
    "Devices in the fluid",
    "Walls and solids",
    "Grid",
    "Solver",
    "Network",
    "Readings",
    "Measured",
    "Parameters",
    "Tables",
)


@dataclass(frozen=True)
class Slot:
    """A place in a sentence where a value stands."""

    path: str
    field: str
    declared: Declared | None
    value: Any

    def words(self) -> str:
        """Give the value as it is read."""
        return words_of(self.declared, self.value)


@dataclass(frozen=True)
class Line:
    """A sentence of the sheet: words and slots in reading order."""

    section: str
    path: str
    pieces: tuple[str | Slot, ...]
    removable: bool = False

    def text(self) -> str:
        """Give the plain sentence."""
        words = "".join(piece if isinstance(piece, str) else piece.words() for piece in self.pieces)
        return re.sub(r" +(?=[,;.](?:\s|$))", "", words)  # none before a stop, where a value is empty

    @property
    def slots(self) -> list[Slot]:
        """The values of the line."""
        return [piece for piece in self.pieces if isinstance(piece, Slot)]


def words_of(rule: Declared | None, value: Any) -> str:
    """Give a value in the words of the sheet."""
    if rule is not None and rule.form in ("choice", "flag"):
        return dict(rule.options).get(
            str(value).lower() if isinstance(value, bool) else str(value), str(value)
        )
    if rule is not None and rule.form == "point":
        return f"({', '.join(value)})"
    if rule is not None and rule.form == "points":
        return "any place" if not value else " ".join(f"({', '.join(place)})" for place in value)
    if rule is not None and rule.of == "medium" and not str(value).strip():
        return "named first"
    if isinstance(value, list | tuple):
        return ", ".join(str(item) for item in value)
    return str(value)


def sentence(
    record: Record,
    path: str,
    section: str,
    key: str = "",
    space: bool = False,
    idle: frozenset[str] = frozenset(),
) -> Line:
    """Make the line of a section or kind from its sentence template; in a space from the one for spaces,
    where it has one. Clauses with values that are ``idle``, of no effect in this case, are left away.
    """
    rules = declared(type(record))
    pieces: list[str | Slot] = []
    at = 0
    template = _without(record.template(space), idle)
    for found in _SLOT.finditer(template):
        pieces.append(template[at : found.start()])
        name = found[1]
        if name == "id":
            pieces.append(Slot(path, "id", None, key))
        else:
            pieces.append(Slot(f"{path}.{name}", name, rules.get(name), getattr(record, name)))
        at = found.end()
    pieces.append(template[at:])
    return Line(section, path, tuple(piece for piece in pieces if piece != ""), bool(key))


def _without(template: str, idle: frozenset[str]) -> str:
    """Give a sentence without the clauses that hold idle values."""
    for name in idle:
        template = re.sub(rf" \([^()]*\{{{name}\}}[^()]*\)", "", template)
        template = re.sub(rf"[,;] [^,;]*\{{{name}\}}[^,;.]*", "", template)
    return template


def _idle(case: Case) -> frozenset[str]:
    """Name the values of a network that have no effect in this case."""
    network = case.network
    idle = {"fluid"} if len(case.media) < 2 else set()
    idle |= {"wave"} if network.time.mode != "waves" else set()
    idle |= set() if network.thermal else {"film"}
    return frozenset(idle)


def sections_of(case: Case) -> tuple[str, ...]:
    """Give the sections a case has: a network alone has no space to divide into cells."""
    if case.network_alone:
        return ("Fluid", "Network", "Readings", "Measured", "Parameters", "Tables")
    return SECTIONS


@dataclass(frozen=True)
class Choice:
    """Which nodes and lines of a large network get lines: at most ``most`` (0: all), those whose names hold
    ``find``, and always those of the paths ``also``.
    """

    most: int = 0
    find: str = ""
    also: frozenset[str] = frozenset()

    def of(self, keys: Collection[str], path: str) -> list[str]:
        """Choose among the keys of a section."""
        if not self.most or len(keys) <= self.most:
            return list(keys)
        found = [key for key in keys if self.find in key.lower()][: self.most]
        wanted = {key for key in keys if f"{path}.{key}" in self.also} if self.also else set()
        wanted |= set(found)
        return [key for key in keys if key in wanted]


EVERY = Choice()


def lines(case: Case, edges: dict[str, float] | None = None, choice: Choice = EVERY) -> list[Line]:
    """Give all lines of a case in working order.

    Parameters
    ----------
    edges : edge names with their length, when the shape could be built; the walls' sentence then counts the
    still ones.
    choice : which lines of a large network are wanted; one more then tells how many are left out.
    """
    if case.network_alone:
        return (
            [sentence(medium, f"media.{key}", "Fluid", key) for key, medium in case.media.items()]
            + _network(case, choice)
            + _rest(case)
        )
    made = _shape_and_fluid(case) + _carried(case)
    made += _each(case.field.sources, "field.sources", "Transported quantities")
    for key, item in case.field.openings.items():
        made.append(sentence(item, f"field.openings.{key}", "Openings", key))
        made += _brought(case, key, item)
    made += _each(case.field.devices, "field.devices", "Devices in the fluid")
    made += _walls(case, edges) + _grid(case)
    made.append(sentence(case.field.solver, "field.solver", "Solver"))
    return made + (_network(case, choice) if case.network.nodes else []) + _rest(case)


def _each(items: Mapping[str, Any], path: str, heading: str) -> list[Line]:
    return [sentence(item, f"{path}.{key}", heading, key) for key, item in items.items()]


def _shape_and_fluid(case: Case) -> list[Line]:
    """Give the lines of shape, fluid and physics."""
    made = [sentence(case.shape, "shape", "Shape")]
    made += _each(case.shape.parts, "shape.parts", "Shape") + _each(
        case.shape.solids, "shape.solids", "Shape"
    )
    made += [sentence(medium, f"media.{key}", "Fluid") for key, medium in case.media.items()]
    space = case.shape.space == "space"
    made.append(sentence(case.field.physics, "field.physics", "Physics", space=space))
    made.append(sentence(case.field.time, "field.time", "Physics"))
    made.append(Line("Physics", "field.solved", (solved(case),)))
    if case.field.time.mode == "transient" or case.field.start != type(case.field.start)():
        made.append(sentence(case.field.start, "field.start", "Physics"))
    return made


def _carried(case: Case) -> list[Line]:
    """Give the lines of what the fluid carries: heat, species, age."""
    heading = "Transported quantities"
    made = [sentence(case.field.heat, "field.heat", heading)]
    light = frozenset() if case.field.physics.buoyancy != "none" else frozenset({"expansion"})
    made += [
        sentence(item, f"field.species.{key}", heading, key, idle=light)
        for key, item in case.field.species.items()
    ]
    made.append(sentence(case.field.age, "field.age", heading))
    if case.field.heat.solve or case.field.radiation.solve:
        made.append(sentence(case.field.radiation, "field.radiation", heading))
    if case.field.heat.solve or case.field.comfort.solve:
        made.append(sentence(case.field.comfort, "field.comfort", heading))
    return made


def _walls(case: Case, edges: dict[str, float] | None) -> list[Line]:
    heading = "Walls and solids"
    space = case.shape.space == "space"
    made = [
        sentence(item, f"field.walls.{key}", heading, key, space) for key, item in case.field.walls.items()
    ]
    made += _each(case.field.warm, "field.warm", heading)
    made += _each(case.field.finishes, "field.finishes", heading)
    made += _each(case.field.solids, "field.solids", heading)
    made.append(_still(case, edges))
    return made


def _grid(case: Case) -> list[Line]:
    grid = case.field.grid
    even = grid.grading_x == grid.grading_y == "even"
    idle = frozenset({"ratio"} if even else ())
    made = [sentence(grid, "field.grid", "Grid", space=case.shape.space == "space", idle=idle)]
    made += _each(grid.refine, "field.grid.refine", "Grid")
    made.append(sentence(case.field.adapt, "field.adapt", "Grid"))
    return made


def _rest(case: Case) -> list[Line]:
    """Readings and all that serves the others."""
    made = [
        sentence(
            item,
            f"readings.{key}",
            "Readings",
            key,
            case.shape.space == "space",
        )
        for key, item in case.readings.items()
    ]
    made += [sentence(item, f"measured.{key}", "Measured", key) for key, item in case.measured.items()]
    made += [sentence(item, f"parameters.{key}", "Parameters", key) for key, item in case.parameters.items()]
    made += [sentence(item, f"tables.{key}", "Tables", key) for key, item in case.tables.items()]
    return made


def _network(case: Case, choice: Choice) -> list[Line]:
    """Nodes, then every line with its components in order."""
    network = case.network
    nodes = choice.of(network.nodes, "network.nodes")
    chosen = choice.of(network.lines, "network.lines")
    made = [
        sentence(case.network, "network", "Network"),
        sentence(case.network.time, "network.time", "Network"),
        Line("Network", "network.solved", (_solved_network(case),)),
    ]
    left = len(network.nodes) - len(nodes), len(network.lines) - len(chosen)
    if any(left):
        words = (
            f"{left[0]:,} of {len(network.nodes):,} nodes and {left[1]:,} of {len(network.lines):,} lines "
            "are not on the sheet: find them by name above."
        )
        made.append(Line("Network", "network.left", (words,)))
    idle = _idle(case)
    made += [sentence(network.nodes[key], f"network.nodes.{key}", "Network", key, idle=idle) for key in nodes]
    made += [
        sentence(item, f"network.species.{key}", "Network", key) for key, item in case.network.species.items()
    ]
    made += [
        sentence(item, f"network.releases.{key}", "Network", key)
        for key, item in case.network.releases.items()
    ]
    for key in chosen:
        line = network.lines[key]
        made.append(sentence(line, f"network.lines.{key}", "Network", key, idle=idle))
        made += [
            sentence(part, f"network.lines.{key}.parts.{name}", "Network", name, idle=idle)
            for name, part in line.parts.items()
        ]
    return made + [
        sentence(item, f"network.operations.{key}", "Network", key)
        for key, item in case.network.operations.items()
    ]


TURBULENCE_ENTERS = {
    "given": ((", an intensity of ", "intensity"), (" and a mixing length of ", "mixing")),
    "energy": ((", an energy of ", "energy"), (" and a viscosity ratio of ", "ratio")),
}


def _brought(case: Case, key: str, item: Any) -> list[Line]:
    """Say what fluid that enters through an opening brings, where something carried is solved for."""
    kind: type[Record] = type(item)
    path = f"field.openings.{key}"
    rules = declared(kind)
    pieces: list[str | Slot] = []
    if case.field.physics.flow != "laminar":
        pieces += [" is ", Slot(f"{path}.turbulence", "turbulence", rules["turbulence"], item.turbulence)]
        for words, name in TURBULENCE_ENTERS.get(item.turbulence, ()):
            pieces += [words, Slot(f"{path}.{name}", name, rules[name], getattr(item, name))]
    if case.field.heat.solve:
        pieces += [
            " and is at " if pieces else " is at ",
            Slot(f"{path}.temperature", "temperature", rules["temperature"], item.temperature),
        ]
    for species, each in case.field.species.items():
        if each.nature == "vapour":
            pieces += [
                " with a relative humidity of ",
                Slot(f"{path}.humidity", "humidity", rules["humidity"], item.humidity),
            ]
            if item.humidity.strip() != "auto":
                continue
        rule = replace(rules["carries"], form="quantity", dimension=case.field.species[species].measure)
        pieces += [
            " and carries " if pieces else " carries ",
            Slot(f"{path}.carries.{species}", species, rule, item.carries.get(species, "0")),
            f" of {species}",
        ]
    if case.shape.space == "axis":
        pieces += [
            " and turns at " if pieces else " turns at ",
            Slot(f"{path}.swirl", "swirl", rules["swirl"], item.swirl),
        ]
    return (
        [Line("Openings", f"{path}.brings", (f"What enters through {key}", *pieces, "."))] if pieces else []
    )


def solved(case: Case) -> str:
    """Say what is solved of the flow domain, and what the program does not model there."""
    field = case.field
    fluid = bool(case.media) or not field.solids
    flow = field.physics.flow
    what = ["mass and momentum" + (f" of {REGIMES[flow]} flow" if flow == "laminar" else "")] if fluid else []
    if fluid and flow not in ("laminar", "reynolds"):
        what.append("turbulence")
    elif fluid and flow == "reynolds":
        what.append("turbulence where the Reynolds number is high")
    if field.heat.solve:
        what.append("temperature of fluid and solids" if fluid and field.solids else "temperature")
    what += [item.title or key for key, item in field.species.items()]
    what += ["the mean age of the fluid"] if field.age.solve else []
    lacking = "turbulence, " if flow == "laminar" and fluid else ""
    lacking += "compressible flow, free surfaces"
    if field.radiation.solve and field.heat.solve:
        what.append("radiation between surfaces")
        lacking += " and moving parts"
    else:
        lacking += ", moving parts and radiation"
    return f"Solved: {_listed(what) or 'nothing yet'}. Not modelled: {lacking}."


def _solved_network(case: Case) -> str:
    """Say what is solved of a network, and what the program does not model there."""
    network = case.network
    what = ["flows and pressures with laminar and turbulent friction"]
    what += {"steady": [], "transient": ["levels of tanks"], "waves": ["pressure waves"]}[network.time.mode]
    what += ["temperatures"] if network.thermal else []
    what += [item.title or key for key, item in network.species.items()]
    lacking = "gas at more than a third of its speed of sound, boiling and partly filled pipes"
    return f"Solved: {_listed(what)}. Not modelled: {lacking}."


def _listed(words: list[str]) -> str:
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)


def _still(case: Case, edges: dict[str, float] | None) -> Line:
    """Say what all those are that nobody names."""
    used = {item.edge for item in (*case.field.openings.values(), *case.field.walls.values())}
    what = "faces" if case.shape.space == "space" else "edges"
    rest = f"All other {what} are still, smooth walls"
    if edges is not None:
        others = [edge for edge in edges if edge not in used and edge != "axis"]
        rest = f"The other {len(others)} {what} are still, smooth walls"
    if case.field.heat.solve:
        rest += "; without a line for heat no heat passes them"
    rest += "."
    return Line("Walls and solids", "field.walls", (rest,))
