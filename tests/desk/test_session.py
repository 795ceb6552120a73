"""What the window knows of results, without a window: scales and profiles that compare variants."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.desk.session import Session
from mop_lantern.judge import FieldResult
from mop_lantern.results import RunRecord
from mop_lantern.solve import prepare


def record() -> RunRecord:
    """Give a record that says nothing."""
    return RunRecord({}, "", {}, [], True, 1, 1, 0.0, {}, {}, folder="nowhere")


def still(channel: dict[str, Any], speed: float) -> FieldResult:
    """Give a field of one speed on the channel."""
    mesh = prepare(settle(parse_case(channel)))
    velocity = np.zeros((mesh.n_cells, 3))
    velocity[:, 0] = speed
    wall = np.zeros((mesh.n_boundary, 3))
    wall[:, 0] = speed
    none = np.zeros(mesh.n_boundary)
    return FieldResult(
        mesh,
        velocity,
        np.full(mesh.n_cells, 2.0),
        np.zeros(len(mesh.owner)),
        wall,
        none + 2.0,
        0 * wall,
        1000.0,
    )


def test_variants_share_a_scale_and_a_line(channel: dict[str, Any]) -> None:
    case = apply(parse_case(channel), {"variants.B": {"title": "other", "edits": {}}})
    session = Session()
    session.archive.keep("", record(), still(channel, 0.01))
    assert session.shared_range(case, "u") == (None, None), "one field alone needs none"
    session.archive.keep("B", record(), still(channel, 0.04))
    assert session.shared_range(case, "u") == pytest.approx((0.01, 0.04))
    assert session.shared_range(case, "speed") == pytest.approx((0.0, 0.04)), "speed counts from rest"
    assert session.shared_range(case, "T") == (None, None), "no field has it"
    assert session.profiles(case, "u") == []
    session.line = ((0.01, 0.0), (0.03, 0.0))
    curves = session.profiles(case, "u")
    assert [name for name, _, _ in curves] == ["Base", "B"]
    distance, values = curves[1][1:]
    assert distance[-1] == pytest.approx(0.02) and np.nanmax(values) == pytest.approx(0.04)
    session.archive.keep("", record(), None)
    assert [name for name, _, _ in session.profiles(case, "u")] == ["B"]


def test_the_session_needs_no_toolkit() -> None:
    code = (
        "import sys, mop_lantern.desk.session; "
        "sys.exit(any(name.startswith('PyQt6') for name in sys.modules))"
    )
    where = str(Path(__file__).parents[2])
    assert subprocess.run([sys.executable, "-c", code], check=False, cwd=where).returncode == 0
