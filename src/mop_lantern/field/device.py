"""Devices inside the fluid: what the pressure does across them, and what they do to what is carried."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind, choice, point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]
LEAST_FACING = 0.3  # cosine: a face more askew to the device carries no more of its flow


@dataclass(frozen=True)
class Placed:
    """Where a device lies on a grid: a set of internal faces; both their sides stay open fluid.

    Attributes
    ----------
    faces : (k,) internal faces. sign : (k,) 1 where the owner lies before the device, else -1. area : (k,) m2
    (of a radian around an axis), seen along the device. before, behind : (k,) cells. around : (k, 3) which
    way it turns what passes, as long as the distance from its axis over that of its rim.
    """

    faces: NDArray[np.int64]
    sign: Floats
    area: Floats
    before: NDArray[np.int64]
    behind: NDArray[np.int64]
    around: Floats


@dataclass(frozen=True)
class Jump:
    """What the pressure does across a device.

    Attributes
    ----------
    rise : (k,) Pa along the device. brake : (k,) Pa s/m, how much the rise falls as the speed grows.
    """

    rise: Floats
    brake: Floats


@dataclass(frozen=True)
class Held:
    """What a device brings something carried to, as far as it can.

    Attributes
    ----------
    value : of what leaves it. low, high : the least and the most it gives, W of heat.
    """

    value: float
    low: float
    high: float


class DeviceKind(Kind):
    """A device inside the fluid.

    The contract of a file: ``jump`` gives what the pressure does for the present speeds, ``spin`` how it
    turns what passes; ``feeds``, with ``adds`` or ``holds``, and ``removes`` say what it does to what passes;
    ``strays`` says where it works beyond what is known of it.

    ``drives`` : it can move fluid by itself.
    """

    drives: ClassVar[bool] = False

    @classmethod
    def jump(cls, numbers: Any, speed: Floats, area: Floats, density: float) -> Jump:
        """Give the rise of pressure for speeds (k,) m/s along the device through areas (k,) m2 of the whole
        body.
        """
        return Jump(np.zeros(len(speed)), np.zeros(len(speed)))

    @classmethod
    def spin(cls, numbers: Any, speed: Floats) -> Floats | None:
        """Give how fast what passes at speeds (k,) m/s along the device turns about its axis at its rim when
        it leaves, m/s, right-handed about where it faces; None where it does not turn it.
        """
        return None

    @classmethod
    def strays(cls, numbers: Any, flow: float, added: Mapping[str, float]) -> str:
        """Say where a flow (m3/s along it), or what it ``added``, is beyond what is known of the device; ""
        where it is not.
        """
        return ""

    @classmethod
    def removes(cls, numbers: Any, name: str) -> float:
        """Give the share of something carried that it takes out of what passes, 0 to 1."""
        return 0.0

    @classmethod
    def feeds(cls, numbers: Any) -> tuple[str, ...]:
        """Name what it adds to: "T" for heat, "c." and the id of a species."""
        return ()

    @classmethod
    def adds(cls, numbers: Any, name: str, mass: float) -> float:
        """Give what it adds to something carried: W of heat, or of a species ``mass`` for every kg/s."""
        return 0.0

    @classmethod
    def holds(cls, numbers: Any, name: str) -> Held | None:
        """Give what it brings something carried to; nothing where what it adds is given."""
        return None


class Across(DeviceKind):
    """A device that stands across the fluid as a disc or a rectangle, or as a line in a plane."""

    form: Literal["disc", "rectangle"] = choice(
        "form",
        "In a plane and around an axis both are a line as long as the width.",
        {"disc": "a disc", "rectangle": "a rectangle"},
        default="disc",
    )
    centre: Point = point("centre", "Its middle.")
    heading: Text = quantity(
        "angle",
        "heading",
        "Where it faces: 0 along x, 90 deg along y.",
        default="0 deg",
    )
    lift: Text = quantity(
        "angle",
        "rise",
        "How steeply it faces up, in a space; a rectangle then leans back.",
        default="0 deg",
    )
    width: Text = quantity(
        "length",
        "width",
        "Diameter of a disc, or side of a rectangle that lies level.",
        default="300 mm",
        above=0,
    )
    height: Text = quantity(
        "length",
        "height",
        "The other side of a rectangle.",
        default="300 mm",
        above=0,
    )

    def template(self, space: bool = False) -> str:
        """A disc has no height."""
        told = super().template(space)
        return told.replace(" by {height}", "") if self.form == "disc" else told


class Passed(Across):
    """A device that fluid passes, from either side, at the price of a loss coefficient."""

    loss: Text = quantity(
        "number",
        "loss coefficient",
        "On the speed before it.",
        default="0",
        at_least=0,
        varies="t",
    )

    @classmethod
    def jump(cls, numbers: Any, speed: Floats, area: Floats, density: float) -> Jump:
        """A fall by the square of the speed, against it."""
        return fall(float(numbers.loss), speed, density)


def fall(coefficient: float, speed: Floats, density: float) -> Jump:
    """Give what a loss coefficient takes of the pressure, against speeds (k,) m/s."""
    half = 0.5 * density * coefficient
    return Jump(-half * speed * np.abs(speed), 2 * half * np.abs(speed))


def axes_of(numbers: Any, flat: bool) -> tuple[Floats, Floats, Floats]:
    """Give where a device faces, its level side and its other side: unit vectors (3,)."""
    lift = 0.0 if flat else float(numbers.lift)
    turn = float(numbers.heading)
    way = np.array([np.cos(lift) * np.cos(turn), np.cos(lift) * np.sin(turn), np.sin(lift)])
    side = np.array([-np.sin(turn), np.cos(turn), 0.0])
    return way, side, np.cross(way, side)


def place(numbers: Any, mesh: Mesh) -> Placed:
    """Find the faces of a device: those between cells on either side of its plane, within its outline."""
    flat = len(mesh.ways) == 2
    way, side, up = axes_of(numbers, flat)
    middle = np.zeros(3)
    middle[: len(numbers.centre)] = numbers.centre
    inner = mesh.n_internal
    own, nei = mesh.owner[:inner], mesh.neighbour
    ahead = (mesh.centre - middle) @ way >= 0
    faces = np.flatnonzero(ahead[own] != ahead[nei])
    off = mesh.face_centre[faces] - middle
    level, upright = off @ side, off @ up
    if flat:
        within = np.abs(level) <= numbers.width / 2
    elif numbers.form == "disc":
        within = np.hypot(level, upright) <= numbers.width / 2
    else:
        within = (np.abs(level) <= numbers.width / 2) & (np.abs(upright) <= numbers.height / 2)
    faces = faces[within]
    sign = np.where(ahead[nei[faces]], 1.0, -1.0)
    area = np.maximum(
        sign * (mesh.area[faces] @ way), LEAST_FACING * np.linalg.norm(mesh.area[faces], axis=1)
    )
    before = np.where(sign > 0, own[faces], nei[faces])
    behind = np.where(sign > 0, nei[faces], own[faces])
    return Placed(faces, sign, area, before, behind, _around(numbers, mesh, off[within]))


def _around(numbers: Any, mesh: Mesh, off: Floats) -> Floats:
    """Give which way a device turns what passes at places (k, 3) m off its middle, (k, 3): no way in a plane;
    around an axis about that, whatever part of the radius it takes.
    """
    way, _, _ = axes_of(numbers, len(mesh.ways) == 2)
    if mesh.axisymmetric:
        middle = float(numbers.centre[1])
        ahead = 1.0 if way[0] >= 0 else -1.0
        return (middle + off[:, 1:2]) / (abs(middle) + numbers.width / 2) * np.array([0.0, 0.0, ahead])
    if len(mesh.ways) == 2:
        return np.zeros((len(off), 3))
    rim = numbers.width / 2 if numbers.form == "disc" else np.hypot(numbers.width, numbers.height) / 2
    return np.asarray(np.cross(way, off) / rim)


def wanted_area(numbers: Any, mesh: Mesh) -> float:
    """Give the area of the outline of a device, m2 of the whole body, where nothing cuts it."""
    if mesh.axisymmetric:
        return float(np.pi * numbers.width**2 / 4)
    if len(mesh.ways) == 2:
        depth = float(mesh.volume[0] / mesh.plane_area[0])
        return float(numbers.width) * depth
    return float(np.pi * numbers.width**2 / 4 if numbers.form == "disc" else numbers.width * numbers.height)


def drawn(numbers: Any, flat: bool) -> list[Floats]:
    """Give lines that show a device: its outline, and an arrow the way it faces, or blows; (k, 3) m each."""
    way, side, up = axes_of(numbers, flat)
    if getattr(numbers, "way", "along") == "against":
        way = -way
    middle = np.zeros(3)
    middle[: len(numbers.centre)] = numbers.centre
    half = numbers.width / 2
    if flat:
        outline = np.array([middle - half * side, middle + half * side])
    elif numbers.form == "disc":
        turn = 2 * np.pi * np.arange(37) / 36
        outline = middle + half * (np.cos(turn)[:, None] * side + np.sin(turn)[:, None] * up)
    else:
        tall = numbers.height / 2
        corners = ((-1, -1), (1, -1), (1, 1), (-1, 1), (-1, -1))
        outline = np.array([middle + a * half * side + b * tall * up for a, b in corners])
    tip = middle + half * way
    barbs = [tip - 0.3 * half * (way + 0.6 * sign * side) for sign in (1, -1)]
    return [outline, np.array([middle, tip]), np.array([barbs[0], tip, barbs[1]])]
