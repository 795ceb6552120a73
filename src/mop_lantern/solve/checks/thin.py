"""Cells that span a whole gap."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.grid import Mesh
from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck

OPPOSED = 0.3  # of a cell's face, wall that faces one way and the other


class Thin(TrustCheck):
    """Cells of a space that hold two walls with the fluid between them.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Cells that span a gap"
    kind: Literal["thin"] = "thin"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer."""
        return thin_trust(evidence.answer.mesh.fluid)


def thin_trust(mesh: Mesh) -> list[Trust]:
    """Tell of cells of a space that hold two walls with the fluid between them: the flow through such a gap
    is guessed, not solved.
    """
    if len(mesh.ways) == 2 or not mesh.n_cells:
        return []
    owner = mesh.owner[mesh.n_internal :]
    area = mesh.area[mesh.n_internal :]
    place = mesh.face_centre[mesh.n_internal :]
    size = np.zeros(mesh.n_cells)
    np.maximum.at(size, mesh.cube_cell, mesh.cube_size)
    narrow = np.zeros(mesh.n_cells, bool)
    for axis in range(3):
        sides = [np.maximum(way * area[:, axis], 0.0) for way in (1, -1)]
        sums = [np.bincount(owner, side, mesh.n_cells) for side in sides]
        ahead, back = (
            np.bincount(owner, side * place[:, axis], mesh.n_cells) / np.maximum(total, 1e-300)
            for side, total in zip(sides, sums, strict=True)
        )
        narrow |= (np.minimum(*sums) > OPPOSED * size**2) & (
            ahead > back
        )  # a wall that ends in the cell has its sides the other way round
    both = np.flatnonzero(narrow)
    if not len(both):
        return []
    x, y, z = (1e3 * mesh.centre[both[0]]).tolist()
    text = (
        f"{len(both)} cells span a whole gap between two walls, one about ({x:.3g}, {y:.3g}, {z:.3g}) mm: "
        "the flow through it is a guess. Make the cells smaller there."
    )
    return [
        Trust(
            "thin",
            "caution",
            float(len(both)),
            0.0,
            text,
        )
    ]
