"""The worst cells of a space."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count
from mop_lantern.declare.kind import Text
from mop_lantern.grid.quality import OFF_SQUARE
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.plane_stage import actor
from mop_lantern.scene.space_stage import SpaceContext, polygons

EDGES = np.array(
    [
        (0, 1),
        (2, 3),
        (4, 5),
        (6, 7),
        (0, 2),
        (1, 3),
        (4, 6),
        (5, 7),
        (0, 4),
        (1, 5),
        (2, 6),
        (3, 7),
    ]
)


class Worst(Layer):
    """The cells whose faces stand least square to the way to their neighbours, as cubes.

    Source: the grid report's angle, cell by cell.
    """

    caption: ClassVar[str] = "Worst cells"
    help: ClassVar[str] = "Mark the cells whose faces stand least square"
    order: ClassVar[int] = 6

    kind: Literal["worst"] = "worst"
    shown: Text = count(
        "cells",
        "How many of the worst cells are marked.",
        default="40",
        at_least=1,
        at_most=2000,
    )

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Draw the cubes the worst cells were cut from."""
        assert context.answer
        mesh = context.answer.mesh
        angle = context.answer.cells(OFF_SQUARE)
        worst = np.argsort(-angle)[: int(options.shown)]
        cubes = np.flatnonzero(np.isin(mesh.cube_cell, worst))
        corners = np.array(
            [
                [
                    k & 1,
                    k >> 1 & 1,
                    k >> 2,
                ]
                for k in range(8)
            ],
            float,
        )
        points = (mesh.cube_low[cubes, None] + mesh.cube_size[cubes, None, None] * corners).reshape(-1, 3)
        lines = (8 * np.arange(len(cubes))[:, None, None] + EDGES).reshape(-1, 2)
        return [actor(polygons(points, lines), context.inks.enter, 2.0)]
