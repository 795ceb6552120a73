"""Surfaces on which vapour condenses."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.datasets import polylines
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.plane_stage import PlaneContext, actor
from mop_lantern.scene.space_stage import SpaceContext, polygons
from mop_lantern.shape.facing import divided

FINE = 64  # pieces along the space
NEAR = 0.35  # opacity of walls before the fluid


class Dew(Layer):
    """Surfaces colder than the dew point of the air before them, or nearer to it than a margin: over a
    relative humidity of the air there.

    Source: in a plane, the faces of the grid; in a space, mean of the nearest cells and walls and their
    slopes, by their distance.
    """

    caption: ClassVar[str] = "Dew"
    help: ClassVar[str] = "Mark the surfaces on which vapour condenses"
    order: ClassVar[int] = 7
    asks: ClassVar[str] = "humidity"

    kind: Literal["dew"] = "dew"
    over: Text = quantity(
        "fraction",
        "relative humidity",
        "At the surface, from which on it is marked: 100 % is dew, 80 % for long may be mould (common "
        "practice, no source).",
        default="100 %",
        above=0,
        at_most=2,
    )

    @classmethod
    def plane_props(cls, context: PlaneContext, options: Any) -> list[Any]:
        """Draw the faces of walls that are wet."""
        answer = context.answer
        if answer is None or not answer.has(cls.asks):
            return []
        mesh = answer.mesh
        inner = mesh.n_internal
        open_ = [k for k, name in enumerate(mesh.patch_names) if name in context.openings]
        wet = (answer.boundary(cls.asks) > options.over) & ~np.isin(mesh.patch, open_)
        lines = [
            mesh.points[mesh.face_points[mesh.face_offsets[face] : mesh.face_offsets[face + 1]]][:, :2]
            for face in inner + np.flatnonzero(wet)
        ]
        return [actor(polylines(lines), context.inks.leave, 7.0, 0.7 * context.unit)] if lines else []

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Colour the walls that are wet, those before the fluid translucent."""
        if context.answer is None or not context.answer.has(cls.asks):
            return []
        surface = context.surface
        open_ = [k for k, name in enumerate(surface.names) if name in context.openings]
        walls = context.drawn & ~np.isin(surface.labels, open_)
        corners = divided(surface.points[surface.triangles[walls]], surface.size / FINE)
        wet = context.blended(cls.asks, corners.mean(axis=1)) > options.over
        if not wet.any():
            return []
        points = corners[wet].reshape(-1, 3)
        drawn = polygons(points, np.arange(len(points)).reshape(-1, 3))
        far, near = (actor(drawn, context.inks.leave) for _ in range(2))
        far.GetProperty().FrontfaceCullingOn()
        near.GetProperty().BackfaceCullingOn()
        near.GetProperty().SetOpacity(NEAR)
        for made in (far, near):
            made.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()  # lies on the bare walls
            made.GetMapper().SetRelativeCoincidentTopologyPolygonOffsetParameters(0.0, -12.0)
        return [context.cut(made) for made in (far, near)]
