"""Shapes: parametric parts, booleans, named edges that survive a changed parameter."""

from mop_lantern.shape.build import build
from mop_lantern.shape.piece import Corner, PartFault, Piece
from mop_lantern.shape.plane import Plane, narrowest_gaps

__all__ = ["Corner", "PartFault", "Piece", "Plane", "build", "narrowest_gaps"]
