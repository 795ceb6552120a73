"""Fluid that fills the walls of what looks like a pipe or a casing."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.errors import CaseError
from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.shape.mouths import hollows_in, wet_text
from mop_lantern.shape.solid import Body
from mop_lantern.shape.surface import Surface

THIN = (
    0.05  # of its size: twice volume over area of a body, more and it is no wall; common practice, no source
)
LARGE = 0.5  # of the fluid: what it encloses, at least


class FluidInWalls(NoteKind):
    """Warn where the fluid is the thin body of an imported model that encloses a larger space with open ends:
    its walls were meant to be solid.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "The fluid fills walls"
    kind: Literal["fluid_in_walls"] = "fluid_in_walls"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for the first model that is fluid."""
        surface = facts.shape
        if not isinstance(surface, Surface):
            return []
        solids = facts.numbers.shape.solids
        models = [key for key, part in solids.items() if part.kind == "model" and part.role == "fluid"]
        area = float(np.linalg.norm(surface.area_vectors, axis=1).sum())
        if not models or 2 * surface.volume > THIN * area * surface.size:
            return []
        try:
            found = hollows_in([Body(surface.points, surface.triangles, surface.labels, surface.names)])
        except CaseError:
            return []
        open_ones = {mouth.cavity for mouth in found.mouths}
        if 0 not in open_ones or found.volumes[0] < LARGE * surface.volume:
            return []
        key = models[0]
        ends = sum(mouth.cavity == 0 for mouth in found.mouths)
        text = (
            f"The fluid fills {key}, a thin wall around {1e3 * found.volumes[0]:.3g} L with {ends} open "
            "ends. If the flow is meant to go through it, its walls must be solid."
        )
        edits = {
            f"shape.solids.{key}.role": "solid",
            f"shape.solids.{key}_ends": {"kind": "cap", "of": key, "holes": "mouths"},
            f"shape.solids.{key}_inside": {"kind": "internal_volume", "of": key},
            "shape.wet": [wet_text(found.places[0])],
        }
        return [Note(f"shape.solids.{key}", "caution", text, "put the fluid inside", edits)]
