"""Join the parts of a space: union of what holds fluid, less what is solid; every triangle keeps its name."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import discover
from mop_lantern.errors import CaseError, Fault, nearest
from mop_lantern.shape.leak import Leak, leak
from mop_lantern.shape.model import length, spot
from mop_lantern.shape.mouths import Mouth, hollows_of
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Solid
from mop_lantern.shape.surface import Surface, membranes
from mop_lantern.shape.union import Owners, apart, handed, has_body, surface_of, united
from mop_lantern.shape.wet import wet_space

Floats = NDArray[np.float64]


def join(
    solids: Mapping[str, Any],
    wet: Floats | None = None,
    loose: bool = False,
    kept: Collection[str] = (),
) -> Surface:
    """Build the wet space of a case.

    Parameters
    ----------
    solids : resolved parts by id. Later ones take precedence: fluid adds to what is there, solid takes away
    from it.
    wet : (k, 3) m, none or one place; the space it lies in is kept where there are several. loose : give all
    there is, to be looked at only. kept : solid parts that conduct heat: with them there may be no fluid.

    Raises
    ------
    CaseError : every part that cannot be built; parts that do not hang together or leave a wall between them.
    """
    kinds = discover("mop_lantern.shape.solids", Solid)
    bodies = bodies_of(solids)
    roles = {key: role_of(solids, key) for key in solids}
    dry = "fluid" not in roles.values()
    if dry and not any(roles.get(key) == "solid" for key in kept):
        raise CaseError(
            [Fault("shape.solids", "no part holds the fluid.", "Add one, or let one be full of fluid.")]
        )
    beneath = {key: kinds[numbers.kind].beneath for key, numbers in solids.items()}
    order = sorted(solids, key=lambda key: not beneath[key])
    whole, taken, owners = _joined({key: bodies[key] for key in order}, roles, kept if dry else None)
    surface = _together(
        surface_of(whole, owners),
        {key: kinds[numbers.kind].joins(numbers) for key, numbers in solids.items()},
    )
    if loose:
        return surface
    held = {key: surface_of(body, owners) for key, body in taken.items()}
    if dry:
        return replace(surface, solids=held, dry=True)
    places = np.zeros((0, 3)) if wet is None else wet
    surface = wet_space(surface, places)
    outer = tuple(f"{key}." for key in solids if kinds[solids[key].kind].enclosed)
    _check_tight(
        surface, places, outer, lambda: surface_of(united(list(taken.values())), owners) if taken else None
    )
    if len(membranes(surface)):
        raise CaseError(
            [
                Fault(
                    "shape.solids",
                    "a wall without thickness is left where two parts touch.",
                    "Let them overlap a little.",
                )
            ]
        )
    return replace(surface, solids=held)


def _check_tight(
    surface: Surface, places: Floats, outer: tuple[str, ...], walls: Callable[[], Surface | None]
) -> None:
    """Refuse an internal volume that leaks: where it does, and by which way. ``walls`` gives all that is
    solid.
    """
    if not outer or not any(name.startswith(outer) for name in surface.edge_lengths):
        return
    if not len(places):
        raise CaseError(
            [Fault("shape.wet", "the internal volume to fill is not said.", "Give a wet point in it.")]
        )
    found = leak(surface, places[0])
    if len(found.line) == 2:
        raise CaseError(
            [Fault("shape.wet", "the wet point lies outside the walls.", "Move it into the internal volume.")]
        )
    solid = walls()
    how, rims = _way_out(found, hollows_of(solid).mouths if solid is not None else ())
    says = f"the fluid gets from the wet point to the outside through {how}."
    remedy = "Close it by a cap, a disc or a plate."
    raise CaseError(
        [Fault("shape.wet", says, remedy, _lines([found.line] if len(found.line) else []) + rims)]
    )


def _way_out(found: Leak, mouths: Sequence[Mouth]) -> tuple[str, tuple[Any, ...]]:
    """Say what the fluid gets out through: the mouth the way leads through, else the narrowest place of it;
    with the rim of that mouth.
    """
    if mouths and len(found.line):
        off = [
            float(np.linalg.norm(found.line - mouth.middle, axis=1).min()) / np.sqrt(mouth.area)
            for mouth in mouths
        ]
        mouth = mouths[int(np.argmin(off))]
        if min(off) < 1.0:
            how = f"an open end {length(mouth.width)} wide about {spot(mouth.middle[None])}"
            return how, _lines([np.vstack([mouth.rim, mouth.rim[:1]])])
    if len(found.line):
        return f"a gap about {length(found.width)} wide near {spot(found.gap[None])}", ()
    return f"a gap narrower than {length(found.seen)}", ()


def _lines(lines: Any) -> tuple[tuple[tuple[float, ...], ...], ...]:
    return tuple(tuple(map(tuple, line.tolist())) for line in lines)


def bodies_of(solids: Mapping[str, Any]) -> dict[str, list[Body]]:
    """Build the parts one by one, before they are joined.

    Raises
    ------
    CaseError : every part that cannot be built.
    """
    kinds = discover("mop_lantern.shape.solids", Solid)
    bodies: dict[str, list[Body]] = {}
    faults = []
    for key, numbers in solids.items():
        try:
            made = kinds[numbers.kind].build(numbers, bodies)
            bodies[key] = made if isinstance(made, list) else [made]
        except PartFault as fault:
            faults.append(
                Fault(f"shape.solids.{key}.{fault.parameter}", fault.says, fault.remedy, _lines(fault.lines))
            )
    if faults:
        raise CaseError(faults)
    return bodies


def as_it_is(solids: Mapping[str, Any]) -> Surface | None:
    """Give what can be looked at of parts that build no body, such as open models, all in one; None for
    nothing.
    """
    kinds = discover("mop_lantern.shape.solids", Solid)
    seen = {
        key: found
        for key, numbers in solids.items()
        if (found := kinds[numbers.kind].as_it_is(numbers)) is not None
    }
    if not seen:
        return None
    corner = np.cumsum([0, *(len(surface.points) for surface in seen.values())])
    label = np.cumsum([0, *(len(surface.names) for surface in seen.values())])
    return Surface(
        np.vstack([surface.points for surface in seen.values()]),
        np.vstack([surface.triangles + first for surface, first in zip(seen.values(), corner, strict=False)]),
        np.concatenate(
            [surface.labels + first for surface, first in zip(seen.values(), label, strict=False)]
        ),
        tuple(f"{key}.{name}" for key, surface in seen.items() for name in surface.names),
    )


def _together(surface: Surface, joined: Mapping[str, tuple[str, ...]]) -> Surface:
    """Give faces that are taken together one name."""
    faults = []
    names = list(surface.names)
    labels = surface.labels.copy()
    for key, faces in joined.items():
        present = surface.edge_lengths
        missing = [face for face in faces if face not in present]
        if missing:
            faults.append(
                Fault(
                    f"shape.solids.{key}.faces",
                    f"there is no face “{missing[0]}” on the boundary.",
                    nearest(missing[0], present),
                )
            )
        elif faces:
            names.append(f"{key}.face")
            labels[np.isin(labels, [names.index(face) for face in faces])] = len(names) - 1
            surface = replace(surface, labels=labels, names=tuple(names))
    if faults:
        raise CaseError(faults)
    return surface


def role_of(solids: Mapping[str, Any], key: str) -> str:
    """Give the role of a part; a copy may have that of the part it copies."""
    for _ in range(len(solids)):
        if solids[key].role != "same" or solids[key].of not in solids:
            break
        key = solids[key].of
    return str(solids[key].role)


def _joined(
    bodies: Mapping[str, list[Body]], roles: Mapping[str, str], alone: Collection[str] | None = None
) -> tuple[Any, dict[str, Any], Owners]:
    """Give the fluid, what every solid takes up, and whose triangles are whose: later parts take precedence
    over earlier ones. Without fluid, what the solids ``alone`` take up stands in its place.
    """
    import manifold3d

    whole: Any = manifold3d.Manifold()
    kept: dict[str, Any] = {}
    owners: Owners = {}
    for key, several in bodies.items():
        made = united([handed(key, body, owners) for body in several])
        whole = whole + made if roles[key] == "fluid" else whole - made
        kept = {
            other: body if other == key or apart(body, made) else body - made for other, body in kept.items()
        }
        if roles[key] == "solid":
            kept[key] = made
    if alone is not None:
        whole = sum((body for key, body in kept.items() if key in alone), manifold3d.Manifold())
    if not whole.volume() > 0:
        what = "the fluid" if alone is None else "the solids"
        raise CaseError(
            [Fault("shape.solids", f"nothing is left for {what}.", "Make a solid part smaller or move it.")]
        )
    return whole, {key: body for key, body in kept.items() if has_body(body)}, owners
