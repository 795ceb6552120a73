"""Shapes: parametric parts, booleans, named edges that survive a changed parameter."""

from mop_lantern.shape.build import build
from mop_lantern.shape.developed import developed
from mop_lantern.shape.join import as_it_is, join
from mop_lantern.shape.lips import Lips, lips_of
from mop_lantern.shape.piece import Corner, PartFault, Piece
from mop_lantern.shape.plane import Plane, narrowest_gaps
from mop_lantern.shape.surface import Surface, cut_by_plane
from mop_lantern.shape.wet import spaces_of

__all__ = [
    "Corner",
    "Lips",
    "PartFault",
    "Piece",
    "Plane",
    "Surface",
    "as_it_is",
    "build",
    "cut_by_plane",
    "developed",
    "join",
    "lips_of",
    "narrowest_gaps",
    "spaces_of",
]
