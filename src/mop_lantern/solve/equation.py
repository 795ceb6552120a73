"""What an equation of something carried is: what it demands, what makes it, and what it does to the flow."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import Kind, discover
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh

if TYPE_CHECKING:
    from mop_lantern.solve.physics import Physics

Floats = NDArray[np.float64]


class Equation(Kind):
    """The equation of one or more quantities that the fluid carries (and, with ``in_solids``, that solids
    conduct). Physics loops over them and knows none by name.

    Attributes
    ----------
    order : lower ones come first. in_solids : solved on fluid and solids together. limited : as of
    `Transported`. floor : the quantity is never less. warms : walls pass it on by natural convection too.
    """

    order: ClassVar[int] = 0
    in_solids: ClassVar[bool] = False
    limited: ClassVar[str] = "never"
    floor: ClassVar[float | None] = None
    warms: ClassVar[bool] = False

    @classmethod
    def names(cls, settled: ResolvedCase) -> list[str]:
        """Name the quantities a case asks for: what readings and pictures call them."""
        raise NotImplementedError

    @classmethod
    def told(cls, settled: ResolvedCase, name: str) -> tuple[str, str]:
        """Give label and dimension of a quantity that the case itself does not know."""
        return name, "number"

    @classmethod
    def scale(cls, settled: ResolvedCase) -> float:
        """Give what a kinematic flux is multiplied with for reports."""
        return 1.0

    @classmethod
    def diffusivity(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
    ) -> Floats | float:
        """Give the diffusivity, m2/s, of all cells or of each."""
        raise NotImplementedError

    @classmethod
    def capacity(cls, settled: ResolvedCase, mesh: Mesh) -> Floats | None:
        """Give how much of it a cell holds beside the fluid, (n_cells,); None where all are alike."""
        return None

    @classmethod
    def entering(cls, settled: ResolvedCase, opening: Any, name: str) -> Any:
        """Give the value of what enters by an opening whose numbers are worked out."""
        return 0.0

    @classmethod
    def at_walls(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        demand: ScalarBoundary,
        time: float,
    ) -> None:
        """Write what walls demand; most let nothing through."""

    @classmethod
    def source(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
        time: float,
    ) -> Floats:
        """Give what is made of it, (n_cells,) per m3 and second in the unit of reports."""
        return np.zeros(mesh.n_cells)

    @classmethod
    def sink(cls, settled: ResolvedCase, name: str) -> Floats | float:
        """Give the share that is lost in time, 1/s."""
        return 0.0

    @classmethod
    def start(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
    ) -> Floats:
        """Give the start, (n_cells,)."""
        return np.zeros(mesh.n_cells)

    # --- what it does to the flow ---

    @classmethod
    def drives(cls, settled: ResolvedCase, name: str) -> bool:
        """Whether it moves or thickens the flow, and is solved along with it."""
        return False

    @classmethod
    def lightness(cls, physics: Physics, name: str) -> Floats:
        """Give what it adds to the density difference over the reference density, (n fluid cells,)."""
        return np.zeros(physics.wet.n_cells)

    @classmethod
    def reference(cls, settled: ResolvedCase, mesh: Mesh, name: str) -> float:
        """Give the value at which it makes the fluid neither denser nor lighter."""
        return 0.0

    @classmethod
    def denser_outside(cls, settled: ResolvedCase, mesh: Mesh, name: str, opening: Any) -> float:
        """Give what it adds to the density difference, over the reference density, of surroundings that hold
        what would enter by an opening whose numbers are worked out.
        """
        return 0.0

    @classmethod
    def solved_by(cls, settled: ResolvedCase) -> type[Transported]:
        """Give what solves it."""
        return Transported

    @classmethod
    def made_ready(cls, physics: Physics, scalar: Transported) -> None:
        """Add to a fresh scalar what only all of the physics knows."""

    @classmethod
    def refresh(cls, physics: Physics, name: str) -> None:
        """Let properties of the flow follow the present values."""

    @classmethod
    def begin_step(cls, physics: Physics, name: str) -> None:
        """Keep what a time step will want of the former one."""

    @classmethod
    def carry(
        cls,
        physics: Physics,
        scalar: Transported,
        name: str,
    ) -> None:
        """Add what the present flow makes of it, such as heat of friction."""


def equations_of(settled: ResolvedCase) -> dict[str, type[Equation]]:
    """Give the equation of every quantity a case carries, by its name, in order."""
    kinds = sorted(discover("mop_lantern.solve.equations", Equation).values(), key=lambda kind: kind.order)
    return {name: kind for kind in kinds for name in kind.names(settled)}
