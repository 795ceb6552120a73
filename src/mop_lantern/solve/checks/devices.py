"""Where devices in the fluid work."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.devices_at_work import Working
from mop_lantern.units import show

ABOUT = 0.6  # of the width of a device, how far finer cells reach from its middle
COVERED = 0.15  # of the area of the outline: more missing on the grid, or too much, is a caution


class Devices(TrustCheck):
    """The operating point of every device in the fluid, and how well the cells cover it.

    Source: the flow and the jump of pressure the answer has there.
    """

    caption: ClassVar[str] = "Devices in the fluid"
    kind: Literal["devices"] = "devices"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """One item a device."""
        physics = evidence.physics
        if not len(physics.devices):
            return []
        return [_told(one, physics.settled.numbers) for one in physics.devices.working(physics.flow)]


def _told(one: Working, numbers: Any) -> Trust:
    flow = show(abs(one.flow), "volume_flow", "m3/s", 4)
    way = "along it" if one.flow >= 0 else "against it"
    does = "rises" if one.rise * one.flow >= 0 else "falls"
    pressure = show(abs(one.rise), "pressure", "Pa", 3)
    text = f"{one.key}: {flow} pass {way}; the pressure {does} by {pressure} there."
    for name, amount in one.added.items():
        text += f" It {_added(name, amount, numbers.species)}."
    off = one.area / one.wanted - 1
    level, remedy, edits = "holds", "", dict[str, Any]()
    if one.strays:
        level = "caution"
        text += f" {one.strays}"
    if one.whole and abs(off) > COVERED:
        area = show(one.area, "area", "m2", 3)
        level = "caution"
        text += (
            f" On the cells it has an area of {area}, {one.area / one.wanted:.0%} of its outline: the cells "
            "are too large for it."
        )
        remedy, edits = f"Halve the cells about {one.key}", finer_about(one.key, numbers)
    return Trust(f"device.{one.key}", level, abs(off), COVERED, text, remedy, edits)


def finer_about(key: str, numbers: Any) -> dict[str, Any]:
    """Give the edits that halve the cells about a device, once more where they did so before."""
    device = numbers.devices[key]
    place = f"at_{key}"
    levels = getattr(numbers.grid.refine.get(place), "levels", 0) + 1
    reach = ABOUT * device.width
    low, high = ([f"{at + side * reach:.4g} m" for at in device.centre] for side in (-1, 1))
    return {
        f"field.grid.refine.{place}": {"kind": "box", "levels": f"{levels:.0f}", "low": low, "high": high}
    }


def _added(name: str, amount: float, species: Any) -> str:
    """Say what a device adds to heat or to a species."""
    does = "gives" if amount >= 0 else "takes"
    if name == "T":
        return f"{does} {show(abs(amount), 'power', 'W', 4)} of heat"
    rate = (
        show(abs(amount), "mass_flow", "kg/h", 3)
        if species[name[2:]].measure == "density"
        else show(abs(amount), "volume_flow", "L/s", 3)
    )
    return f"{does} {rate} of {name[2:]}"
