"""Components that what flows through them sets: thermostatic valves, relief valves that stay open for a
while.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.network.net import Group, Net

Floats = NDArray[np.float64]
AT_REST = np.inf
CALM = 1e-5  # change of a state that counts as none


@dataclass
class Adapting:
    """States of components by name, ``known``; steady rounds shorten their steps where a state swings to and
    fro.
    """

    known: dict[str, float] = field(default_factory=dict)
    _share: dict[str, float] = field(default_factory=dict)
    _last: dict[str, float] = field(default_factory=dict)

    @staticmethod
    def groups(net: Net) -> list[Group]:
        """Give the groups whose kind adapts."""
        return [group for group in net.groups if group.kind.adapts]

    def put(self, net: Net) -> None:
        """Give the components of a network the states known."""
        for group in self.groups(net):
            own = getattr(group.stack, group.kind.adapts)
            setattr(
                group.stack,
                group.kind.adapts,
                np.array(
                    [
                        self.known.get(name, value)
                        for name, value in zip(group.names, own.tolist(), strict=True)
                    ]
                ),
            )

    def settle(
        self,
        net: Net,
        entering: Mapping[str, float],
        at_node: Mapping[str, float],
        flow: Floats,
        dt: float,
    ) -> float:
        """Let every state follow what flows and what is felt; give the largest change.

        Parameters
        ----------
        entering : K by component. at_node : K by node. flow : (n_lines,) m3/s. dt : s since the last call;
        inf
        seeks the state at rest.
        """
        largest = 0.0
        for group in self.groups(net):
            state = np.asarray(getattr(group.stack, group.kind.adapts))
            sensed = getattr(group.stack, "sensed", np.full(len(group), ""))
            felt = np.array(
                [
                    at_node.get(str(place), np.nan) if place else entering.get(name, np.nan)
                    for name, place in zip(group.names, sensed.tolist(), strict=True)
                ]
            )
            wanted = group.kind.settle(
                group.stack,
                state,
                felt,
                flow[group.line],
                dt,
            )
            for name, was, now in zip(group.names, state.tolist(), np.asarray(wanted).tolist(), strict=True):
                if not np.isfinite(now):
                    continue
                change = float(now) - float(was)
                largest = max(largest, abs(change))
                self.known[name] = (
                    now
                    if isinstance(now, bool) or np.isfinite(dt)
                    else float(was) + self._shortened(name, change)
                )
        self.put(net)
        return largest

    def _shortened(self, name: str, change: float) -> float:
        share = self._share.get(name, 1.0)
        share = 0.5 * share if change * self._last.get(name, change) < 0 else min(1.2 * share, 1.0)
        self._share[name], self._last[name] = share, change
        return share * change


def entering_by_name(names: list[str], inlet: Floats, usual: Any) -> dict[str, float]:
    """Give what enters every component by its name, ``usual`` (n_parts,) where it is not known."""
    return dict(zip(names, np.where(np.isfinite(inlet), inlet, usual).tolist(), strict=True))
