"""A solved network as readings, margin notes and pictures see it: figures by name."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

Figures = dict[str, dict[str, float]]
NODE_FIGURES: dict[str, tuple[str, str]] = {
    "pressure": ("pressure", "pressure"),
    "head": ("head", "length"),
    "temperature": ("temperature", "temperature"),
    "age": ("age", "time"),
    "level": ("level of the tank", "length"),
    "gain": ("net inflow", "mass_flow"),
}
LINE_FIGURES: dict[str, tuple[str, str]] = {
    "volume_flow": ("flow", "volume_flow"),
    "mass_flow": ("mass flow", "mass_flow"),
    "velocity": ("highest velocity", "velocity"),
    "loss": ("loss", "pressure"),
    "static_start": ("static pressure at its start", "pressure"),
    "static_end": ("static pressure at its end", "pressure"),
    "highest": ("highest pressure so far", "pressure"),
    "lowest": ("lowest pressure so far", "pressure"),
}
PART_FIGURES: dict[str, tuple[str, str]] = {
    "loss": ("loss", "pressure"),
    "gain": ("pressure gained", "pressure"),
    "velocity": ("velocity", "velocity"),
    "reynolds": ("Reynolds number", "number"),
    "inlet": ("inlet temperature", "temperature"),
    "outlet": ("outlet temperature", "temperature"),
    "heat": ("heat added", "power"),
    "power": ("shaft power", "power"),
    "npsh": ("NPSH available", "length"),
}


@dataclass(frozen=True)
class NetworkResult:
    """A network at work.

    Attributes
    ----------
    nodes, lines, parts : figures (SI) by name; parts are named LINE.PART. kinds : of nodes and parts by name.
    ends : line to its nodes.
    imbalance : largest of the nodes, over what flows. energy : largest unmet pressure, Pa. heat_balance :
    heat left over, share.
    thermal : whether temperatures were followed. steps, rounds : of the solver. time : s.
    """

    nodes: Figures
    lines: Figures
    parts: Figures
    kinds: dict[str, str]
    ends: dict[str, tuple[str, str]]
    imbalance: float = 0.0
    energy: float = 0.0
    heat_balance: float = 0.0
    thermal: bool = False
    steps: int = 0
    rounds: int = 1
    time: float = 0.0
    extra: dict[str, Any] = field(default_factory=dict)

    def as_data(self) -> dict[str, Any]:
        """Give plain JSON data."""
        return dict(vars(self))

    @classmethod
    def of(cls, data: dict[str, Any]) -> NetworkResult:
        """Read `as_data`, also with the lines under their former name."""
        named = {{"runs": "lines"}.get(key, key): value for key, value in data.items()}
        return cls(**{**named, "ends": {key: tuple(pair) for key, pair in data["ends"].items()}})
