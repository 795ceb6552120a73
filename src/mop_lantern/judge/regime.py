"""Laminar or turbulent: which closure a case gets, and why."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from mop_lantern.declare import discover
from mop_lantern.judge.facts import CRITICAL_REYNOLDS, Facts, OpeningFacts, named_temperatures
from mop_lantern.laws.friction import darcy
from mop_lantern.shape import Surface

BY_NUMBER = "reynolds"
LAMINAR = "laminar"
CHOSEN = "sst"  # where the Reynolds number says turbulent, and the space is a passage
# in a room: own runs in one with a ceiling diffuser swung by 0.5 % of the mean speed (k-epsilon 7, SST 39),
# with a warm floor came to rest in 1000 iterations (k-epsilon not in 2000); it spreads jets as measured
CHOSEN_IN_ROOMS = "realizable"
ROOMY = 3.0  # times the volume that the largest opening would sweep through the space: then it is a room
FULLY = 4000.0  # common practice, no source
# of a space stirred by its walls alone, on its size: driven cavities swing from about 8000 on (2-D, memory)
CRITICAL_STIRRED = 8000.0
# of fluid that rises by its warmth, on the speed sqrt(g beta dT L): a Grashof number of 1.2e9 (upright plates
# in air; Incropera, *Fundamentals of Heat and Mass Transfer*; from memory)
CRITICAL_RISING = 3.5e4
RISES = "and the speed of fluid that rises through it"
LEAST_WARMER = 1.0  # K, where only heat is given
CRITICAL_TURNED = 3e5  # of a turning disc, on its radius (Schlichting, *Boundary-Layer Theory*; from memory)


@dataclass(frozen=True)
class Regime:
    """How turbulence is treated.

    Attributes
    ----------
    closure : kind of closure, "" for laminar. reynolds : the largest Reynolds number, 0 where none is known.
    where : what it was taken from, in words. chosen : whether the Reynolds number chose. size : m, the length
    in it; 0 where none is known. roomy : whether the space is far wider than its openings. critical : the
    Reynolds number from which such a flow is turbulent.
    """

    closure: str
    reynolds: float
    where: str
    chosen: bool
    size: float = 0.0
    roomy: bool = False
    critical: float = CRITICAL_REYNOLDS

    @property
    def wall_unit(self) -> float:
        """The distance of one y+ from a wall, m, foretold from the friction of a smooth pipe (laws
        of Hagen and Poiseuille, and Colebrook); 0 where the flow is laminar or nothing is known.
        """
        if not (self.closure and self.size and self.reynolds > 0):
            return 0.0
        pull = float(np.sqrt(darcy(self.reynolds, 0.0)[0] / 8))
        return self.size / (self.reynolds * pull)

    @property
    def between(self) -> bool:
        """Whether the flow may be either."""
        return self.critical == CRITICAL_REYNOLDS < self.reynolds < FULLY


def regime_of(facts: Facts) -> Regime:
    """Say how turbulence is treated in a case, by what it asks for or by its Reynolds number."""
    asked = facts.numbers.physics.flow
    reynolds, where, critical, size = _largest(facts)
    if asked != BY_NUMBER:
        closure = "" if asked == LAMINAR else asked
        return Regime(closure, reynolds, where, False, size, critical=critical)
    roomy = _roomy(facts)
    closure = CHOSEN_IN_ROOMS if roomy else CHOSEN
    return Regime(closure if reynolds > critical else "", reynolds, where, True, size, roomy, critical)


def _roomy(facts: Facts) -> bool:
    """Whether fluid enters as a jet that fills little of the space, or rises in a shut one."""
    widest = max((opening.area for opening in facts.openings), default=0.0)
    if facts.shape.dry or facts.shape.axisymmetric:
        return False
    if widest <= 0:
        return _rising(facts, facts.shape.size) > 0
    return float(facts.shape.volume) > ROOMY * widest * _longest(facts)


def _longest(facts: Facts) -> float:
    """Give the largest extent of the space along x, y or z, m."""
    if isinstance(facts.shape, Surface):
        return float(np.ptp(facts.shape.points, axis=0).max())
    west, south, east, north = facts.shape.polygon.bounds
    return float(max(east - west, north - south))


def _largest(facts: Facts) -> tuple[float, str, float, float]:
    """Give the largest Reynolds number, where it holds, the critical one there, and the length in it (m)."""
    if facts.shape.dry or not facts.rubs:
        return 0.0, "no wall holds the fluid back", CRITICAL_REYNOLDS, 0.0
    found = []
    speed = _driven(facts)
    for opening in facts.openings:
        size, words = _diameter(facts, opening)
        if not size or opening.area <= 0:
            continue
        if opening.flow is not None:
            found.append((abs(opening.flow) / opening.area, size, f"{words} {opening.key}"))
        elif speed:
            found.append((_held_back(facts, speed, size), size, f"{words} {opening.key}, at most"))
    found += _blown(facts)
    if found:
        speed, size, words = max(found, key=lambda each: each[0] * each[1])
        reynolds = speed * size * facts.density / facts.viscosity
        within = any(_bounded(facts, opening.edge) for opening in facts.openings)
        rising = _rising(facts, _breadth(facts)) if within else 0.0
        if rising / CRITICAL_RISING > reynolds / CRITICAL_REYNOLDS:
            return rising, f"the breadth of the space {RISES}", CRITICAL_RISING, 0.0
        return reynolds, words, CRITICAL_REYNOLDS, size
    viscosity = facts.viscosity / facts.density
    sliding = _fastest(facts, "speed") * facts.shape.size / viscosity
    turning = _fastest(facts, "rate") * (facts.shape.size / 2) ** 2 / viscosity
    if turning / CRITICAL_TURNED > sliding / CRITICAL_STIRRED:
        return turning, "half the size of the space and its fastest turning wall", CRITICAL_TURNED, 0.0
    rising = _rising(facts, facts.shape.size)
    if rising > sliding:
        return rising, f"the size of the space {RISES}", CRITICAL_RISING, 0.0
    if sliding:
        return sliding, "the size of the space and its fastest wall", CRITICAL_STIRRED, 0.0
    return 0.0, "nothing is known to drive the flow", CRITICAL_STIRRED, 0.0


def _diameter(facts: Facts, opening: OpeningFacts) -> tuple[float, str]:
    """Give the hydraulic diameter of an opening, or where no wall bounds it the size of what it flows
    around.
    """
    if not _bounded(facts, opening.edge):
        return _bodies(facts), "the body in the stream from"
    if facts.shape.axisymmetric:
        return opening.width, "the bore at"
    words = "the bore of equal area at" if isinstance(facts.shape, Surface) else "twice the gap at"
    return 2 * opening.width, words


def _sticking(facts: Facts) -> list[str]:
    """Name the edges the fluid sticks to."""
    smooth = {wall.edge for wall in facts.numbers.walls.values() if wall.kind in ("slip", "symmetry")}
    free = smooth | {opening.edge for opening in facts.openings} | {"axis"}
    return [name for name in facts.shape.edge_lengths if name not in free]


def _corners(facts: Facts, names: list[str]) -> Any:
    """Give the corners (k, 2 or 3) of edges or faces, m."""
    shape = facts.shape
    if isinstance(shape, Surface):
        mine = np.isin(shape.labels, [k for k, name in enumerate(shape.names) if name in names])
        return shape.points[np.unique(shape.triangles[mine])]
    found = [np.asarray(shape.edge(name)).reshape(-1, 2) for name in names]
    return np.concatenate([np.zeros((0, 2)), *found])


def _bounded(facts: Facts, edge: str) -> bool:
    """Whether a wall begins where an opening ends."""
    ends = _corners(facts, [edge])
    walls = _corners(facts, _sticking(facts))
    if not len(ends) or not len(walls):
        return bool(len(walls))
    from mop_lantern.numerics.nearest import nearest_tree

    return bool((nearest_tree(walls).query(ends)[0] < 1e-6 * facts.shape.size).any())


def _bodies(facts: Facts) -> float:
    walls = _corners(facts, _sticking(facts))
    return float(np.ptp(walls, axis=0).max()) if len(walls) else 0.0


def _driven(facts: Facts) -> float:
    """Give the speed that the pressures between openings could make without friction, m/s."""
    kinds: Any = discover("mop_lantern.field.openings")
    stand = [kinds[item.kind].stands_at(item, facts.density) for item in facts.numbers.openings.values()]
    given = [pressure for pressure in stand if pressure is not None]
    machines = [getattr(item, "curve", None) for item in facts.numbers.openings.values()]
    raised = sum(float(np.max(np.asarray(curve)[:, 1])) for curve in machines if curve is not None)
    return float(np.sqrt(2 * (np.ptp(given) + raised) / facts.density)) if len(given) > 1 else 0.0


def _blown(facts: Facts) -> list[tuple[float, float, str]]:
    """Give speed (m/s), size (m) and words of what fans inside the fluid blow, at most."""
    found = []
    kinds: Any = discover("mop_lantern.field.devices")
    for key, device in facts.numbers.devices.items():
        rises = [device.pressure] if isinstance(getattr(device, "pressure", None), float) else []
        if getattr(device, "given", "") == "curve":
            rises = [float(np.max(np.asarray(device.curve)[:, 1]))]
        if kinds[device.kind].drives and rises:
            size = device.width * (1 if isinstance(facts.shape, Surface) or facts.shape.axisymmetric else 2)
            found.append((float(np.sqrt(2 * max(rises) / facts.density)), size, f"the device {key}, at most"))
    return found + _pushed(facts)


def _pushed(facts: Facts) -> list[tuple[float, float, str]]:
    """The same of sources that push: the speed of a jet that carries the whole force."""
    found = []
    kinds: Any = discover("mop_lantern.field.sources")
    for key, source in facts.numbers.sources.items():
        if not kinds[source.kind].pushes or not isinstance(source.force, float):
            continue
        span = np.abs(np.subtract(source.high, source.low))
        size = float(span.max())
        if isinstance(facts.shape, Surface):
            area = float(span.prod() / max(span.max(), 1e-30))
        else:
            area = np.pi * size**2 if facts.shape.axisymmetric else size * facts.shape.depth
        speed = float(np.sqrt(abs(source.force) / (facts.density * max(area, 1e-30))))
        found.append((speed, size, f"the source {key}, at most"))
    return found


def _breadth(facts: Facts) -> float:
    """Give the hydraulic diameter of the whole space, four times its volume over its surface, m."""
    shape = facts.shape
    if isinstance(shape, Surface):
        return 4 * float(shape.volume) / float(np.linalg.norm(shape.area_vectors, axis=1).sum())
    if shape.axisymmetric:
        return 2 * float(shape.polygon.bounds[3])
    return 4 * float(shape.polygon.area) / float(shape.polygon.length)


def _rising(facts: Facts, size: float) -> float:
    """Give the Reynolds number of fluid that rises by its warmth, sqrt(g beta dT L) L / nu on a length (m), 0
    where none does.
    """
    numbers = facts.numbers
    if numbers.physics.buoyancy == "none" or not numbers.heat.solve or not facts.expansion:
        return 0.0
    held = named_temperatures(numbers)
    if held and isinstance(numbers.heat.start, float):
        held.append(numbers.heat.start)
    given = any(hasattr(wall, "flux") for wall in numbers.warm.values()) or bool(numbers.sources)
    warmer = max(float(np.ptp(held)) if held else 0.0, LEAST_WARMER if given else 0.0)
    speed = np.sqrt(numbers.physics.gravity * abs(facts.expansion) * warmer * size)
    return float(speed * size * facts.density / facts.viscosity)


def _held_back(facts: Facts, speed: float, size: float) -> float:
    """Give a speed between two pressures, m/s: not more than developed laminar flow would have there along
    the whole space (Hagen and Poiseuille).
    """
    pressure = 0.5 * facts.density * speed**2
    return min(speed, pressure * size**2 / (32 * facts.viscosity * facts.shape.size))


def _fastest(facts: Facts, name: str) -> float:
    """Give the fastest "speed" (m/s) or "rate" (rad/s) of a wall."""
    given = [getattr(wall, name, None) for wall in facts.numbers.walls.values()]
    return max((abs(value) for value in given if isinstance(value, float)), default=0.0)
