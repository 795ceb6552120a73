"""Symmetry line."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.field.boundary import Frictionless


class Symmetry(Frictionless):
    """No flow through and no shear along the edge.

    Source: mirror condition, any text on viscous flow.
    """

    caption: ClassVar[str] = "Symmetry line"
    group: ClassVar[str] = "Walls"
    symbol: ClassVar[str] = (
        "M-1,0 L-0.6,0 M-0.4,0 L-0.2,0 M0,0 L0.4,0 M0.6,0 L1,0 M-0.5,-0.8 L0,-0.3 L0.5,-0.8 M-0.5,0.8 "
        "L0,0.3 L0.5,0.8"
    )
    sentence: ClassVar[str] = "{id}: {edge} is a line of symmetry; the space goes on mirrored beyond it."

    kind: Literal["symmetry"] = "symmetry"
