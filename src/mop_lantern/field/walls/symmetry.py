"""Symmetry line."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.field.boundary import Frictionless


class Symmetry(Frictionless):
    """No flow through and no shear along the edge.

    Source: mirror condition, any text on viscous flow.
    """

    caption: ClassVar[str] = "Symmetry line"
    sentence: ClassVar[str] = "{id}: {edge} is a line of symmetry; the space goes on mirrored beyond it."

    kind: Literal["symmetry"] = "symmetry"
