"""Streamlines of a space: from seeds spread over the openings that let fluid in, through the velocity on a lattice."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from vtkmodules.util.numpy_support import numpy_to_vtk
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkImageData, vtkPolyData
from vtkmodules.vtkFiltersFlowPaths import vtkStreamTracer

from mop_lantern.judge import Answer
from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.scene.stagehand import Colour, actor
from mop_lantern.shape import Surface
from mop_lantern.shape.facing import scattered

Floats = NDArray[np.float64]
LATTICE = 250_000  # places at most
SEEDS = 30
NEAR = 4


def streamlines(surface: Surface, answer: Answer, openings: dict[str, str], colour: Colour) -> list[Any]:
    """Give the streamlines as props; none where nothing flows in."""
    seeds = seeds_of(surface, openings)
    if not len(seeds) or len(answer.mesh.ways) != 3:
        return []
    image = _lattice(surface, answer)
    start, points = vtkPolyData(), vtkPoints()
    points.SetData(numpy_to_vtk(seeds, deep=True))
    start.SetPoints(points)
    tracer = vtkStreamTracer()
    tracer.SetInputData(image)
    tracer.SetSourceData(start)
    tracer.SetIntegrationDirectionToForward()
    tracer.SetIntegratorTypeToRungeKutta45()
    tracer.SetMaximumPropagation(6 * surface.size)
    tracer.SetMaximumNumberOfSteps(4000)
    tracer.SetTerminalSpeed(1e-3 * float(np.linalg.norm(answer.velocity, axis=1).max()))
    tracer.Update()
    return [actor(tracer.GetOutput(), colour, 1.0)]


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


def _lattice(surface: Surface, answer: Answer) -> Any:
    """Give the velocity on an even lattice over the space; nothing moves at walls and beyond."""
    low, high = surface.points.min(axis=0), surface.points.max(axis=0)
    step = float((np.prod(high - low) / LATTICE) ** (1 / 3))
    counts = np.maximum(np.ceil((high - low) / step).astype(int) + 1, 3)
    lines = [low[d] + step * np.arange(counts[d]) for d in range(3)]
    z, y, x = np.meshgrid(*lines[::-1], indexing="ij")  # VTK counts x fastest
    places = np.column_stack([x.reshape(-1), y.reshape(-1), z.reshape(-1)])
    mesh = answer.mesh
    nodes = np.vstack([mesh.centre, mesh.face_centre[mesh.n_internal :]])
    values = np.vstack([answer.velocity, answer.wall_velocity])
    distance, near = nearest_tree(nodes).query(places, k=NEAR)
    weight = 1.0 / (distance + 1e-3 * step) ** 2
    velocity = (weight[:, :, None] * values[near]).sum(axis=1) / weight.sum(axis=1)[:, None]
    velocity[distance[:, 0] > 1.2 * np.cbrt(mesh.volume.max())] = 0.0
    image = vtkImageData()
    image.SetDimensions(*(int(count) for count in counts))
    image.SetOrigin(*low.tolist())
    image.SetSpacing(step, step, step)
    vectors = numpy_to_vtk(np.ascontiguousarray(velocity), deep=True)
    vectors.SetName("velocity")
    image.GetPointData().SetVectors(vectors)
    return image
