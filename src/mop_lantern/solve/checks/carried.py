"""Whether everything carried balances, and what the grid spreads of it."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge import Trust
from mop_lantern.judge.trust import BALANCE_FAILS, BALANCE_LIMIT, graded
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.physics import Physics
from mop_lantern.units import show

ROUNDING = 1e-6  # of heat counted from 0 K
LEAST_HEAT = 1e-4  # of what passes: less through walls and from sources is not what the case is about


class Carried(TrustCheck):
    """Every species and heat balances; beside its own diffusivity the grid spreads a species.

    Source: conservation; spreading by the loss of variance, own derivation.
    """

    caption: ClassVar[str] = "What is carried"
    in_time: ClassVar[bool] = False  # a run in time keeps a book of every step
    kind: Literal["carried"] = "carried"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer."""
        return carried_trust(evidence.physics)


def carried_trust(physics: Physics) -> list[Trust]:
    """Judge everything carried: one balance each, and what concerns species without much diffusivity."""
    items = []
    for name, scalar in physics.scalars.items():
        balance = scalar.balance()
        label = physics.label(name)
        # heat counts from the reference, not from 0 K
        level = 0.0 if name != "T" else physics.fluid.temperature
        shift = level * scalar.scale * physics.mesh.turn
        through = scalar.F[scalar.mesh.n_internal :][scalar.open]
        came = balance.carried_in + shift * float(through[through < 0].sum())
        went = balance.carried_out - shift * float(through[through >= 0].sum())
        walls = float(np.abs(scalar.boundary_flux()[~scalar.open]).sum())
        through_walls = max(walls / 2, abs(balance.made), abs(balance.stored))
        rounding = ROUNDING * abs(shift) * float(np.abs(through).sum()) / 2  # where all is at one temperature
        matter = max(abs(came), abs(went), through_walls, rounding, 1e-300)
        passing = "what passes"
        if name == "T" and through_walls > LEAST_HEAT * matter:  # what streams through would hide a loss
            matter, passing = through_walls, "the heat of walls and sources"
        off = abs(balance.open - shift * float(through.sum())) / matter if matter > 1e-300 else 0.0
        items.append(
            graded(
                f"balance.{name}",
                off,
                BALANCE_LIMIT,
                BALANCE_FAILS,
                f"{label.capitalize()} balances to {max(off, 1e-16):.0e} of {passing}.",
            )
        )
        if name.startswith("c."):
            items += _spreading(physics, name)
    return items


def _spreading(physics: Physics, name: str) -> list[Trust]:
    """Say what the grid spreads beside diffusion, as an effective Peclet number."""
    scalar = physics.scalars[name]
    if np.ptp(scalar.phi) < 1e-9 * (np.abs(scalar.phi).max() or 1.0):
        return []
    false = scalar.spreading()
    true = float(np.median(scalar.G))
    speed = float(np.average(np.linalg.norm(physics.flow.U, axis=1), weights=physics.wet.volume))
    length = physics.settled.shape.size
    peclet = speed * length / max(false + true, 1e-300)
    shown = show(false, "diffusivity", "m2/s", 2)
    text = f"The grid spreads {physics.label(name)} like a diffusivity of {shown}"
    own = "its own" if physics.turbulence is None else "that of eddies and molecules"
    text += f", {false / true:.2g} times {own}" if true > 0 else ", and it has none of its own"
    text += f"; effective Péclet number {peclet:.3g}."
    heavy = false > true
    if heavy:
        text += " Fronts are thinner in truth: halve the cells to see how much."
    return [
        Trust(
            f"spreading.{name}",
            "caution" if heavy else "holds",
            false / true if true else false,
            1.0,
            text,
        )
    ]
