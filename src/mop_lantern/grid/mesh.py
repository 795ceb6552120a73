"""The mesh: arrays only. Nothing in the field core knows how they were made."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from mop_lantern.grid.locate import Locator

Floats = NDArray[np.float64]
Ints = NDArray[np.int32]


@dataclass(frozen=True)
class Mesh:
    """A face-based mesh of any cells, three-dimensional in its arrays.

    Attributes
    ----------
    owner : (n_faces,) int32; internal faces first, sorted by (owner, neighbour).
    neighbour : (n_internal,) int32.
    area : (n_faces, 3) float, m2; face area vectors, out of the owner (around an axis: m2 per radian).
    face_centre : (n_faces, 3) float, m.
    volume : (n_cells,) float, m3 (around an axis: m3 per radian).
    centre : (n_cells, 3) float, m.
    patch : (n_boundary,) int32; index into ``patch_names`` of every boundary face.
    points : (n_points, 3) float, m.
    face_points, face_offsets : CSR lists of the points of every face.
    piece_points, piece_offsets, piece_cell : polygons (plane grids) that draw the cells, and the cell of
    each.
    radius : (n_cells,) float, m; distance from the axis, zero length when there is no axis.
    level : (n_cells,) int32; how often the base lattice was halved for each cell, -1 for those
    of layers along walls; zero length when there is no lattice.
    turn : what areas and volumes are multiplied with to report the whole body (2 pi around an axis, else 1).
    plane_area : (n_cells,) float, m2; area of each cell in the plane, zero length in space.
    cube_low, cube_size, cube_cell, cube_middle : of grids in space, the cubes cells were cut from: first
    corner (k, 3) m, size (k,) m, the cell,
        and the middle (k, 3) m of what the cell fills of it; zero length else.
    region : (n_cells,) int32; index into ``region_names`` of every cell, zero length where all is fluid.
    Cells and boundary faces stand in the order of the regions.
    region_names : "" for the fluid, then the ids of the solids.
    joints : (k, 2) int32; boundary faces of two regions that are the two sides of one piece of wall.
    """

    owner: Ints
    neighbour: Ints
    area: Floats
    face_centre: Floats
    volume: Floats
    centre: Floats
    patch: Ints
    patch_names: tuple[str, ...]
    points: Floats
    face_points: Ints
    face_offsets: Ints
    piece_points: Ints = field(default_factory=lambda: np.zeros(0, np.int32))
    piece_offsets: Ints = field(default_factory=lambda: np.zeros(1, np.int32))
    piece_cell: Ints = field(default_factory=lambda: np.zeros(0, np.int32))
    radius: Floats = field(default_factory=lambda: np.zeros(0))
    plane_area: Floats = field(default_factory=lambda: np.zeros(0))
    level: Ints = field(default_factory=lambda: np.zeros(0, np.int32))
    cube_low: Floats = field(default_factory=lambda: np.zeros((0, 3)))
    cube_size: Floats = field(default_factory=lambda: np.zeros(0))
    cube_cell: Ints = field(default_factory=lambda: np.zeros(0, np.int32))
    cube_middle: Floats = field(default_factory=lambda: np.zeros((0, 3)))
    turn: float = 1.0
    region: Ints = field(default_factory=lambda: np.zeros(0, np.int32))
    region_names: tuple[str, ...] = ("",)
    joints: Ints = field(default_factory=lambda: np.zeros((0, 2), np.int32))

    @property
    def n_cells(self) -> int:
        """Number of cells."""
        return len(self.volume)

    @property
    def n_internal(self) -> int:
        """Number of internal faces."""
        return len(self.neighbour)

    @property
    def n_boundary(self) -> int:
        """Number of boundary faces."""
        return len(self.owner) - len(self.neighbour)

    @property
    def axisymmetric(self) -> bool:
        """Whether the mesh is a plane that turns about the x axis."""
        return len(self.radius) > 0

    @property
    def ways(self) -> tuple[int, ...]:
        """Directions of space in which the mesh has faces: x and y in a plane, else all three."""
        return (0, 1) if len(self.plane_area) else (0, 1, 2)

    @cached_property
    def locator(self) -> Locator:
        """Finds the cell a place lies in; made on first use and kept."""
        from mop_lantern.grid.locate import Locator

        return Locator(self)

    @cached_property
    def fluid(self) -> Mesh:
        """The cells that hold fluid: the first ones, with their faces in the same order."""
        return self.part("")

    @cached_property
    def _parts(self) -> dict[str, Mesh]:
        return {}

    def part(self, region: str) -> Mesh:
        """Give the mesh of one region, its faces in the same order; it is kept."""
        from mop_lantern.grid.regions import part_of

        if not len(self.region):
            return self
        if region not in self._parts:
            self._parts[region] = part_of(self, *self.span_of(region))
        return self._parts[region]

    def span_of(self, region: str) -> tuple[int, int]:
        """Give the first cell of a region and the one behind its last."""
        if not len(self.region):
            return 0, self.n_cells
        number = self.region_names.index(region)
        return int(np.searchsorted(self.region, number)), int(np.searchsorted(self.region, number, "right"))

    @cached_property
    def joined(self) -> NDArray[np.bool_]:
        """Tell which boundary faces have another region behind them, (n_boundary,)."""
        found = np.zeros(self.n_boundary, bool)
        found[self.joints.reshape(-1)] = True
        return found

    def cells_of(self, region: str) -> NDArray[np.bool_]:
        """Mark the cells of a region."""
        if not len(self.region):
            return np.full(self.n_cells, region == "")
        if region not in self.region_names:
            return np.zeros(self.n_cells, bool)
        return np.asarray(self.region == self.region_names.index(region))

    def faces_of(self, name: str) -> NDArray[np.int64]:
        """Give the boundary faces (counted from the first boundary face) of a named edge."""
        return (
            np.flatnonzero(self.patch == self.patch_names.index(name))
            if name in self.patch_names
            else np.zeros(0, np.int64)
        )

    def arrays(self) -> dict[str, Any]:
        """Give all arrays by name, for storing."""
        return {item.name: getattr(self, item.name) for item in fields(self)}

    @classmethod
    def of(cls, arrays: dict[str, Any]) -> Mesh:
        """Make a mesh from stored arrays."""
        named = dict(arrays)
        named["patch_names"] = tuple(str(name) for name in named["patch_names"])
        named["region_names"] = tuple(str(name) for name in named.get("region_names", ("",)))
        named["turn"] = float(named["turn"])
        return cls(**named)
