"""What is drawn of a space: its far walls from within, its edges, openings with arrows, and a coloured section through its middle."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkFiltersCore import vtkFeatureEdges

from mop_lantern.judge import Answer
from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.scene.space_flow import streamlines
from mop_lantern.scene.stagehand import Colour, Inks, actor
from mop_lantern.shape import Surface, cut_by_plane

Floats = NDArray[np.float64]
SAMPLES = 260  # along the longer side of the section
NEAR = 6


def space_props(
    surface: Surface, answer: Answer | None, quantity: str, table: Any, layers: frozenset[str], openings: dict[str, str], inks: Inks, stream: Colour, cut: tuple[int, float]
) -> list[Any]:
    """Make the props of a space, lowest first.

    Parameters
    ----------
    stream : colour of streamlines. cut : direction across the section (-1: the thinnest way of the space) and its share of the way.
    """
    made = []
    if "parts" in layers or answer is None:
        made += [_walls(surface, inks), _edges(surface, inks)]
        made += [_arrow(surface, name, way, inks) for name, way in openings.items() if name in surface.edge_lengths]
    if answer is not None and "colours" in layers and len(answer.mesh.ways) == 3:
        section = _section(surface, answer, quantity, *cut)
        if section is not None:
            made.append(actor(section, table=table))
    if answer is not None and "streamlines" in layers:
        made += streamlines(surface, answer, openings, stream)
    return made


def _mesh(points: Floats, polygons: NDArray[Any]) -> Any:
    """Make polygons of one corner count (m, k)."""
    data, place, cells = vtkPolyData(), vtkPoints(), vtkCellArray()
    place.SetData(numpy_to_vtk(np.ascontiguousarray(points, float), deep=True))
    offsets = np.arange(0, polygons.size + 1, polygons.shape[1], dtype=np.int64)
    cells.SetData(numpy_to_vtkIdTypeArray(offsets, deep=True), numpy_to_vtkIdTypeArray(np.ascontiguousarray(polygons, np.int64).reshape(-1), deep=True))
    data.SetPoints(place)
    data.SetPolys(cells)
    return data


def _walls(surface: Surface, inks: Inks) -> Any:
    """The far walls, seen from within."""
    made = actor(_mesh(surface.points, surface.triangles), inks.fluid)
    made.GetProperty().LightingOn()
    made.GetProperty().SetAmbient(0.45)
    made.GetProperty().SetDiffuse(0.6)
    made.GetProperty().FrontfaceCullingOn()
    return made


def _edges(surface: Surface, inks: Inks) -> Any:
    """Sharp edges in ink."""
    edges = vtkFeatureEdges()
    edges.SetInputData(_mesh(surface.points, surface.triangles))
    edges.BoundaryEdgesOff()
    edges.NonManifoldEdgesOff()
    edges.ColoringOff()
    edges.SetFeatureAngle(25.0)
    edges.Update()
    return actor(edges.GetOutput(), inks.ink, 1.4)


def _arrow(surface: Surface, name: str, way: str, inks: Inks) -> Any:
    """An arrow through an opening: a thin shaft and a tip of four faces, inward or outward."""
    middle, inward = surface.face(name)
    along = inward if way == "in" else -inward
    aside = np.cross(along, [0.0, 0.0, 1.0] if abs(along[2]) < 0.9 else [1.0, 0.0, 0.0])
    aside /= np.linalg.norm(aside)
    up = np.cross(along, aside)
    size = 0.09 * surface.size
    tip = middle if way == "in" else middle + 1.6 * size * along
    base = tip - 0.7 * size * along
    ring = np.array([np.cos(a) * aside + np.sin(a) * up for a in 2 * np.pi * np.arange(12) / 12])
    tail = base - 0.9 * size * along
    points = np.vstack([tip, base + 0.28 * size * ring, base + 0.09 * size * ring, tail + 0.09 * size * ring])
    here, ahead = np.arange(12), (np.arange(12) + 1) % 12
    cone = np.column_stack([np.zeros(12, int), 1 + here, 1 + ahead])
    shaft = np.vstack([np.column_stack([13 + here, 13 + ahead, 25 + ahead]), np.column_stack([13 + here, 25 + ahead, 25 + here])])
    return actor(_mesh(points, np.vstack([cone, shaft])), inks.enter if way == "in" else inks.leave)


def _section(surface: Surface, answer: Answer, quantity: str, across: int, share: float) -> Any:
    """A plane across one direction, coloured where it holds fluid."""
    low, high = surface.points.min(axis=0), surface.points.max(axis=0)
    across = int((high - low).argmin()) if across < 0 else across
    u, v = (across + 1) % 3, (across + 2) % 3
    step = max(high[u] - low[u], high[v] - low[v]) / SAMPLES
    counts = [int(np.ceil((high[d] - low[d]) / step)) + 1 for d in (u, v)]
    lines = [np.linspace(low[d], high[d], count) for d, count in zip((u, v), counts, strict=True)]
    places = np.zeros((counts[0] * counts[1], 3))
    places[:, u], places[:, v] = (part.reshape(-1) for part in np.meshgrid(*lines, indexing="ij"))
    places[:, across] = low[across] + share * (high[across] - low[across])
    wet = shapely.contains_xy(cut_by_plane(surface, across, float(places[0, across])), places[:, u], places[:, v])
    values = sampled(answer, quantity, places)
    index = np.arange(len(places)).reshape(counts)
    quads = np.column_stack([part.reshape(-1) for part in (index[:-1, :-1], index[1:, :-1], index[1:, 1:], index[:-1, 1:])])
    quads = quads[wet[quads].all(axis=1)]
    if not len(quads):
        return None
    data = _mesh(places, quads)
    scalars = numpy_to_vtk(values, deep=True)
    scalars.SetName(quantity)
    data.GetPointData().SetScalars(scalars)
    return data


def sampled(answer: Answer, quantity: str, places: Floats) -> Floats:
    """Give a quantity at places (k, 3) m: a mean of the nearest cells and walls by their distance."""
    mesh = answer.mesh
    nodes = np.vstack([mesh.centre, mesh.face_centre[mesh.n_internal :]])
    distance, near = nearest_tree(nodes).query(places, k=min(NEAR, len(nodes)))
    weight = 1.0 / (distance + 1e-3 * distance.mean()) ** 2
    values = np.concatenate([answer.cells(quantity), answer.boundary(quantity)])
    return np.asarray((weight * values[near]).sum(axis=1) / weight.sum(axis=1))
