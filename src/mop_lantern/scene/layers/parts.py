"""The shape: walls, openings with chevrons, solids hatched."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkFiltersCore import vtkFeatureEdges

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.datasets import polylines
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.plane_stage import Colour, Inks, PlaneContext, actor, chevron
from mop_lantern.scene.space_stage import SpaceContext, polygons
from mop_lantern.shape import Surface

SHARP = 35.0  # degrees
FACING = 0.02  # below, an opening has no direction to show
OWN = 0.6  # share of a file's own colour in a wall


class Parts(Layer):
    """In a plane: walls in ink; openings with chevrons, inward where fluid enters, outward where it leaves;
    solids hatched; devices with an arrow the way they face.

    In a space: far walls seen from within, sharp edges in ink, an arrow through every opening.

    Source: in a plane, the shape; in a space, the shape.
    """

    caption: ClassVar[str] = "Outline"
    help: ClassVar[str] = "Show walls, openings and solids"
    order: ClassVar[int] = 5
    order_in_space: ClassVar[int] = 0
    needs_answer: ClassVar[bool] = False

    kind: Literal["parts"] = "parts"
    width: Text = quantity(
        "number",
        "width",
        "Of walls and sharp edges, in pixels.",
        default="2",
        at_least=0.5,
        at_most=8,
    )

    @classmethod
    def plane_props(cls, context: PlaneContext, options: Any) -> list[Any]:
        """Draw walls, hatching and chevrons."""
        shape = context.shape
        if shape is None:
            return []
        made = []
        if context.answer is None and not shape.dry:
            made.append(actor(_filled(shape), context.inks.fluid, 1.0, -0.2 * context.unit))
        walls = [s for name in shape.edge_lengths if name not in context.openings for s in shape.edge(name)]
        made.append(actor(polylines(walls), context.inks.ink, options.width, 0.5 * context.unit))
        rims = [segment for solid in shape.solids.values() for segment in solid.segments]
        if rims:
            made.append(actor(polylines(rims), context.inks.ink, 0.7 * options.width, 0.5 * context.unit))
        hatch = _hatch(shape, context.unit, frozenset(context.coloured))
        if hatch:
            made.append(actor(polylines(hatch), context.inks.faint, 1.0, 0.45 * context.unit))
        if context.marks:
            lines = polylines([line[:, :2] for line in context.marks])
            made.append(actor(lines, context.inks.enter, 2.5, 0.6 * context.unit))
        for name, way in context.openings.items():
            if name not in shape.edge_lengths:
                continue
            colour = context.inks.enter if way == "in" else context.inks.leave
            made.append(actor(polylines(list(shape.edge(name))), colour, 3.0, 0.5 * context.unit))
            made.append(
                actor(polylines(_chevrons(shape, name, way, context.unit)), colour, 2.5, 0.6 * context.unit)
            )
        return made

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Walls, edges, arrows."""
        shown = context.surface.triangles[context.drawn]
        by_colour = _by_colour(context)
        made = [context.cut(_walls(context.surface, triangles, ink)) for ink, triangles in by_colour] + [
            context.cut(_edges(context.surface, shown, context.inks, 0.7 * options.width))
        ]
        if context.near_walls > 0:
            for ink, triangles in by_colour:
                near = context.cut(_walls(context.surface, triangles, ink, near=True))
                near.GetProperty().SetOpacity(context.near_walls)
                made.append(near)
        made += [actor(_line(line), context.inks.enter, 3.0) for line in context.marks]
        return made + [
            _arrow(context.surface, name, way, context.inks)
            for name, way in context.openings.items()
            if name in context.surface.edge_lengths and context.surface.facing(name) > FACING
        ]


def _line(places: Any) -> Any:
    """Make a line through places (k, 3)."""
    along = np.arange(len(places))
    return polygons(places, np.column_stack([along[:-1], along[1:]]))


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


def _by_colour(context: SpaceContext) -> list[tuple[Colour, Any]]:
    """Give the triangles drawn by their colour: the one their face has in the file it came from, softened,
    else that of the fluid.
    """
    ground = np.array(context.inks.fluid)
    inks = {name: colour for name, (_, colour) in context.surface.looks.items() if colour}
    of = np.array([inks.get(name, "") for name in context.surface.names])[context.surface.labels]
    found: list[tuple[Colour, Any]] = []
    for colour in np.unique(of[context.drawn]).tolist():
        shades = np.array([int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]) if colour else ground
        found.append(
            (
                tuple((OWN * shades + (1 - OWN) * ground).tolist()),
                context.surface.triangles[context.drawn & (of == colour)],
            )
        )  # type: ignore[arg-type]
    return found


def _walls(
    surface: Surface,
    triangles: Any,
    ink: Colour,
    near: bool = False,
) -> Any:
    """The far walls, seen from within, or the near ones from outside."""
    made = actor(polygons(surface.points, triangles), ink)
    made.GetProperty().LightingOn()
    made.GetProperty().SetAmbient(0.45)
    made.GetProperty().SetDiffuse(0.6)
    (made.GetProperty().BackfaceCullingOn if near else made.GetProperty().FrontfaceCullingOn)()
    return made


def _edges(
    surface: Surface,
    triangles: Any,
    inks: Inks,
    width: float,
) -> Any:
    """Sharp edges in ink."""
    edges = vtkFeatureEdges()
    edges.SetInputData(polygons(surface.points, triangles))
    edges.BoundaryEdgesOn()  # the rims of an open model
    edges.NonManifoldEdgesOff()
    edges.ColoringOff()
    edges.SetFeatureAngle(SHARP)
    edges.Update()
    made = actor(edges.GetOutput(), inks.ink, width)
    made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()
    made.GetMapper().SetRelativeCoincidentTopologyLineOffsetParameters(0.0, -16.0)
    return made


def _arrow(
    surface: Surface,
    name: str,
    way: str,
    inks: Inks,
) -> Any:
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
    points = np.vstack(
        [
            tip,
            base + 0.28 * size * ring,
            base + 0.09 * size * ring,
            tail + 0.09 * size * ring,
        ]
    )
    here = np.arange(12)
    ahead = (np.arange(12) + 1) % 12
    cone = np.column_stack(
        [
            np.zeros(12, int),
            1 + here,
            1 + ahead,
        ]
    )
    shaft = np.vstack(
        [
            np.column_stack(
                [
                    13 + here,
                    13 + ahead,
                    25 + ahead,
                ]
            ),
            np.column_stack(
                [
                    13 + here,
                    25 + ahead,
                    25 + here,
                ]
            ),
        ]
    )
    return actor(polygons(points, np.vstack([cone, shaft])), inks.enter if way == "in" else inks.leave)
