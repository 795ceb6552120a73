"""The schematic of a network: where nodes stand, how lines go between them, where their symbols and labels
lie.

Columns of nodes and of lines alternate along the flow (layers after Sugiyama, Tagawa and Toda, IEEE Trans.
Syst. Man Cybern. 11 (1981) 109-125); every line owns a row in its column, so lines side by side do not meet;
lines that lead back go in lanes below. Lengths are in units of a symbol's half width; y grows downwards.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

Point = tuple[float, float]
MANY = 2000  # nodes and lines: of more the rows are put in order less often
ROW = 3.6  # least distance of rows: a symbol, its label and a gap
SYMBOL = 2.5  # along a line
MARGIN = 1.3  # between a node and the first symbol
BESIDE = 3.4  # between lines that hang from one node


@dataclass(frozen=True)
class Placed:
    """A symbol: its name (LINE.PART), middle, and by how much it is turned clockwise (90: its line goes down,
    180: left).
    """

    name: str
    at: Point
    turn: int = 0


@dataclass
class Diagram:
    """A schematic.

    Attributes
    ----------
    nodes : middle of every node. lines : corners of every line from start to end. symbols : of components.
    labels : where the
    value of a line is written, middle of its upper edge. size : (x0, y0, x1, y1) of all.
    """

    nodes: dict[str, Point]
    lines: dict[str, list[Point]]
    symbols: list[Placed] = field(default_factory=list)
    labels: dict[str, Point] = field(default_factory=dict)

    @property
    def size(self) -> tuple[float, float, float, float]:
        """Give the extent."""
        points = np.array(
            [
                *self.nodes.values(),
                *(corner for line in self.lines.values() for corner in line),
                *(item.at for item in self.symbols),
            ]
        )
        if not len(points):
            return (0.0, 0.0, 1.0, 1.0)
        return (*map(float, points.min(axis=0) - 3.0), *map(float, points.max(axis=0) + 3.0))  # type: ignore[return-value]


def laid_out(
    ends: Mapping[str, tuple[str, str]],
    parts: Mapping[str, Sequence[str]],
    nodes: Sequence[str],
    sources: Sequence[str],
    moved: Mapping[str, Point],
) -> Diagram:
    """Lay a network out.

    Parameters
    ----------
    ends : line to its nodes. parts : line to its components in order. sources : nodes to begin from. moved :
    nodes a person has placed.
    """
    level = _levels(ends, nodes, sources)
    forward = {line: level[a] < level[b] for line, (a, b) in ends.items()}
    hanging = _hanging(ends, forward, moved)
    ends_low = set(hanging.values())
    upper = {line: pair for line, pair in ends.items() if not ends_low & set(pair)}
    level = _levels(upper, [node for node in nodes if node not in ends_low], sources)
    columns: list[list[str]] = [[] for _ in range(2 * max(level.values(), default=0) + 2)]
    for node in level:
        columns[2 * level[node]].append(f"n:{node}")
    for line, (a, _) in ends.items():
        if forward[line] and line not in hanging:
            columns[2 * level[a] + 1].append(f"r:{line}")
    along = [line for line in ends if forward[line] and line not in hanging]
    links = [(f"n:{ends[line][0]}", f"r:{line}") for line in along] + [
        (f"r:{line}", f"n:{ends[line][1]}") for line in along
    ]
    depth, count = _depths(ends, parts, hanging)
    y = _rows(columns, links, depth)
    x = _places_across(columns, parts, count)
    at = {node: (x[2 * level[node]], y[f"n:{node}"]) for node in level}
    at |= {node: (float(place[0]), float(place[1])) for node, place in moved.items() if node in at}
    made = Diagram(at, {})
    _hang(made, ends, parts, hanging)
    lane = max([place[1] for place in at.values()] + [y[f"r:{line}"] for line in along], default=0.0) + ROW
    for line in sorted(
        (line for line in ends if line not in hanging),
        key=lambda line: (forward[line], abs(at[ends[line][0]][0] - at[ends[line][1]][0])),
    ):
        begin = at[ends[line][0]]
        end = at[ends[line][1]]
        if line in along and end[0] > begin[0] + SYMBOL * len(parts[line]):
            row = (
                y[f"r:{line}"]
                if not {ends[line][0], ends[line][1]} & set(moved)
                else 0.5 * (begin[1] + end[1])
            )
            _forward(
                made,
                line,
                parts[line],
                begin,
                end,
                row,
                x[2 * level[ends[line][0]] + 1],
            )
        else:
            _back(
                made,
                line,
                parts[line],
                begin,
                end,
                lane,
            )
            lane += ROW
    return made


def _hanging(
    ends: Mapping[str, tuple[str, str]], forward: Mapping[str, bool], moved: Mapping[str, Point]
) -> dict[str, str]:
    """Find lines that end in a node nothing goes on from but what leads back: they hang from their first
    node.
    Give line to end node.
    """
    into: dict[str, list[str]] = {}
    out: dict[str, list[str]] = {}
    for line, (a, b) in ends.items():
        if forward[line]:
            into.setdefault(b, []).append(line)
            out.setdefault(a, []).append(line)
    able = {}
    for node, lines in into.items():
        first = ends[lines[0]][0]
        if len(lines) == 1 and node not in out and first in into and not {first, node} & set(moved):
            able[lines[0]] = node
    branching = any(len(out[ends[line][0]]) > 1 for line in able)
    return able if branching else {}


def _depths(
    ends: Mapping[str, tuple[str, str]], parts: Mapping[str, Sequence[str]], hanging: Mapping[str, str]
) -> tuple[dict[str, float], dict[str, int]]:
    """Give how far down and how many wide the lines hanging from each node are."""
    depth: dict[str, float] = {}
    count: dict[str, int] = {}
    for line in hanging:
        key = f"n:{ends[line][0]}"
        depth[key] = max(depth.get(key, 0.0), SYMBOL * len(parts[line]) + 3.6)
        count[key] = count.get(key, 0) + 1
    return depth, count


def _hang(
    made: Diagram,
    ends: Mapping[str, tuple[str, str]],
    parts: Mapping[str, Sequence[str]],
    hanging: Mapping[str, str],
) -> None:
    """Draw hanging lines downwards, side by side."""
    taken: dict[str, int] = {}
    for line, node in hanging.items():
        first = ends[line][0]
        x0, y0 = made.nodes[first]
        x = x0 + BESIDE * taken.get(first, 0)
        taken[first] = taken.get(first, 0) + 1
        end = y0 + 1.0 + SYMBOL * len(parts[line]) + 1.6
        made.nodes[node] = (x, end)
        made.lines[line] = _clean(
            [
                (x0, y0),
                (x, y0),
                (x, end),
            ]
        )
        made.symbols += [
            Placed(f"{line}.{name}", (x, y0 + 1.0 + SYMBOL * (k + 0.5)), 90)
            for k, name in enumerate(parts[line])
        ]
        made.labels[line] = (x + 1.5, y0 + 0.9)


def _forward(
    made: Diagram,
    line: str,
    parts: Sequence[str],
    a: Point,
    b: Point,
    row: float,
    middle: float,
) -> None:
    width = SYMBOL * max(len(parts), 1)
    left = min(max(middle - width / 2, a[0] + 1.2), max(b[0] - width - 1.2, a[0] + 1.2))
    first = left - 0.4
    last = left + width + 0.4
    made.lines[line] = _clean(
        [
            a,
            (first, a[1]),
            (first, row),
            (last, row),
            (last, b[1]),
            b,
        ]
    )
    made.symbols += [
        Placed(f"{line}.{name}", (left + SYMBOL * (k + 0.5), row)) for k, name in enumerate(parts)
    ]
    made.labels[line] = (left + width / 2, row + 1.0)


def _back(
    made: Diagram,
    line: str,
    parts: Sequence[str],
    a: Point,
    b: Point,
    lane: float,
) -> None:
    width = SYMBOL * max(len(parts), 1)
    right = a[0] + 1.3
    left = b[0] - 1.3
    centre = 0.5 * (right + left)
    made.lines[line] = _clean(
        [
            a,
            (right, a[1]),
            (right, lane),
            (min(left, centre - width / 2 - 0.5), lane),
            (min(left, centre - width / 2 - 0.5), b[1]),
            b,
        ]
    )
    made.symbols += [
        Placed(f"{line}.{name}", (centre + width / 2 - SYMBOL * (k + 0.5), lane), 180)
        for k, name in enumerate(parts)
    ]
    made.labels[line] = (centre, lane + 0.72)


def _clean(line: list[Point]) -> list[Point]:
    """Leave out corners that are none."""
    kept = [line[0]]
    for corner in line[1:]:
        if abs(corner[0] - kept[-1][0]) + abs(corner[1] - kept[-1][1]) > 1e-9:
            kept.append(corner)
    return kept


def _levels(
    ends: Mapping[str, tuple[str, str]], nodes: Sequence[str], sources: Sequence[str]
) -> dict[str, int]:
    """Give every node its column: one more than the farthest node before it, links that close a circle left
    out.
    """
    out: dict[str, list[str]] = {node: [] for node in nodes}
    for a, b in ends.values():
        out[a].append(b)
    fed = {b for _, b in ends.values()}
    roots = [*(node for node in sources if node in out), *(node for node in nodes if node not in fed), *nodes]
    state: dict[str, int] = {}
    kept: set[tuple[str, str]] = set()
    order: list[str] = []
    for root in roots:
        if root in state:
            continue
        state[root] = 1
        stack = [(root, iter(out[root]))]
        while stack:
            node, following = stack[-1]
            step = next(following, None)
            if step is None:
                state[node] = 2
                order.append(node)
                stack.pop()
            elif state.get(step, 0) != 1:
                kept.add((node, step))
                if step not in state:
                    state[step] = 1
                    stack.append((step, iter(out[step])))
    level = dict.fromkeys(nodes, 0)
    for node in reversed(order):
        for step in out[node]:
            if (node, step) in kept:
                level[step] = max(level[step], level[node] + 1)
    return level


def _rows(
    columns: list[list[str]], links: list[tuple[str, str]], depth: Mapping[str, float]
) -> dict[str, float]:
    """Order every column by the mean row of its neighbours, and set rows apart."""
    near: dict[str, list[str]] = {}
    for a, b in links:
        near.setdefault(a, []).append(b)
        near.setdefault(b, []).append(a)
    y = {name: ROW * (k - (len(column) - 1) / 2) for column in columns for k, name in enumerate(column)}
    for sweep in range(24 if len(y) < MANY else 4):
        for column in columns if sweep % 2 == 0 else columns[::-1]:
            wanted = {
                name: sum(y[other] for other in near.get(name, [name])) / len(near.get(name, [name]))
                for name in column
            }
            column.sort(key=lambda name: wanted[name])
            for name, row in zip(
                column,
                _apart([wanted[name] for name in column], [depth.get(name, 0.0) for name in column]),
                strict=True,
            ):
                y[name] = row
    return y


def _apart(wanted: list[float], depth: list[float]) -> list[float]:
    """Give rows far enough apart for what hangs from them, and as near as can be to those wanted (pool
    adjacent violators).
    """
    steps = np.concatenate([[0.0], np.cumsum([ROW + down for down in depth[:-1]])]) if wanted else np.zeros(0)
    blocks: list[tuple[float, int]] = []
    for k, value in enumerate(wanted):
        mean = value - float(steps[k])
        count = 1
        while blocks and blocks[-1][0] > mean:
            other, size = blocks.pop()
            mean = (mean * count + other * size) / (count + size)
            count = count + size
        blocks.append((mean, count))
    flat = [mean for mean, count in blocks for _ in range(count)]
    return [value + float(steps[k]) for k, value in enumerate(flat)]


def _places_across(
    columns: list[list[str]], parts: Mapping[str, Sequence[str]], count: Mapping[str, int]
) -> list[float]:
    """Give every column its x: line columns are as wide as their longest chain, node columns as what hangs
    from them.
    """
    x = []
    at = 0.0
    for k, column in enumerate(columns):
        if k % 2 == 0:
            x.append(at)
            at += BESIDE * max(max((count.get(name, 0) - 1 for name in column), default=0), 0)
            continue
        width = max((SYMBOL * len(parts[name[2:]]) for name in column), default=0.0) + 2 * MARGIN
        x.append(at + width / 2)
        at += width
    return x
