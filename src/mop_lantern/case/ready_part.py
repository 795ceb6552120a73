"""Parts of rooms that come ready: a body of the usual size with the heat it gives off, added in one step."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.case.fresh_place import FLAT, length
from mop_lantern.declare import Kind, discover
from mop_lantern.errors import CaseError, Fault, nearest
from mop_lantern.shape import Plane, Surface
from mop_lantern.shape.solid import face_axes

PACKAGE = "mop_lantern.case.ready"
PLACE = "ready"  # of an offer: no section of its own
Floats = NDArray[np.float64]
CLEAR = 0.3  # m; kept free between a part and others
STEP, REACH = 0.25, 40  # m, and how many: where a free place is looked for
TINY = 1e-6  # m
EMPTY = np.zeros(3), np.array([6.0, 4.0, 3.0])  # a room that is not there yet
LEVEL = 0.1  # of a direction's upright part: less is level
INSIDE = 0.95  # of the free space, the most a part takes along any way


class Room:
    """What a ready part needs to know of the room it goes into.

    Attributes
    ----------
    low, high : (3,) m; corners of the box about the space. taken : corners of the boxes about parts in it.
    """

    def __init__(self, case: Case, shape: Plane | Surface | None) -> None:
        self.case = case
        self.surface = shape if isinstance(shape, Surface) and len(shape.points) else None
        self.low, self.high = EMPTY
        self.taken: list[tuple[Floats, Floats]] = []
        if self.surface is None:
            return
        walls = []
        for name, (low, high) in _boxes(self.surface).items():
            solid = case.shape.solids.get(name.split(".")[0])
            if solid is None or solid.role == "fluid" and solid.kind != "patch":
                walls.append((low, high))
            elif solid.kind != "patch":
                self.taken.append((low, high))
        self.low = np.min([low for low, _ in walls], axis=0)
        self.high = np.max([high for _, high in walls], axis=0)

    def block(
        self, size: tuple[float, float, float], below_ceiling: bool = False, at_wall: bool = False
    ) -> dict[str, Any]:
        """Give a box of a size (m) on the floor or under the ceiling, in the middle or at a wall, or as near
        as other parts let it.

        Raises
        ------
        CaseError : the room has no place for it.
        """
        corner = self._corner(size, below_ceiling, at_wall)
        sides = {"length": f"{size[0]:g} m", "width": f"{size[1]:g} m", "height": f"{size[2]:g} m"}
        return {"kind": "brick", "role": "void", **_typed(corner), **sides}

    def _corner(
        self, size: tuple[float, float, float], below_ceiling: bool = False, at_wall: bool = False
    ) -> Floats:
        """Give the lowest corner (3,) m of a free place for a box, as `block` wants it."""
        wanted = np.array(size)
        if (wanted > INSIDE * (self.high - self.low)).any():
            raise self._too_small(size)
        low = self.low + 0.5 * (self.high - self.low - wanted)
        low[2] = self.high[2] - wanted[2] if below_ceiling else self.low[2]
        if at_wall:
            low[1] = self.low[1]
        ways = [
            low + np.array([a * STEP, b * STEP, 0.0])
            for a in range(-REACH, REACH + 1)
            for b in range(-REACH, REACH + 1)
        ]
        ways.sort(key=lambda at: float(np.linalg.norm((at - low) * (1, 10 if at_wall else 1, 1))))
        for at in ways:
            inside = (at >= self.low - TINY).all() and (at + wanted <= self.high + TINY).all()
            if inside and not any(_meet(at, at + wanted, *other) for other in self.taken):
                return np.asarray(at)
        raise self._too_small(size)

    def _too_small(self, size: tuple[float, float, float]) -> CaseError:
        told = " x ".join(f"{side:g}" for side in size)
        says = f"the room has no place for a part of {told} m."
        return CaseError([Fault("shape.solids", says, "Make the room larger, or add a box of your own.")])

    def board(self, size: tuple[float, float, float]) -> dict[str, Any]:
        """Give a level sheet on top of where a box of a size (m) finds its place on the floor.

        Raises
        ------
        CaseError : the room has no place for it.
        """
        middle = self._corner(size) + np.array(size) * (0.5, 0.5, 1.0)
        turned = {"heading": "90 deg", "rise": "90 deg"}
        sides = {"width": f"{size[0]:g} m", "height": f"{size[1]:g} m", "thickness": "0 mm"}
        return {"kind": "plate", "role": "void", **_typed(middle), **turned, **sides}

    def on_wall(self, width: float, height: float, sill: float | None = None) -> dict[str, Any]:
        """Give a patch (m) in the middle of an upright face that nothing is laid on, or so far over the
        floor.
        """
        return self._patch(width, height, "upright wall", lambda inward: abs(inward[2]) < LEVEL, sill)

    def on_ceiling(self, width: float, height: float) -> dict[str, Any]:
        """Give a patch (m) in the middle of a ceiling that nothing is laid on."""
        return self._patch(width, height, "ceiling", lambda inward: inward[2] < LEVEL - 1)

    def on_floor(self, width: float, height: float) -> dict[str, Any]:
        """Give a patch (m) in the middle of a floor that nothing is laid on."""
        return self._patch(width, height, "floor", lambda inward: inward[2] > 1 - LEVEL)

    def _patch(
        self,
        width: float,
        height: float,
        called: str,
        fits: Callable[[Floats], bool],
        sill: float | None = None,
    ) -> dict[str, Any]:
        """Give a patch on the first flat face that fits and has room for it.

        Raises
        ------
        CaseError : there is none.
        """
        solids = self.case.shape.solids
        taken = {item.edge for item in self.case.field.openings.values()}
        surface = self.surface
        for name in () if surface is None else surface.names:
            own = solids.get(name.split(".")[0])
            bare = name not in taken and own is not None and own.role == "fluid" and own.kind != "patch"
            if not bare or surface is None or not fits(surface.face(name)[1]) or surface.facing(name) < FLAT:
                continue
            at = self._free_on(surface, name, width, height, sill)
            if at is not None:
                sizes = {"width": f"{width:g} m", "height": f"{height:g} m"}
                return {"kind": "patch", "on": name, **_typed(at), **sizes}
        says = f"no {called} is free and large enough for it."
        raise CaseError([Fault("shape.solids", says, "Make the room larger, or lay a patch of your own.")])

    def _free_on(
        self, surface: Surface, name: str, width: float, height: float, sill: float | None
    ) -> Floats | None:
        """Give the place on a face (3,) m nearest to its middle, or so far over the floor, where a patch
        stays within its rim and clear of other patches; None where there is none.
        """
        middle, inward = surface.face(name)
        axes = np.column_stack(face_axes(-inward))
        every = surface.points[surface.triangles[surface.labels == surface.names.index(name)]].reshape(-1, 3)
        others = [
            surface.points[surface.triangles[surface.labels == surface.names.index(f"{key}.face")]]
            for key, item in self.case.shape.solids.items()
            if item.kind == "patch" and item.on == name and f"{key}.face" in surface.names
        ]
        corners = [(each.reshape(-1, 3) - middle) @ axes for each in (every, *others)]
        low, high = corners[0].min(axis=0), corners[0].max(axis=0)
        for other in corners[1:]:  # a patch is cut out of its face, which still reaches round it
            low, high = np.minimum(low, other.min(axis=0)), np.maximum(high, other.max(axis=0))
        half = 0.5 * np.array([width, height])
        if (2 * half >= INSIDE * (high - low)).any():
            return None
        begin = 0.5 * (low + high)
        if sill is not None:
            begin[1] = float(self.low[2] - middle[2]) + sill + half[1]
        steps = [(a * STEP, b * STEP) for a in range(-REACH, REACH + 1) for b in range(-REACH, REACH + 1)]
        steps.sort(key=lambda step: np.hypot(*step))
        for step in steps if sill is None else [(a, b) for a, b in steps if b == 0]:
            at = begin + step
            inside = (at - half >= low - TINY).all() and (at + half <= high + TINY).all()
            clear = CLEAR * np.ones(2)
            if inside and not any(
                ((at - half < each.max(axis=0) + clear) & (at + half > each.min(axis=0) - clear)).all()
                for each in corners[1:]
            ):
                return np.asarray(middle + axes @ at)
        return None

    def carbon_dioxide(self) -> str:
        """Name the species that is carbon dioxide, or ""."""
        called = ("co2", "carbon dioxide", "carbon_dioxide")
        for key, item in self.case.field.species.items():
            if key.lower() in called or any(name in item.title.lower() for name in called):
                return key
        return ""


class ReadyPart(Kind):
    """A part of a room that comes ready: ``items(key, room)`` gives what it is made of, one item a section,
    all under one id.
    """

    group: ClassVar[str] = "Ready for rooms"
    fits: ClassVar[str] = "space"

    @classmethod
    def items(cls, key: str, room: Room) -> dict[str, dict[str, Any]]:
        """Give the items by section."""
        raise NotImplementedError


def ready_parts() -> dict[str, type[ReadyPart]]:
    """Give all there are."""
    return dict(discover(PACKAGE, ReadyPart))


def ready_edits(case: Case, shape: Plane | Surface | None, kind: str) -> dict[str, Any]:
    """Give the edits that add a ready part, the body first.

    Raises
    ------
    CaseError : there is none of that name, the case is no space, or it has no place in the room.
    """
    known = ready_parts()
    if kind not in known:
        raise CaseError([Fault("shape.solids", f"no ready part is called “{kind}”.", nearest(kind, known))])
    if case.shape.space != "space":
        says = "ready parts stand in a space, and this case is a plane."
        raise CaseError([Fault("shape.space", says, "Make it a space, or draw parts of your own.")])
    key = fresh_key(case, "shape.solids", kind)
    return {f"{place}.{key}": item for place, item in known[kind].items(key, Room(case, shape)).items()}


def _typed(place: Floats) -> dict[str, str]:
    """Write a place (3,) m as the values of a part."""
    return {way: length(float(value)) for way, value in zip("xyz", place, strict=True)}


def _boxes(surface: Surface) -> dict[str, tuple[Floats, Floats]]:
    """Give the corners (m) of the box about every face."""
    found = {}
    for number, name in enumerate(surface.names):
        corners = surface.points[surface.triangles[surface.labels == number]].reshape(-1, 3)
        if len(corners):
            found[name] = corners.min(axis=0), corners.max(axis=0)
    return found


def _meet(low: Floats, high: Floats, other_low: Floats, other_high: Floats) -> bool:
    """Whether two boxes overlap, or nearly."""
    return bool((low < other_high + CLEAR - TINY).all() and (high > other_low - CLEAR + TINY).all())
