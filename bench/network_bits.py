"""Small networks for checks and tests: media, nodes, lines, solved or begun in time."""

from __future__ import annotations

from typing import Any

from mop_lantern.case import parse_case, settle_any
from mop_lantern.case.network_review import SettledNetwork, working_of
from mop_lantern.judge import NetworkResult, network_trust
from mop_lantern.network.transient import March

WATER = {
    "water": {
        "kind": "constant",
        "density": "998.2 kg/m3",
        "viscosity": "1.0016 mPa s",
        "capacity": "4186 J/kg/K",
    }
}
AIR = {
    "air": {
        "kind": "constant",
        "name": "air at 20 °C",
        "density": "1.204 kg/m3",
        "viscosity": "0.01825 mPa s",
        "capacity": "1006 J/kg/K",
    }
}
RHO, G = 998.2, 9.80665
Parts = dict[str, dict[str, Any]]


def sea(pressure: str = "0 Pa", **more: Any) -> dict[str, Any]:
    """Give a reservoir."""
    return {"kind": "reservoir", "over": pressure, **more}


def pipe(length: str, bore: str, rough: str, **more: Any) -> dict[str, Any]:
    """Give a pipe by its bore and roughness."""
    return {"kind": "pipe", "length": length, "bore": bore, "rough": rough, **more}


def at_work(
    nodes: dict[str, Any],
    lines: dict[str, tuple[str, str, Parts]],
    media: dict[str, Any] = WATER,
    **more: Any,
) -> NetworkResult:
    """Solve a network case; raise when its trust list fails."""
    network = {
        "nodes": nodes,
        "lines": {key: {"start": a, "end": b, "parts": parts} for key, (a, b, parts) in lines.items()},
        **more,
    }
    settled = settle_any(parse_case({"title": "check", "media": media, "network": network}))
    assert isinstance(settled, SettledNetwork)
    working = working_of(settled.operate(), settled)
    failed = [item for item in network_trust(working) if item.verdict == "fails"]
    if failed:
        raise AssertionError(failed)
    return working


def pushed(parts: Parts, flow: str, media: dict[str, Any] = WATER) -> float:
    """Give the loss of a line at a given flow, Pa."""
    nodes = {"a": {"kind": "junction", "feed": flow}, "b": sea()}
    return at_work(nodes, {"r": ("a", "b", parts)}, media).lines["r"]["loss"]


def through(parts: Parts, pressure: str, media: dict[str, Any] = WATER, **drop: Any) -> float:
    """Give the flow a pressure drives through a line, m3/s."""
    return at_work({"a": sea(pressure, **drop), "b": sea()}, {"r": ("a", "b", parts)}, media).lines["r"][
        "volume_flow"
    ]


def marching(
    nodes: dict[str, Any],
    lines: dict[str, tuple[str, str, Parts]],
    media: dict[str, Any] = WATER,
    **more: Any,
) -> March:
    """Begin to follow a network in time."""
    network = {
        "nodes": nodes,
        "lines": {key: {"start": a, "end": b, "parts": parts} for key, (a, b, parts) in lines.items()},
        **more,
    }
    settled = settle_any(parse_case({"title": "check", "media": media, "network": network}))
    assert isinstance(settled, SettledNetwork)
    return March(
        settled.numbers.network, settled.fluids, settled.numbers.network.outside, settled.case.network.thermal
    )
