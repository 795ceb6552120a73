"""The mean age of the fluid."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.case import ResolvedCase
from mop_lantern.grid import Mesh
from mop_lantern.solve.equation import Equation, Floats


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
