"""Devices of a case at work on a flow: jumps of the pressure, heat, and what they take out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import discover
from mop_lantern.errors import RunError
from mop_lantern.field.device import DeviceKind, Held, Placed, drawn, place, wanted_area
from mop_lantern.field.flow import FlowSolver
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh
from mop_lantern.judge.sampling import sampler_of

Floats = NDArray[np.float64]
EASING = 0.9  # of the speeds whose brake still holds, in an iteration
STIFF = 100.0  # times what passes: how hard a value is held behind a device
MOST_REMOVED = 0.999  # share: the sink of all of it would have no bound


@dataclass(frozen=True)
class Working:
    """The operating point of a device.

    Attributes
    ----------
    key : id in the case. flow : m3/s along it, of the whole body. rise : Pa, mean over its
    area. area, wanted : m2 on the grid, and of its outline. whole : whether all its outline lies in the
    fluid. strays : words on a flow beyond what is known of it. added : what it gives to what is carried, by
    name: W, m3/s or kg/s.
    """

    key: str
    flow: float
    rise: float
    area: float
    wanted: float
    whole: bool
    strays: str
    added: dict[str, float]


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
        self._weighed = {f"c.{key}" for key, s in settled.numbers.species.items() if s.measure == "density"}
        self._numbers = dict(settled.numbers.devices)
        self._kinds = discover("mop_lantern.field.devices", DeviceKind)
        self._time = time
        self._calm: dict[str, Floats] = {}  # m/s, speeds whose brake still holds
        self._added: dict[tuple[str, str], float] = {}
        self._aim: dict[tuple[str, str], float] = {}  # the value one pulls at
        self._bound: dict[tuple[str, str], float | None] = {}  # what one gives that cannot hold its value
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
                named = "points" if hasattr(numbers, "points") else "curve"
                raise RunError(error.says, f"field.devices.{key}.{named}", error.remedy) from error
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

    def twist(self, flow: FlowSolver) -> Floats:
        """Give what devices turn the fluid behind them with, (n_cells, 3) m/s2, or (0, 3) where none does:
        the momentum about their axes that what passes them takes along.
        """
        total = np.zeros((0, 3))
        for key, placed in self.placed.items():
            kind, numbers, _ = self._now(key)
            spin = kind.spin(numbers, self._speed(key, flow))
            if spin is None:
                continue
            through = placed.sign * flow.flux[placed.faces]
            cells = np.where(through >= 0, placed.behind, placed.before)
            given = (np.abs(through) * spin / self.mesh.volume[cells])[:, None] * placed.around
            total = total if len(total) else np.zeros((self.mesh.n_cells, 3))
            np.add.at(total, cells, given)
        return total

    def working(self, flow: FlowSolver) -> list[Working]:
        """Give the operating points."""
        found = []
        flat = len(self.mesh.ways) == 2
        for key in self.placed:
            kind, numbers, placed = self._now(key)
            area = placed.area * self.mesh.turn
            speed = self._speed(key, flow)
            rise = kind.jump(numbers, speed, area, self.density).rise
            added = {name: amount for (owner, name), amount in self._added.items() if owner == key}
            found.append(
                Working(
                    key,
                    float(speed @ area),
                    float(rise @ area / area.sum()),
                    float(area.sum()),
                    wanted_area(numbers, self.mesh),
                    bool(sampler_of(self.mesh).inside(drawn(numbers, flat)[0]).all()),
                    kind.strays(numbers, float(speed @ area), added),
                    added,
                )
            )
        return found

    def treats(self, name: str) -> bool:
        """Whether any does something to what is carried."""
        return any(
            name in kind.feeds(numbers) or kind.removes(numbers, name)
            for kind, numbers, _ in map(self._now, self.placed)
        )

    def holding(self, name: str) -> bool:
        """Whether any brings something carried to a value."""
        return any(
            name in kind.feeds(numbers) and kind.holds(numbers, name) is not None
            for kind, numbers, _ in map(self._now, self.placed)
        )

    def treat(self, name: str, scalar: Transported, flux: Floats) -> float:
        """Add what devices do to something carried: an amount shared by what passes, and a share taken out of
        it in the cell behind, s / (1 - s) times the flow that comes in, as all of that cell is treated alike.

        Returns
        -------
        by how much what was added changed, of itself.
        """
        changed = 0.0
        for key in self.placed:
            kind, numbers, placed = self._now(key)
            share = min(kind.removes(numbers, name), MOST_REMOVED)
            fed = name in kind.feeds(numbers)
            if not fed and not share:
                continue
            through = placed.sign * flux[placed.faces]
            cells = np.where(through >= 0, placed.behind, placed.before)
            weight = np.abs(through) + 1e-12 * placed.area
            if fed:
                held = kind.holds(numbers, name)
                before = self._added.get((key, name), 0.0)
                pull = np.bincount(cells, weight, scalar.mesh.n_cells) / scalar.mesh.volume
                if held is not None:
                    scalar.jumping = np.union1d(scalar.jumping, self._sides(placed))
                    bound = self._bound.get((key, name), held.value)
                    amount = self._hold((key, name), held, pull, scalar)
                    changed = max(changed, float(bound != self._bound[key, name]))
                else:
                    mass = 1.0 if name in self._weighed else 1 / self.density
                    amount = kind.adds(numbers, name, mass)
                    scalar.source = scalar.source + amount / self._whole(weight.sum(), scalar) * pull
                self._added[key, name] = amount
                changed = max(changed, abs(amount - before) / max(abs(amount), abs(before), 1e-300))
            if share:
                scalar.jumping = np.union1d(scalar.jumping, self._sides(placed))
                lost = share / (1 - share) * np.abs(through) / scalar.mesh.volume[cells]
                scalar.sink = np.asarray(scalar.sink + np.bincount(cells, lost, scalar.mesh.n_cells), float)
        return changed

    @staticmethod
    def _sides(placed: Placed) -> NDArray[np.int64]:
        """Give the cells on both sides."""
        return np.concatenate([placed.before, placed.behind])

    def _whole(self, stored: float, scalar: Transported) -> float:
        """Give what a stored flow is in the unit of reports of the whole body."""
        return float(stored * self.mesh.turn * scalar.scale)

    def _hold(self, who: tuple[str, str], held: Held, pull: Floats, scalar: Transported) -> float:
        """Bring the cells behind a device to a value, or give all it can; give what that is.

        ``pull`` : (n_cells,) 1/s, what passes over the volume. The value held is pulled at STIFF times as
        hard as the flow brings others; what that leaves off is made good by what was given before.
        """
        share = pull * scalar.mesh.volume
        stiff = STIFF * self._whole(float(share.sum()), scalar)
        mean = float(scalar.phi @ share / share.sum())
        before = self._added.get(who, 0.0)
        if who not in self._bound:  # the first time nothing is known
            self._bound[who] = None
        elif self._bound[who] is None:
            before = stiff * (self._aim[who] - mean)
            if not held.low <= before <= held.high:
                self._bound[who] = float(np.clip(before, held.low, held.high))
        elif (held.value - mean) * (1 if self._bound[who] == held.low else -1) > 0 and held.high > held.low:
            self._bound[who] = None  # it can hold its value now
        bound = self._bound[who]
        if bound is not None:
            bound = self._bound[who] = float(np.clip(bound, held.low, held.high))
            scalar.source = scalar.source + bound * STIFF / stiff * pull
            return bound
        self._aim[who] = held.value + before / stiff
        scalar.source = scalar.source + STIFF * pull * self._aim[who]
        scalar.sink = np.asarray(scalar.sink + STIFF * pull, float)
        return before
