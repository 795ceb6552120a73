"""Streamlines of a space."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely
from vtkmodules.util.numpy_support import numpy_to_vtk
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkPolyData
from vtkmodules.vtkFiltersFlowPaths import vtkStreamTracer

from mop_lantern.scene.space_stage import Floats, SpaceContext, SpaceLayer
from mop_lantern.scene.stagehand import actor
from mop_lantern.shape import Surface
from mop_lantern.shape.facing import scattered

SEEDS = 30


class Streamlines(SpaceLayer):
    """Lines along the velocity, begun on the openings fluid enters by (without inflow, all over the space),
    on a line, or on a grid of points.

    Source: Runge-Kutta with adaptive step of a general library, on an even lattice.
    """

    caption: ClassVar[str] = "Streamlines"
    help: ClassVar[str] = "Show streamlines from where fluid enters"
    order: ClassVar[int] = 5
    follows: ClassVar[frozenset[str]] = frozenset({"quantity", "seeds"})
    kind: Literal["streamlines"] = "streamlines"

    @classmethod
    def props(cls, hand: SpaceContext) -> list[Any]:
        """Trace from the seeds."""
        assert hand.answer
        seeds = _seeds(hand)
        if not len(seeds):
            return []
        start = vtkPolyData()
        points = vtkPoints()
        points.SetData(numpy_to_vtk(seeds, deep=True))
        start.SetPoints(points)
        tracer = vtkStreamTracer()
        tracer.SetInputData(hand.kept("velocity", lambda: hand.lattice("velocity")))  # type: ignore[union-attr]
        tracer.SetSourceData(start)
        (
            tracer.SetIntegrationDirectionToForward
            if hand.seeds == "openings"
            else tracer.SetIntegrationDirectionToBoth
        )()
        tracer.SetIntegratorTypeToRungeKutta45()
        tracer.SetMaximumPropagation(6 * hand.surface.size)
        tracer.SetMaximumNumberOfSteps(4000)
        tracer.SetTerminalSpeed(1e-3 * float(np.linalg.norm(hand.answer.velocity, axis=1).max()))
        tracer.Update()
        return [hand.cut(actor(tracer.GetOutput(), hand.stream, 1.0))]


def _seeds(hand: SpaceContext) -> Floats:
    """Give where lines begin, (k, 3) m."""
    if hand.seeds == "line" and len(hand.line) == 2:
        share = np.linspace(0.0, 1.0, SEEDS)[:, None]
        return np.ascontiguousarray((1 - share) * np.array(hand.line[0]) + share * np.array(hand.line[1]))
    if hand.seeds == "section":
        return _over_section(hand)
    seeds = seeds_of(hand.surface, hand.openings) if hand.seeds == "openings" else np.zeros((0, 3))
    return seeds if len(seeds) else _all_over(hand)


def _over_section(hand: SpaceContext) -> Floats:
    """Lay an even grid of points over the section."""
    x0, y0, x1, y1 = hand.wet.bounds if not hand.wet.is_empty else (0.0, 0.0, 1.0, 1.0)
    step = np.sqrt(max(hand.wet.area, 1e-300) / (2 * SEEDS))
    across, along = np.meshgrid(np.arange(x0 + step / 2, x1, step), np.arange(y0 + step / 2, y1, step))
    places = np.zeros((across.size, 3))
    places[:, (hand.across + 1) % 3], places[:, (hand.across + 2) % 3], places[:, hand.across] = (
        across.reshape(-1),
        along.reshape(-1),
        hand.place,
    )
    return np.ascontiguousarray(places[shapely.contains_xy(hand.wet, across.reshape(-1), along.reshape(-1))])


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


def _all_over(hand: SpaceContext) -> Floats:
    """Choose cells all over the space as seeds."""
    assert hand.answer
    centre = hand.answer.mesh.centre
    return np.ascontiguousarray(centre[:: max(1, len(centre) // SEEDS)])
