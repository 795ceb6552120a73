"""The model: far walls from within, sharp edges, openings with arrows."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from vtkmodules.vtkFiltersCore import vtkFeatureEdges

from mop_lantern.scene.space_stage import SpaceContext, SpaceLayer, polygons
from mop_lantern.scene.stagehand import Colour, Inks, actor
from mop_lantern.shape import Surface

SHARP = 35.0  # degrees
OWN = 0.6  # share of a file's own colour in a wall


class Parts(SpaceLayer):
    """Far walls seen from within, sharp edges in ink, an arrow through every opening.

    Source: the shape.
    """

    caption: ClassVar[str] = "Parts"
    help: ClassVar[str] = "Show walls and openings"
    order: ClassVar[int] = 0
    needs_answer: ClassVar[bool] = False
    kind: Literal["parts"] = "parts"

    @classmethod
    def props(cls, hand: SpaceContext) -> list[Any]:
        """Walls, edges, arrows."""
        shown = hand.surface.triangles[hand.drawn]
        by_colour = _by_colour(hand)
        made = [hand.cut(_walls(hand.surface, triangles, ink)) for ink, triangles in by_colour] + [
            hand.cut(_edges(hand.surface, shown, hand.inks))
        ]
        if hand.near_walls > 0:
            for ink, triangles in by_colour:
                near = hand.cut(_walls(hand.surface, triangles, ink, near=True))
                near.GetProperty().SetOpacity(hand.near_walls)
                made.append(near)
        return made + [
            _arrow(hand.surface, name, way, hand.inks)
            for name, way in hand.openings.items()
            if name in hand.surface.edge_lengths
        ]


def _by_colour(hand: SpaceContext) -> list[tuple[Colour, Any]]:
    """Give the triangles drawn by their colour: the one their face has in the file it came from, softened,
    else that of the fluid.
    """
    ground = np.array(hand.inks.fluid)
    inks = {name: colour for name, (_, colour) in hand.surface.looks.items() if colour}
    of = np.array([inks.get(name, "") for name in hand.surface.names])[hand.surface.labels]
    found: list[tuple[Colour, Any]] = []
    for colour in np.unique(of[hand.drawn]).tolist():
        shades = np.array([int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]) if colour else ground
        found.append(
            (
                tuple((OWN * shades + (1 - OWN) * ground).tolist()),
                hand.surface.triangles[hand.drawn & (of == colour)],
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


def _edges(surface: Surface, triangles: Any, inks: Inks) -> Any:
    """Sharp edges in ink."""
    edges = vtkFeatureEdges()
    edges.SetInputData(polygons(surface.points, triangles))
    edges.BoundaryEdgesOn()  # the rims of an open model
    edges.NonManifoldEdgesOff()
    edges.ColoringOff()
    edges.SetFeatureAngle(SHARP)
    edges.Update()
    made = actor(edges.GetOutput(), inks.ink, 1.4)
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
