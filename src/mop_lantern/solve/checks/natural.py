"""Walls along which the fluid rises or sinks by itself."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.physics import Physics

SHARE = 0.2  # of the heat through walls
LEADING = 2.0  # times the speed of openings and moving walls: warmth leads (a Richardson number of four)


class Natural(TrustCheck):
    """How much of the heat passes walls by natural convection, which closures and the law of the wall do not
    know.

    Source: own runs against the tall cavity of Betts and Bokhari (2000): speeds 30 to 100 % too high.
    """

    caption: ClassVar[str] = "Natural convection at walls"
    kind: Literal["natural"] = "natural"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Weigh walls with the heat that passes them."""
        physics = evidence.physics
        turbulence = physics.turbulence
        moved = physics.settled.numbers.physics.buoyancy != "none" and "T" in physics.driving
        if turbulence is None or not moved or not len(turbulence.walls.faces):
            return []
        walls = turbulence.walls.faces
        heat = np.abs(physics.scalars["T"].boundary_flux()[: turbulence.flow.mesh.n_boundary][walls])
        if not heat.any():
            return []
        share = float(heat[turbulence.naturally].sum() / heat.sum())
        alone = rising_speed(physics) > LEADING * forced_speed(physics)
        if share < SHARE and not alone:
            return []
        told = (
            f"{share:.0%} of the heat at walls passes where the fluid rises or sinks along them by itself."
            if share >= SHARE
            else "Warmth drives the flow along the walls, hardly anything else does."
        )
        text = (
            f"{told} Closures and the law of the wall know forced flow: heat there is good for about 15 %, "
            "but speeds close to these walls may be 30 to 100 % too high, on fine cells too. The room may "
            "also hold one of several circulations."
        )
        return [Trust("natural", "caution", share, SHARE, text)]


def rising_speed(physics: Physics) -> float:
    """Give the speed that warmth makes by itself, sqrt(g beta dT L), m/s, of what the walls hold."""
    settled = physics.settled
    outer = physics.wet.n_boundary
    walls = physics.flow.boundary.wall
    surface = physics.scalars["T"].boundary_values()[:outer][walls]
    warmer = float(np.ptp(np.concatenate([surface, physics.in_fluid("T")])))
    pull = settled.numbers.physics.gravity * abs(physics.fluid.expansion)
    return float(np.sqrt(pull * warmer * settled.shape.size))


def forced_speed(physics: Physics) -> float:
    """Give the largest speed at openings and of moving walls, m/s."""
    flow = physics.flow
    inner = physics.wet.n_internal
    through = np.abs(flow.flux[inner:]) / np.maximum(flow.geometry.size_b, 1e-300)
    given = np.linalg.norm(flow.boundary.velocity, axis=1)
    return float(max(through.max(initial=0.0), given.max(initial=0.0)))
