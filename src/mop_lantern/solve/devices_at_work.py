"""Devices of a case at work on a flow: jumps of the pressure, heat, and what they take out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import discover
from mop_lantern.errors import RunError
from mop_lantern.field.device import DeviceKind, Placed, drawn, place, wanted_area
from mop_lantern.field.flow import FlowSolver
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh
from mop_lantern.judge.sampling import sampler_of

Floats = NDArray[np.float64]
EASING = 0.9  # of the speeds whose brake still holds, in an iteration
MOST_REMOVED = 0.999  # share: the sink of all of it would have no bound


@dataclass(frozen=True)
class Working:
    """The operating point of a device.

    Attributes
    ----------
    key : id in the case. flow : m3/s along it, of the whole body. rise : Pa, mean over its
    area. area, wanted : m2 on the grid, and of its outline. whole : whether all its outline lies in the
    fluid. strays : words on a flow beyond what is known of it.
    """

    key: str
    flow: float
    rise: float
    area: float
    wanted: float
    whole: bool
    strays: str


class DevicesAtWork:
    """The devices of a case on one grid.

    Parameters
    ----------
    settled : the case. mesh : the grid of the fluid.

    Raises
    ------
    RunError : a device lies on no face between two cells.
    """

    def __init__(self, settled: ResolvedCase, mesh: Mesh, time: float = 0.0) -> None:
        self.mesh = mesh
        self.density = settled.medium.density
        self._numbers = dict(settled.numbers.devices)
        self._kinds = discover("mop_lantern.field.devices", DeviceKind)
        self._time = time
        self._calm: dict[str, Floats] = {}  # m/s, speeds whose brake still holds
        self.placed: dict[str, Placed] = {}
        for key, numbers in self._numbers.items():
            found = place(numbers, mesh)
            if not len(found.faces):
                raise RunError(
                    "no face between two cells of the fluid lies where this device is.",
                    f"field.devices.{key}",
                    "Move it into the fluid, make it larger, or make the cells smaller.",
                )
            self.placed[key] = found
        every = [one.faces for one in self.placed.values()]
        if every and len(np.unique(np.concatenate(every))) < sum(len(one) for one in every):
            raise RunError(
                "two devices lie on the same faces between cells.",
                f"field.devices.{list(self.placed)[-1]}",
                "Move them apart by a cell or more.",
            )

    def __len__(self) -> int:
        return len(self.placed)

    def at(self, time: float) -> None:
        """Go to a time, s."""
        self._time = time

    def _now(self, key: str) -> tuple[type[DeviceKind], Any, Placed]:
        numbers = self._numbers[key]
        return self._kinds[numbers.kind], numbers.at({"t": self._time}), self.placed[key]

    def _speed(self, key: str, flow: FlowSolver) -> Floats:
        """Speeds along a device through its faces, (k,) m/s."""
        placed = self.placed[key]
        return np.asarray(placed.sign * flow.flux[placed.faces] / placed.area)

    def push(self, flow: FlowSolver) -> None:
        """Let the pressure jump as the present flow demands."""
        if not len(self):
            return
        faces, rises, brakes = [], [], []
        for key in self.placed:
            kind, numbers, placed = self._now(key)
            speed = self._speed(key, flow)
            area = placed.area * self.mesh.turn
            try:
                jump = kind.jump(numbers, speed, area, self.density)
            except RunError as error:
                raise RunError(error.says, f"field.devices.{key}.curve", error.remedy) from error
            # what had a brake keeps most of it a while: the first flow would be that of no screen at all
            calm = (
                EASING * self._calm[key] if key in self._calm else np.full(len(speed), flow.reference_speed)
            )
            self._calm[key] = np.maximum(np.abs(speed), calm)
            brake = np.maximum(jump.brake, kind.jump(numbers, self._calm[key], area, self.density).brake)
            faces.append(placed.faces)
            rises.append(placed.sign * jump.rise)
            brakes.append(brake / placed.area)
        flow.set_jumps(np.concatenate(faces), np.concatenate(rises), np.concatenate(brakes))

    def working(self, flow: FlowSolver) -> list[Working]:
        """Give the operating points."""
        found = []
        flat = len(self.mesh.ways) == 2
        for key in self.placed:
            kind, numbers, placed = self._now(key)
            area = placed.area * self.mesh.turn
            speed = self._speed(key, flow)
            rise = kind.jump(numbers, speed, area, self.density).rise
            found.append(
                Working(
                    key,
                    float(speed @ area),
                    float(rise @ area / area.sum()),
                    float(area.sum()),
                    wanted_area(numbers, self.mesh),
                    bool(sampler_of(self.mesh).inside(drawn(numbers, flat)[0]).all()),
                    kind.strays(numbers, float(speed @ area)),
                )
            )
        return found

    def treats(self, name: str) -> bool:
        """Whether any does something to what is carried."""
        return any(
            (name == "T" and kind.heats(numbers)) or kind.removes(numbers, name)
            for kind, numbers, _ in map(self._now, self.placed)
        )

    def treat(self, name: str, scalar: Transported, flux: Floats) -> None:
        """Add what devices do to something carried: heat shared by what passes, and a share taken out of it
        in the cell behind, s / (1 - s) times the flow that comes in, as all of that cell is treated alike.
        """
        for key in self.placed:
            kind, numbers, placed = self._now(key)
            heat = kind.heats(numbers) if name == "T" else 0.0
            share = min(kind.removes(numbers, name), MOST_REMOVED)
            if not heat and not share:
                continue
            through = placed.sign * flux[placed.faces]
            cells = np.where(through >= 0, placed.behind, placed.before)
            weight = np.abs(through) + 1e-12 * placed.area
            if heat:
                each = heat / self.mesh.turn * weight / weight.sum() / scalar.scale
                scalar.source = scalar.source + np.bincount(
                    cells, each / scalar.mesh.volume[cells], scalar.mesh.n_cells
                )
            if share:
                sides = np.concatenate([placed.before, placed.behind])
                scalar.jumping = np.union1d(scalar.jumping, sides)
                lost = share / (1 - share) * np.abs(through) / scalar.mesh.volume[cells]
                scalar.sink = np.asarray(scalar.sink + np.bincount(cells, lost, scalar.mesh.n_cells), float)
