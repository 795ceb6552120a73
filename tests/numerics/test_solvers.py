"""Multigrid, conjugate gradients, acceleration, interpolation."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.sparse import csr_matrix, diags, kron
from scipy.sparse import eye as identity

from mop_lantern.numerics import multigrid
from mop_lantern.numerics.anderson import Anderson
from mop_lantern.numerics.interpolate import carry
from mop_lantern.numerics.multigrid import Multigrid
from mop_lantern.numerics.pressure import PressureSolver, conjugate_gradients
from mop_lantern.numerics.spread import bounds_of, rows_of, spread


def laplacian(n: int, stretch: float) -> csr_matrix:
    """Five-point matrix on an n x n grid with a stretched direction and one open side."""
    line = diags([-np.ones(n - 1), 2 * np.ones(n), -np.ones(n - 1)], [-1, 0, 1]).tolil()
    line[0, 0] = 1.0
    line = line.tocsr()
    return csr_matrix(stretch * kron(line, identity(n)) + kron(identity(n), line))


@pytest.mark.parametrize("stretch", [1.0, 10.0, 1e4])
@pytest.mark.parametrize("direct", [True, False])
def test_pressure_solver_meets_its_tolerance(stretch: float, direct: bool) -> None:
    matrix = laplacian(60, stretch)
    b = np.random.default_rng(1).standard_normal(matrix.shape[0])
    solver = PressureSolver(matrix, direct)
    x, used = solver.solve(b, 1e-8, 100)
    assert np.linalg.norm(b - matrix @ x) <= 1.01e-8 * np.linalg.norm(b)
    assert used <= (1 if direct else 30)
    matrix.data *= 1.5
    y, _ = solver.solve(b, 1e-8, 100)
    assert y == pytest.approx(x / 1.5, rel=1e-5, abs=1e-6 * np.abs(x).max())


def test_multigrid_is_symmetric_and_coarsens_by_four() -> None:
    matrix = laplacian(50, 3.0)
    grid = Multigrid(matrix)
    sizes = [level.matrix.shape[0] for level in grid.levels]
    assert all(b <= a / 3 for a, b in zip(sizes, sizes[1:], strict=False))
    rng = np.random.default_rng(2)
    a, b = rng.standard_normal((2, matrix.shape[0]))
    assert a @ grid.cycle(b) == pytest.approx(b @ grid.cycle(a), rel=1e-9)


def test_blocks_of_rows_keep_multigrid_symmetric_and_within_their_rows() -> None:
    matrix = laplacian(60, 1.0)
    bounds = np.array([0, 1300, 2500, 3600])
    grid = Multigrid(matrix, bounds)
    fine = grid.levels[0]
    for (start, end, first, last), _ in zip(fine.down, fine.rows, strict=True):
        assert set(fine.group[start:end]) == set(range(first, last))
    rng = np.random.default_rng(2)
    a, b = rng.standard_normal((2, matrix.shape[0]))
    assert a @ grid.cycle(b) == pytest.approx(b @ grid.cycle(a), rel=1e-9)
    exact = grid.levels[1].matrix.toarray()
    P = np.zeros((3600, len(exact)))
    P[np.arange(3600), fine.group] = 1
    assert P.T @ matrix @ P == pytest.approx(1.4 * exact)
    x, used = conjugate_gradients(matrix, b, grid.cycle, 1e-8, 60)
    assert used < 40 and np.linalg.norm(b - matrix @ x) <= 1.01e-8 * np.linalg.norm(b)


def test_raised_coarse_corrections_spare_cycles(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(multigrid, "_LARGE", 0)  # as in large grids: every level is visited once
    line = laplacian(30, 1.0)
    chain = diags([-np.ones(19), 2 * np.ones(20), -np.ones(19)], [-1, 0, 1])
    matrix = csr_matrix(kron(identity(20), line) + kron(chain, identity(900)))
    b = np.random.default_rng(3).standard_normal(matrix.shape[0])

    def cycles(raised: float) -> int:
        monkeypatch.setattr(multigrid, "_RAISED", raised)
        return conjugate_gradients(matrix, b, Multigrid(matrix).cycle, 1e-8, 60)[1]

    assert cycles(1.4) < 0.9 * cycles(1.0)


def test_spread_work_comes_back_in_order(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("MOP_LANTERN_THREADS", "3")
    bounds = bounds_of(200_000)
    assert rows_of(bounds) == [(0, 66666), (66666, 133333), (133333, 200000)]
    assert spread(lambda block, k: (k, block), rows_of(bounds), 7) == [
        (7, block) for block in rows_of(bounds)
    ]
    assert len(bounds_of(900)) == 2
    with pytest.raises(ZeroDivisionError):
        spread(lambda block: 1 // (block[0] - 66666), rows_of(bounds))


def test_cg_of_nothing_is_nothing() -> None:
    x, used = conjugate_gradients(laplacian(5, 1.0), np.zeros(25), lambda r: r, 1e-6, 10)
    assert used == 0 and not x.any()


def test_anderson_speeds_up_a_slow_iteration() -> None:
    rng = np.random.default_rng(3)
    rates = np.concatenate([rng.uniform(0, 0.9, 40), [0.97, 0.985, 0.99]])
    goal = rng.standard_normal(len(rates))

    def steps(mixing: Anderson | None) -> int:
        x = np.zeros(len(rates))
        for count in range(1, 3000):
            after = goal + rates * (x - goal)
            if mixing:
                mixing.mix([x], [after], [1.0])
            x = after
            if np.linalg.norm(x - goal) < 1e-6:
                return count
        return 3000

    assert steps(Anderson()) < 0.25 * steps(None)


def test_carrying_keeps_constants_and_own_places() -> None:
    rng = np.random.default_rng(4)
    centres = np.column_stack([rng.random((200, 2)), np.zeros(200)])
    values = centres @ [2.0, -1.0, 0.0] + 3
    assert carry(centres, values, centres) == pytest.approx(values, abs=1e-6)
    assert carry(centres, np.full((200, 3), 5.0), centres[:9] + 0.01) == pytest.approx(np.full((9, 3), 5.0))
    assert np.abs(carry(centres, values, centres[:50] + 0.005) - (values[:50] + 0.005)).max() < 0.2
