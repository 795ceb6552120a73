"""What is carried through large spaces is limited before it is solved to the end: the same answer, sooner."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case, settle
from mop_lantern.field import transport
from mop_lantern.solve.boundary_data import prepare
from mop_lantern.solve.flow_run import FlowRun

ROOM: dict[str, Any] = {
    "media": {"a": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "18 uPa s"}},
    "shape": {
        "space": "space",
        "solids": {
            "room": {"kind": "brick", "length": "4 m", "width": "3 m", "height": "3 m"},
            "rack": {
                "kind": "brick",
                "role": "solid",
                "x": "2 m",
                "length": "1 m",
                "width": "1.5 m",
                "height": "2 m",
            },
        },
    },
    "field": {
        "openings": {
            "in": {"kind": "velocity", "edge": "room.west", "velocity": "0.05 m/s"},
            "out": {"kind": "static_pressure", "edge": "room.east"},
        },
        "physics": {"flow": "mixing_length"},
        "age": {"solve": True},
        "grid": {"cell": "250 mm", "doublings": "0"},
    },
}


def test_the_age_is_that_of_a_small_space(monkeypatch: pytest.MonkeyPatch) -> None:
    """Within 1e-4 of the oldest air, and what leaves is still V/Q in the mean."""
    settled = settle(parse_case(ROOM))
    run = FlowRun(settled, prepare(settled), None)
    run.advance(60.0, 60)
    found = []
    passes = []
    plain = transport.Transported._krylov
    monkeypatch.setattr(
        transport.Transported,
        "_krylov",
        lambda self, limit, **how: (passes.append(limit), plain(self, limit, **how))[1],
    )
    for large in (10**9, 10):
        monkeypatch.setattr(transport, "LARGE", large)
        run.physics.finish()
        scalar = run.physics.scalars["age"]
        found.append(scalar.phi.copy())
        balance = scalar.balance()
        assert balance.carried_out == pytest.approx(run.mesh.volume.sum(), rel=1e-6)
        scalar.phi[:] = 0.0
    assert np.abs(found[0] - found[1]).max() < 1e-4 * found[0].max()
    assert {transport.LIMITER_TOLERANCE, transport.IN_LARGE, 1e-10, 1e-7} == set(passes)


def test_what_leaves_its_range_on_the_way_may_come_back(monkeypatch: pytest.MonkeyPatch) -> None:
    """Only an answer that is known well enough is told to be astray, and is then solved no further."""
    settled = settle(parse_case(ROOM))
    run = FlowRun(settled, prepare(settled), None)
    run.advance(60.0, 20)
    run.physics.finish()
    scalar = run.physics.scalars["age"]
    monkeypatch.setattr(transport, "LARGE", 10)
    monkeypatch.setattr(transport, "CYCLE", 4)
    monkeypatch.setattr(transport, "LEARNT", 2)
    monkeypatch.setattr(transport.Transported, "_overshoots", lambda self, share: True)
    found = []
    for enough in (1e-2, 0.0):
        scalar.phi[:] = 0.0
        found.append(scalar._krylov(1e-9, astray_from=enough))
    assert 1e-9 < found[0] <= 1e-2
    assert found[1] <= 1e-9
