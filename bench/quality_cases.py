"""Check cases of numerical quality."""

from __future__ import annotations

from collections.abc import Callable

from bench.stating import Check
from mop_lantern.numerics.richardson import grid_error


def celik() -> list[Check]:
    """O-12.1: the worked example of Celik et al."""
    band = grid_error((6.063, 5.972, 5.863), tuple((1 / cells) ** 0.5 for cells in (18000, 8000, 4500)))
    source = "Celik et al., J. Fluids Eng. 130 (2008) 078001, first column of the table, from memory, reproduced"
    return [
        Check("O-12.1", "observed order", 1.53, band.order, 0.005, source, True),
        Check("O-12.1", "extrapolated value", 6.1685, band.extrapolated, 5e-4, source, True),
        Check("O-12.1", "relative change, %", 1.5, 100 * band.change, 0.05, source, True),
        Check("O-12.1", "extrapolated relative error, %", 1.7, 100 * band.extrapolated_error, 0.05, source, True),
        Check("O-12.1", "grid convergence index, %", 2.2, 100 * band.index, 0.05, source, True),
    ]


CASES: dict[str, Callable[[], list[Check]]] = {"O-12.1": celik}
