"""Review a network: its references, its components, its steady state, and the margin notes on that."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import islice
from typing import Any

import numpy as np

from mop_lantern.case.document import Case
from mop_lantern.case.edits import apply, parse_value
from mop_lantern.case.network_figures import duties_of, extras_of
from mop_lantern.declare import Numbers, discover
from mop_lantern.errors import EditError, Fault
from mop_lantern.judge import NetworkResult
from mop_lantern.laws.vapour import water
from mop_lantern.media import Fluid
from mop_lantern.media._fluid import Medium
from mop_lantern.network.build import BRANCHES, readied
from mop_lantern.network.steady import Flows, NetworkFault
from mop_lantern.network.surge import Surge
from mop_lantern.network.system import Operating, numbered, operate
from mop_lantern.network.transient import March

GRAVITY = 9.80665
LIVE_BELOW = 3000  # lines: larger networks are solved by the solver process only


@dataclass(frozen=True)
class SettledNetwork:
    """A network ready to solve."""

    case: Case
    variant: str
    numbers: Numbers
    fluids: Mapping[str, Fluid]

    def operate(self, start: Flows | None = None) -> Operating:
        """Find the steady state; raise `NetworkFault` when there is none."""
        network = self.numbers.network
        return operate(
            network,
            self.fluids,
            network.outside,
            self.case.network.thermal,
            start,
        )


def fluids_of(numbers: Numbers) -> dict[str, Fluid]:
    """Work out all fluids of a case.

    Raises
    ------
    ValueError : one of them cannot be worked out.
    """
    kinds = discover("mop_lantern.media", Medium)
    return {key: kinds[medium.kind].fluid(medium) for key, medium in numbers.media.items()}


def duties(case: Case, variant: str, numbers: Numbers) -> dict[str, Any]:
    """Give the duty curves of the machines of a reviewed network; none where it has no answer."""
    settled = SettledNetwork(case, variant, numbers, fluids_of(numbers))
    try:
        return duties_of(settled.operate(), numbers.network)
    except NetworkFault:
        return {}


def network_faults(case: Case, numbers: Numbers) -> list[Fault]:
    """Check that everything named exists and that components can be."""
    network = case.network
    faults = [] if case.media else [Fault("media", "there is no fluid.", "Add one.")]
    for key in network.lines:
        faults += _line_faults(case, key) + _partner_faults(case, key)
    faults += _branch_faults(case) + _species_faults(case, numbers)
    if not any(node.sets_pressure() for node in network.nodes.values()):
        faults.append(
            Fault(
                "network.nodes",
                "nothing sets the pressure of the network.",
                "Add a reservoir or a tank; a closed circuit needs its expansion tank.",
            )
        )
    faults += _operation_faults(case) + _reading_faults(case)
    if not any(fault.path.startswith("network") for fault in faults):
        faults += [
            Fault(f"network.{path}", says, remedy) for path, says, remedy in readied(numbers.network)[1]
        ]
    return faults


def _line_faults(case: Case, key: str) -> list[Fault]:
    """Check the ends and the fluid of a line, and that it holds something."""
    nodes = case.network.nodes
    line = case.network.lines[key]
    path = f"network.lines.{key}"
    faults = []
    for name in ("start", "end"):
        if getattr(line, name) not in nodes:
            known = ", ".join(islice(nodes, 40)) or "none"
            faults.append(
                Fault(f"{path}.{name}", f"there is no node “{getattr(line, name)}”.", f"Nodes: {known}.")
            )
    if line.start == line.end:
        faults.append(Fault(path, "the line ends where it begins.", "Give it another node."))
    if line.fluid.strip() and line.fluid not in case.media:
        known = ", ".join(case.media)
        faults.append(Fault(f"{path}.fluid", f"there is no fluid “{line.fluid}”.", f"Fluids: {known}."))
    if not line.parts:
        says = "the line holds nothing that resists the flow."
        faults.append(Fault(path, says, "Add a pipe or another component."))
    return faults


def _parts_of(case: Case) -> dict[str, Any]:
    """Give every component by LINE.PART."""
    lines = case.network.lines.items()
    return {f"{key}.{name}": part for key, line in lines for name, part in line.parts.items()}


def _partner_faults(case: Case, key: str) -> list[Fault]:
    """Check that sides of heat exchangers name each other."""
    faults = []
    for name, part in case.network.lines[key].parts.items():
        if part.kind != "exchanger":
            continue
        other = _part_named(case, part.partner)
        if other is None or other.kind != "exchanger" or part.partner == f"{key}.{name}":
            faults.append(
                Fault(
                    f"network.lines.{key}.parts.{name}.partner",
                    f"“{part.partner}” is not the other side of a heat exchanger.",
                    "Name it as LINE.PART.",
                )
            )
    return faults


def _part_named(case: Case, name: str) -> Any:
    """Give a component by LINE.PART, None where there is none."""
    line, _, part = name.partition(".")
    return case.network.lines[line].parts.get(part) if line in case.network.lines else None


def _branch_faults(case: Case) -> list[Fault]:
    """Check that three lines meet at every tee, one of them its side way."""
    at_node: dict[str, list[str]] = {}
    for name, line in case.network.lines.items():
        for key in dict.fromkeys((line.start, line.end)):
            at_node.setdefault(key, []).append(name)
    faults = []
    for key, node in case.network.nodes.items():
        meeting = at_node.get(key, [])
        if node.kind in BRANCHES and (len(meeting) != 3 or node.side not in meeting):
            here = ", ".join(meeting) or "none"
            says = f"three lines must meet at a {node.kind}, one of them its side way; here meet {here}."
            faults.append(
                Fault(f"network.nodes.{key}.side", says, "Name its side line, or make it a junction.")
            )
    return faults


def _reading_faults(case: Case) -> list[Fault]:
    """Check that readings of the network name what there is."""
    known = {"node": case.network.nodes, "line": case.network.lines, "part": _parts_of(case)}
    faults = []
    for key, item in case.readings.items():
        for name, names in known.items():
            value = getattr(item, name, None)
            if item.kind == f"{name}_value" and value not in names:
                some = ", ".join(list(names)[:20])
                faults.append(
                    Fault(
                        f"readings.{key}.{name}", f"there is no “{value}” in the network.", f"Known: {some}."
                    )
                )
    return faults


def _species_faults(case: Case, numbers: Numbers) -> list[Fault]:
    """Check that releases name what there is, and are told as their species is counted."""
    network = case.network
    faults = []
    for key, item in network.releases.items():
        path = f"network.releases.{key}"
        of = network.species.get(item.species)
        if item.node not in network.nodes:
            faults.append(
                Fault(
                    f"{path}.node",
                    f"there is no node “{item.node}”.",
                    f"Nodes: {', '.join(network.nodes) or 'none'}.",
                )
            )
        elif item.per == "person" and not hasattr(network.nodes[item.node], "occupants"):
            faults.append(
                Fault(
                    f"{path}.per",
                    f"“{item.node}” is not a room: nobody is in it.",
                    "Release it in all, or in a mixed room.",
                )
            )
        if of is None:
            faults.append(
                Fault(
                    f"{path}.species",
                    f"there is no species “{item.species}”.",
                    f"Species: {', '.join(network.species) or 'none; add one'}.",
                )
            )
            continue
        wrong = "rate" if of.counted == "volume" else "volume"
        given = getattr(numbers.network.releases[key], wrong) if key in numbers.network.releases else 0.0
        if not isinstance(given, float) or given != 0:
            words = "a volume flow, as 18 L/h" if of.counted == "volume" else "a mass flow, as 5 mg/s"
            faults.append(
                Fault(
                    f"{path}.{wrong}",
                    f"“{item.species}” is counted by {of.counted}.",
                    f"Write 0 here and give its release as {words}; or count it otherwise.",
                )
            )
    for key, reading in case.readings.items():
        if reading.kind == "node_share":
            for name, known in (("node", network.nodes), ("species", network.species)):
                if getattr(reading, name) not in known:
                    faults.append(
                        Fault(
                            f"readings.{key}.{name}",
                            f"there is no “{getattr(reading, name)}” in the network.",
                            f"Known: {', '.join(list(known)[:20]) or 'none'}.",
                        )
                    )
    return faults


def _operation_faults(case: Case) -> list[Fault]:
    """Try every operation: one that cannot be done is told before the run."""
    faults = []
    for key, item in case.network.operations.items():
        allowed = item.path.startswith(
            ("network.lines.", "network.nodes.", "network.releases.", "parameters.")
        )
        if not allowed:
            faults.append(
                Fault(
                    f"network.operations.{key}.path",
                    f"“{item.path}” is not something that can be operated in a network.",
                    "Name a value of a node, a component or a parameter.",
                )
            )
            continue
        try:
            apply(case, {item.path: parse_value(item.value)})
        except EditError as problem:
            faults.append(
                Fault(f"network.operations.{key}.path", problem.faults[0].says, problem.faults[0].remedy)
            )
    return faults


def fault_of(problem: NetworkFault) -> Fault:
    """Put what has no answer at the line it concerns."""
    name = problem.name
    path = f"network.{name}" if name.startswith(("lines.", "nodes.")) else "network"
    return Fault(path, problem.says, problem.remedy)


def working_of(made: Operating, settled: SettledNetwork, march: March | Surge | None = None) -> NetworkResult:
    """Give the figures of a network at work by name."""
    net = made.net
    flow = made.flow
    case = settled.case
    rho = np.full(net.n_nodes, float(net.density.mean()))
    rho[net.start], rho[net.end] = net.density, net.density
    gain = (
        np.bincount(net.end, made.flows.mass, net.n_nodes)
        - np.bincount(net.start, made.flows.mass, net.n_nodes)
        - net.demand
    )
    nodes = {
        name: {
            "pressure": float(made.flows.pressure[k]),
            "head": float(net.z[k] + made.flows.pressure[k] / (rho[k] * GRAVITY)),
            "temperature": float(made.temperature[k]),
            "age": float(made.age[k]),
            "gain": float(gain[k]),
        }
        for k, name in enumerate(net.node_names)
    }
    for species, spread in made.species.items():
        for k, name in enumerate(net.node_names):
            nodes[name][f"share.{species}"] = float(spread.at[k])
    parts, fastest, total = _parts(made, _vapour(made, settled), float(settled.numbers.network.air_pressure))
    lines = {
        name: {
            "volume_flow": float(flow[k]),
            "mass_flow": float(made.flows.mass[k]),
            "velocity": float(fastest[k]),
            "loss": float(total[k]),
        }
        for k, name in enumerate(net.line_names)
    }
    at_start, at_end = net.end_areas(unknown=float("nan"))
    for k, name in enumerate(net.line_names):  # static: less the share of the velocity there
        for side, node, area in (
            ("static_start", net.start[k], at_start[k]),
            ("static_end", net.end[k], at_end[k]),
        ):
            lines[name][side] = float(
                made.flows.pressure[node] - 0.5 * net.density[k] * (flow[k] / area) ** 2
            )
    kinds = {key: node.kind for key, node in case.network.nodes.items()}
    kinds |= {name: group.kind.__module__.rsplit(".", 1)[1] for group in net.groups for name in group.names}
    ends = {key: (line.start, line.end) for key, line in case.network.lines.items()}
    if isinstance(march, Surge):
        for k, name in enumerate(net.line_names):
            lines[name] |= {"highest": float(march.highest[k]), "lowest": float(march.lowest[k])}
    for name, node in settled.numbers.network.nodes.items():
        if case.network.nodes[name].rises:
            nodes[name]["level"] = (
                nodes[name]["head"]
                - float(net.z[net.node_names.index(name)])
                - float(node.at({"t": 0.0}).over) / (float(net.density[0]) * GRAVITY)
            )
    if march is not None:
        for k, place in enumerate(march.tanks.node):
            nodes[net.node_names[int(place)]]["level"] = float(march.tanks.level[k])
    return NetworkResult(
        nodes,
        lines,
        parts,
        kinds,
        ends,
        made.flows.imbalance,
        made.flows.energy,
        made.balance,
        case.network.thermal and march is None,
        made.flows.steps,
        made.rounds,
        march.time if march is not None else 0.0,
        extras_of(made, settled.numbers.network, case.network.thermal, march),
    )


def _parts(made: Operating, vapour: Any, air: float) -> tuple[dict[str, dict[str, float]], Any, Any]:
    """Give the figures of all components, and the highest velocity and whole loss of every line."""
    net = made.net
    flow = made.flow
    fastest = np.zeros(net.n_lines)
    total = np.zeros(net.n_lines)
    before = _pressures_before(made)
    parts: dict[str, dict[str, float]] = {}
    if net.offset is not None:
        total += net.offset * np.where(made.flows.mass >= 0, 1.0, -1.0)
    for where, group in numbered(net):
        rho = net.density[group.line]
        mu = net.viscosity[group.line]
        area = np.broadcast_to(np.asarray(group.kind.area(group.stack), float), len(group))
        wide = np.broadcast_to(np.asarray(group.kind.diameter(group.stack), float), len(group))
        speed = np.abs(flow[group.line]) / area
        np.fmax.at(fastest, group.line, speed)
        np.add.at(total, group.line, made.loss[where])
        loss = made.loss[where]
        efficiency = getattr(group.stack, "efficiency", np.ones(len(group)))
        for k, name in enumerate(group.names):
            q = abs(float(flow[group.line[k]]))
            own = where.start + k
            parts[name] = {
                "loss": float(loss[k]),
                "gain": -float(loss[k]),
                "velocity": float(speed[k]),
                "reynolds": float(rho[k] * speed[k] * wide[k] / mu[k]),
                "inlet": float(made.inlet[own]),
                "outlet": float(made.outlet[own]),
                "heat": float(made.heat[own]),
                "power": float(
                    loss[k] * q * efficiency[k]
                    if group.kind.works
                    else max(-loss[k], 0.0) * q / efficiency[k]
                ),
            }
            if hasattr(group.stack, "npsh"):
                height = group.stack.height[k]
                begins = net.z[net.start[group.line[k]]]
                rise = float(height - begins) if np.isfinite(height) else 0.0
                parts[name]["npsh"] = float((before[own] + air - vapour[own]) / (rho[k] * GRAVITY)) - rise
    return parts, fastest, total


def _vapour(made: Operating, settled: SettledNetwork) -> Any:
    """Vapour pressure of what enters every component, Pa; nan for fluids it is not known of."""
    of = [settled.numbers.media[name] for name in made.fluids]
    watery = np.array([medium.kind in ("water", "sea_water") for medium in of])[made.chain.line]
    usual = np.array([medium.temperature for medium in of])[made.chain.line]
    return np.where(watery, water(np.where(np.isfinite(made.inlet), made.inlet, usual)), np.nan)


def _pressures_before(made: Operating) -> Any:
    """Total pressure before every component along the flow, Pa over the air, the height of the line's
    upstream
    node counting.
    """
    net = made.net
    chain = made.chain
    before = np.zeros(len(chain.line))
    source = np.where(made.flows.mass >= 0, net.start, net.end)
    done: dict[int, float] = {}

    def reach(part: int) -> float:
        if part in done:
            return done[part]
        up = int(chain.up[part])
        value = (
            float(made.flows.pressure[source[chain.line[part]]])
            if up < net.n_nodes
            else reach(up - net.n_nodes) - float(made.loss[up - net.n_nodes])
        )
        done[part] = value
        return value

    for part in range(len(chain.line)):
        before[part] = reach(part)
    return before
