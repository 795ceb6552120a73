"""Symmetry line."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import reference
from mop_lantern.field.boundary import SLIP, Boundary, Patch, Wall


class Symmetry(Wall):
    """No flow through and no shear along the edge.

    Source: mirror condition, any text on viscous flow.
    """

    caption: ClassVar[str] = "Symmetry line"
    sentence: ClassVar[str] = "{id}: {edge} is a line of symmetry; the space goes on mirrored beyond it."

    kind: Literal["symmetry"] = "symmetry"
    edge: str = reference("edge", "edge", "The edge.")

    @classmethod
    def apply(cls, numbers: Any, patch: Patch, boundary: Boundary) -> None:
        """Mark the faces."""
        boundary.code[patch.faces] = SLIP
