"""Slippery wall."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.field.boundary import Frictionless


class Slip(Frictionless):
    """No flow through and no shear along the edge.

    Source: free surface or frictionless wall, any text on viscous flow.
    """

    caption: ClassVar[str] = "Slippery wall"
    sentence: ClassVar[str] = "{id}: {edge} is a wall that lets the fluid slide without friction."

    kind: Literal["slip"] = "slip"
