"""The state of the boundary, as arrays: what openings and walls write and the kernels read."""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind, amounts, choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.turbulence.profile import developed
from mop_lantern.grid import Mesh
from mop_lantern.units import EVERYWHERE

Floats = NDArray[np.float64]
GIVEN, FREE, SLIP = 0, 1, 2
POINTS = 16  # across a face, for the mean of a profile


@dataclass
class Boundary:
    """What every boundary face demands.

    Attributes
    ----------
    code : (n_boundary,) int8; GIVEN velocity, FREE (velocity leaves as it comes), SLIP (no flow through, no
    shear).
    velocity : (n_boundary, 3) float, m/s; the given velocity, zero at a still wall.
    pressure : (n_boundary,) float, Pa; where ``pressed``.
    pressed : (n_boundary,) bool; static pressure is given.
    wall : (n_boundary,) bool; no fluid crosses.
    head : (n_boundary,) float; share of the dynamic pressure that entering fluid takes from a given pressure
    (1: from rest).
    group : (n_boundary,) int; faces of one group share a mean pressure, each keeping its own (-1: none).
    leaving : (n_boundary,) int; faces of one group let a given flow out of the space together, against one
    pressure that is an answer (-1: none). outward : (n_boundary,) float, m/s; its mean speed.
    spin : (n_boundary, 3) float, rad/s; how fast the wall itself turns, about each direction.
    roughness : (n_boundary,) float, m; equivalent sand roughness of walls.
    loss : (n_boundary,) float; dynamic pressures that what passes an opening loses there, face by face.
    """

    code: NDArray[np.int8]
    velocity: Floats
    pressure: Floats
    pressed: NDArray[np.bool_]
    wall: NDArray[np.bool_]
    head: Floats
    group: NDArray[np.int64]
    leaving: NDArray[np.int64]
    outward: Floats
    spin: Floats
    roughness: Floats
    loss: Floats

    @classmethod
    def still(cls, count: int) -> Boundary:
        """Make a boundary of still, smooth walls."""
        return cls(
            np.full(count, GIVEN, np.int8),
            np.zeros((count, 3)),
            np.zeros(count),
            np.zeros(count, bool),
            np.ones(count, bool),
            np.ones(count),
            np.full(count, -1),
            np.full(count, -1),
            np.zeros(count),
            np.zeros((count, 3)),
            np.zeros(count),
            np.zeros(count),
        )

    @property
    def level(self) -> NDArray[np.bool_]:
        """Faces with a pressure of their own, given or found, (n_boundary,)."""
        return np.asarray(self.pressed | (self.leaving >= 0))


def joined(one: Boundary, other: Boundary) -> Boundary:
    """Put two boundaries behind each other."""
    return Boundary(
        **{
            item.name: np.concatenate([getattr(one, item.name), getattr(other, item.name)])
            for item in fields(one)
        }
    )


@dataclass(frozen=True)
class Patch:
    """The boundary faces of one edge, as an opening or wall kind sees them.

    Attributes
    ----------
    faces : (k,) int; boundary faces. area : (k, 3) m2, out of the fluid (per radian around an axis). centre :
    (k, 3) m.
    ends : (k, 2) float; where each face begins and ends across the edge, from -1 to 1.
    radii : (k, 2) m; distance from the axis of the two ends, empty in a plane.
    turn : factor from stored areas to the whole body. density : kg/m3.
    developed : (k,) in a space, velocity of developed laminar flow over its largest; zero length in a plane.
    reynolds : of turbulent flow, on the hydraulic diameter; 0 where the flow is laminar.
    """

    faces: NDArray[np.int64]
    area: Floats
    centre: Floats
    ends: Floats
    radii: Floats
    turn: float
    density: float
    total: float = field(default=0.0)
    developed: Floats = field(default_factory=lambda: np.zeros(0))
    reynolds: float = 0.0

    @property
    def across(self) -> Floats:
        """Give the place of every face across its opening, (k,): from -1 to 1 across an edge; across a face
        of a space, and from the axis, 0 in the middle and 1 at the rim.
        """
        if len(self.developed):
            return np.sqrt(1 - self.developed)
        if not len(self.radii):
            return np.asarray(self.ends.mean(axis=1))
        return across_ring(self.radii.mean(axis=1), self.radii)

    @property
    def places(self) -> dict[str, Floats]:
        """Give x, y, z, r and the place across the edge of every face, for expressions.

        Across a face of a space is 0 in its middle and 1 at its rim: r / R of a bore, and so along lines of
        equal developed velocity elsewhere.
        """
        x = self.centre[:, 0]
        y = self.centre[:, 1]
        return {
            "x": x,
            "y": y,
            "z": self.centre[:, 2],
            "r": y if len(self.radii) else np.hypot(x, y),
            "across": np.sqrt(1 - self.developed) if len(self.developed) else self.ends.mean(axis=1),
        }


def patch_of(
    mesh: Mesh,
    name: str,
    density: float,
    faces: NDArray[np.int64] | None = None,
) -> Patch:
    """Gather the faces of a named edge, or these ``faces`` of it."""
    faces = mesh.faces_of(name) if faces is None else faces
    number = faces + mesh.n_internal
    area = mesh.area[number]
    if not len(mesh.plane_area):
        return Patch(
            faces,
            area,
            mesh.face_centre[number],
            np.zeros((len(faces), 2)),
            np.zeros((0, 2)),
            mesh.turn,
            density,
            float(np.linalg.norm(area, axis=1).sum()),
        )
    first, second = (mesh.points[mesh.face_points[mesh.face_offsets[number] + k]] for k in (0, 1))
    along = (second - first).sum(axis=0)
    along /= np.linalg.norm(along) or 1.0
    ends = np.column_stack([first @ along, second @ along])
    low, high = (ends.min(), ends.max()) if len(ends) else (0.0, 1.0)
    ends = 2 * (ends - low) / (high - low or 1.0) - 1
    radii = np.column_stack([first[:, 1], second[:, 1]]) if mesh.axisymmetric else np.zeros((0, 2))
    total = float(np.linalg.norm(area, axis=1).sum() * mesh.turn)
    return Patch(
        faces,
        area,
        mesh.face_centre[number],
        ends,
        radii,
        mesh.turn,
        density,
        total,
    )


class Opening(Kind):
    """A place where fluid crosses the boundary.

    ``apply(numbers, patch, boundary)`` writes what the faces demand. ``fixes`` says what it fixes, flow or
    pressure; ``signed_flow(numbers, density, area)`` gives its volume flow into the space (m3/s) when it
    fixes one. What enters has the ``temperature`` and ``carries`` of the opening, also where it comes back in
    through an outlet. One whose pressure hangs on what flows through it says ``follows_flow`` and gives the
    pressure by ``pressure_at``; it marks its faces by `fix_pressure` like any other; where its flow is as
    good as given it ``holds_flow``. One that makes a flow between equal pressures ``drives``. One that leads
    to still ``surroundings`` feels their weight, that of what would enter, over its height. One that goes by
    the size of the space is ``of_room`` and finds its volume, m3, as ``numbers.room``.
    """

    fixes: ClassVar[str] = "flow"
    follows_flow: ClassVar[bool] = False
    holds_flow: ClassVar[bool] = False
    drives: ClassVar[bool] = False
    surroundings: ClassVar[bool] = False
    of_room: ClassVar[bool] = False

    temperature: Text = quantity(
        "temperature",
        "temperature",
        "Of what enters here, also when it comes back in.",
        default="20 °C",
        varies=EVERYWHERE,
    )
    turbulence: Literal["usual", "low", "medium", "high", "given", "energy"] = choice(
        "turbulence",
        "How turbulent what enters is: as in a long pipe of its size and flow, by an intensity of 1, 5 or "
        "10 %, by a given intensity and mixing length, or by its energy and eddy viscosity.",
        {
            "usual": "as turbulent as in a pipe",
            "low": "hardly turbulent (1 %)",
            "medium": "turbulent (5 %)",
            "high": "strongly turbulent (10 %)",
            "given": "turbulent by given values",
            "energy": "turbulent by a given energy",
        },
        default="usual",
    )
    intensity: Text = quantity(
        "fraction",
        "turbulence intensity",
        "Root mean square of one component of the velocity over its mean.",
        default="5 %",
        at_least=0,
        at_most=1,
    )
    mixing: Text = quantity(
        "length",
        "mixing length",
        "Size of the eddies that mix; auto: 7 % of the hydraulic diameter.",
        default="auto",
        above=0,
    )
    energy: Text = quantity(
        "energy",
        "turbulence energy",
        "Of the swings of the velocity, by mass.",
        default="0.01 m2/s2",
        at_least=0,
    )
    ratio: Text = quantity(
        "number",
        "viscosity ratio",
        "Eddy viscosity over the viscosity of the fluid.",
        default="10",
        above=0,
    )
    humidity: Text = quantity(
        "fraction",
        "relative humidity",
        "Of what enters, at its temperature, where vapour is carried; “auto”: by the amount it carries.",
        default="auto",
        at_least=0,
        at_most=1,
        varies=EVERYWHERE,
    )
    carries: dict[str, Text] = amounts("carries", "What enters here carries so much of each species.")
    swirl: Text = quantity(
        "angular_velocity",
        "swirl",
        "What enters turns about the axis at this rate (around an axis only).",
        default="0 rad/s",
        varies=EVERYWHERE,
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Write the demand of this opening into the boundary arrays."""
        raise NotImplementedError

    @classmethod
    def signed_flow(
        cls,
        numbers: Any,
        density: float,
        area: float,
    ) -> float | None:
        """Give the volume flow into the space (m3/s), or None when the flow is an answer."""
        return None

    @classmethod
    def stands_at(cls, numbers: Any, density: float) -> float | None:
        """Give the pressure outside of it, Pa, where nothing flows; None where it varies or is an answer."""
        pressure = getattr(numbers, "pressure", None)
        return pressure if isinstance(pressure, float) else None

    @classmethod
    def pressure_at(
        cls,
        numbers: Any,
        flow: float,
        density: float,
    ) -> tuple[float, float]:
        """Give the pressure (Pa) and its slope (Pa/(m3/s)) at a volume flow out of the space (m3/s), of kinds
        that follow the flow. It must not fall as more leaves; ``numbers.area`` is the area of the opening,
        m2, ``numbers.entering`` what enters the space elsewhere, m3/s.
        """
        raise NotImplementedError


class Wall(Kind):
    """A wall that is not simply still: ``apply`` writes what it demands of the fluid beside it."""

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Write the demand of this wall into the boundary arrays."""
        raise NotImplementedError


class Frictionless(Wall):
    """A wall without flow through it and without shear along it."""

    edge: str = reference("edge", "edge", "The edge.")

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Mark the faces."""
        boundary.code[patch.faces] = SLIP


def fix_flow(
    patch: Patch,
    boundary: Boundary,
    inflow: float,
    profile: str,
    drawn: Floats | float = 1.0,
) -> None:
    """Give the faces a velocity square to them that carries a volume flow (m3/s, into the space).

    The developed profile of turbulent flow is the law of the wall; of laminar flow it is the parabola between
    plates, in a space the solution for the outline of the face
    or, around an axis, the paraboloid of a bore or the solution of an annulus; every face gets its mean, then
    all are scaled to carry the flow exactly. ``drawn`` is the profile "drawn". Source: White, *Viscous Fluid
    Flow* (3rd ed.), section 3-3.
    """
    size = np.linalg.norm(patch.area, axis=1)
    shape = np.ones(len(size)) * (drawn if profile == "drawn" else 1.0)
    if profile == "developed" and patch.reynolds:
        shape = _turbulent(patch)
    elif profile == "developed" and len(patch.radii):
        shape = _annular(patch.radii)
    elif profile == "developed" and len(patch.developed):
        shape = patch.developed
    elif profile == "developed":
        a, b = patch.ends.T
        shape = 1 - (a * a + a * b + b * b) / 3
    fix_velocity(patch, boundary, inflow * shape / ((shape * size).sum() * patch.turn))


def fix_velocity(patch: Patch, boundary: Boundary, inward: Floats) -> None:
    """Give the faces velocities square to them, ``inward`` (k,) m/s into the space."""
    size = np.linalg.norm(patch.area, axis=1)
    boundary.code[patch.faces] = GIVEN
    boundary.wall[patch.faces] = False
    boundary.velocity[patch.faces] = -(inward / size)[:, None] * patch.area


def let_out(patch: Patch, boundary: Boundary, outflow: float) -> None:
    """Let a volume flow (m3/s) out through the faces, spread as it comes.

    A velocity given at an outlet, evenly or by any profile, stops and speeds up fluid in the last cells as no
    outlet does: a pipe sucked at 2 m/s lost a fifth more than one fed at the other end, and never settled.
    """
    boundary.code[patch.faces] = FREE
    boundary.wall[patch.faces] = False
    boundary.leaving[patch.faces] = int(boundary.leaving.max(initial=-1)) + 1
    boundary.outward[patch.faces] = outflow / (np.linalg.norm(patch.area, axis=1).sum() * patch.turn)


def fix_pressure(
    patch: Patch,
    boundary: Boundary,
    pressure: Any,
    head: float = 1.0,
    loss: float = 0.0,
) -> None:
    """Give the faces a pressure (Pa) and let the velocity follow; ``head`` and ``loss`` as in `Boundary`."""
    boundary.code[patch.faces] = FREE
    boundary.wall[patch.faces] = False
    boundary.pressed[patch.faces] = True
    boundary.pressure[patch.faces] = pressure
    boundary.head[patch.faces] = head
    boundary.loss[patch.faces] = loss


def across_ring(r: Floats, radii: Floats) -> Floats:
    """Give places at radii ``r`` across a bore or an annulus: 0 in the middle, 1 at a wall."""
    outer = radii.max()
    inner = radii.min()
    if inner < 1e-6 * outer:
        return np.asarray(r / outer)
    return np.asarray(np.abs(2 * r - outer - inner) / (outer - inner))


def _turbulent(patch: Patch) -> Floats:
    """Give the developed turbulent profile as the mean over every face (any scale)."""
    if len(patch.developed):
        return developed(1 - patch.across, patch.reynolds)
    share = (np.arange(POINTS) + 0.5) / POINTS
    if len(patch.radii):
        r = patch.radii[:, :1] + share * (patch.radii[:, 1:] - patch.radii[:, :1])
        off = 1 - across_ring(r, patch.radii)
        weight = r / r.sum(axis=1)[:, None]
    else:
        off = 1 - np.abs(patch.ends[:, :1] + share * (patch.ends[:, 1:] - patch.ends[:, :1]))
        weight = np.full_like(off, 1 / POINTS)
    return np.asarray((developed(off, patch.reynolds) * weight).sum(axis=1))


def _annular(radii: Floats) -> Floats:
    """Give the laminar profile of a bore or an annulus at the middle of every face (any scale)."""
    outer = radii.max()
    inner = radii.min()
    r = radii.mean(axis=1)
    if inner < 1e-6 * outer:
        a = np.minimum(*radii.T)
        b = np.maximum(*radii.T)
        return 1 - (a * a + b * b) / (2 * outer**2)  # mean over the ring between a and b
    return (outer**2 - r**2) + (outer**2 - inner**2) * np.log(r / outer) / np.log(outer / inner)
