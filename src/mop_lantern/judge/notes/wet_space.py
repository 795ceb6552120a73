"""How much fluid a space holds, and within how much wall."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.shape import Surface
from mop_lantern.units import show


class WetSpace(NoteKind):
    """Tell wetted volume, wall and opening area, how far the space reaches, and what solids take up.

    Source: sums over the triangles of the surface.
    """

    caption: ClassVar[str] = "Wetted volume and area"
    kind: Literal["wet_space"] = "wet_space"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for a space in three dimensions."""
        surface = facts.shape
        if not isinstance(surface, Surface):
            return []
        volume = surface.volume
        areas = surface.edge_lengths
        open_ = sum(areas.get(opening.edge, 0.0) for opening in facts.openings)
        walls = sum(areas.values()) - open_
        size = "L" if volume < 1.0 else "m³"
        area = "cm²" if walls < 0.1 else "m²"
        reach = " × ".join(
            show(float(length), "length", "mm" if surface.size < 2 else "m")
            for length in surface.points[surface.triangles].max(axis=(0, 1))
            - surface.points[surface.triangles].min(axis=(0, 1))
        )
        text = (
            f"Fluid fills {show(volume, 'volume', size)} within {show(walls, 'area', area)} of wall and "
            f"{show(open_, 'area', area)} of openings; it reaches {reach}."
        )
        if surface.solids:
            held = sum(solid.volume for solid in surface.solids.values())
            text += (
                f" {len(surface.solids)} {'solid takes' if len(surface.solids) == 1 else 'solids take'} up "
                f"{show(held, 'volume', 'L' if held < 1.0 else 'm³')}."
            )
        return [Note("shape", "ready", text)]
