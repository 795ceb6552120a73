"""Turbulence in the field core: what closures share, and the wall treatment that is one for all."""

from mop_lantern.field.turbulence.model import Inflow, Turbulence

__all__ = ["Inflow", "Turbulence"]
