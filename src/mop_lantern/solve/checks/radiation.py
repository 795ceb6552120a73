"""Whether what surfaces radiate is known well, and whether it may be done without."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.field.radiation.exchange import SIGMA
from mop_lantern.field.radiation.warmth import Warmth
from mop_lantern.judge import Trust
from mop_lantern.judge.facts import LIQUID
from mop_lantern.judge.trust import BALANCE_FAILS, BALANCE_LIMIT, graded
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.physics import Physics
from mop_lantern.units import show

GAP = 0.05  # rms of what the views of single patches lacked before they were balanced
WITHIN = 0.3  # of the spread of all surface temperatures: patches that differ more in themselves are coarse
MATTERS = 0.2  # of the heat of walls and sources
FAR_MORE = 10.0  # times that heat: no figure, as next to nothing passes them
USUAL = 0.9  # emissivity, where radiation is not solved


class Radiation(TrustCheck):
    """Radiation between surfaces: whether it balances, how well views are known, and what it would carry
    where it is not solved.

    Source: net-radiation method; limits: own measurements on cubes and rooms.
    """

    caption: ClassVar[str] = "Radiation between surfaces"
    kind: Literal["radiation"] = "radiation"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer."""
        physics = evidence.physics
        scalar = physics.scalars.get("T")
        if scalar is None or not physics.wet.n_cells:
            return []
        return _solved(physics, scalar) if isinstance(scalar, Warmth) else _left(physics)


def _solved(physics: Physics, scalar: Warmth) -> list[Trust]:
    taken, _, _ = scalar.radiated()
    moved = float(np.abs(taken).sum()) / 2
    off = abs(float(taken.sum())) / max(moved, 1e-300) if moved > 1e-9 else 0.0
    through = float(taken[scalar.open].sum())
    views = scalar.exchange.views
    words = (
        f"Surfaces radiate {show(moved, 'power', 'W', 3)} to each other; it balances to {max(off, 1e-16):.0e}"
    )
    words += f". Openings take {show(through, 'power', 'W', 3)} of it." if scalar.open.any() else "."
    items = [graded("radiation", off, BALANCE_LIMIT, BALANCE_FAILS, words)]
    within = _within(scalar)
    if views.raw_gap > GAP:
        text = f"What single patches see was known to {views.raw_gap:.0%} only: take more rays."
        items.append(Trust("radiation.views", "caution", views.raw_gap, GAP, text))
    if within > WITHIN:
        text = f"Temperatures differ within patches by {within:.0%} of all there is: take more patches."
        items.append(Trust("radiation.patches", "caution", within, WITHIN, text))
    return items


def _within(scalar: Warmth) -> float:
    """Give the rms of surface temperatures about those of their patches, over their whole spread."""
    exchange = scalar.exchange
    warm = scalar.boundary_values()[exchange.faces]
    mean = np.bincount(exchange.patch, warm * exchange.size, exchange.count) / exchange.views.size
    square = float(np.average((warm - mean[exchange.patch]) ** 2, weights=exchange.size))
    return float(np.sqrt(square)) / max(float(np.ptp(warm)), 1e-6)


def _left(physics: Physics) -> list[Trust]:
    """Say what radiation would carry at the temperatures found, where it matters."""
    if physics.fluid.density > LIQUID:  # liquids let no heat through
        return []
    scalar = physics.scalars["T"]
    outer = physics.wet.n_boundary
    walls = physics.flow.boundary.wall
    size = physics.flow.geometry.size_b[walls] * physics.mesh.turn
    warm = scalar.boundary_values()[:outer][walls]
    if not len(warm):
        return []
    level = float(np.average(warm, weights=size))
    carried = USUAL * SIGMA * float((np.abs(warm**4 - level**4) * size).sum()) / 2
    heat = float(np.abs(scalar.boundary_flux()[:outer][walls]).sum()) / 2
    heat = max(heat, abs(scalar.balance().made))
    if carried < MATTERS * max(heat, 1e-9):
        return []
    share = carried / max(heat, 1e-9)
    told = f"{share:.0%} of" if share < FAR_MORE else "far more than"
    text = (
        f"Radiation is not solved. At these temperatures surfaces would radiate about "
        f"{show(carried, 'power', 'W', 2)} to each other, {told} the heat of "
        "walls and sources now: temperatures of walls will be off. Set radiation to solved."
    )
    return [Trust("radiation", "caution", min(share, FAR_MORE), MATTERS, text)]
