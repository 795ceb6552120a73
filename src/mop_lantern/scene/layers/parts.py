"""The shape: walls, openings with chevrons, solids hatched."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData

from mop_lantern.scene.datasets import polylines
from mop_lantern.scene.stagehand import Layer, Stagehand, actor, chevron


class Parts(Layer):
    """Walls in ink; openings with chevrons, inward where fluid enters, outward where it leaves; solids
    hatched.

    Source: the shape.
    """

    caption: ClassVar[str] = "Parts"
    help: ClassVar[str] = "Show walls, openings and solids"
    order: ClassVar[int] = 5
    needs_answer: ClassVar[bool] = False
    kind: Literal["parts"] = "parts"

    @classmethod
    def props(cls, hand: Stagehand) -> list[Any]:
        """Draw walls, hatching and chevrons."""
        shape = hand.shape
        if shape is None:
            return []
        made = []
        if hand.answer is None and not shape.dry:
            made.append(actor(_filled(shape), hand.inks.fluid, 1.0, -0.2 * hand.unit))
        walls = [s for name in shape.edge_lengths if name not in hand.openings for s in shape.edge(name)]
        made.append(actor(polylines(walls), hand.inks.ink, 2.0, 0.5 * hand.unit))
        rims = [segment for solid in shape.solids.values() for segment in solid.segments]
        if rims:
            made.append(actor(polylines(rims), hand.inks.ink, 1.4, 0.5 * hand.unit))
        hatch = _hatch(shape, hand.unit, frozenset(hand.coloured))
        if hatch:
            made.append(actor(polylines(hatch), hand.inks.faint, 1.0, 0.45 * hand.unit))
        for name, way in hand.openings.items():
            if name not in shape.edge_lengths:
                continue
            colour = hand.inks.enter if way == "in" else hand.inks.leave
            made.append(actor(polylines(list(shape.edge(name))), colour, 3.0, 0.5 * hand.unit))
            made.append(
                actor(polylines(_chevrons(shape, name, way, hand.unit)), colour, 2.5, 0.6 * hand.unit)
            )
        return made


def _chevrons(
    shape: Any,
    name: str,
    way: str,
    unit: float,
) -> list[Any]:
    middle, inward = shape.edge_middle(name)
    size = 0.6 * unit
    if way == "in":
        return [chevron(middle - inward * (0.5 + 0.9 * k) * size, inward, size) for k in (0, 1)]
    return [chevron(middle - inward * (1.7 + 0.9 * k) * size, -inward, size) for k in (0, 1)]


def _filled(shape: Any) -> vtkPolyData:
    points = vtkPoints()
    cells = vtkCellArray()
    data = vtkPolyData()
    for triangle in shapely.constrained_delaunay_triangles(shape.polygon).geoms:
        cells.InsertNextCell(3)
        for x, y in np.asarray(triangle.exterior.coords)[:3]:
            cells.InsertCellPoint(points.InsertNextPoint(x, y, 0.0))
    data.SetPoints(points)
    data.SetPolys(cells)
    return data


def _hatch(shape: Any, unit: float, coloured: frozenset[str] = frozenset()) -> list[Any]:
    """Slanting strokes inside holes of the space, which are solids all round, and inside solids that conduct
    heat but are not coloured.
    """
    kept = [solid.polygon for solid in shape.solids.values()]
    holes = [] if shape.dry else [shapely.Polygon(ring) for ring in shape.polygon.interiors]
    if kept and holes:
        holes = [shapely.difference(hole, shapely.union_all(kept)) for hole in holes]
    drawn = [solid.polygon for key, solid in shape.solids.items() if key not in coloured]
    strokes = []
    for solid in [*holes, *drawn]:
        if solid.is_empty:
            continue
        x0, y0, x1, y1 = solid.bounds
        step = max(0.45 * unit, (x1 - x0 + y1 - y0) / 60)
        for c in np.arange(x0 - (y1 - y0), x1, step):
            cut = shapely.intersection(solid, shapely.LineString([(c, y0), (c + y1 - y0, y1)]))
            strokes += [
                np.asarray(part.coords)
                for part in getattr(cut, "geoms", [cut])
                if part.geom_type == "LineString" and not part.is_empty
            ]
    return strokes
