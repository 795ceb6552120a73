"""A diffuser that blows into a room."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.errors import RunError
from mop_lantern.field.boundary import GIVEN, Boundary, Opening, Patch

Floats = NDArray[np.float64]


class Diffuser(Opening):
    """Air is blown in through a part of a face only, and aslant: every face carries its share of the flow
    square to it, and so much along it that the speed is that in the free openings. Flow and momentum of the
    jet are right so without meshing blades; what happens closer than a few widths of the face is not.

    Aslant means: away from the middle line of the longer side (slot), to all four sides (four-way), outward
    and round (swirl), or not at all (displacement). Values are those of the maker.

    Source: momentum method for supply devices (Nielsen, "The selection of turbulence models for prediction of
    room airflow", ASHRAE Transactions 104 (1998), SF-98-10-1; not at hand to check).
    """

    caption: ClassVar[str] = "Diffuser"
    group: ClassVar[str] = "Given flow"
    symbol: ClassVar[str] = (
        "M-0.9,-0.6 L0.9,-0.6 M-0.5,-0.6 L-0.5,-0.3 L0.5,-0.3 L0.5,-0.6 M-0.3,-0.2 Q-0.5,0.1 -0.9,0.2 "
        "M0,-0.2 L0,0.4 M0.3,-0.2 Q0.5,0.1 0.9,0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: a {type} diffuser in {edge} blows in {flow} through {effective} of its face."
    )

    kind: Literal["diffuser"] = "diffuser"
    edge: str = reference("edge", "edge", "The edge or face it sits in.")
    flow: Text = quantity(
        "volume_flow",
        "volume flow",
        "Blown in.",
        default="100 m3/h",
        at_least=0,
        varies="t",
    )
    type: Literal["slot", "four_way", "swirl", "displacement"] = choice(
        "type",
        "Which way the air leaves it.",
        {
            "slot": "slot",
            "four_way": "four-way",
            "swirl": "swirl",
            "displacement": "displacement",
        },
        default="four_way",
    )
    effective: Text = quantity(
        "fraction",
        "effective area",
        "Share of the face through which the air leaves, by the maker: of a slot or four-way diffuser about "
        "20 to 40 % (common practice, no source); at 100 % it leaves square to the face.",
        default="30 %",
        at_least=0.02,
        at_most=1,
    )

    @classmethod
    def signed_flow(cls, numbers: Any, density: float, area: float) -> float | None:
        """Give the volume flow into the space, m3/s."""
        return float(np.mean(numbers.flow))

    @classmethod
    def apply(cls, numbers: Any, patch: Patch, boundary: Boundary) -> None:
        """Fix the velocity of every face, aslant."""
        size = np.linalg.norm(patch.area, axis=1)
        inward = -patch.area / size[:, None]
        if patch.radii.size and numbers.type != "displacement":
            raise RunError(
                "around an axis a diffuser can only be one of displacement.",
                numbers.edge,
                "Choose displacement, or state the case in a space.",
            )
        through = float(np.mean(numbers.flow)) / patch.total
        share = 1.0 if numbers.type == "displacement" else float(numbers.effective)
        along = through * np.sqrt(max(1 / share**2 - 1, 0.0))
        boundary.code[patch.faces] = GIVEN
        boundary.wall[patch.faces] = False
        boundary.velocity[patch.faces] = through * inward + along * _aslant(numbers.type, patch, inward)


def _aslant(way: str, patch: Patch, inward: Floats) -> Floats:
    """Give the unit vectors along the face in which the air leaves, (k, 3)."""
    size = np.linalg.norm(patch.area, axis=1)
    middle = np.average(patch.centre, axis=0, weights=size)
    normal = np.average(inward, axis=0, weights=size)
    normal /= np.linalg.norm(normal)
    off = patch.centre - middle
    off -= (off @ normal)[:, None] * normal
    if not len(patch.developed):  # in a plane the face is a line: away from its middle
        return _unit(off)
    spread = (off * size[:, None]).T @ off
    _, ways = np.linalg.eigh(spread)
    one, two = ways[:, 2], ways[:, 1]  # the longer side first
    if way == "slot":
        return _side(off @ two) * two
    if way == "swirl":
        return _unit(_unit(off) + np.cross(normal, _unit(off)))
    a, b = off @ one, off @ two
    first = np.abs(a) / max(np.abs(a).max(), 1e-300) > np.abs(b) / max(np.abs(b).max(), 1e-300)
    return np.where(first[:, None], _side(a) * one, _side(b) * two)


def _side(away: Floats) -> Floats:
    """Give on which side of the middle places lie, (k, 1)."""
    return np.where(away < 0, -1.0, 1.0)[:, None]


def _unit(vectors: Floats) -> Floats:
    return np.asarray(vectors / np.maximum(np.linalg.norm(vectors, axis=1), 1e-300)[:, None])
