"""Trust in what is carried: its balance, its range, what the grid spreads of it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from mop_lantern.case import ResolvedCase, facts_of
from mop_lantern.field.force_balance import force_balance
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult, Trust, lasting_notes, note_trust
from mop_lantern.judge.trust import BALANCE_FAILS, BALANCE_LIMIT, graded
from mop_lantern.laws.vapour import water
from mop_lantern.numerics.richardson import GridError
from mop_lantern.solve.physics import Physics
from mop_lantern.units import show

OPPOSED = 0.3  # of a cell's face, wall that faces one way and the other
ATMOSPHERE = 101_325.0  # Pa
LIQUID = 50.0  # kg/m3: gases are lighter
SOUND_IN_LIQUID = 1480.0  # m/s, water
GRID_LIMIT = 0.05  # common practice, no source
FORCE_LIMIT = 0.02  # of the forces at work; check cases on their own grids stay under 0.012


def carried_trust(physics: Physics) -> list[Trust]:
    """Judge everything carried: one balance each, and what concerns species without much diffusivity."""
    items = []
    for name, scalar in physics.scalars.items():
        balance = scalar.balance()
        label = physics.label(name)
        # heat counts from the reference, not from 0 K
        level = 0.0 if name != "T" else physics.fluid.temperature
        shift = level * scalar.scale * physics.mesh.turn
        through = scalar.F[physics.mesh.n_internal :][scalar.open]
        came = balance.carried_in + shift * float(through[through < 0].sum())
        went = balance.carried_out - shift * float(through[through >= 0].sum())
        walls = float(np.abs(scalar.boundary_flux()[~scalar.open]).sum())
        matter = max(
            abs(came),
            abs(went),
            walls / 2,
            abs(balance.made),
            abs(balance.stored),
            1e-300,
        )
        off = abs(balance.open - shift * float(through.sum())) / matter if matter > 1e-300 else 0.0
        items.append(
            graded(
                f"balance.{name}",
                off,
                BALANCE_LIMIT,
                BALANCE_FAILS,
                f"{label.capitalize()} balances to {max(off, 1e-16):.0e} of what passes.",
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
    speed = float(np.average(np.linalg.norm(physics.flow.U, axis=1), weights=physics.mesh.volume))
    length = physics.settled.shape.size
    peclet = speed * length / max(false + true, 1e-300)
    shown = show(false, "diffusivity", "m2/s", 2)
    text = f"The grid spreads {physics.label(name)} like a diffusivity of {shown}"
    text += f", {false / true:.2g} times its own" if true > 0 else ", and it has none of its own"
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


def written_trust(settled: ResolvedCase, answer: FieldResult) -> list[Trust]:
    """Take the cautions of the review along, with the flows the answer has where the case gives none."""
    facts = facts_of(settled)
    out = answer.outflow
    mesh = answer.mesh
    openings = [
        opening
        if opening.flow is not None
        else replace(opening, flow=-float(out[mesh.faces_of(opening.edge)].sum()))
        for opening in facts.openings
    ]
    return note_trust(lasting_notes(replace(facts, openings=tuple(openings))))


def sense_trust(settled: ResolvedCase, answer: FieldResult) -> list[Trust]:
    """Tell of pressures under that of vapour or under nothing, and of speeds at which a fluid is no longer
    incompressible.

    Pressures count from the standard atmosphere; a closed space has no level. Source: incompressible to 5 %
    of density up to Mach 0.3 (White, Fluid Mechanics, chapter 9); vapour pressure of water, Wagner and Pruss
    1993.
    """
    fluid = settled.medium
    items = []
    fastest = float(np.linalg.norm(answer.velocity, axis=1).max(initial=0.0))
    gas = fluid.density < LIQUID
    sound = np.sqrt(1.4 * ATMOSPHERE / fluid.density) if gas else SOUND_IN_LIQUID
    if fastest > 0.3 * sound:
        text = (
            f"The fastest fluid, {fastest:.3g} m/s, moves at {fastest / sound:.2g} of the speed of sound: "
            "it is solved as if it could not be compressed."
        )
        items.append(
            Trust(
                "mach",
                "caution" if fastest < sound else "fails",
                fastest / sound,
                0.3,
                text,
            )
        )
    if not any(hasattr(opening, "pressure") for opening in settled.numbers.openings.values()):
        return items
    pressure = np.concatenate([answer.pressure, answer.wall_pressure])
    lowest = ATMOSPHERE + float(pressure.min())
    place = int(pressure.argmin())
    mesh = answer.mesh
    at = (
        mesh.centre[place]
        if place < mesh.n_cells
        else mesh.face_centre[mesh.n_internal + place - mesh.n_cells]
    )
    where = ", ".join(f"{1e3 * value:.4g}" for value in at[: len(mesh.ways)])
    kind = next(iter(settled.numbers.media.values())).kind
    boils = float(water(fluid.temperature)) if kind in ("water", "sea_water") else 0.0
    if lowest < 0:
        text = (
            f"The absolute pressure falls to {lowest / 1e5:.3g} bar at ({where}) mm, less than nothing: "
            "this flow cannot be."
        )
        items.append(
            Trust(
                "absolute",
                "fails",
                lowest,
                0.0,
                text,
            )
        )
    elif lowest < boils:
        text = (
            f"The absolute pressure falls to {lowest / 1e5:.3g} bar at ({where}) mm, under that of vapour "
            f"({boils / 1e5:.3g} bar): the water boils there, which is not followed."
        )
        items.append(
            Trust(
                "absolute",
                "caution",
                lowest,
                boils,
                text,
            )
        )
    elif gas and np.ptp(pressure) > 0.1 * ATMOSPHERE:
        items.append(
            Trust(
                "absolute",
                "caution",
                float(np.ptp(pressure)),
                0.1 * ATMOSPHERE,
                (
                    "Pressure differs by more than a tenth of the atmosphere's: the gas is solved as if it "
                    "could not be compressed."
                ),
            )
        )
    return items


def force_trust(physics: Physics) -> Trust:
    """Judge whether pressure, friction on the walls, weight and what the fluid carries add up over the whole
    space.
    """
    left, scale = force_balance(physics.flow)
    share = float(np.linalg.norm(left)) / scale if scale > 0 else 0.0
    text = (
        f"Pressure, friction and momentum over the whole space add up to {max(share, 1e-16):.1%} of the "
        "forces."
    )
    if share > FORCE_LIMIT:
        text += " The cells are coarse where friction is made: halve them and compare."
    return Trust(
        "forces",
        "holds" if share <= FORCE_LIMIT else "caution",
        share,
        FORCE_LIMIT,
        text,
    )


def thin_trust(mesh: Mesh) -> list[Trust]:
    """Tell of cells of a space that hold two walls with the fluid between them: the flow through such a gap
    is guessed, not solved.
    """
    if len(mesh.ways) == 2:
        return []
    owner = mesh.owner[mesh.n_internal :]
    area = mesh.area[mesh.n_internal :]
    place = mesh.face_centre[mesh.n_internal :]
    size = np.zeros(mesh.n_cells)
    np.maximum.at(size, mesh.cube_cell, mesh.cube_size)
    narrow = np.zeros(mesh.n_cells, bool)
    for axis in range(3):
        sides = [np.maximum(way * area[:, axis], 0.0) for way in (1, -1)]
        sums = [np.bincount(owner, side, mesh.n_cells) for side in sides]
        ahead, back = (
            np.bincount(owner, side * place[:, axis], mesh.n_cells) / np.maximum(total, 1e-300)
            for side, total in zip(sides, sums, strict=True)
        )
        narrow |= (np.minimum(*sums) > OPPOSED * size**2) & (
            ahead > back
        )  # a wall that ends in the cell has its sides the other way round
    both = np.flatnonzero(narrow)
    if not len(both):
        return []
    x, y, z = (1e3 * mesh.centre[both[0]]).tolist()
    text = (
        f"{len(both)} cells span a whole gap between two walls, one about ({x:.3g}, {y:.3g}, {z:.3g}) mm: "
        "the flow through it is a guess. Make the cells smaller there."
    )
    return [
        Trust(
            "thin",
            "caution",
            float(len(both)),
            0.0,
            text,
        )
    ]


def grid_trust(bands: dict[str, GridError]) -> list[Trust]:
    """Judge the grid by the widest band of a reading."""
    if not bands:
        return []
    worst = max(bands, key=lambda key: bands[key].band)
    band = bands[worst]
    verdict = "holds" if band.band <= GRID_LIMIT else "caution"
    text = (
        f"The grid moves the readings by at most {band.band:.1%} ({worst}; {band.grids} grids, order "
        f"{band.order:.1f}"
    )
    text += ", to and fro)." if band.oscillating else ")."
    return [
        Trust(
            "grid_error",
            verdict,
            band.band,
            GRID_LIMIT,
            text,
        )
    ]
