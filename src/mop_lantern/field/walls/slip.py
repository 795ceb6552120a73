"""Slippery wall."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import reference
from mop_lantern.field.boundary import SLIP, Boundary, Patch, Wall


class Slip(Wall):
    """No flow through and no shear along the edge.

    Source: free surface or frictionless wall, any text on viscous flow.
    """

    caption: ClassVar[str] = "Slippery wall"
    sentence: ClassVar[str] = "{id}: {edge} is a wall that lets the fluid slide without friction."

    kind: Literal["slip"] = "slip"
    edge: str = reference("edge", "edge", "The edge.")

    @classmethod
    def apply(cls, numbers: Any, patch: Patch, boundary: Boundary) -> None:
        """Mark the faces."""
        boundary.code[patch.faces] = SLIP
