"""How check cases are stated as documents, solved like any case, and compared with their source."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.case import parse_case, settle
from mop_lantern.judge import FieldResult
from mop_lantern.solve import Solving
from mop_lantern.solve.solving import final_answer

TABLES = Path(__file__).parent / "tables"
WATER = {"water": {"kind": "constant", "density": "998.2 kg/m3", "viscosity": "1.0016 mPa s"}}
OUT = {"kind": "static_pressure", "pressure": "0 Pa"}


@dataclass(frozen=True)
class Check:
    """One value compared: deviation is relative unless ``absolute``."""

    case: str
    what: str
    expected: float
    got: float
    tolerance: float
    source: str
    absolute: bool = False

    @property
    def deviation(self) -> float:
        """How far off."""
        return abs(self.got - self.expected) / (1.0 if self.absolute else abs(self.expected))

    @property
    def passed(self) -> bool:
        """Whether the deviation is within tolerance."""
        return bool(self.deviation <= self.tolerance)

    def as_dict(self) -> dict[str, Any]:
        """Give the check as plain data."""
        return {**asdict(self), "deviation": self.deviation, "pass": self.passed}


def document(
    parts: dict[str, Any], openings: dict[str, Any], grid: dict[str, Any], **more: Any
) -> dict[str, Any]:
    """State a plane case of depth 1 m, or what ``more`` says."""
    return {
        "title": "check",
        "media": more.get("media", WATER),
        "shape": {
            "space": more.get("space", "plane"),
            "depth": more.get("depth", "1 m"),
            "turn": more.get("turn", "0 deg"),
            "parts": parts,
        },
        "field": {
            "openings": openings,
            "walls": more.get("walls", {}),
            "grid": grid,
            "solver": {"residual": "1e-7", **more.get("run", {})},
            **more.get("field", {}),
        },
        "readings": more.get("readings", {}),
    }


def run_case(data: dict[str, Any]) -> Solving:
    """Solve a case document; raise when its trust list fails."""
    solving = Solving(settle(parse_case(data)), None, None)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    if not last["converged"]:
        raise AssertionError([item for item in last["trust"] if item["verdict"] == "fails"])
    return solving


def solved(data: dict[str, Any]) -> FieldResult:
    """Solve a case document and give its field."""
    return final_answer(run_case(data))


def fluid(density: float, viscosity: float) -> dict[str, Any]:
    """Give a medium for a dimensionless case."""
    return {
        "fluid": {"kind": "constant", "density": f"{density!r} kg/m3", "viscosity": f"{viscosity!r} Pa s"}
    }


def run(length: str, width: str) -> dict[str, Any]:
    """Give one straight run along x."""
    return {"run": {"kind": "straight", "start": ["0 m", "0 m"], "length": length, "width": width}}


def inflow(edge: str, speed: str) -> dict[str, Any]:
    """Give a developed inflow."""
    return {"kind": "velocity", "edge": edge, "way": "in", "velocity": speed, "profile": "developed"}


def mean(answer: FieldResult, what: str, edge: str) -> float:
    """Give the area mean of a quantity over an edge."""
    faces = answer.mesh.faces_of(edge)
    return float(np.average(answer.boundary(what)[faces], weights=answer.face_size[faces]))


def box(width: str, height: str) -> dict[str, Any]:
    """Give a rectangle from the origin: side1 below, side2 right, side3 above, side4 left."""
    return {
        "box": {
            "kind": "outline",
            "points": [["0 m", "0 m"], [width, "0 m"], [width, height], ["0 m", height]],
        }
    }


def turning_points(answer: FieldResult, edge: str, after: float) -> list[float]:
    """Give the places along x where the wall shear on a level edge changes sign, beyond a place (m)."""
    faces = answer.mesh.faces_of(edge)
    x = answer.mesh.face_centre[answer.mesh.n_internal + faces, 0]
    order = np.argsort(x)
    x, shear = x[order], answer.shear[faces, 0][order]
    at = np.flatnonzero((shear[:-1] * shear[1:] <= 0) & (x[:-1] > after))
    return [
        float(x[k] - shear[k] * (x[k + 1] - x[k]) / (shear[k + 1] - shear[k]))
        for k in at
        if shear[k] != shear[k + 1]
    ]
