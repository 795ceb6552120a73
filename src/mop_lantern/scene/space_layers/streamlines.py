"""Streamlines of a space."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from vtkmodules.util.numpy_support import numpy_to_vtk
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkPolyData
from vtkmodules.vtkFiltersFlowPaths import vtkStreamTracer

from mop_lantern.scene.space_stage import Floats, SpaceHand, SpaceLayer
from mop_lantern.scene.stagehand import actor
from mop_lantern.shape import Surface
from mop_lantern.shape.facing import scattered

SEEDS = 30


class Streamlines(SpaceLayer):
    """Lines along the velocity, begun on the openings fluid enters by; without inflow, all over the space.

    Source: Runge-Kutta with adaptive step of a general library, on an even lattice.
    """

    caption: ClassVar[str] = "Streamlines"
    help: ClassVar[str] = "Show streamlines from where fluid enters"
    order: ClassVar[int] = 5
    follows: ClassVar[frozenset[str]] = frozenset({"quantity"})
    kind: Literal["streamlines"] = "streamlines"

    @classmethod
    def props(cls, hand: SpaceHand) -> list[Any]:
        """Trace from the seeds."""
        assert hand.answer
        seeds = seeds_of(hand.surface, hand.openings)
        if not len(seeds):
            seeds = _all_over(hand)
        if not len(seeds):
            return []
        start, points = vtkPolyData(), vtkPoints()
        points.SetData(numpy_to_vtk(seeds, deep=True))
        start.SetPoints(points)
        tracer = vtkStreamTracer()
        tracer.SetInputData(hand.kept("velocity", lambda: hand.lattice(np.vstack([hand.answer.velocity, hand.answer.wall_velocity]), "velocity")))  # type: ignore[union-attr]
        tracer.SetSourceData(start)
        tracer.SetIntegrationDirectionToForward()
        tracer.SetIntegratorTypeToRungeKutta45()
        tracer.SetMaximumPropagation(6 * hand.surface.size)
        tracer.SetMaximumNumberOfSteps(4000)
        tracer.SetTerminalSpeed(1e-3 * float(np.linalg.norm(hand.answer.velocity, axis=1).max()))
        tracer.Update()
        return [hand.cut(actor(tracer.GetOutput(), hand.stream, 1.0))]


def seeds_of(surface: Surface, openings: dict[str, str]) -> Floats:
    """Spread seeds evenly over the openings fluid enters by, a little inside, (k, 3) m."""
    names = [name for name, way in openings.items() if way == "in" and name in surface.edge_lengths]
    mine = np.flatnonzero(np.isin(surface.labels, [surface.names.index(name) for name in names]))
    if not len(mine):
        return np.zeros((0, 3))
    vectors = surface.area_vectors[mine]
    size = np.linalg.norm(vectors, axis=1)
    chosen = np.random.default_rng(0).choice(len(mine), SEEDS, p=size / size.sum())
    places = scattered(surface.points[surface.triangles], mine[chosen])
    return np.ascontiguousarray(places - 0.01 * surface.size * vectors[chosen] / size[chosen, None])


def _all_over(hand: SpaceHand) -> Floats:
    """Choose cells all over the space as seeds."""
    assert hand.answer
    centre = hand.answer.mesh.centre
    return np.ascontiguousarray(centre[:: max(1, len(centre) // SEEDS)])
