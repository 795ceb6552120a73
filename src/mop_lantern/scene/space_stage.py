"""What a layer of a space is given to draw with."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property, partial
from typing import Any

import numpy as np
from numpy.typing import NDArray
from vtkmodules.util.numpy_support import numpy_to_vtk, numpy_to_vtkIdTypeArray
from vtkmodules.vtkCommonCore import vtkPoints
from vtkmodules.vtkCommonDataModel import vtkCellArray, vtkImageData, vtkPlane, vtkPolyData

from mop_lantern.grid import Mesh
from mop_lantern.grid.quality import CELL_FIGURES
from mop_lantern.grid.slopes import slope_moments, space_slopes
from mop_lantern.judge import FieldResult
from mop_lantern.judge.sampling import Sampler, sampler_of
from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.scene.plane_stage import Colour, Inks, actor
from mop_lantern.shape import Surface, cut_by_plane

Floats = NDArray[np.float64]
NEAR = 6
VELOCITY = ("u", "v", "w")
SEEDS = {
    "openings": "at the openings fluid enters by",
    "line": "along the line drawn",
    "section": "all over the section",
    "space": "all over the space",
}
LATTICE = 250_000  # places at most


@dataclass(frozen=True)
class Places:
    """Where values of a mesh in space are taken from: slow to work out for many cells, and the same for every
    field on it.

    Attributes
    ----------
    nodes : (n, 3) m, middles of cells and boundary faces. tree : for the nearest of them. low, step, counts :
    an even lattice over the space.
    near, weight : (k, `NEAR`) nodes near every place of it, and their shares. beyond : (k,) whether it lies
    beyond the walls.
    """

    nodes: Floats
    tree: Any
    low: Floats
    step: float
    counts: tuple[int, int, int]
    near: NDArray[Any]
    weight: Floats
    beyond: NDArray[np.bool_]

    @property
    def lattice(self) -> Floats:
        """Places of the lattice, (k, 3) m, x fastest as VTK counts."""
        return _lattice(self.low, self.step, self.counts)


def _lattice(low: Floats, step: float, counts: Any) -> Floats:
    z, y, x = np.meshgrid(*(low[d] + step * np.arange(counts[d]) for d in (2, 1, 0)), indexing="ij")
    return np.column_stack(
        [
            x.reshape(-1),
            y.reshape(-1),
            z.reshape(-1),
        ]
    )


def places_of(surface: Surface, mesh: Mesh) -> Places:
    """Work out where values of a mesh are taken from; may run beside the window."""
    nodes = np.vstack([mesh.centre, mesh.face_centre[mesh.n_internal :]])
    slope_moments(mesh)
    tree = nearest_tree(nodes)
    low = surface.points.min(axis=0)
    high = surface.points.max(axis=0)
    step = float((np.prod(high - low) / LATTICE) ** (1 / 3))
    counts = np.maximum(np.ceil((high - low) / step).astype(int) + 1, 3)
    places = _lattice(low, step, counts)
    weight, near = _near(nodes, tree, places)
    apart = np.linalg.norm(nodes[near[:, 0]] - places, axis=1)
    return Places(
        nodes,
        tree,
        low,
        step,
        (
            int(counts[0]),
            int(counts[1]),
            int(counts[2]),
        ),
        near.astype(np.int32),
        weight,
        apart > 1.2 * np.cbrt(mesh.volume.max()),
    )


def nodes_of(mesh: Mesh) -> Places:
    """Work out where values of a mesh are taken from, without a lattice over its space."""
    nodes = np.vstack([mesh.centre, mesh.face_centre[mesh.n_internal :]])
    none = np.zeros((0, NEAR))
    tree = nearest_tree(nodes)
    return Places(nodes, tree, nodes.min(axis=0), 1.0, (0, 0, 0), none.astype(int), none, np.zeros(0, bool))


def _near(nodes: Floats, tree: Any, places: Floats) -> tuple[Floats, NDArray[Any]]:
    """Give the shares and numbers of the nodes nearest to places, the nearest first."""
    distance, near = tree.query(places, k=min(NEAR, len(nodes)))
    weight = 1.0 / (distance + 1e-3 * distance.mean()) ** 2
    return weight / weight.sum(axis=1)[:, None], near


def _blended(
    values: Floats,
    slopes: Floats,
    nodes: Floats,
    places: Floats,
    weight: Floats,
    near: NDArray[Any],
) -> Floats:
    """Give the mean of what the nearest nodes make of their values (n,) and slopes (n, 3) at places (k, 3),
    within their range and half of what their slopes add.

    Source: Shepard's mean with slopes, Franke and Nielson, Int. J. Numer. Meth. Eng. 15 (1980) 1691-1704,
    with half slopes; the limits are our own.
    """
    here = values[near]
    found = np.einsum("kn,kn->k", weight, here)
    rise = np.zeros(here.shape)
    mean_slope = np.zeros(len(here))
    for way in range(
        3
    ):  # half the slope from each node, half from their mean place: a parabola's bend drops out
        there = nodes[near, way]
        slope = slopes[near, way]
        rise += slope * (places[:, way, None] - there)
        mean_slope += np.einsum("kn,kn->k", weight, slope) * (
            places[:, way] - np.einsum("kn,kn->k", weight, there)
        )
    found += 0.5 * (np.einsum("kn,kn->k", weight, rise) + mean_slope)
    room = 0.5 * np.abs(rise).max(axis=1)
    return np.clip(found, here.min(axis=1) - room, here.max(axis=1) + room)


@dataclass(frozen=True)
class SpaceContext:
    """All a layer of a space may use.

    Attributes
    ----------
    surface : the space. answer : the field, or None. openings : face name to way ("in", "out", "open"). table
    : lookup table of the coloured
    quantity. quantity : its name. inks : theme colours. stream : colour of streamlines. across, share :
    direction across the section and its
    share of the way through. level : share of the scale a level surface lies at. cutter : plane the model is
    cut away by, or None. store : what layers keep for this surface and field.
    places : where values are taken from, of this surface and mesh (`places_of`).
    hidden : faces that are not drawn. near_walls : how solid walls before the fluid are drawn, 0 to 1.
    seeds : where streamlines begin, of `SEEDS`. line : ends of a line (m) they may begin on.
    solids : what every solid that conducts heat is drawn with, by region; ``answer`` is that of the fluid.
    patient : values are to be those of readings, whatever it takes. wanted : samplers and places whose
    weights are to be worked out, if not. marks : lines (k, 3) m of devices in the fluid.
    """

    surface: Surface
    answer: FieldResult | None
    openings: dict[str, str]
    table: Any
    quantity: str
    inks: Inks
    stream: Colour
    across: int
    share: float
    level: float = 0.5
    cutter: vtkPlane | None = None
    store: dict[str, Any] = field(default_factory=dict)
    hidden: frozenset[str] = frozenset()
    near_walls: float = 0.0
    seeds: str = "openings"
    line: tuple[tuple[float, ...], ...] = ()
    places: Places | None = None
    solids: dict[str, SpaceContext] = field(default_factory=dict)
    patient: bool = True
    wanted: list[tuple[Sampler, Floats]] = field(default_factory=list)
    marks: tuple[Floats, ...] = ()

    @property
    def coloured(self) -> dict[str, SpaceContext]:
        """The fluid, under "", and the solids in which what is coloured has a meaning."""
        every = ({"": self} if self.answer is not None else {}) | self.solids
        return {
            name: each
            for name, each in every.items()
            if each.answer is not None and each.answer.has(self.quantity)
        }

    @property
    def drawn(self) -> NDArray[np.bool_]:
        """Which triangles are not hidden, (m,)."""
        names = [k for k, name in enumerate(self.surface.names) if name in self.hidden]
        return np.asarray(~np.isin(self.surface.labels, names))

    def kept(self, name: str, make: Callable[[], Any]) -> Any:
        """Give what was made before for this surface and field, or make it."""
        if name not in self.store:
            self.store[name] = make()
        return self.store[name]

    @property
    def place(self) -> float:
        """Where the section lies along the direction across it, m."""
        return section_place(self.surface, self.across, self.share)

    @cached_property
    def wet(self) -> Any:
        """What of the fluid lies in the section, polygons of the two directions that follow ``across``."""
        return cut_by_plane(self.surface, self.across, self.place)

    @property
    def nodes(self) -> tuple[Floats, Any]:
        """Middles of cells and boundary faces, and their search tree."""
        assert self.places
        return self.places.nodes, self.places.tree

    def sampled(self, what: str, places: Floats) -> Floats:
        """Give a quantity (k,), or the "velocity" (k, 3), at places (k, 3) m as a reading there has it.

        That takes a second for thousands of new places: one who is not patient gets `blended` values, and the
        places are put down as wanted.
        """
        assert self.answer
        sampler = sampler_of(self.answer.mesh)
        if not self.patient and not sampler.knows(places):
            self.wanted.append((sampler, places))
            return self.blended(what, places)
        weights = sampler.weights(places)
        names = VELOCITY if what == "velocity" else (what,)
        found = np.column_stack([self.answer.weighed(name, weights) for name in names])
        lost = np.isnan(found).any(axis=1)  # beyond a wall the cells know, within that of the shape
        if lost.any():
            found[lost] = self.blended(what, places[lost]).reshape(-1, len(names))
        return found if what == "velocity" else found[:, 0]

    def blended(self, what: str, places: Floats) -> Floats:
        """Give the same at once, from the nearest cells and walls and their slopes."""
        nodes, tree = self.nodes
        return self._blended(what, places, *_near(nodes, tree, places))

    def _blended(
        self,
        what: str,
        places: Floats,
        weight: Floats,
        near: NDArray[Any],
    ) -> Floats:
        names = VELOCITY if what == "velocity" else (what,)
        made = []
        for name in names:
            values, slopes = self.kept(f"slopes {name}", partial(self._sloped, name))
            found = _blended(
                values,
                slopes,
                self.nodes[0],
                places,
                weight,
                near,
            )
            made.append(
                np.clip(found, values.min(), values.max())
                if self.answer and what in self.answer.scalars
                else found
            )
        return np.column_stack(made) if what == "velocity" else made[0]

    def _sloped(self, what: str) -> tuple[Floats, Floats]:
        """Give a quantity in cells and on boundary faces, and its slopes there; what is told of cells has
        none.
        """
        assert self.answer
        mesh = self.answer.mesh
        values = np.concatenate([self.answer.cells(what), self.answer.boundary(what)])
        if what in CELL_FIGURES or what == "shear":
            return values, np.zeros((len(values), 3))
        slopes = space_slopes(mesh, values)
        return values, np.vstack([slopes, slopes[mesh.owner[mesh.n_internal :]]])

    def lattice(self, what: str) -> Any:
        """Give a quantity or the velocity (as for `blended`) on an even lattice over the space."""
        assert self.places
        known = self.places
        found = self._blended(what, known.lattice, known.weight, known.near)
        if what == "velocity":  # nothing moves beyond the walls
            found[known.beyond] = 0.0
        image = vtkImageData()
        image.SetDimensions(*known.counts)
        image.SetOrigin(*known.low.tolist())
        image.SetSpacing(known.step, known.step, known.step)
        array = numpy_to_vtk(np.ascontiguousarray(found), deep=True)
        array.SetName(what)
        (image.GetPointData().SetVectors if what == "velocity" else image.GetPointData().SetScalars)(array)
        return image

    def cut(self, prop: Any) -> Any:
        """Let a prop be cut away before the section, where that is asked for."""
        if self.cutter is not None:
            prop.GetMapper().AddClippingPlane(self.cutter)
        return prop


def marked(context: SpaceContext, chosen: tuple[str, ...], lit: str) -> list[Any]:
    """Give props that mark faces: those picked, and one lit up, seen through whatever lies before them."""
    made = []
    for names, opacity in ((chosen, 0.45), ((lit,), 0.6)):
        mine = np.isin(
            context.surface.labels, [k for k, name in enumerate(context.surface.names) if name in names]
        )
        if mine.any():
            prop = actor(
                polygons(context.surface.points, context.surface.triangles[mine]), context.inks.enter
            )
            prop.GetProperty().SetOpacity(opacity)
            prop.GetMapper().SetResolveCoincidentTopologyToPolygonOffset()
            prop.GetMapper().SetRelativeCoincidentTopologyPolygonOffsetParameters(0.0, -20.0)
            made.append(prop)
    return made


def section_place(surface: Surface, across: int, share: float) -> float:
    """Give where a section lies along the direction across it, m."""
    low = float(surface.points[:, across].min())
    high = float(surface.points[:, across].max())
    return low + share * (high - low)


def share_at(surface: Surface, across: int, place: float) -> float:
    """Give the share of the way through a surface at which a place (m) lies."""
    low = float(surface.points[:, across].min())
    high = float(surface.points[:, across].max())
    return (place - low) / (high - low or 1.0)


def thinnest(surface: Surface) -> int:
    """Give the direction a space reaches least in."""
    return int(np.ptp(surface.points, axis=0).argmin())


def polygons(
    points: Floats,
    corners: NDArray[Any],
    scalars: Floats | None = None,
    name: str = "",
) -> Any:
    """Make polygons of one corner count (m, k), or lines of two, with values at the points."""
    data = vtkPolyData()
    place = vtkPoints()
    cells = vtkCellArray()
    place.SetData(numpy_to_vtk(np.ascontiguousarray(points, float), deep=True))
    offsets = np.arange(0, corners.size + 1, corners.shape[1], dtype=np.int64)
    cells.SetData(
        numpy_to_vtkIdTypeArray(offsets, deep=True),
        numpy_to_vtkIdTypeArray(np.ascontiguousarray(corners, np.int64).reshape(-1), deep=True),
    )
    data.SetPoints(place)
    (data.SetLines if corners.shape[1] == 2 else data.SetPolys)(cells)
    if scalars is not None:
        array = numpy_to_vtk(np.ascontiguousarray(scalars, float), deep=True)
        array.SetName(name)
        (data.GetPointData() if len(scalars) == len(points) else data.GetCellData()).SetScalars(array)
    return data
