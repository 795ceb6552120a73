"""Grid errors against the worked examples of the procedure they follow, and on grids that do not behave."""

from __future__ import annotations

import numpy as np
import pytest

from mop_lantern.numerics.richardson import ASSUMED_ORDER, grid_error

# Celik et al., J. Fluids Eng. 130 (2008) 078001, table 1 (values from memory): cells of three plane grids,
# the number on each, observed order, extrapolated value, change, extrapolated error and index in per cent
EXAMPLES = {
    "reattachment": ((18000, 8000, 4500), (6.063, 5.972, 5.863), 1.53, 6.1685, 1.5, 1.7, 2.2),
    "axial velocity": ((18000, 4500, 980), (10.7880, 10.7250, 10.6050), 0.75, 10.8801, 0.6, 0.9, 1.1),
    "going to and fro": ((18000, 4500, 980), (6.0042, 5.9624, 6.0909), 1.51, 6.0269, 0.7, 0.4, 0.5),
}


@pytest.mark.parametrize("name", EXAMPLES)
def test_the_worked_examples_come_out(name: str) -> None:
    cells, values, order, extrapolated, change, off, index = EXAMPLES[name]
    found = grid_error(values, [1 / np.sqrt(count) for count in cells])
    assert found.order == pytest.approx(order, abs=0.02)
    assert found.extrapolated == pytest.approx(extrapolated, abs=1.5e-3)
    assert 100 * found.change == pytest.approx(change, abs=0.05)
    assert 100 * found.extrapolated_error == pytest.approx(off, abs=0.06)
    assert 100 * found.index == pytest.approx(index, abs=0.06)
    assert found.oscillating == (name == "going to and fro")
    assert found.grids == 3


@pytest.mark.parametrize("order", [0.7, 1.0, 1.5, 2.0, 3.0])
@pytest.mark.parametrize("sizes", [(1.0, 2.0, 4.0), (1.0, 1.5, 2.0), (0.3, 0.5, 1.1)])
def test_a_power_law_is_found_again(order: float, sizes: tuple[float, ...]) -> None:
    found = grid_error([7.0 - 0.2 * size**order for size in sizes], sizes)
    assert found.order == pytest.approx(order, abs=1e-6)
    assert found.extrapolated == pytest.approx(7.0, abs=1e-8)


def test_two_grids_assume_an_order_and_say_so() -> None:
    found = grid_error([1.0, 1.04], [1.0, 2.0])
    assert found.grids == 2 and found.order == ASSUMED_ORDER
    assert found.extrapolated == pytest.approx(1 - 0.04 / 3)
    assert found.index == pytest.approx(3 * 0.04 / 3)
    assert found.band == pytest.approx(found.index)


def test_the_band_is_wider_than_the_index_where_grids_do_not_behave() -> None:
    fro = grid_error([1.0, 1.02, 0.99], [1.0, 2.0, 4.0])
    assert fro.oscillating and fro.band > fro.index
    still = grid_error([1.0, 1.0, 1.1], [1.0, 2.0, 4.0])
    assert still.index == 0.0 and still.band > 0.01, "two grids that agree by chance are not believed"
    same = grid_error([3.0, 3.0, 3.0], [1.0, 2.0, 4.0])
    assert same.band == 0.0 and same.extrapolated == 3.0


def test_the_band_of_an_orderly_number_is_its_index() -> None:
    values = [2.0 + 0.01 * size**2 for size in (1.0, 2.0, 4.0)]
    found = grid_error(values, [1.0, 2.0, 4.0])
    assert found.band == pytest.approx(found.index, rel=1e-6)
    assert abs(found.extrapolated - values[0]) <= found.band * values[0]


def test_numbers_about_nothing_stay_finite() -> None:
    for values in ([0.0, 0.1, 0.2], [0.0, 0.0, 0.0], [1e-300, 2e-300, 4e-300]):
        found = grid_error(values, [1.0, 2.0, 4.0])
        assert not np.isnan([found.extrapolated, found.order, found.band]).any()


@pytest.mark.parametrize(
    ("values", "sizes"),
    [
        ([1.0], [1.0]),
        ([1.0, 2.0], [2.0, 1.0]),
        ([1.0, 2.0], [1.0, 1.0]),
        ([1.0, 2.0], [0.0, 1.0]),
        ([1.0, 2.0, 3.0], [1.0, 2.0]),
    ],
)
def test_grids_that_do_not_grow_are_refused(values: list[float], sizes: list[float]) -> None:
    with pytest.raises(ValueError, match="grow"):
        grid_error(values, sizes)


def test_a_number_without_a_zero_is_measured_against_what_is_given() -> None:
    """Temperatures of 300 K in a room whose air differs by 5 K: shares of those, not of 300."""
    told = grid_error([300.0, 300.4, 302.0], [1.0, 2.0, 4.0], 5.0)
    same = grid_error([5.0, 5.4, 7.0], [1.0, 2.0, 4.0])
    assert told.band == pytest.approx(same.band) and told.change == pytest.approx(0.08)
    assert told.extrapolated == pytest.approx(same.extrapolated + 295.0) and told.scale == 5.0
