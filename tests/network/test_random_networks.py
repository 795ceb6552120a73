"""Random networks: mass is kept at every node, pressures agree around every loop, and the answer is that of a
general root finder on the same equations.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.optimize import root

from mop_lantern.case import parse_case, settle_any
from mop_lantern.case.network_review import SettledNetwork, working_of
from mop_lantern.judge import NetworkResult, network_trust

RHO = 998.2


def network(seed: int, loops: int = 3) -> dict[str, Any]:
    """Make a network of pipes: a tree over some nodes, a few lines more, two reservoirs and some demands."""
    rng = np.random.default_rng(seed)
    count = int(rng.integers(4, 10))
    nodes: dict[str, Any] = {"source": {"kind": "reservoir", "over": f"{rng.uniform(150, 400):.4g} kPa"}}
    for k in range(count):
        nodes[f"n{k}"] = {"kind": "junction", "z": f"{rng.uniform(0, 5):.3g} m"}
        if rng.random() < 0.5:
            nodes[f"n{k}"]["take"] = f"{rng.uniform(0.1, 1.0):.3g} L/s"
    nodes["sink"] = {"kind": "reservoir", "over": f"{rng.uniform(50, 140):.4g} kPa"}
    names = list(nodes)
    pairs = [(names[int(rng.integers(0, k))], names[k]) for k in range(1, len(names))]
    for _ in range(loops):
        a, b = rng.choice(len(names), 2, replace=False)
        pairs.append((names[a], names[b]))
    lines = {}
    for k, (a, b) in enumerate(pairs):
        start, end = (a, b) if rng.random() < 0.5 else (b, a)
        pipe = {
            "kind": "pipe",
            "length": f"{rng.uniform(5, 80):.4g} m",
            "bore": f"{rng.uniform(25, 80):.4g} mm",
            "rough": "0.05 mm",
        }
        parts: dict[str, Any] = {"p": pipe}
        if rng.random() < 0.3:
            parts["k"] = {"kind": "loss", "k": f"{rng.uniform(0.5, 10):.3g}", "bore": pipe["bore"]}
        lines[f"r{k}"] = {"start": start, "end": end, "parts": parts}
    medium = {"kind": "constant", "density": f"{RHO} kg/m3", "viscosity": "1.0016 mPa s"}
    return {"title": "random", "media": {"w": medium}, "network": {"nodes": nodes, "lines": lines}}


def settled(data: dict[str, Any]) -> SettledNetwork:
    found = settle_any(parse_case(data))
    assert isinstance(found, SettledNetwork)
    return found


def at_work(data: dict[str, Any]) -> NetworkResult:
    case = settled(data)
    return working_of(case.operate(), case)


@pytest.mark.parametrize("seed", range(20))
def test_mass_is_kept_and_pressures_agree(seed: int) -> None:
    data = network(seed)
    made = at_work(data)
    assert all(item.verdict != "fails" for item in network_trust(made)), seed
    gained = dict.fromkeys(data["network"]["nodes"], 0.0)
    for line, item in data["network"]["lines"].items():
        flow = made.lines[line]["mass_flow"]
        gained[item["start"]] -= flow
        gained[item["end"]] += flow
    largest = max(abs(figures["mass_flow"]) for figures in made.lines.values())
    for node, item in data["network"]["nodes"].items():
        if item["kind"] == "junction":
            wanted = float(item.get("take", "0 L/s").split()[0]) * 1e-3 * RHO
            assert gained[node] == pytest.approx(wanted, abs=1e-7 * largest), node


@pytest.mark.parametrize("seed", range(20, 32))
def test_a_general_root_finder_agrees(seed: int) -> None:
    """SciPy's hybrid method on all flows and pressures at once, begun near the answer so that it finds it."""
    case = settled(network(seed))
    from mop_lantern.network.build import build
    from mop_lantern.network.steady import solve

    net = build(case.numbers.network, case.fluids, case.numbers.network.outside)
    flows = solve(net)
    free = np.flatnonzero(~net.held)

    def left(x: Any) -> Any:
        mass = x[: net.n_lines]
        pressure = np.where(net.held, net.pressure, 0.0)
        pressure[free] = x[net.n_lines :] * 1e5
        drop, _ = net.drops(mass)
        energy = pressure[net.start] - pressure[net.end] + net.lift() - drop
        gained = np.bincount(net.end, mass, net.n_nodes) - np.bincount(net.start, mass, net.n_nodes)
        return np.concatenate([energy / 1e5, (gained - net.demand)[free]])

    rng = np.random.default_rng(seed)
    answer = np.concatenate([flows.mass, flows.pressure[free] / 1e5])
    found = root(left, answer * (1 + 0.05 * rng.standard_normal(len(answer))), method="hybr", tol=1e-12)
    assert np.abs(left(answer)).max() < 1e-7
    assert np.abs(left(found.x)).max() < 1e-6, found.message
    assert found.x == pytest.approx(answer, rel=1e-4, abs=1e-4)


@pytest.mark.parametrize("seed", range(32, 38))
def test_more_pressure_at_the_source_gives_more_and_never_less(seed: int) -> None:
    data = network(seed, loops=2)
    before = at_work(data)
    over = float(data["network"]["nodes"]["source"]["over"].split()[0])
    data["network"]["nodes"]["source"]["over"] = f"{over + 80:.4g} kPa"
    after = at_work(data)
    for node, item in data["network"]["nodes"].items():
        if item["kind"] == "junction":
            assert after.nodes[node]["pressure"] > before.nodes[node]["pressure"] - 1e-3, node


@pytest.mark.parametrize("seed", range(38, 42))
def test_names_and_order_do_not_matter(seed: int) -> None:
    data = network(seed)
    plain = at_work(data)
    lines = data["network"]["lines"]
    nodes = data["network"]["nodes"]
    shuffled = {
        **data,
        "network": {"nodes": dict(reversed(nodes.items())), "lines": dict(reversed(lines.items()))},
    }
    other = at_work(shuffled)
    for line in lines:
        assert other.lines[line]["mass_flow"] == pytest.approx(
            plain.lines[line]["mass_flow"], rel=1e-6, abs=1e-9
        )
