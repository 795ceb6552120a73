"""Streamlines."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely
from vtkmodules.util.numpy_support import numpy_to_vtk, vtk_to_numpy
from vtkmodules.vtkCommonCore import vtkIdList, vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkPolyData
from vtkmodules.vtkFiltersCore import vtkTriangleFilter
from vtkmodules.vtkFiltersFlowPaths import vtkStreamTracer

from mop_lantern.declare import choice, count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.datasets import attach
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.plane_stage import PlaneContext, actor
from mop_lantern.scene.space_stage import Floats, SpaceContext
from mop_lantern.shape import Surface
from mop_lantern.shape.facing import scattered

CLOSEST = 0.2  # of the drawing unit, between lines at an inlet
IN_PLANE = 12
CLOSED = 0.03  # of its length: a line this close to its start has come round
SEEDS = 30


class Streamlines(Layer):
    """In a plane: lines along the velocity, begun where fluid enters at equal shares of the flow; without
    inflow, on a lattice.

    In a space: lines along the velocity, begun on the openings fluid enters by (without inflow, all over the
    space), on a line, or on a grid of points.

    Source: in a plane, Runge-Kutta with adaptive step of a general library; in a space, Runge-Kutta with
    adaptive step of a general library, on an even lattice.
    """

    caption: ClassVar[str] = "Streamlines"
    help: ClassVar[str] = "Show streamlines from where fluid enters"
    order: ClassVar[int] = 3
    follows: ClassVar[frozenset[str]] = frozenset({"quantity", "seeds"})
    order_in_space: ClassVar[int] = 5

    kind: Literal["streamlines"] = "streamlines"
    lines: Text = count(
        "lines",
        "How many lines begin; fewer in a thin passage of a plane.",
        default="auto",
        at_least=1,
        at_most=400,
    )
    width: Text = quantity(
        "number",
        "width",
        "Of a line, in pixels.",
        default="1",
        at_least=0.5,
        at_most=8,
    )
    colour: Literal["ink", "quantity"] = choice(
        "colour",
        "Lines of one colour, or coloured by the chosen quantity: hide Colours where they lie on the same.",
        {"ink": "one colour", "quantity": "the chosen quantity"},
        default="ink",
    )
    length: Text = quantity(
        "number",
        "length",
        "Lines end after so many sizes of the space.",
        default="40",
        above=0,
        at_most=200,
    )

    @classmethod
    def plane_props(cls, context: PlaneContext, options: Any) -> list[Any]:
        """Trace both ways from the seeds."""
        assert context.drawn and context.answer
        velocity = np.zeros((len(context.drawn.used), 3))
        for k, name in enumerate(("u", "v")):
            velocity[:, k] = context.at_points(context.drawn, context.answer, name)
        attach(context.drawn.data, velocity, "velocity")
        triangles = vtkTriangleFilter()
        triangles.SetInputData(context.drawn.data)
        triangles.Update()
        seeds = vtkPolyData()
        points = vtkPoints()
        for x, y in _plane_seeds(context, options.lines):
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
        tracer.SetMaximumPropagation(options.length * 45 * context.unit)
        tracer.SetMaximumNumberOfSteps(4000)
        tracer.SetTerminalSpeed(1e-5 * float(np.abs(context.answer.velocity).max() or 1.0))
        tracer.SetComputeVorticity(False)
        tracer.Update()
        lines = tracer.GetOutput() if np.any(context.answer.outflow < 0) else once_round(tracer.GetOutput())
        if not cls.needs_scale(options) or not context.answer.has(context.quantity):
            return [actor(lines, context.stream, options.width, 0.3 * context.unit)]
        places = vtk_to_numpy(lines.GetPoints().GetData()) if lines.GetNumberOfPoints() else np.zeros((0, 3))
        values = context.answer.sampler(context.quantity, places[:, :2].astype(float))
        attach(lines, _known(values), context.quantity)
        return [actor(lines, width=options.width, lift=0.3 * context.unit, table=context.table)]

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Trace from the seeds."""
        assert context.answer
        seeds = _seeds(context, SEEDS if options.lines is None else int(options.lines))
        if not len(seeds):
            return []
        start = vtkPolyData()
        points = vtkPoints()
        points.SetData(numpy_to_vtk(seeds, deep=True))
        start.SetPoints(points)
        tracer = vtkStreamTracer()
        tracer.SetInputData(context.kept("velocity", lambda: context.lattice("velocity")))  # type: ignore[union-attr]
        tracer.SetSourceData(start)
        (
            tracer.SetIntegrationDirectionToForward
            if context.seeds == "openings"
            else tracer.SetIntegrationDirectionToBoth
        )()
        tracer.SetIntegratorTypeToRungeKutta45()
        tracer.SetMaximumPropagation(0.15 * options.length * context.surface.size)
        tracer.SetMaximumNumberOfSteps(4000)
        tracer.SetTerminalSpeed(1e-3 * float(np.linalg.norm(context.answer.velocity, axis=1).max()))
        tracer.Update()
        lines = tracer.GetOutput()
        if not cls.needs_scale(options) or not context.answer.has(context.quantity):
            return [context.cut(actor(lines, context.stream, options.width))]
        places = vtk_to_numpy(lines.GetPoints().GetData()) if lines.GetNumberOfPoints() else np.zeros((0, 3))
        attach(lines, context.blended(context.quantity, places.astype(float)), context.quantity)
        return [context.cut(actor(lines, width=options.width, table=context.table))]

    @classmethod
    def needs_scale(cls, options: Any) -> bool:
        """Where its lines are coloured."""
        return bool(options.colour == "quantity")


def _known(values: Floats) -> Floats:
    """Give values along lines, where one is not known (an end beyond the wall) that of the place before."""
    good = np.flatnonzero(np.isfinite(values))
    if not len(good):
        return np.zeros(len(values))
    return values[good[np.maximum(np.searchsorted(good, np.arange(len(values)), "right") - 1, 0)]]


def once_round(traced: Any) -> Any:
    """Let lines of a closed space end where they come back to their start: traced on, they drift a little
    with every turn and fill an eddy with ink.
    """
    places = vtk_to_numpy(traced.GetPoints().GetData()) if traced.GetNumberOfPoints() else np.zeros((0, 3))
    lines = vtkCellArray()
    every = traced.GetLines()
    for number in range(every.GetNumberOfCells()):
        ids = vtkIdList()
        every.GetCellAtId(number, ids)
        order = [ids.GetId(k) for k in range(ids.GetNumberOfIds())]
        way = places[order]
        run = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(way, axis=0), axis=1))])
        off = np.linalg.norm(way - way[0], axis=1)
        left = np.maximum.accumulate(off)  # how far it ever was
        back = np.flatnonzero((off < CLOSED * run) & (off < 0.5 * left))
        end = int(back[0]) + 1 if len(back) else len(order)
        lines.InsertNextCell(end)
        for point in order[:end]:
            lines.InsertCellPoint(point)
    ended = vtkPolyData()
    ended.ShallowCopy(traced)
    ended.SetLines(lines)
    ended.GetCellData().Initialize()
    return ended


def _plane_seeds(context: PlaneContext, lines: float | None) -> Any:
    answer = context.answer
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
            np.clip(width / (CLOSEST * context.unit), 3, IN_PLANE)
        )  # in a thin passage lines would hide the colours
        count = count if lines is None else int(lines)
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


def _seeds(context: SpaceContext, lines: int) -> Floats:
    """Give where lines begin, (k, 3) m."""
    if context.seeds == "line" and len(context.line) == 2:
        share = np.linspace(0.0, 1.0, lines)[:, None]
        return np.ascontiguousarray(
            (1 - share) * np.array(context.line[0]) + share * np.array(context.line[1])
        )
    if context.seeds == "section":
        return _over_section(context, lines)
    seeds = (
        seeds_of(context.surface, context.openings, lines)
        if context.seeds == "openings"
        else np.zeros((0, 3))
    )
    return seeds if len(seeds) else _all_over(context, lines)


def _over_section(context: SpaceContext, lines: int) -> Floats:
    """Lay an even grid of points over the section."""
    x0, y0, x1, y1 = context.wet.bounds if not context.wet.is_empty else (0.0, 0.0, 1.0, 1.0)
    step = np.sqrt(max(context.wet.area, 1e-300) / (2 * lines))
    across, along = np.meshgrid(np.arange(x0 + step / 2, x1, step), np.arange(y0 + step / 2, y1, step))
    places = np.zeros((across.size, 3))
    places[:, (context.across + 1) % 3], places[:, (context.across + 2) % 3], places[:, context.across] = (
        across.reshape(-1),
        along.reshape(-1),
        context.place,
    )
    return np.ascontiguousarray(
        places[shapely.contains_xy(context.wet, across.reshape(-1), along.reshape(-1))]
    )


def seeds_of(surface: Surface, openings: dict[str, str], lines: int = SEEDS) -> Floats:
    """Spread seeds evenly over the openings fluid enters by, a little inside, (k, 3) m."""
    names = [name for name, way in openings.items() if way == "in" and name in surface.edge_lengths]
    mine = np.flatnonzero(np.isin(surface.labels, [surface.names.index(name) for name in names]))
    if not len(mine):
        return np.zeros((0, 3))
    vectors = surface.area_vectors[mine]
    size = np.linalg.norm(vectors, axis=1)
    chosen = np.random.default_rng(0).choice(len(mine), lines, p=size / size.sum())
    places = scattered(surface.points[surface.triangles], mine[chosen])
    return np.ascontiguousarray(places - 0.01 * surface.size * vectors[chosen] / size[chosen, None])


def _all_over(context: SpaceContext, lines: int) -> Floats:
    """Choose cells all over the space as seeds."""
    assert context.answer
    centre = context.answer.mesh.centre
    return np.ascontiguousarray(centre[:: max(1, len(centre) // lines)])
