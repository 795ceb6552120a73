"""Temperature of fluid and solids."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

import numpy as np

from mop_lantern.case import ResolvedCase
from mop_lantern.field.radiation.warmth import Warmth
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh
from mop_lantern.solve.boundary_data import inlet_density, made_in, start_of, warm_walls
from mop_lantern.solve.equation import Equation, Floats
from mop_lantern.solve.radiant import exchange_of
from mop_lantern.solve.thin_walls import shells_on
from mop_lantern.solve.wall_stores import stores_on

if TYPE_CHECKING:
    from mop_lantern.solve.physics import Physics


class Temperature(Equation):
    """Heat that the fluid carries and fluid and solids conduct, over the heat capacity of the fluid.

    Source: energy equation of an incompressible fluid with work of friction (Bird, Stewart and Lightfoot,
    Transport Phenomena, section 11.2).
    """

    caption: ClassVar[str] = "Temperature"
    kind: Literal["temperature"] = "temperature"
    order: ClassVar[int] = 1
    in_solids: ClassVar[bool] = True
    limited: ClassVar[str] = "needed"
    warms: ClassVar[bool] = True
    floor: ClassVar[float | None] = 1.0  # K: nothing is colder

    @classmethod
    def names(cls, settled: ResolvedCase) -> list[str]:
        """Where heat is solved for."""
        return ["T"] if settled.numbers.heat.solve else []

    @classmethod
    def scale(cls, settled: ResolvedCase) -> float:
        """Heat capacity of the fluid, J/m3/K."""
        return settled.medium.density * settled.medium.capacity

    @classmethod
    def diffusivity(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
    ) -> Floats:
        """Conductivity of every cell, fluid at its reference, over the heat capacity of the fluid."""
        found = np.full(mesh.n_cells, settled.medium.conductivity)
        for key, solid in settled.solids.items():
            found[mesh.cells_of(key)] = solid.conductivity
        return found / cls.scale(settled)

    @classmethod
    def capacity(cls, settled: ResolvedCase, mesh: Mesh) -> Floats | None:
        """Heat capacity of solids over that of the fluid."""
        if not len(mesh.region):
            return None
        found = np.ones(mesh.n_cells)
        for key, solid in settled.solids.items():
            found[mesh.cells_of(key)] = solid.density * solid.capacity / cls.scale(settled)
        return found

    @classmethod
    def entering(cls, settled: ResolvedCase, opening: Any, name: str) -> Any:
        """The temperature of what enters."""
        return opening.temperature

    @classmethod
    def at_walls(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        demand: ScalarBoundary,
        time: float,
    ) -> None:
        """What walls demand of heat."""
        warm_walls(settled, mesh, demand, time)

    @classmethod
    def source(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
        time: float,
    ) -> Floats:
        """What sources of the case give, W/m3."""
        return made_in(settled, mesh, "heat", time)

    @classmethod
    def start(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
    ) -> Floats:
        """As the case says."""
        return start_of(settled.numbers.heat, "start", mesh)

    @classmethod
    def drives(cls, settled: ResolvedCase, name: str) -> bool:
        """Where warm fluid rises, or its properties follow."""
        return settled.numbers.physics.buoyancy != "none" or settled.medium.follows

    @classmethod
    def lightness(cls, physics: Physics, name: str) -> Floats:
        """By the gas law, or linear in the temperature."""
        values = physics.in_fluid(name)
        if physics.gas is not None:
            return physics.gas.ratio(values) - 1.0
        return _lighter(physics.settled, values)

    @classmethod
    def denser_outside(cls, settled: ResolvedCase, mesh: Mesh, name: str, opening: Any) -> float:
        """As inside, at the temperature of what would enter."""
        if settled.numbers.physics.buoyancy == "gas":
            return inlet_density(settled, opening.temperature) / settled.medium.density - 1.0
        return float(np.mean(_lighter(settled, opening.temperature)))

    @classmethod
    def solved_by(cls, settled: ResolvedCase) -> type[Transported]:
        """Surfaces may radiate."""
        return Warmth if settled.numbers.radiation.solve and not settled.shape.dry else Transported

    @classmethod
    def made_ready(cls, physics: Physics, scalar: Transported) -> None:
        """Tell surfaces what they see of each other, lay nets on thin walls that conduct, and let walls hold
        heat in time.
        """
        net = shells_on(physics.settled, scalar.mesh, scalar.demand.along)
        if net is not None:
            scalar.tie_shells(net)
        scalar.stores = stores_on(physics.settled, scalar.mesh)
        if isinstance(scalar, Warmth):
            scalar.shine(exchange_of(physics))

    @classmethod
    def refresh(cls, physics: Physics, name: str) -> None:
        """Let the density of a gas, or viscosity and conductivity, follow."""
        scalar = physics.scalars[name]
        values = physics.in_fluid(name)
        outer = physics.wet.n_boundary
        if physics.gas is not None:
            cells = physics.gas.expand(physics.flow, values, scalar.boundary_values()[:outer])
            former = scalar.ratio
            solids = former[len(cells) :] if isinstance(former, np.ndarray) else np.zeros(0)
            scalar.ratio = np.concatenate([cells, solids])
        if not physics.fluid.follows:
            return
        surface = scalar.boundary_values()[:outer]
        physics.flow.set_viscosity(
            physics.fluid.at("viscosity", values), physics.fluid.at("viscosity", surface)
        )
        diffusivity = np.asarray(cls.diffusivity(physics.settled, scalar.mesh, name))
        boundary = diffusivity[scalar.mesh.owner[scalar.mesh.n_internal :]]
        diffusivity[: len(values)] = physics.fluid.at("conductivity", values) / scalar.scale
        boundary[:outer] = physics.fluid.at("conductivity", surface) / scalar.scale
        scalar.set_diffusivity(diffusivity, boundary)

    @classmethod
    def begin_step(cls, physics: Physics, name: str) -> None:
        """A gas remembers how dense it was."""
        if physics.gas is not None:
            physics.gas.begin_step(physics.in_fluid(name))

    @classmethod
    def carry(
        cls,
        physics: Physics,
        scalar: Transported,
        name: str,
    ) -> None:
        """Add the heat that friction makes."""
        if not physics.settled.numbers.heat.friction or not physics.wet.n_cells:
            return
        rate, _ = physics.flow.shear_rate()
        wet = physics.wet
        nu = np.bincount(wet.owner, physics.flow.nu, wet.n_cells) / np.bincount(
            wet.owner, minlength=wet.n_cells
        )
        base = cls.source(physics.settled, scalar.mesh, name, physics.time) / scalar.scale
        scalar.source = base + physics.whole.cells(nu * rate**2 / physics.fluid.capacity)


def _lighter(settled: ResolvedCase, temperature: Any) -> Floats:
    fluid = settled.medium
    return np.asarray(-fluid.expansion * (np.asarray(temperature) - fluid.temperature))
