"""Heat that surfaces radiate: what a case says of it, put on its grid, and the fields that come of it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import discover
from mop_lantern.errors import RunError
from mop_lantern.field.radiation.exchange import SIGMA, Exchange
from mop_lantern.field.radiation.finish import Finish
from mop_lantern.field.radiation.sight import Sight, sight_of
from mop_lantern.field.radiation.views import patches_of, views
from mop_lantern.field.radiation.warmth import Warmth
from mop_lantern.grid import Mesh
from mop_lantern.judge.field_result import CARRIED, Scalar
from mop_lantern.shape.surface import Surface

if TYPE_CHECKING:
    from mop_lantern.solve.physics import Physics

Floats = NDArray[np.float64]
RAYS_OF_CELLS = 2_000_000  # in all, for the radiant temperature of cells
FEWEST, MOST = 24, 256  # rays of a cell
GOLDEN = np.pi * (3 - np.sqrt(5))


def mirrors_of(settled: ResolvedCase) -> tuple[str, ...]:
    """Name the edges that mirror."""
    return tuple(wall.edge for wall in settled.numbers.walls.values() if wall.kind == "symmetry")


def sight_on(settled: ResolvedCase, mesh: Mesh) -> Sight:
    """Give the surface of the fluid of a case on its grid."""
    mirrors = mirrors_of(settled)
    surface = settled.meshed
    if not isinstance(surface, Surface):
        return sight_of(mesh, mirrors)
    numbers = {name: number for number, name in enumerate(mesh.patch_names)}
    named = np.array([numbers.get(name, -1) for name in surface.names])[surface.labels]
    return sight_of(mesh, mirrors, (surface.points[surface.triangles], named.astype(np.int64)))


def exchange_of(physics: Physics) -> Exchange:
    """Find what the surfaces of the fluid see of each other.

    Raises
    ------
    RunError : so many rays meet nothing that the space cannot be closed.
    """
    settled = physics.settled
    mesh = physics.wet
    asked = settled.numbers.radiation
    physics.sight = sight_on(settled, mesh)
    patch = patches_of(mesh, mirrors_of(settled), int(asked.patches))
    try:
        seen = views(mesh, physics.sight, patch, int(asked.rays))
    except ValueError as error:
        raise RunError(
            f"what surfaces see of each other could not be found: {error}.",
            "field.radiation",
            "Make the cells smaller, or do without radiation.",
        ) from None
    return Exchange(seen, emissivities(settled, physics), physics.flow.geometry.size_b)


def emissivities(settled: ResolvedCase, physics: Physics) -> Floats:
    """Give the emissivity of every boundary face of the fluid, (n_boundary,); openings are black."""
    mesh = physics.wet
    found = np.full(mesh.n_boundary, float(settled.numbers.radiation.emissivity))
    kinds = discover("mop_lantern.field.finishes", Finish)
    for numbers in settled.numbers.finishes.values():
        found[mesh.faces_of(numbers.edge)] = kinds[numbers.kind].emissivity_of(numbers)
    found[~physics.flow.boundary.wall] = 1.0
    return found


def radiant_fields(physics: Physics, known: dict[str, Scalar]) -> dict[str, Scalar]:
    """Give the mean radiant temperature, K, of a small ball in every cell of the fluid and on the surfaces,
    and the net heat surfaces take up, W; and the temperature, of which as much more passes the walls.
    """
    scalar = physics.scalars.get("T")
    if not isinstance(scalar, Warmth):
        return {}
    taken, falling, sent = scalar.radiated()
    cells = mean_radiant(physics, sent)
    patch = scalar.exchange.views.patch
    beside = cells[physics.wet.owner[physics.wet.n_internal :]]
    half = (falling[: len(patch)] + sent[np.maximum(patch, 0)]) / 2  # a ball at a wall sees it and the room
    at_walls = np.where(patch >= 0, (np.maximum(half, 0.0) / SIGMA) ** 0.25, beside)
    warm = known["T"]
    return {
        "T": replace(warm, leaving=warm.leaving + taken),
        "radiant": Scalar(
            physics.whole.cells(cells),
            physics.whole.boundary(at_walls),
            taken,
            *CARRIED["radiant"],
        ),
    }


def mean_radiant(physics: Physics, sent: Floats) -> Floats:
    """Give the temperature of a black space that sends a small sphere as much as the patches do, (n cells,)
    K: (mean of the radiosity in sight / sigma)^(1/4). Source: ISO 7726:1998, annex B (definition).
    """
    seen = _in_sight(physics)
    lit = np.where(seen >= 0, np.append(sent, 0.0)[seen], 0.0).sum(axis=1)
    count = np.maximum((seen >= 0).sum(axis=1), 1)
    return np.asarray((np.maximum(lit / count, 0.0) / SIGMA) ** 0.25)


def _in_sight(physics: Physics) -> NDArray[np.int16]:
    """Give the patches in sight of every cell, (n cells, rays), -1 where none is; found once and kept."""
    if physics.seen_by_cells is None:
        mesh = physics.wet
        sight = physics.sight
        assert sight is not None
        scalar = physics.scalars["T"]
        assert isinstance(scalar, Warmth)
        patch = np.append(scalar.exchange.views.patch, -1)
        count = int(np.clip(RAYS_OF_CELLS / max(mesh.n_cells, 1), FEWEST, MOST))
        found = np.full((mesh.n_cells, count), -1, np.int16)
        for ray, way in enumerate(_all_round(count, sight.flat)):
            hit, place = sight.cast(mesh.centre, np.tile(way, (mesh.n_cells, 1)))
            met = hit >= 0
            found[met, ray] = patch[sight.face_at(hit[met], place[met])]
        physics.seen_by_cells = found
    return physics.seen_by_cells


def _all_round(count: int, flat: bool) -> Floats:
    """Give unit vectors evenly all round, (count, 3)."""
    k = np.arange(count) + 0.5
    if flat:
        turn = 2 * np.pi * k / count
        return np.column_stack([np.cos(turn), np.sin(turn), 0 * turn])
    z = 1 - 2 * k / count
    flat_part = np.sqrt(1 - z * z)
    return np.column_stack([flat_part * np.cos(GOLDEN * k), flat_part * np.sin(GOLDEN * k), z])
