"""Turbulence in the field core: what closures share, and the wall treatment that is one for all."""
