"""What a node is: where lines meet."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind, Numbers, discover, quantity
from mop_lantern.declare.kind import Text

NODES = "mop_lantern.network.nodes"


class Node(Kind):
    """A place where lines meet. ``symbol`` draws it on the schematic, as that of a component.

    ``pressure(numbers, rho)`` gives the total pressure it holds relative to the air outside, at its
    elevation (Pa),
    or None; ``demand(numbers, rho)`` the mass flow taken out (kg/s); ``content(numbers)`` the fluid mixed in
    it (m3), ``gains(numbers)`` the heat it is given (W), ``transmittance(numbers)`` the heat it loses a
    kelvin (W/K) and the temperature outside (K). What has a ``temperature`` begins with it, an endless node
    keeps it. A node that rises has parameters ``area``, ``height``, ``level``, ``over`` and ``steady`` like
    those of a tank, one that encloses keeps its content.
    """

    symbol: ClassVar[str] = ""
    endless: ClassVar[bool] = False  # what it holds never changes, whatever comes or goes
    rises: ClassVar[bool] = False  # it holds a level that rises and falls
    encloses: ClassVar[bool] = False  # it keeps its volume full, and the heat in it
    z: Text = quantity(
        "length",
        "elevation",
        "Height over the datum.",
        default="0 m",
        varies="t",
    )

    @classmethod
    def pressure(cls, numbers: Any, rho: float) -> float | None:
        """Give the pressure it holds, or None."""
        return None

    @classmethod
    def demand(cls, numbers: Any, rho: float) -> float:
        """Give what is taken out, kg/s."""
        return 0.0

    @classmethod
    def content(cls, numbers: Any) -> float:
        """Give the fluid in it, m3."""
        return 0.0

    @classmethod
    def gains(cls, numbers: Any) -> float:
        """Give the heat brought into it, W."""
        return 0.0

    @classmethod
    def transmittance(cls, numbers: Any) -> tuple[float, float]:
        """Give what it loses a kelvin, W/K, and the temperature outside, K."""
        return 0.0, 0.0

    @classmethod
    def sets_pressure(cls) -> bool:
        """Tell whether the pressure of a network can stand on it."""
        return cls.endless or cls.rises


def those(nodes: Sequence[Numbers], fact: str) -> NDArray[np.bool_]:
    """Tell of which nodes a fact of their kind holds: ``endless``, ``rises`` or ``encloses``."""
    kinds = discover(NODES, Node)
    return np.array([getattr(kinds[node.kind], fact) for node in nodes], bool)
