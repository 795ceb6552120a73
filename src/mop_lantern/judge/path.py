"""Pressure along a way through a network: energy line, pressure line, height."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from mop_lantern.judge.network_result import NetworkResult

Floats = NDArray[np.float64]
GRAVITY = 9.80665
STILL = 1e-6  # share of the largest flow that counts as none


@dataclass(frozen=True)
class Profile:
    """A way through a network.

    Attributes
    ----------
    distance : (k,) m from its start. total, still, height : (k,) m of fluid for liquids, Pa for gases: total
    pressure with height (the energy line), the same less the velocity's share (the pressure line), and the
    height (0 for gases). marks : (distance, name) of nodes and of what is
    built in. lines : on the way. dimension : "length" or "pressure".
    """

    distance: Floats
    total: Floats
    still: Floats
    height: Floats
    marks: list[tuple[float, str]] = field(default_factory=list)
    lines: list[str] = field(default_factory=list)
    dimension: str = "length"


def way_through(working: NetworkResult, line: str) -> list[str]:
    """Give the way that most of the fluid takes through a line: upstream and downstream, always along the
    larger flow, no line twice.
    """
    largest = max((abs(figures["mass_flow"]) for figures in working.lines.values()), default=0.0)
    ahead: dict[str, list[str]] = {}
    behind: dict[str, list[str]] = {}
    for key, (start, end) in working.ends.items():
        flow = working.lines[key]["mass_flow"]
        if abs(flow) <= STILL * largest:
            continue
        source, sink = (start, end) if flow >= 0 else (end, start)
        ahead.setdefault(source, []).append(key)
        behind.setdefault(sink, []).append(key)

    def ends_of(key: str) -> tuple[str, str]:
        start, end = working.ends[key]
        return (start, end) if working.lines[key]["mass_flow"] >= 0 else (end, start)

    def follow(links: Mapping[str, Sequence[str]], side: int, taken: set[str]) -> list[str]:
        row: list[str] = []
        node = ends_of(line)[side]
        while True:
            able = [key for key in links.get(node, ()) if key not in taken]
            if not able or (working.kinds.get(node) in ("reservoir", "tank")):
                return row
            best = max(able, key=lambda key: abs(working.lines[key]["mass_flow"]))
            row.append(best)
            taken.add(best)
            node = ends_of(best)[side]

    taken = {line}
    down = follow(ahead, 1, taken)
    return [*follow(behind, 0, taken)[::-1], line, *down]


def profile_along(
    working: NetworkResult,
    lines: Sequence[str],
    parts: Mapping[str, Sequence[str]],
    slot: float = 0.0,
) -> Profile:
    """Give pressures along lines that follow each other in the sense of the flow.

    Parameters
    ----------
    parts : line to its components in order. slot : m that what has no length takes in a drawing; 0 makes its
    loss a step. Height goes evenly from node to node along what has a length.

    Source: energy equation of Bernoulli with losses.
    """
    extra = working.extra
    gas = extra["air"].get(lines[0], 0.0) > 0
    rows: list[tuple[float, float, float, float]] = []
    marks: list[tuple[float, str]] = []
    at = 0.0
    for line in lines:
        figures = working.lines[line]
        start, end = working.ends[line]
        order = list(parts[line])
        if figures["mass_flow"] < 0:
            start, end, order = end, start, order[::-1]
        rho = extra["density"][line]
        weight = extra["density"][line] - extra["air"][line]
        lengths = [extra["lengths"].get(f"{line}.{name}", 0.0) for name in order]
        whole = sum(lengths)
        gone = 0.0
        z0 = extra["z"][start]
        z1 = extra["z"][end]
        pressure = working.nodes[start]["pressure"]
        speeds = _speeds([working.parts[f"{line}.{name}"]["velocity"] for name in order])
        lost = figures["loss"] - sum(
            working.parts[f"{line}.{name}"]["loss"] for name in order
        )  # by tees at its ends
        marks.append((at, start))
        pressure -= lost
        for name, length, speed in zip(order, lengths, speeds, strict=True):
            drawn = length or slot
            if length == 0:
                marks.append((at + 0.5 * slot, f"{line}.{name}"))
            for share in (0.0, 1.0):
                gone += share * length  # nothing at its start
                z = z0 + (z1 - z0) * (gone / whole if whole else 0.5)
                here = (
                    pressure - share * working.parts[f"{line}.{name}"]["loss"] + weight * GRAVITY * (z0 - z)
                )
                moving = 0.5 * rho * speed**2
                rows.append(
                    (at + share * drawn, here, here - moving, 0.0)
                    if gas
                    else (
                        at + share * drawn,
                        z + here / (rho * GRAVITY),
                        z + (here - moving) / (rho * GRAVITY),
                        z,
                    )
                )
            at += drawn
            pressure -= working.parts[f"{line}.{name}"]["loss"]
        marks.append((at, end))
    table = np.array(rows).reshape(-1, 4)
    kept = [mark for k, mark in enumerate(marks) if k == 0 or mark != marks[k - 1]]
    return Profile(
        table[:, 0],
        table[:, 1],
        table[:, 2],
        table[:, 3],
        kept,
        list(lines),
        "pressure" if gas else "length",
    )


def _speeds(speeds: Sequence[float]) -> list[float]:
    """Fill in unknown velocities from the nearest known one."""
    known = [k for k, speed in enumerate(speeds) if np.isfinite(speed)]
    return [speeds[min(known, key=lambda j: abs(j - k))] if known else 0.0 for k in range(len(speeds))]
