"""What solids are made of: how well they conduct heat and how much of it they store."""

from mop_lantern.materials._solid import Material, Solid

__all__ = ["Material", "Solid"]
