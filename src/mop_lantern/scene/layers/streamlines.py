"""Streamlines."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkPolyData
from vtkmodules.vtkFiltersCore import vtkTriangleFilter
from vtkmodules.vtkFiltersFlowPaths import vtkStreamTracer

from mop_lantern.scene.datasets import attach
from mop_lantern.scene.stagehand import Layer, Stagehand, actor

CLOSEST = 0.2  # of the drawing unit, between lines at an inlet
SEEDS = 12


class Streamlines(Layer):
    """Lines along the velocity, begun where fluid enters at equal shares of the flow; without inflow, on a
    lattice.

    Source: Runge-Kutta with adaptive step of a general library.
    """

    caption: ClassVar[str] = "Streamlines"
    help: ClassVar[str] = "Show streamlines from where fluid enters"
    order: ClassVar[int] = 3
    kind: Literal["streamlines"] = "streamlines"

    @classmethod
    def props(cls, hand: Stagehand) -> list[Any]:
        """Trace both ways from the seeds."""
        assert hand.drawn and hand.answer
        attach(
            hand.drawn.data, hand.drawn.at_points(hand.answer.velocity, hand.answer.wall_velocity), "velocity"
        )
        triangles = vtkTriangleFilter()
        triangles.SetInputData(hand.drawn.data)
        triangles.Update()
        seeds = vtkPolyData()
        points = vtkPoints()
        for x, y in _seeds(hand):
            points.InsertNextPoint(x, y, 0.0)
        seeds.SetPoints(points)
        tracer = vtkStreamTracer()
        tracer.SetInputData(triangles.GetOutput())
        tracer.SetSourceData(seeds)
        tracer.SetInputArrayToProcess(
            0,
            0,
            0,
            0,
            "velocity",
        )
        tracer.SetIntegratorTypeToRungeKutta45()
        tracer.SetCellLocatorToStaticCellLocator()
        tracer.SetIntegrationDirectionToBoth()
        tracer.SetMaximumPropagation(60 * hand.unit * 30)
        tracer.SetMaximumNumberOfSteps(4000)
        tracer.SetTerminalSpeed(1e-5 * float(np.abs(hand.answer.velocity).max() or 1.0))
        tracer.SetComputeVorticity(False)
        tracer.Update()
        return [actor(tracer.GetOutput(), hand.stream, 1.0, 0.3 * hand.unit)]


def _seeds(hand: Stagehand) -> Any:
    answer = hand.answer
    assert answer
    mesh = answer.mesh
    into = np.maximum(-answer.outflow, 0.0)
    if into.sum() > 0:
        faces = np.flatnonzero(into > 0)
        centre = mesh.face_centre[mesh.n_internal + faces, :2]
        order = np.lexsort((centre[:, 0], centre[:, 1]))
        share = np.cumsum(into[faces][order]) / into.sum()
        ends = mesh.points[mesh.face_points].reshape(-1, 2, 3)[mesh.n_internal + faces]
        width = float(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum())
        count = int(
            np.clip(width / (CLOSEST * hand.unit), 3, SEEDS)
        )  # in a thin passage lines would hide the colours
        chosen = order[np.minimum(np.searchsorted(share, (np.arange(count) + 0.5) / count), len(order) - 1)]
        inward = -mesh.area[mesh.n_internal + faces[chosen], :2]
        inward /= np.hypot(*inward.T)[:, None]
        cell = mesh.owner[mesh.n_internal + faces[chosen]]
        return np.unique(centre[chosen] + inward * 0.5 * np.sqrt(mesh.plane_area[cell])[:, None], axis=0)
    low = mesh.centre.min(axis=0)[:2]
    high = mesh.centre.max(axis=0)[:2]
    lattice = np.stack(
        np.meshgrid(*(np.linspace(a, b, 9)[1:-1] for a, b in zip(low, high, strict=True))), axis=-1
    ).reshape(-1, 2)
    return lattice[answer.inside(lattice)]
