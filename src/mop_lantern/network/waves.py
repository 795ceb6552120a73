"""Fast pressure waves in liquid lines: valve closure and pump trip, by the method of characteristics.

Source: Wylie and Streeter, Fluid Transients in Systems (1993), chapter 3: heads and flows at the points of a
line follow from those a wave's travel before. Friction is quasi-steady. Pipes are cut so that a wave passes a
part in one step; wave speeds are adjusted by what is left over.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.laws.friction import darcy

Floats = NDArray[np.float64]
GRAVITY = 9.80665


def wave_speed(
    bulk: float,
    density: float,
    bore: float,
    wall: float,
    young: float,
) -> float:
    """Give the speed of pressure waves in a thin-walled pipe, m/s.

    Parameters
    ----------
    bulk : modulus of the liquid, Pa. wall : thickness, m. young : modulus of the pipe, Pa.

    Source: Korteweg and Joukowsky: sqrt(K / rho / (1 + K D / (E e))).
    """
    return float(np.sqrt(bulk / density / (1 + bulk * bore / (young * wall))))


@dataclass
class WavePipe:
    """A pipe waves run through: from node to node, with m, m, m/s, m (roughness)."""

    start: int
    end: int
    length: float
    bore: float
    speed: float
    rough: float = 0.0


@dataclass
class WaveEnd:
    """What a node does. ``head`` (m) as a function of time where it is held; else ``opening`` of a valve
    (share of ``coefficient``, m3/s at a metre of head) discharging to ``outside`` (m); else it is a plain
    junction with ``demand`` (m3/s).
    """

    head: Callable[[float], float] | None = None
    opening: Callable[[float], float] | None = None
    coefficient: float = 0.0
    outside: float = 0.0
    demand: float = 0.0


class Waves:
    """Lines of liquid through which waves run.

    Parameters
    ----------
    pipes : at least one. ends : what every node does. step : s, at most; it is shortened to suit the shortest
    pipe. density, viscosity : SI.
    head, flow : (n_nodes,) m and (n_pipes,) m3/s at the start, steady. Heads below ``vapour`` (m over the
    pipe) open a cavity: only told.
    """

    def __init__(
        self,
        pipes: list[WavePipe],
        ends: list[WaveEnd],
        step: float,
        density: float,
        viscosity: float,
        head: Floats,
        flow: Floats,
        vapour: float = -10.0,
    ) -> None:
        self.pipes = pipes
        self.ends = ends
        self.vapour = vapour
        shortest = min(pipe.length / pipe.speed for pipe in pipes)
        self.step = min(step, shortest)
        self.time = 0.0
        self.viscosity = viscosity / density
        self.cavity = False
        self.heads: list[Floats] = []
        self.flows: list[Floats] = []
        self.resistance: list[float] = []
        for pipe, rate in zip(pipes, flow, strict=True):
            parts = max(int(round(pipe.length / pipe.speed / self.step)), 1)
            self.heads.append(np.linspace(head[pipe.start], head[pipe.end], parts + 1))
            self.flows.append(np.full(parts + 1, float(rate)))
        self.impedance = [
            self._speed(k) / (GRAVITY * np.pi / 4 * pipe.bore**2) for k, pipe in enumerate(pipes)
        ]

    def _speed(self, k: int) -> float:
        """Wave speed as used, adjusted so that a wave passes a part in a step."""
        return self.pipes[k].length / (len(self.heads[k]) - 1) / self.step

    @property
    def adjusted(self) -> float:
        """Give the largest share by which a wave speed was adjusted."""
        return max(abs(self._speed(k) / pipe.speed - 1) for k, pipe in enumerate(self.pipes))

    def advance(self) -> Floats:
        """Go on by a step with the ends as given; give the heads of the nodes, m."""
        plus, minus = self.travel()
        at = self._nodes(plus, minus)
        self.arrive(at, plus, minus)
        return at

    def travel(self) -> tuple[list[Floats], list[Floats]]:
        """Let waves pass one part inside every pipe; give what they bring forward and backward at every
        point.
        """
        self.time += self.step
        plus = []
        minus = []
        for k, pipe in enumerate(self.pipes):
            q = self.flows[k]
            h = self.heads[k]
            B = self.impedance[k]
            lost = self._friction(pipe, q, len(h) - 1)
            plus.append(h + B * q - lost)
            minus.append(h - B * q + lost)
            inner_p = plus[k][:-2]
            inner_m = minus[k][2:]
            h_new = h.copy()
            q_new = q.copy()
            h_new[1:-1] = 0.5 * (inner_p + inner_m)
            q_new[1:-1] = (inner_p - inner_m) / (2 * B)
            self.heads[k], self.flows[k] = h_new, q_new
        return plus, minus

    def arrive(
        self,
        at: Floats,
        plus: list[Floats],
        minus: list[Floats],
    ) -> None:
        """Set the ends of all pipes to the heads of their nodes."""
        for k, pipe in enumerate(self.pipes):
            B = self.impedance[k]
            self.heads[k][0], self.heads[k][-1] = at[pipe.start], at[pipe.end]
            self.flows[k][0] = (at[pipe.start] - minus[k][1]) / B
            self.flows[k][-1] = (plus[k][-2] - at[pipe.end]) / B
            self.cavity |= bool(self.heads[k].min() < self.vapour)

    def brought(
        self,
        plus: list[Floats],
        minus: list[Floats],
        count: int,
    ) -> tuple[Floats, Floats]:
        """Give what waves bring to every node, m3/s, and how readily it takes it, m2/s: head = brought / ease
        when nothing leaves.
        """
        brought = np.zeros(count)
        ease = np.zeros(count)
        for k, pipe in enumerate(self.pipes):
            B = self.impedance[k]
            brought[pipe.start] += minus[k][1] / B
            ease[pipe.start] += 1 / B
            brought[pipe.end] += plus[k][-2] / B
            ease[pipe.end] += 1 / B
        return brought, ease

    def _friction(
        self,
        pipe: WavePipe,
        q: Floats,
        parts: int,
    ) -> Floats:
        """Head lost in one part at every point's flow."""
        if pipe.rough < 0:
            return np.zeros(len(q))  # a line without friction
        area = np.pi / 4 * pipe.bore**2
        f, _ = darcy(np.abs(q) / area * pipe.bore / self.viscosity, pipe.rough / pipe.bore)
        return f * pipe.length / parts / pipe.bore * q * np.abs(q) / (2 * GRAVITY * area**2)

    def _nodes(self, plus: list[Floats], minus: list[Floats]) -> Floats:
        """Heads of the nodes from what the waves bring and what the nodes do."""
        n = len(self.ends)
        brought, ease = self.brought(plus, minus, n)
        at = np.zeros(n)
        for node, end in enumerate(self.ends):
            if end.head is not None:
                at[node] = end.head(self.time)
                continue
            free = (brought[node] - end.demand) / ease[node]  # head with nothing let out
            at[node] = free if end.opening is None else self._let_out(end, free, float(ease[node]))
        return at

    def _let_out(
        self,
        end: WaveEnd,
        free: float,
        ease: float,
    ) -> float:
        """Head before a valve that lets out c sqrt(h - outside): a quadratic in the flow."""
        assert end.opening is not None
        c = end.coefficient * max(end.opening(self.time), 0.0)
        over = free - end.outside
        if c <= 0:
            return free
        sign = 1.0 if over >= 0 else -1.0
        q = sign * 0.5 * c * c * (-1 / ease + np.sqrt(1 / ease**2 + 4 * abs(over) / c**2))
        return free - q / ease
