"""Doors, memory, interpolation, blocks of work, mixing: what each promises at its edges."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
import pytest
from scipy.sparse import csr_matrix, diags

from mop_lantern.errors import FileError, RunError
from mop_lantern.numerics import memory
from mop_lantern.numerics.anderson import PATIENCE, Anderson
from mop_lantern.numerics.backward import weights
from mop_lantern.numerics.doors import plain_file, read_text
from mop_lantern.numerics.interpolate import carry
from mop_lantern.numerics.multigrid import Multigrid
from mop_lantern.numerics.pressure import PressureSolver, conjugate_gradients
from mop_lantern.numerics.spread import MOST, bounds_of, rim_of, threads

# --- doors ---


def test_only_plain_files_of_a_size_come_through(tmp_path: Path) -> None:
    good = tmp_path / "good.txt"
    good.write_text("lantern", "utf-8")
    assert plain_file(good, 7) == good
    assert read_text(good, 7) == "lantern"
    os.mkfifo(tmp_path / "pipe")
    wrong = {
        tmp_path / "none.txt": "there is no such file",
        tmp_path: "this is a folder",
        tmp_path / "pipe": "a pipe or a device",
        Path("/dev/null"): "a pipe or a device",
        good / "inner": "cannot be read",
        tmp_path / ("x" * 300): "cannot be read",
        Path("a\0b"): "not a file name",
    }
    for path, words in wrong.items():
        with pytest.raises(FileError, match=words):
            plain_file(path, 100)
    with pytest.raises(FileError, match="at most"):
        plain_file(good, 6)


def test_text_that_is_none_is_told(tmp_path: Path) -> None:
    path = tmp_path / "latin.txt"
    path.write_bytes("Größe".encode("latin-1"))
    with pytest.raises(FileError, match="UTF-8"):
        read_text(path, 100)
    assert read_text(path, 100, "latin-1") == "Größe"
    assert read_text(path, 100, errors="replace").startswith("Gr")


# --- memory ---


def test_a_grid_needs_room_before_it_is_made(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(memory, "free_memory", lambda: 1e9)
    memory.room_for_cells(0.89e9 / memory.A_CELL)
    with pytest.raises(RunError) as told:
        memory.room_for_cells(1e6, "Make it coarser.")
    assert "1.5 GB" in str(told.value) and "1 GB" in str(told.value)
    assert told.value.where == "field.grid" and "coarser" in told.value.remedy


def test_free_memory_is_what_the_tighter_of_machine_and_group_leaves(monkeypatch: pytest.MonkeyPatch) -> None:
    files = {
        "/proc/meminfo": "MemTotal: 9 kB\nMemAvailable:     4000 kB\n",
        "/sys/fs/cgroup/memory.max": "3000000",
        "/sys/fs/cgroup/memory.current": "1000000",
    }

    def read(path: Path, encoding: str = "") -> str:
        if str(path) not in files:
            raise FileNotFoundError(path)
        return files[str(path)]

    monkeypatch.setattr(memory.Path, "read_text", read)
    assert memory.free_memory() == 2e6
    files["/sys/fs/cgroup/memory.max"] = "max"
    assert memory.free_memory() == 4000 * 1024
    files["/sys/fs/cgroup/memory.max"] = "500000"
    assert memory.free_memory() == 0.0, "more taken than may be"
    del files["/sys/fs/cgroup/memory.max"]
    assert memory.free_memory() == 4000 * 1024
    del files["/proc/meminfo"]
    assert memory.free_memory() == memory.UNKNOWN
    files["/proc/meminfo"] = "MemAvailable: lots\n"
    assert memory.free_memory() == memory.UNKNOWN


def test_trimming_works_where_the_library_cannot(monkeypatch: pytest.MonkeyPatch) -> None:
    memory.trim_heap()
    monkeypatch.setattr(memory, "_library", lambda: None)
    memory.trim_heap()


# --- time ---


@pytest.mark.parametrize("former", [None, 0.1, 0.4])
def test_time_derivatives_are_exact_for_the_powers_they_promise(former: float | None) -> None:
    step = 0.2
    now, old = weights(step, former)
    times = [-step, -step - (former or 0.0)][: len(old)]
    for power in range(1 if former is None else 2):
        left = now * 0.0**power - sum(w * t**power for w, t in zip(old, times, strict=True))
        assert left == pytest.approx(1.0 if power == 1 else 0.0, abs=1e-12)
    left = now * 0.0 - sum(w * t for w, t in zip(old, times, strict=True))
    assert left == pytest.approx(1.0), "the slope of t"
    if former is not None:
        assert -sum(w * t**2 for w, t in zip(old, times, strict=True)) == pytest.approx(0.0, abs=1e-12)


# --- interpolation ---


def test_slopes_make_what_is_carried_exact_where_it_is_linear() -> None:
    rng = np.random.default_rng(5)
    centres, places = rng.random((50, 3)), rng.random((20, 3))
    slope = np.array([[1.0, -2.0, 3.0], [0.5, 0.0, 4.0]])
    values = centres @ slope.T
    gradients = np.broadcast_to(slope, (50, 2, 3))
    assert carry(centres, values, places, gradients=gradients) == pytest.approx(places @ slope.T, abs=1e-12)
    assert np.abs(carry(centres, values, places) - places @ slope.T).max() > 0.01


def test_one_centre_gives_its_value_everywhere() -> None:
    assert carry(np.zeros((1, 3)), np.array([4.0]), np.ones((3, 3))) == pytest.approx([4.0, 4.0, 4.0])


# --- blocks ---


def test_threads_are_those_wanted_within_reason(monkeypatch: pytest.MonkeyPatch) -> None:
    for wanted, got in (("3", 3), ("0", 1), ("99", MOST), ("many", None), ("-2", None), ("", None)):
        monkeypatch.setenv("MOP_LANTERN_THREADS", wanted)
        own = min(MOST, len(os.sched_getaffinity(0)))
        assert threads() == (own if got is None else got), wanted


def test_the_rim_of_blocks_is_what_others_see(monkeypatch: pytest.MonkeyPatch) -> None:
    line = csr_matrix(diags([np.ones(9), np.ones(10), np.ones(9)], [-1, 0, 1]))
    assert rim_of(line.indptr, line.indices, np.array([0, 4, 10])).tolist() == [3, 4]
    assert rim_of(line.indptr, line.indices, np.array([0, 3, 6, 10])).tolist() == [2, 3, 5, 6]
    assert not len(rim_of(line.indptr, line.indices, np.array([0, 10])))
    monkeypatch.setenv("MOP_LANTERN_THREADS", "4")
    assert bounds_of(50_000).tolist() == [0, 25_000, 50_000], "no block under what is worth handing out"


# --- solvers ---


def test_a_matrix_that_is_not_positive_is_given_up_at_once() -> None:
    x, used = conjugate_gradients(csr_matrix(-np.eye(4)), np.ones(4), lambda r: r, 1e-8, 50)
    assert used == 50 and not x.any()


def test_the_factor_of_a_former_matrix_serves_until_it_is_stale() -> None:
    rng = np.random.default_rng(6)
    base = diags([-np.ones(39), 2.2 * np.ones(40), -np.ones(39)], [-1, 0, 1]).tocsr()
    solver = PressureSolver(base, direct=True)
    b = rng.standard_normal(40)
    assert solver.solve(b, 1e-10)[1] == 1
    kept = solver._factor
    base.data *= 1.001
    solver.solve(b, 1e-6)
    assert solver._factor is kept, "next to the same"
    base.data[:] = diags([-np.ones(39), np.linspace(2.5, 900, 40), -np.ones(39)], [-1, 0, 1]).tocsr().data
    x, _ = solver.solve(b, 1e-10)
    assert solver._factor is not kept
    assert base @ x == pytest.approx(b, abs=1e-8)


def test_multigrid_takes_parts_that_do_not_touch_and_single_cells() -> None:
    one = diags([-np.ones(19), 2.1 * np.ones(20), -np.ones(19)], [-1, 0, 1]).toarray()
    both = np.zeros((41, 41))
    both[:20, :20], both[20:40, 20:40], both[40, 40] = one, 100 * one, 5.0
    matrix = csr_matrix(both)
    b = np.arange(41.0) + 1
    x, used = conjugate_gradients(matrix, b, Multigrid(matrix).cycle, 1e-10, 60)
    assert used < 60 and matrix @ x == pytest.approx(b, rel=1e-6)
    lone = csr_matrix(np.array([[4.0]]))
    assert Multigrid(lone).cycle(np.array([8.0])) == pytest.approx([2.0])


# --- mixing ---


def test_mixing_starts_anew_after_a_jump_and_leaves_nonsense_alone() -> None:
    mixing = Anderson(after=1, every=1)
    x = np.ones(6)
    for _ in range(6):
        after = 0.9 * x
        mixing.mix([x], [after], [1.0])
        x = after
    assert mixing._held > 2
    far = x + 100.0
    mixing.mix([x], [far], [1.0])
    assert mixing.restarts == 1 and mixing._held <= 1
    broken = np.full(6, np.nan)
    assert not mixing.mix([x], [broken], [1.0])
    assert np.isnan(broken).all(), "told to the caller as it is"


def test_mixing_of_what_stands_still_does_nothing() -> None:
    mixing = Anderson(after=1, every=1)
    x = np.arange(5.0)
    for _ in range(5):
        after = x.copy()
        assert not mixing.mix([x], [after], [1.0])
        assert np.array_equal(after, x)


def test_mixing_rests_when_it_leads_astray() -> None:
    """Steps that keep their size are not sped up: after some calls the history is let go."""
    mixing = Anderson(after=2, every=2)
    rng = np.random.default_rng(7)
    x = np.zeros(20)
    mixed = []
    for _ in range(3 * PATIENCE):
        after = x + rng.standard_normal(20)
        mixed.append(mixing.mix([x], [after], [1.0]))
        x = after
    assert any(mixed[:PATIENCE]) and not any(mixed[2 * PATIENCE :])


def test_other_arrays_are_mixed_in_step_with_those_that_measure() -> None:
    """What is not measured follows: twice the first array stays twice the first array."""
    mixing = Anderson(after=4)
    rates = np.linspace(0.5, 0.97, 12)
    x = np.ones(12)
    for _ in range(30):
        after = rates * x
        beside = 2 * after
        mixing.mix([x], [after, beside], [1.0])
        assert beside == pytest.approx(2 * after, rel=1e-4, abs=1e-7)
        x = after
