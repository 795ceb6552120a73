"""What the former step brings into the new one is held back where it would take more than there is."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from mop_lantern.field.held_in_time import HeldInTime


@pytest.fixture(scope="module")
def row() -> Any:
    """Give a row of four cells of 2 m3, an end of it at either side."""
    owner, neighbour = np.array([0, 1, 2, 0, 3]), np.array([1, 2, 3])
    return SimpleNamespace(owner=owner, neighbour=neighbour, n_internal=3, n_cells=4, volume=np.full(4, 2.0))


def begun(mesh: Any, phi: list[float], passed: float, low: float = 0.0, high: float = np.inf) -> HeldInTime:
    """Give the second of two equal steps, after one in which as much passed every face."""
    held = HeldInTime(mesh)
    every = np.zeros(len(mesh.owner))
    every[: mesh.n_internal] = passed
    held.begin(1.0, np.array(phi), every, np.zeros(4), low, high)
    assert not held.share.any(), "there is no former step yet"
    held.begin(1.0, np.array(phi), every, np.zeros(4), low, high)
    return held


def test_where_there_is_enough_a_third_is_taken_over(row: Any) -> None:
    volume = row.volume[0]
    held = begun(row, [5.0] * 4, 0.1 * volume)
    assert held.share[: row.n_internal] == pytest.approx(1 / 3)
    now = np.full(len(row.owner), 0.4 * volume)
    assert held.passing(now)[: row.n_internal] == pytest.approx((0.4 * 2 / 3 + 0.1 / 3) * volume)


def test_an_empty_cell_gives_nothing_and_a_full_one_takes_nothing(row: Any) -> None:
    volume = row.volume[0]
    phi = np.array([1.0, 0.0, 1.0, 1.0])
    held = begun(row, list(phi), volume, high=1.0)
    assert held.share[:3] == pytest.approx([1 / 3, 0, 0]), "an empty cell gives nothing, a full one is full"
    open_ended = begun(row, list(phi), volume)
    assert open_ended.share[:3] == pytest.approx([1 / 3, 0, 1 / 3]), "only the empty cell holds back"


@pytest.mark.parametrize("seed", range(5))
def test_no_cell_leaves_the_bounds_and_nothing_is_lost(row: Any, seed: int) -> None:
    chance = np.random.default_rng(seed)
    phi = chance.uniform(0.0, 1.0, 4)
    passed = np.zeros(len(row.owner))
    passed[: row.n_internal] = chance.normal(0.0, 3.0, row.n_internal) * row.volume[0]
    lost = chance.uniform(0.0, 2.0, 4) * row.volume[0]
    held = HeldInTime(row)
    for step in (0.5, 1.0):
        held.begin(step, phi, passed, lost, 0.0, 1.0)
    inner = row.n_internal
    change = np.bincount(row.neighbour, held.faces[:inner], 4) - np.bincount(row.owner, held.faces, 4)
    after = phi + 1.0 * (change - held.cells) / row.volume
    assert after.min() > -1e-12 and after.max() < 1 + 1e-12
    assert (change.sum() - held.cells.sum()) == pytest.approx(-held.cells.sum(), abs=1e-18)
    assert ((held.share >= 0) & (held.share <= 0.4)).all(), "r / (1 + 2 r) of a step twice as long is 0.4"
