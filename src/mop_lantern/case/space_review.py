"""Review what is peculiar to a space in three dimensions."""

from __future__ import annotations

from typing import Any

import numpy as np

from mop_lantern.declare import Numbers, discover
from mop_lantern.field.boundary import Opening
from mop_lantern.grid.space_expected import cells_expected
from mop_lantern.grid.space_size import cell_size, expected_across
from mop_lantern.judge import Facts, OpeningFacts
from mop_lantern.media import Fluid
from mop_lantern.shape import Surface, developed
from mop_lantern.shape.passages import narrowest_passage

PLACES = 400  # over an opening whose velocity is given place by place


def facts_in_space(
    numbers: Numbers,
    surface: Surface,
    medium: Fluid,
    brief: bool = False,
) -> Facts:
    """Give what margin notes may look at: openings by their faces, the expected number of cells."""
    kinds = discover("mop_lantern.field.openings", Opening)
    openings = []
    for key, item in numbers.openings.items():
        area = surface.edge_lengths[item.edge]
        x, y, z = places = surface.spread(item.edge, PLACES).T
        across = np.sqrt(1 - developed(surface, item.edge, places.T))
        now = item.at(
            {
                "t": 0.0,
                "x": x,
                "y": y,
                "z": z,
                "r": np.hypot(x, y),
                "across": across,
            }
        )
        kind: Any = kinds[item.kind]
        flow = kind.signed_flow(now, medium.density, area)
        part = numbers.shape.solids.get(item.edge.split(".")[0])
        # half the bore of equal area: twice it is the hydraulic diameter notes ask for
        width = float(np.sqrt(4 * area / np.pi)) / 2
        openings.append(
            OpeningFacts(
                key,
                item.edge,
                item.kind,
                width,
                area,
                flow,
                float(getattr(part, "length", 0.0) or 0.0),
                getattr(item, "profile", ""),
            )
        )
    edges = [item.edge for item in numbers.openings.values()]
    size = cell_size(surface, numbers.grid, edges)
    meshed = [] if surface.dry else [surface]
    meshed += [solid for key, solid in surface.solids.items() if key in numbers.shape.kept]
    cells = 0 if brief else sum(cells_expected(each, size, int(numbers.grid.doublings)) for each in meshed)
    gap = 0.0
    at = (0.0, 0.0, 0.0)
    cell = 0.0
    mirrors = [wall.edge for wall in numbers.walls.values() if wall.kind == "symmetry"]
    passage = None if brief else narrowest_passage(surface, [*edges, *mirrors])
    if passage is not None:
        gap = passage.width
        at = tuple(passage.middle.tolist())
        cell = gap / max(expected_across(surface, numbers.grid, edges, passage), 1e-9)
    return Facts(
        numbers,
        surface,
        tuple(openings),
        gap,
        at,
        cell,
        cells,
        medium.density,
        medium.viscosity,
        medium.expansion,
    )
