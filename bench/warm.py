"""Fill the cache of compiled kernels, so that parallel tests need not each compile them."""

from __future__ import annotations

from bench.cases import cavity_document
from mop_lantern.case import parse_case, settle
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.grid import box
from mop_lantern.solve import Solving


def main() -> None:
    """Touch every kernel once."""
    for _ in Solving(settle(parse_case(cavity_document(100.0, 12))), None, None).events():
        pass
    mesh = box((9, 9, 9), (1.0, 1.0, 1.0))
    FlowSolver(mesh, Boundary.still(mesh.n_boundary), 1.0, 0.1, FlowSettings()).step()


if __name__ == "__main__":
    main()
