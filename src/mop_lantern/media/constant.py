"""A fluid with constant properties."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.declare import Kind, quantity, text
from mop_lantern.declare.kind import Text


class Constant(Kind):
    """A fluid whose density and viscosity are given.

    Source: the analyst's own figures.
    """

    caption: ClassVar[str] = "Constant properties"
    sentence: ClassVar[str] = "The fluid is {name}, of density {density} and dynamic viscosity {viscosity}."

    kind: Literal["constant"] = "constant"
    name: str = text("name", "What the fluid is called.", default="water at 20 °C")
    density: Text = quantity("density", "density", "Mass per volume.", default="998.2 kg/m3", above=0)
    viscosity: Text = quantity("viscosity", "viscosity", "Dynamic viscosity.", default="1.0016 mPa s", above=0)
