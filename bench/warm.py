"""Fill the cache of compiled kernels, so that parallel tests need not each compile them."""

from __future__ import annotations

from typing import Any

from bench.cases import cavity_document
from mop_lantern.case import parse_case, settle
from mop_lantern.case.resolve import resolve
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.grid import box
from mop_lantern.grid.space_grid import make_in_space
from mop_lantern.shape import Surface, build
from mop_lantern.solve import Solving


def main() -> None:
    """Touch every kernel once."""
    for _ in Solving(settle(parse_case(cavity_document(100.0, 12))), None, None).events():
        pass
    mesh = box((9, 9, 9), (1.0, 1.0, 1.0))
    FlowSolver(mesh, Boundary.still(mesh.n_boundary), 1.0, 0.1, FlowSettings()).step()
    brick = {"kind": "brick", "length": "20 mm", "width": "10 mm", "height": "10 mm"}
    shape = settle_shape({"b": brick})
    make_in_space(shape, 2e-3, 1)


def settle_shape(solids: dict[str, Any]) -> Surface:
    """Give the surface of a space."""
    case = parse_case(
        {"title": "warm", "media": {"w": {"kind": "water"}}, "shape": {"space": "space", "solids": solids}}
    )
    shape = build(resolve(case)[0].shape)
    assert isinstance(shape, Surface)
    return shape


if __name__ == "__main__":
    main()
