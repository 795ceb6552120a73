"""Small versions of the checks of what turbulent flow loses: on coarser cells than those of the bench."""

from __future__ import annotations

import pytest

from bench.turbulent_losses import bent, duct_fall, held_up, jet_figures, narrowed, spread, sucked, widened


def test_a_sudden_widening_loses_what_borda_says() -> None:
    """Borda and Carnot, exact for even profiles; the tolerance of reference O-2.1."""
    assert widened("2.5 mm") == pytest.approx(517.83, rel=0.1)


def test_a_sudden_narrowing_loses_what_handbooks_say() -> None:
    """Reference O-2.2: accepted 0.22 to 0.36; a little less on coarse cells."""
    assert 0.20 < narrowed("2.5 mm") < 0.36


def test_a_diffuser_loses_what_handbooks_say() -> None:
    """Crane and Idelchik (reference O-2.7), 30 % between methods."""
    assert spread() == pytest.approx(0.13, rel=0.3)


def test_an_orifice_plate_holds_up_what_the_standard_says() -> None:
    """ISO 5167-2 (reference O-2.5): on coarse cells a little less."""
    assert held_up("2.5 mm") == pytest.approx(11.377, rel=0.15)


def test_a_sharper_bend_loses_more_and_finer_cells_find_more_of_it() -> None:
    """The trend of reference O-2.3: on these few cells across less than a third of what
    handbooks say is found."""
    gentle, sharp = (bent(ratio, "12 mm") for ratio in (1.5, 1.0))
    assert 0.05 < gentle < 0.95 * sharp < 0.31
    assert bent(1.0, "10 mm") > 1.03 * sharp


def test_a_rectangular_duct_falls_as_colebrook_says() -> None:
    """Reference O-1.12; 3 % there, six cells across the duct find up to 6 % less."""
    assert duct_fall("50 mm", 6.0) == pytest.approx(14.899 / 20, rel=0.08)


def test_a_free_jet_decays_and_spreads_as_measured() -> None:
    """Hussein, Capp and George (reference O-7.4), its tolerances: 10 % of the decay, 15 % of the spread."""
    decay, width = jet_figures(cell=0.8)
    assert decay == pytest.approx(5.8, rel=0.1)
    assert width == pytest.approx(0.094, rel=0.15)


def test_a_pipe_that_draws_from_a_vessel_loses_what_handbooks_say_the_more_the_finer() -> None:
    """The square edge, 0.5 (reference O-2.3, 20 %): the narrowed jet behind it wants fine cells."""
    coarse, fine = (sucked(cell) for cell in ("4 mm", "2 mm"))
    assert 0.2 < coarse < fine < 0.55
