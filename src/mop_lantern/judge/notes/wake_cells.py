"""Bodies whose wake is gridded too coarsely."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.shape import Plane
from mop_lantern.units import show


class WakeCells(NoteKind):
    """Tell how long and wide the wake of a body in the stream is, and that fine cells belong there.

    Source: vortices are shed from a Reynolds number of about 47 on (Williamson, Annu. Rev. Fluid Mech. 28
    (1996)); cells by own measurements.
    """

    caption: ClassVar[str] = "Wake of a body"
    kind: Literal["wake_cells"] = "wake_cells"
    SHEDS: ClassVar[float] = 47.0
    LENGTH: ClassVar[float] = 7.0
    WIDTH: ClassVar[float] = 1.4

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for every body in the stream that sheds vortices and has no fine wake yet."""
        entering = [
            (opening.flow / opening.area, opening.edge)
            for opening in facts.openings
            if opening.flow and opening.flow > 0 and opening.area > 0
        ]
        if not isinstance(facts.shape, Plane) or facts.shape.axisymmetric or not entering:
            return []
        speed, edge = max(entering)
        refined = {
            getattr(item, "edge", "").split(".")[0]
            for item in facts.numbers.grid.refine.values()
            if item.kind == "wake"
        }
        boxed = any(item.kind == "box" for item in facts.numbers.grid.refine.values())
        notes = []
        for name, wide in bodies_of(facts.shape).items():
            reynolds = speed * wide * facts.density / facts.viscosity
            if reynolds < cls.SHEDS or name.split(".")[0] in refined:
                continue
            size = [show(part * wide, "length", "mm", 3) for part in (cls.LENGTH, 2 * cls.WIDTH)]
            text = (
                f"Reynolds number {reynolds:.0f} on the width of {name.split('.')[0]}: its wake swings, "
                f"about {size[0]} long and {size[1]} wide, and forces on it depend on the cells there."
            )
            if facts.numbers.time.mode == "steady":
                text += " A steady answer may not exist: follow it in time."
            way = facts.shape.edge_middle(edge)[1]
            turn = float(np.rad2deg(np.arctan2(way[1], way[0])))
            key = f"wake-{name.split('.')[0]}"
            edits: dict[str, Any] = {
                f"field.grid.refine.{key}": {
                    "kind": "wake",
                    "edge": name,
                    "way": f"{turn:.4g} deg",
                }
            }
            level = "ready" if boxed and facts.numbers.time.mode != "steady" else "caution"
            notes.append(
                Note(
                    "field.grid",
                    level,
                    text,
                    "finer cells in the wake",
                    edits,
                )
            )
        return notes


def bodies_of(plane: Plane) -> dict[str, float]:
    """Give an edge of every body that stands in the fluid of a plane, and its width across, m."""
    found: dict[str, float] = {}
    for ring in plane.polygon.interiors:
        west, south, east, north = ring.bounds
        at = np.asarray(ring.coords)[0]
        near = int(np.hypot(*(plane.segments[:, 0] - at).T).argmin())
        found.setdefault(plane.names[int(plane.labels[near])], float(min(east - west, north - south)))
    return found
