"""Check cases of numerical quality."""

from __future__ import annotations

from collections.abc import Callable

from bench.body_cases import cylinder_document
from bench.stating import Check, run_case
from mop_lantern.numerics.richardson import grid_error
from mop_lantern.solve import Solving


def celik() -> list[Check]:
    """O-12.1: the worked example of Celik et al."""
    band = grid_error((6.063, 5.972, 5.863), tuple((1 / cells) ** 0.5 for cells in (18000, 8000, 4500)))
    source = (
        "Celik et al., J. Fluids Eng. 130 (2008) 078001, first column of the table, from memory, reproduced"
    )
    return [
        Check("O-12.1", "observed order", 1.53, band.order, 0.005, source, True),
        Check("O-12.1", "extrapolated value", 6.1685, band.extrapolated, 5e-4, source, True),
        Check("O-12.1", "relative change, %", 1.5, 100 * band.change, 0.05, source, True),
        Check(
            "O-12.1", "extrapolated relative error, %", 1.7, 100 * band.extrapolated_error, 0.05, source, True
        ),
        Check("O-12.1", "grid convergence index, %", 2.2, 100 * band.index, 0.05, source, True),
    ]


def adaptation() -> list[Check]:
    """O-5.8 on adapted and on even grids: cells to reach 1 % in drag."""
    exact, source = 5.57953523, "Schaefer and Turek 1996, best-known value, from memory"

    def drag(solving: Solving) -> float:
        assert solving.run is not None
        return float(solving.run.readings["drag"].value) * 500

    data = cylinder_document("= 0.41 m / 12", 0, 0.2)
    data["field"]["grid"] = {"cell": "= 0.41 m / 12", "across": "1"}
    data["field"]["adapt"] = {"cycles": "4", "share": "12 %"}
    solving = run_case(data)
    cells = next(
        (c["cells"] for c in solving.cycles if abs(c["readings"]["drag"] * 500 / exact - 1) < 0.01), 0
    )
    data = cylinder_document("= 0.41 m / 36", 0, 0.2)
    data["field"]["grid"] = {"cell": "= 0.41 m / 36", "across": "1"}
    even = run_case(data)
    assert even.run is not None
    off = abs(drag(even) / exact - 1)
    print(
        f"      drag within 1 % on an adapted grid of {cells:,} cells; an even grid of "
        f"{even.run.mesh.n_cells:,} cells is {off:.1%} off"
    )
    share = cells / even.run.mesh.n_cells
    return [
        Check("adaptation O-5.8", "drag coefficient, adapted grid", exact, drag(solving), 0.01, source),
        Check(
            "adaptation O-5.8",
            "even grid of at least 3 times the cells is no better: its error over 1 %",
            1.0,
            min(off / 0.01, 1.0),
            1e-9,
            source,
        ),
        Check(
            "adaptation O-5.8",
            "cells of the adapted grid, share of the even one",
            0.0,
            share if cells else 1.0,
            1 / 3,
            "ours",
            True,
        ),
    ]


CASES: dict[str, Callable[[], list[Check]]] = {"O-12.1": celik, "adaptation": adaptation}
