"""The mean age of the fluid."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar, Literal

import numpy as np

from mop_lantern.case import ResolvedCase
from mop_lantern.grid import Mesh
from mop_lantern.solve.equation import Equation, Floats

if TYPE_CHECKING:
    from mop_lantern.field.transport import Transported
    from mop_lantern.solve.physics import Physics


class Age(Equation):
    """The mean time since the fluid entered: it grows by one second a second.

    Source: Sandberg, "What is ventilation efficiency?", Building and Environment 16 (1981) 123-135.
    """

    caption: ClassVar[str] = "Mean age"
    kind: Literal["age"] = "age"
    order: ClassVar[int] = 3
    limited: ClassVar[str] = "needed"

    @classmethod
    def names(cls, settled: ResolvedCase) -> list[str]:
        """Where it is asked for."""
        return ["age"] if settled.numbers.age.solve else []

    @classmethod
    def diffusivity(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
    ) -> float:
        """That of the molecules of the fluid."""
        return float(settled.numbers.age.diffusivity)

    @classmethod
    def source(
        cls,
        settled: ResolvedCase,
        mesh: Mesh,
        name: str,
        time: float,
    ) -> Floats:
        """A second a second."""
        return np.ones(mesh.n_cells)

    @classmethod
    def carry(cls, physics: Physics, scalar: Transported, name: str) -> None:
        """All of a gas grows older, as much of it as is in a cell."""
        if physics.gas is not None:
            scalar.source = physics.gas.ratio(physics.in_fluid("T"))
