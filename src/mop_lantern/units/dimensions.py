"""The kinds of quantity a case can hold, their SI unit and the units offered for them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Dimension:
    """A kind of quantity: its name in words, its SI unit, and the units offered on the sheet."""

    label: str
    si: str
    units: tuple[str, ...]


DIMENSIONS: dict[str, Dimension] = {
    "number": Dimension("plain number", "", ("",)),
    "length": Dimension("length", "m", ("mm", "m", "cm", "in", "ft")),
    "area": Dimension("area", "m2", ("m2", "mm2", "cm2", "in2", "ft2")),
    "volume": Dimension("volume", "m3", ("m3", "L", "mL", "ft3")),
    "angle": Dimension("angle", "rad", ("deg", "rad")),
    "time": Dimension("time", "s", ("s", "min", "h")),
    "velocity": Dimension("velocity", "m/s", ("m/s", "mm/s", "cm/s", "ft/s", "ft/min")),
    "volume_flow": Dimension("volume flow", "m3/s", ("L/s", "m3/h", "L/min", "mL/s", "m3/s", "ft3/min", "gpm")),
    "mass_flow": Dimension("mass flow", "kg/s", ("kg/s", "g/s", "kg/h", "lb/s")),
    "pressure": Dimension("pressure", "Pa", ("Pa", "kPa", "bar", "mbar", "mmH2O", "inH2O", "psi")),
    "density": Dimension("density", "kg/m3", ("kg/m3", "g/cm3", "lb/ft3")),
    "viscosity": Dimension("dynamic viscosity", "Pa s", ("Pa s", "mPa s", "cP")),
    "force": Dimension("force", "N", ("N", "mN", "kN", "lbf")),
    "pressure_area": Dimension("pressure times area", "N", ("N",)),
    "velocity_area": Dimension("velocity times area", "m3/s", ("m3/s", "L/s")),
    "pressure_volume": Dimension("pressure times volume", "J", ("J",)),
    "velocity_volume": Dimension("velocity times volume", "m4/s", ("m4/s",)),
    "temperature": Dimension("temperature", "K", ("°C", "K", "°F")),
    "bytes": Dimension("memory", "byte", ("MB", "GB")),
}


def preferred(dimension: str, display: Mapping[str, str]) -> str:
    """Give the unit a person prefers for a dimension: their choice, else the first offered."""
    return display.get(dimension) or DIMENSIONS[dimension].units[0]
