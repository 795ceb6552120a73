"""Fluids: one file a kind; `Fluid` is what the solver sees of them."""

from mop_lantern.media._fluid import Fluid

__all__ = ["Fluid"]
