"""Species that the fluid carries."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar, Literal

import numpy as np

from mop_lantern.case import ResolvedCase
from mop_lantern.grid import Mesh
from mop_lantern.laws.moist import LIGHTER, share_of
from mop_lantern.solve.boundary_data import inlet_density, made_in, start_of
from mop_lantern.solve.equation import Equation, Floats

if TYPE_CHECKING:
    from mop_lantern.solve.physics import Physics


class Species(Equation):
    """Shares or masses in the volume; they spread by their diffusivity, decay, and may move the fluid by the
    density they give it.

    Source: conservation of species (Bird, Stewart and Lightfoot, Transport Phenomena, chapter 19).
    """

    caption: ClassVar[str] = "Species"
    kind: Literal["species"] = "species"
    order: ClassVar[int] = 2
    limited: ClassVar[str] = "always"

    @classmethod
    def names(cls, settled: ResolvedCase) -> list[str]:
        """One for every species of the case."""
        return [f"c.{key}" for key in settled.numbers.species]

    @classmethod
    def diffusivity(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
    ) -> float:
        """That of the species."""
        return float(settled.numbers.species[name[2:]].diffusivity)

    @classmethod
    def entering(cls, settled: ResolvedCase, opening: Any, name: str) -> Any:
        """What the fluid that enters carries; water vapour by its humidity, where that is given."""
        species = settled.numbers.species[name[2:]]
        if species.nature != "vapour" or opening.humidity is None:
            return opening.carries.get(name[2:], 0.0)
        share = share_of(opening.humidity, opening.temperature)
        return share * (settled.medium.density if species.measure == "density" else 1.0)

    @classmethod
    def source(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
        time: float,
    ) -> Floats:
        """What sources of the case make of it."""
        return made_in(settled, mesh, name[2:], time)

    @classmethod
    def sink(cls, settled: ResolvedCase, name: str) -> float:
        """Decay."""
        return float(settled.numbers.species[name[2:]].decay)

    @classmethod
    def start(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
    ) -> Floats:
        """As the case says."""
        return start_of(settled.numbers.species[name[2:]], "start", mesh)

    @classmethod
    def drives(cls, settled: ResolvedCase, name: str) -> bool:
        """Where it changes the density."""
        rises = settled.numbers.physics.buoyancy != "none"
        return rises and bool(cls._expansion(settled, name))

    @classmethod
    def _expansion(cls, settled: ResolvedCase, name: str) -> float:
        """Relative change of density for one unit; of water vapour, unless given, by its molar mass."""
        species = settled.numbers.species[name[2:]]
        if species.expansion or species.nature != "vapour":
            return float(species.expansion)
        return -LIGHTER / (settled.medium.density if species.measure == "density" else 1.0)

    @classmethod
    def lightness(cls, physics: Physics, name: str) -> Floats:
        """Count from the mean it began with; of a gas that is thinner than the reference, so much less.

        By the gas law fluxes are those of moles, which mixing leaves as they are at one temperature and
        pressure (Amagat), so the composition counts in the weight alone.
        """
        thinness = 1.0 if physics.gas is None else physics.gas.ratio(physics.in_fluid("T"))
        return thinness * cls.denser(physics, name)

    @classmethod
    def denser(cls, physics: Physics, name: str) -> Floats:
        """Give the share by which it makes the fluid denser than it began, (n fluid cells,)."""
        expansion = cls._expansion(physics.settled, name)
        return np.asarray(expansion * (physics.scalars[name].phi - physics.reference[name]))

    @classmethod
    def denser_outside(cls, settled: ResolvedCase, mesh: Mesh, name: str, opening: Any) -> float:
        """As inside, by what would enter."""
        thinness = inlet_density(settled, opening.temperature) / settled.medium.density
        more = np.mean(cls.entering(settled, opening, name)) - cls.reference(settled, mesh, name)
        return float(thinness * cls._expansion(settled, name) * more)

    @classmethod
    def reference(cls, settled: ResolvedCase, mesh: Mesh, name: str) -> float:
        """The mean that the fluid begins with, as the case says."""
        return float(np.average(cls.start(settled, mesh, name), weights=mesh.volume))
