"""Grids: mesh arrays, graded base lines, tree refinement, cutting, merging, quality."""

from mop_lantern.grid.adapt import Wanted, adapt, cost
from mop_lantern.grid.box import box
from mop_lantern.grid.mesh import Mesh
from mop_lantern.grid.plane_grid import make
from mop_lantern.grid.quality import Quality, quality

__all__ = ["Mesh", "Quality", "Wanted", "adapt", "box", "cost", "make", "quality"]
