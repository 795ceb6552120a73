"""Slippery wall."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.field.boundary import Frictionless


class Slip(Frictionless):
    """No flow through and no shear along the edge.

    Source: free surface or frictionless wall, any text on viscous flow.
    """

    caption: ClassVar[str] = "Slippery wall"
    group: ClassVar[str] = "Walls"
    symbol: ClassVar[str] = (
        "M-1,0.6 L1,0.6 M-0.8,0.9 L-0.5,0.6 M-0.3,0.9 L0,0.6 M0.2,0.9 L0.5,0.6 M0.7,0.9 L1,0.6 "
        "M-0.8,0.2 L0.8,0.2 M-0.8,-0.2 L0.8,-0.2"
    )
    sentence: ClassVar[str] = "{id}: {edge} is a wall that lets the fluid slide without friction."

    kind: Literal["slip"] = "slip"
