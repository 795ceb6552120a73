"""Where the fluid is: inside a model, around it, or the model itself."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.case.resolve import resolve
from mop_lantern.errors import CaseError, Fault
from mop_lantern.shape.join import bodies_of
from mop_lantern.shape.model import length, spot
from mop_lantern.shape.mouths import Hollows, hollows_in, wet_text

WAYS = ("inside", "around", "fluid")
MORE = 1.5  # times what a part encloses alone: the parts together enclose something else
AROUND = {"before": 1.0, "behind": 2.0, "aside": 1.0, "below": 1.0, "above": 1.0}  # of the part's size


def hollows_of_part(case: Case, key: str) -> Hollows:
    """Find what a part of a space encloses, by itself or together with the other solid parts and models:
    halves of a housing make one space.

    Raises
    ------
    CaseError : the part, or one it stands on, cannot be built.
    """
    numbers = resolve(case)[0].shape.solids
    if key not in numbers:
        raise CaseError(
            [Fault("shape.solids", f"there is no part “{key}”.", f"Parts: {', '.join(numbers)}.")]
        )
    alone = hollows_in(_built(numbers, key)[key])
    others = tuple(
        name
        for name, part in case.shape.solids.items()
        if name != key and part.kind != "cap" and (part.kind == "model" or part.role == "solid")
    )
    if not others:
        return alone
    try:
        built = _built(numbers, key, *others)
        together = hollows_in([body for name in (key, *others) for body in built[name]])
    except CaseError:
        return alone  # what is wrong with another part is told with it
    if not len(together.places) or (len(alone.places) and together.volumes[0] < MORE * alone.volumes[0]):
        return alone
    return replace(together, also=others)


def _built(numbers: Mapping[str, Any], *keys: str) -> dict[str, Any]:
    """Build parts, with those listed before the last of them, on which they may stand."""
    last = max(list(numbers).index(key) for key in keys)
    return bodies_of(dict(list(numbers.items())[: last + 1]))


def told(hollows: Hollows) -> list[str]:
    """Say what a part encloses: each mouth with its place, size and direction."""
    if not len(hollows.places):
        return []
    first = [mouth for mouth in hollows.mouths if mouth.cavity == 0]
    ends = f"{len(first)} open ends" if len(first) != 1 else "one open end"
    it = f"It encloses, with {', '.join(hollows.also)}," if hollows.also else "It encloses"
    words = [f"{it} about {1e3 * hollows.volumes[0]:.3g} L with {ends if first else 'no open end'}."]
    for number, mouth in enumerate(first, 1):
        across = length(float(np.sqrt(4 * mouth.area / np.pi)))
        x, y, z = (np.round(mouth.direction, 2) + 0.0).tolist()
        words.append(
            f"cap{number if len(hollows.mouths) > 1 else ''}: {1e4 * mouth.area:.4g} cm² (as a disc of "
            f"{across}) about {spot(mouth.middle[None])}, open towards ({x:g}, {y:g}, {z:g})."
        )
    others = len(hollows.places) - 1
    if others:
        words.append(f"{others} smaller cavities besides.")
    return words


def inside_edits(case: Case, key: str, hollows: Hollows) -> dict[str, Any]:
    """Give the edits that put the fluid inside a part: its mouths capped, the internal volume filled.

    Raises
    ------
    CaseError : it encloses nothing.
    """
    if not len(hollows.places):
        raise CaseError(
            [
                Fault(
                    f"shape.solids.{key}",
                    "it encloses nothing that caps on flat mouths would close off.",
                    "Close what is open by discs or plates, or let the fluid be around it, or be the model.",
                )
            ]
        )
    edits = _cleared(case, key)
    edits |= {f"shape.solids.{name}.role": "solid" for name in (key, *hollows.also)}
    named = {"of": key} | ({"also": list(hollows.also)} if hollows.also else {})
    if hollows.mouths:
        cap = {"kind": "cap", **named, "holes": "mouths"}
        edits[f"shape.solids.{fresh_key(case, 'shape.solids', 'ends')}"] = cap
    filled = {"kind": "internal_volume", **named}
    edits[f"shape.solids.{fresh_key(case, 'shape.solids', 'inside')}"] = filled
    return edits | {"shape.wet": [wet_text(hollows.places[0])]}


def around_edits(case: Case, key: str) -> dict[str, Any]:
    """Give the edits that put the fluid around a part, in a box some sizes of it large."""
    numbers = resolve(case)[0].shape.solids
    points = np.vstack([body.points for body in bodies_of(numbers)[key]])
    size = float(np.ptp(points, axis=0).max())
    box = {name: f"{1e3 * share * size:.3g} mm" for name, share in AROUND.items()}
    edits = _cleared(case, key) | {f"shape.solids.{key}.role": "solid"}
    place = points.min(axis=0) - 0.5 * size
    return edits | {
        f"shape.solids.{fresh_key(case, 'shape.solids', 'around')}": {
            "kind": "surroundings",
            "of": key,
            **box,
        },
        "shape.wet": [wet_text(place)],
    }


def fluid_edits(case: Case, key: str) -> dict[str, Any]:
    """Give the edits that make a part the fluid itself."""
    return _cleared(case, key) | {f"shape.solids.{key}.role": "fluid", "shape.wet": []}


def _cleared(case: Case, key: str) -> dict[str, Any]:
    """Take away what said before where the fluid of a part is."""
    return {
        f"shape.solids.{name}": None
        for name, part in case.shape.solids.items()
        if part.kind in ("internal_volume", "surroundings", "cap")
        and key in (getattr(part, "of", ""), *getattr(part, "also", ()))
    }
