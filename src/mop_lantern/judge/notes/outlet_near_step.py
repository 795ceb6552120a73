"""Outlets near a sudden widening."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.judge.facts import Facts, Note, NoteKind, OpeningFacts
from mop_lantern.shape import Plane
from mop_lantern.units import show

Floats = NDArray[np.float64]


class OutletNearStep(NoteKind):
    """Warn where fluid leaves so near behind a sudden widening that it has not closed to the wall again.

    What flows back through the opening there enters with values somebody had to choose.

    Source: behind a step the flow lies on again after 6.3 heights (Driver and Seegmiller, AIAA J. 23 (1985)
    163-171), around an axis after about 9 (common practice, no source); laminar flow may need more.
    """

    caption: ClassVar[str] = "Outlet near a widening"
    kind: Literal["outlet_near_step"] = "outlet_near_step"
    HEIGHTS: ClassVar[float] = 8.0
    STEEP: ClassVar[float] = 0.35  # of a wall against the stream: about 20 degrees, where flow separates
    SMALLEST: ClassVar[float] = 0.1  # step, of the width of the opening: lower ones close soon
    SAMPLES: ClassVar[int] = 160

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for every opening that fluid leaves by, nearer than that."""
        if not isinstance(facts.shape, Plane):
            return []
        notes = []
        for opening in filter(lambda one: leaves(one, facts), facts.openings):
            found = step_before(facts.shape, opening.edge, cls.HEIGHTS, cls.SAMPLES, cls.STEEP)
            if found is None or found[1] < cls.SMALLEST * opening.width:
                continue
            distance, height = found
            wanted = cls.HEIGHTS * height
            if distance >= wanted:
                continue
            text = (
                f"The passage widens suddenly by {show(height, 'length', 'mm', 3)}, only "
                f"{show(distance, 'length', 'mm', 3)} before this opening. The flow closes to the wall after "
                f"about {show(wanted, 'length', 'mm', 3)}: fluid may come back in here."
            )
            remedy, edits = longer(facts, opening, 1.02 * wanted - distance)
            notes.append(Note(f"field.openings.{opening.key}", "caution", text, remedy, edits))
        return notes


def leaves(opening: OpeningFacts, facts: Facts) -> bool:
    """Tell whether fluid is meant to leave here."""
    if opening.flow is not None:
        return opening.flow < 0
    fed = any(other.flow is None or other.flow > 0 for other in facts.openings if other is not opening)
    return fed and opening.kind in (
        "static_pressure",
        "mean_pressure",
        "share",
        "grille",
        "window",
        "system_resistance",
    )


def step_before(
    plane: Plane, edge: str, heights: float, samples: int, steep: float
) -> tuple[float, float] | None:
    """Find the nearest sudden widening before an opening.

    Parameters
    ----------
    heights : of a step, within which one matters. samples : cuts along the way. steep : slope of a wall.

    Returns
    -------
    Distance from the opening and height of the step on its higher side, m; None where there is none.
    """
    middle, inward = plane.edge_middle(edge)
    width = plane.edge_lengths[edge]
    along = np.linspace(0.0, heights * width, samples + 1)[1:] - heights * width / samples / 2
    sides = passage(plane, middle, inward, along, width)
    retreat = np.column_stack([np.diff(sides[:, 0]), -np.diff(sides[:, 1])])  # positive: narrower upstream
    wider = np.flatnonzero((np.maximum.accumulate(sides[:, 1] - sides[:, 0]) > 1.1 * width)[1:])
    retreat = retreat[: wider[0]] if len(wider) else retreat
    found = []
    for side in retreat.T:
        sudden = side > steep * (along[1] - along[0])
        if sudden.any():
            found.append(
                (float(along[np.argmax(sudden) : np.argmax(sudden) + 2].mean()), float(side[sudden].sum()))
            )
    return min(found, key=lambda one: one[0] - heights * one[1]) if found else None


def passage(plane: Plane, middle: Floats, inward: Floats, along: Floats, width: float) -> Floats:
    """Follow the passage upstream from the middle of an opening to where it ends or bends off, (k, 2) m: from
    where to where it reaches across.
    """
    across = np.array([-inward[1], inward[0]])
    reach = 4 * width
    former = (-width / 2, width / 2)
    found = []
    for s in along:
        at = middle + s * inward
        cut = plane.polygon.intersection(shapely.LineString([at - reach * across, at + reach * across]))
        pieces = [piece for piece in getattr(cut, "geoms", [cut]) if piece.geom_type == "LineString"]
        spans = [np.sort((np.asarray(piece.coords) - at) @ across) for piece in pieces if not piece.is_empty]
        shared = [min(span[1], former[1]) - max(span[0], former[0]) for span in spans]
        if not spans or max(shared) <= 0:
            break
        former = tuple(spans[int(np.argmax(shared))])
        found.append(former)
    return np.array(found).reshape(-1, 2)


def longer(facts: Facts, opening: OpeningFacts, by: float) -> tuple[str, dict[str, Any]]:
    """Give words and edits that move an opening away: the part it ends made longer, where that can be."""
    name, _, place = opening.edge.partition(".")
    part = facts.numbers.shape.parts.get(name)
    if place != "end" or getattr(part, "kind", "") != "straight":
        return "", {}
    return "make the part longer", {f"shape.parts.{name}.length": f"{1000 * (part.length + by):.4g} mm"}
