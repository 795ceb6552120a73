"""Cells at sharp edges around which a turbulent stream turns."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid import Mesh
from mop_lantern.grid.adapt import cell_sizes
from mop_lantern.judge import Trust
from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.shape import Lips, lips_of
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.units import show, show_place

Floats = NDArray[np.float64]
ENOUGH = 40.0  # cells across the passage
WANTED = 50
IN_SPACE = 25, "2"  # across and halvings the button asks for, where every halving takes many times the cells
PROBED = 0.25  # of the width of the passage: how far from the lip the stream is looked at
ALONG, QUICK = 0.3, 0.3  # of the speed there, of the largest speed: a stream that turned around the lip


class LipCells(TrustCheck):
    """How many cells of the size at a lip would lie across the passage a stream enters there. Too few, and
    it does not tear off, or too late: the loss comes out too small.

    Source: own measurements at a Reynolds number of 1e5, k-omega SST. Mouth of a pipe: loss of the edge 30 %
    low with 25 across, 10 % with 50, 4 % with 100; orifice of half the bore: 40 % with 13, 3 % with 26, 0.1
    % with 50; a contraction to half the bore: 12 % with 13, 10 % with 26, 2 % with 50.
    """

    caption: ClassVar[str] = "Cells at lips of turbulent flow"
    kind: Literal["lips"] = "lips"
    while_following: ClassVar[bool] = False

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at every lip the stream turns around."""
        physics = evidence.physics
        if physics.turbulence is None:
            return []
        openings = [opening.edge for opening in evidence.settled.numbers.openings.values()]
        lips = lips_of(evidence.settled.shape, openings)
        turned = turned_around(lips, physics.wet, physics.flow.U)
        if not turned.any():
            return []
        across = across_lips(lips, physics.wet)
        across[~turned] = np.inf
        worst = int(across.argmin())
        count, wide = across[worst], lips.width[worst]
        text = (
            f"The stream turns around the sharp edge at {show_place(lips.place[worst])} on cells of "
            f"{show(wide / count, 'length', 'mm', 2)}, {count:.0f} across {show(wide, 'length', 'mm', 3)}."
        )
        if count >= ENOUGH:
            return [Trust("lips", "holds", float(count), ENOUGH, text)]
        text += (
            " On so few it tears off too late: losses came out up to 40% too small with 13 across, 15% with "
            f"25, 4% with {WANTED}. A grid twice as coarse cannot tell."
        )
        asked, levels = (WANTED, "4") if len(physics.wet.ways) == 2 else IN_SPACE
        finer = {"kind": "lips", "across": str(asked), "levels": levels}
        edits = {"field.grid.refine.at_lips": finer}
        return [Trust("lips", "caution", float(count), ENOUGH, text, f"{asked} cells across at lips", edits)]


def turned_around(lips: Lips, mesh: Mesh, velocity: Floats) -> NDArray[np.bool_]:
    """Tell at which lips (k,) the stream leaves the lip along the wall, so that it came around it."""
    if not len(lips):
        return np.zeros(0, bool)
    cell = mesh.locator.cells(lips.place + PROBED * lips.width[:, None] * lips.normal)
    there = velocity[np.maximum(cell, 0), : lips.place.shape[1]]
    speed = np.linalg.norm(there, axis=1)
    fastest = float(np.linalg.norm(velocity, axis=1).max(initial=0.0))
    along = (there * lips.along).sum(axis=1)
    return np.asarray((cell >= 0) & (speed > QUICK * fastest) & (along > ALONG * speed))


def across_lips(lips: Lips, mesh: Mesh) -> Floats:
    """Count how many cells of the size beside each lip would lie across its passage, (k,)."""
    real = np.flatnonzero(mesh.level >= 0) if len(mesh.level) else np.arange(mesh.n_cells)
    ways = lips.place.shape[1]
    _, nearest = nearest_tree(mesh.centre[real, :ways]).query(lips.place)
    return np.asarray(lips.width / cell_sizes(mesh)[real[nearest]])
