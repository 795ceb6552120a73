"""The kinds of quantity a case can hold, their SI unit and the units offered for them."""

from __future__ import annotations

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
    "volume_flow": Dimension(
        "volume flow", "m3/s", ("L/s", "m3/h", "L/min", "mL/s", "m3/s", "ft3/min", "gpm")
    ),
    "mass_flow": Dimension("mass flow", "kg/s", ("kg/s", "g/s", "kg/h", "lb/s")),
    "pressure": Dimension("pressure", "Pa", ("Pa", "kPa", "bar", "mbar", "mmH2O", "inH2O", "psi")),
    "density": Dimension("density", "kg/m3", ("kg/m3", "g/cm3", "lb/ft3")),
    "viscosity": Dimension("dynamic viscosity", "Pa s", ("Pa s", "mPa s", "cP")),
    "force": Dimension("force", "N", ("N", "mN", "kN", "lbf")),
    "pressure_area": Dimension("pressure times area", "N", ("N",)),
    "velocity_area": Dimension("velocity times area", "m3/s", ("m3/s", "L/s")),
    "pressure_volume": Dimension("pressure times volume", "J", ("J",)),
    "velocity_volume": Dimension("velocity times volume", "m4/s", ("m4/s",)),
    "fraction": Dimension("share", "", ("", "%", "g/kg", "ppm")),
    "acceleration": Dimension("acceleration", "m/s2", ("m/s2", "ft/s2")),
    "angular_velocity": Dimension("angular velocity", "rad/s", ("rad/s", "rpm")),
    "diffusivity": Dimension("diffusivity", "m2/s", ("m2/s", "mm2/s", "cSt")),
    "conductivity": Dimension("thermal conductivity", "W/m/K", ("W/m/K",)),
    "heat_capacity": Dimension("specific heat", "J/kg/K", ("J/kg/K", "kJ/kg/K")),
    "heat_by_volume": Dimension("heat held by volume", "J/m3/K", ("MJ/m3/K", "kJ/m3/K", "J/m3/K")),
    "heat_flux": Dimension("heat flux", "W/m2", ("W/m2", "kW/m2")),
    "resistance": Dimension("thermal resistance", "m2*K/W", ("m2*K/W",)),
    "film": Dimension("heat-transfer coefficient", "W/m2/K", ("W/m2/K",)),
    "transmittance": Dimension("thermal conductance", "W/K", ("W/K", "kW/K")),
    "power": Dimension("power", "W", ("W", "kW", "mW")),
    "per_kelvin": Dimension("expansion by temperature", "1/K", ("1/K",)),
    "consistency": Dimension("consistency", "Pa s", ("Pa s", "mPa s")),
    "torque": Dimension("torque", "N m", ("N m", "mN m")),
    "pressure_length": Dimension("pressure times length", "N/m", ("N/m",)),
    "velocity_length": Dimension("velocity times length", "m2/s", ("m2/s", "mm2/s")),
    "temperature_length": Dimension("temperature times length", "K m", ("K m",)),
    "fraction_length": Dimension("fraction times length", "m", ("m", "mm")),
    "density_length": Dimension("mass an area", "kg/m2", ("kg/m2", "g/m2")),
    "time_length": Dimension("time times length", "s m", ("s m",)),
    "time_area": Dimension("time times area", "s m2", ("s m2",)),
    "time_volume": Dimension("time times volume", "s m3", ("s m3",)),
    "temperature_area": Dimension("temperature times area", "K m2", ("K m2",)),
    "temperature_volume": Dimension("temperature times volume", "K m3", ("K m3",)),
    "fraction_area": Dimension("fraction times area", "m2", ("m2",)),
    "fraction_volume": Dimension("fraction times volume", "m3", ("m3", "L", "mL")),
    "density_area": Dimension("density times area", "kg/m", ("kg/m",)),
    "density_volume": Dimension("mass", "kg", ("kg", "g")),
    "temperature": Dimension("temperature", "K", ("°C", "K", "°F")),
    "rate": Dimension("rate", "1/s", ("1/h", "1/s", "1/day")),
    "frequency": Dimension("frequency", "Hz", ("Hz", "1/s", "1/min", "kHz")),
    "energy": Dimension("energy over mass", "m2/s2", ("m2/s2", "J/kg")),
    "dissipation": Dimension("dissipation over mass", "m2/s3", ("m2/s3", "W/kg")),
    "bytes": Dimension("memory", "byte", ("MB", "GB")),
}
