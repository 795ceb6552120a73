"""What passes a whole passage at a place, in a plane, a body around an axis or a space."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from mop_lantern.declare import choice, point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.grid import Mesh
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title, what

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


class CrossSection(Reading):
    """The flow through a passage at a place, or the mean of a quantity over it, from wall to wall.

    Only the passage that holds the place counts where the plane cuts several. Flow counts positive in the
    direction the section faces.

    Source: the solver's own fluxes through the faces between the cells before and behind the section, so that
    the flow is exact; values are taken where the lines between those cells meet the section.
    """

    caption: ClassVar[str] = "Cross-section of a passage"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 "
        "M0.3,-0.3 L0.8,-0.8 M-0.3,-0.3 L-0.3,0.8 M-0.3,-0.3 L0.2,-0.8"
    )
    sentence: ClassVar[str] = (
        "{id}: {measure} through the passage at {at}, facing {facing_x}, {facing_y}, of {quantity}."
    )
    in_space: ClassVar[str] = (
        "{id}: {measure} through the passage at {at}, facing {facing_x}, {facing_y}, {facing_z}, of "
        "{quantity}."
    )

    kind: Literal["cross_section"] = "cross_section"
    title: str = title()
    at: Point = point("at", "A place in the passage.")
    facing_x: Text = quantity(
        "number", "facing along x", "Direction the section faces: its share along x.", default="1"
    )
    facing_y: Text = quantity(
        "number", "facing along y", "Direction the section faces: its share along y.", default="0"
    )
    facing_z: Text = quantity(
        "number", "facing along z", "Direction the section faces: its share along z, in a space.", default="0"
    )
    measure: Literal["flow", "flow_mean", "mean", "area"] = choice(
        "measure",
        "What is reported.",
        {
            "flow": "the volume flow",
            "flow_mean": "the flow-weighted mean",
            "mean": "the area mean",
            "area": "the area",
        },
        default="flow_mean",
    )
    quantity: str = what()

    def template(self, space: bool = False) -> str:
        """Leave the quantity out where none is read."""
        whole = super().template(space)
        return whole.replace(", of {quantity}", "") if self.measure in ("flow", "area") else whole

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A volume flow, an area, or the quantity's."""
        return {"flow": "volume_flow", "area": "area"}.get(numbers.measure, str(numbers.of[1]))

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up over the faces; nan where the place lies outside or the section faces nowhere."""
        mesh = answer.mesh
        ways = len(answer.mesh.ways)
        facing = np.array([numbers.facing_x, numbers.facing_y, numbers.facing_z])
        facing[ways:] = 0.0
        place = np.zeros(3)
        place[:ways] = np.asarray(numbers.at, float)[:ways]
        if not facing.any() or not answer.inside(place[None, :ways])[0]:
            return float("nan")
        facing = facing / np.linalg.norm(facing)
        faces, sign = faces_across(mesh, place, facing)
        if not len(faces):
            return float("nan")
        flow = sign * answer.flux[faces] * mesh.turn
        size = sign * (mesh.area[faces] @ facing) * mesh.turn
        if numbers.measure in ("flow", "area"):
            return float((flow if numbers.measure == "flow" else size).sum())
        weight = flow if numbers.measure == "flow_mean" else size
        total = float(weight.sum())
        if not total:
            return float("nan")
        values = _on_section(answer, numbers.quantity, faces, place, facing)
        return float((values * weight).sum() / total)


def faces_across(mesh: Mesh, place: Floats, facing: Floats) -> tuple[Ints, Floats]:
    """Give the internal faces between the cells before and behind a flat section, and +1 where they face as
    the section does.

    Only those that hang together with the cell of ``place``: neighbours by faces among the cells that the
    section parts.
    """
    ahead = (mesh.centre - place) @ facing >= 0
    inner = slice(0, mesh.n_internal)
    owner = mesh.owner[inner].astype(np.int64)
    neighbour = mesh.neighbour.astype(np.int64)
    wet = mesh.cells_of("")
    faces = np.flatnonzero((ahead[owner] != ahead[neighbour]) & wet[owner])
    if not len(faces):
        return faces, np.zeros(0)
    touched = np.zeros(mesh.n_cells, bool)
    touched[owner[faces]] = touched[neighbour[faces]] = True
    links = touched[owner] & touched[neighbour]
    graph = coo_array(
        (np.ones(int(links.sum()), np.int8), (owner[links], neighbour[links])), shape=(mesh.n_cells,) * 2
    )
    group = connected_components(graph, directed=False)[1]
    cells = np.flatnonzero(touched)
    nearest = cells[int(((mesh.centre[cells] - place) ** 2).sum(axis=1).argmin())]
    faces = faces[group[owner[faces]] == group[nearest]]
    return faces, np.where(ahead[neighbour[faces]], 1.0, -1.0)


def _on_section(
    answer: FieldResult,
    what: str,
    faces: Ints,
    place: Floats,
    facing: Floats,
) -> Floats:
    """Give a quantity where the line between the two cells of each face meets the section."""
    mesh = answer.mesh
    values = answer.cells(what)
    near = mesh.owner[faces]
    far = mesh.neighbour[faces]
    before = (mesh.centre[near] - place) @ facing
    after = (mesh.centre[far] - place) @ facing
    part = before / (before - after)
    return np.asarray(values[near] + part * (values[far] - values[near]))
