"""Correlations against the `fluids` and `ht` libraries over random inputs, and against published figures."""

from __future__ import annotations

import fluids
import ht
import numpy as np
import pytest
from fluids.fittings import (
    bend_miter,
    bend_rounded,
    contraction_conical,
    contraction_sharp,
    diffuser_conical,
    entrance_rounded,
)
from hypothesis import given, settings
from hypothesis import strategies as st

from mop_lantern.laws import exchange, fittings, friction, orifice, sections, valves

SOME = settings(max_examples=60, deadline=None)


@SOME
@given(log_re=st.floats(3.6, 8), log_rough=st.floats(-6, -1.3))
def test_colebrook_is_solved(log_re: float, log_rough: float) -> None:
    assert float(friction.colebrook(10**log_re, 10**log_rough)) == pytest.approx(
        fluids.friction.Colebrook(10**log_re, 10**log_rough), rel=1e-10
    )


@SOME
@given(log_re=st.floats(-2, 7), rough=st.floats(0, 0.04))
def test_the_slope_of_friction_is_its_derivative(log_re: float, rough: float) -> None:
    re = 10**log_re
    step = 1e-5 * re
    f, by = friction.darcy(np.array([re - step, re, re + step]), rough)
    assert by[1] == pytest.approx((f[2] - f[0]) / (2 * step), rel=2e-3, abs=1e-12 + 2e-3 * f[1] / re)


def test_between_laminar_and_turbulent_the_loss_rises_without_a_jump() -> None:
    """O-1.7."""
    re = np.linspace(1500, 5000, 3001)
    for rough in (0.0, 1e-3, 0.02):
        f, _ = friction.darcy(re, rough)
        loss = f * re**2
        assert (np.diff(loss) > 0).all() and np.abs(np.diff(loss) / loss[:-1]).max() < 0.01
    f, _ = friction.darcy(np.array([2000.0, 4000.0]), 0.0)
    assert f[0] == pytest.approx(64 / 2000, rel=5e-3) and f[1] == pytest.approx(
        fluids.friction.Colebrook(4000, 0), rel=0.03
    )


@SOME
@given(q=st.floats(-0.05, 0.05), diameter=st.floats(0.01, 0.5))
def test_drops_are_odd_and_their_slopes_positive(q: float, diameter: float) -> None:
    area = np.pi / 4 * diameter**2
    args = (12.0, area, diameter, 4.5e-5, 998.0, 1e-3)
    here, slope = friction.straight_drop(np.array([q]), *args)
    back, _ = friction.straight_drop(np.array([-q]), *args)
    assert here == pytest.approx(-back) and slope[0] > 0
    local, by = friction.local_drop(np.array([q]), 0.7, area, 998.0, 1e-3, diameter)
    assert local[0] * q >= 0 and by[0] > 0
    step = max(1e-6 * abs(q), 1e-9)
    ends = friction.straight_drop(np.array([q - step, q + step]), *args)[0]
    assert slope[0] == pytest.approx((ends[1] - ends[0]) / (2 * step), rel=5e-3)


@SOME
@given(beta=st.floats(0.2, 0.95), angle=st.floats(0.1, 2.6))
def test_fittings_agree_with_the_library(beta: float, angle: float) -> None:
    assert float(fittings.sudden_contraction(beta)) == pytest.approx(
        contraction_sharp(1.0, beta, method="Rennels"), rel=1e-6
    )
    assert float(fittings.cone_widening(beta, angle)) == pytest.approx(
        diffuser_conical(beta, 1.0, angle=np.degrees(angle), method="Crane"), rel=1e-6
    )
    assert float(fittings.cone_narrowing(beta, angle)) == pytest.approx(
        contraction_conical(1.0, beta, angle=np.degrees(angle), method="Crane"), rel=1e-6
    )
    assert float(fittings.mitre(angle)) == pytest.approx(
        bend_miter(np.degrees(angle), method="Rennels"), rel=1e-3
    )


@SOME
@given(r=st.floats(0.0, 1.0), bend=st.floats(1.0, 6.0), angle=st.floats(0.3, 3.1), f=st.floats(0.008, 0.04))
def test_entries_and_bends_agree_with_the_library(r: float, bend: float, angle: float, f: float) -> None:
    assert float(fittings.rounded_entry(r)) == pytest.approx(
        entrance_rounded(1.0, r, method="Crane"), rel=0.02, abs=0.012
    )
    theirs = bend_rounded(1.0, np.degrees(angle), f, rc=bend, method="Rennels")
    assert float(fittings.smooth_bend(angle, bend, f)) == pytest.approx(theirs, rel=1e-6)


def test_tees_have_the_figures_of_the_handbook() -> None:
    """O-2.8: Idelchik, equal areas."""
    assert fittings.joining_straight([0.3, 0.5]) == pytest.approx([0.375, 0.525])
    assert fittings.dividing_straight([0.0, 1.0]) == pytest.approx([0.0, 0.4])
    assert float(fittings.joining_side(0.0, 1.0)) < 0 < float(fittings.joining_side(1.0, 1.0)), (
        "a strong straight flow sucks"
    )
    assert float(fittings.dividing_side(1.0, 1.0)) == pytest.approx(1.8)


def test_orifice_plates() -> None:
    """O-2.5, ISO 5167-2:2003."""
    water = 998.2071, 1.0016e-3
    for beta, bore, taps, drop, c, flow, k in (
        (0.6, 0.1, "corner", 25e3, 0.608757, 13.0338, 11.377),
        (0.5, 0.2, "flange", 10e3, 0.605539, 21.9467, 29.961),
    ):
        mass, found = orifice.mass_flow(beta, bore, drop, *water, taps=taps)
        assert float(found) == pytest.approx(c, rel=5e-4) and float(mass) == pytest.approx(flow, rel=1e-3)
        assert float(orifice.loss_coefficient(beta, found)) == pytest.approx(k, rel=0.01)
    assert float(orifice.expansibility(0.5, 96325 / 101325, 1.4)) == pytest.approx(0.98684, abs=1e-5)


@SOME
@given(
    beta=st.floats(0.2, 0.75),
    log_re=st.floats(4, 7),
    bore=st.floats(0.05, 0.5),
    taps=st.sampled_from(["corner", "flange", "D"]),
)
def test_discharge_agrees_with_the_library(beta: float, log_re: float, bore: float, taps: str) -> None:
    rho, mu = 1000.0, 1e-3
    mass = 10**log_re * np.pi * bore * mu / 4
    theirs = fluids.C_Reader_Harris_Gallagher(D=bore, Do=beta * bore, rho=rho, mu=mu, m=mass, taps=taps)
    assert float(orifice.discharge(beta, 10**log_re, bore, taps)) == pytest.approx(theirs, rel=1e-9)


def test_valves_have_their_definition() -> None:
    """O-2.6."""
    assert float(valves.resistance(25.0, 998.2071) * (18 / 3600) ** 2) == pytest.approx(51746.7, rel=3e-3)
    lift = np.array([0.25, 0.5, 0.75, 1.0])
    assert valves.opened("equal", lift, 50.0) == pytest.approx([0.0532, 0.1414, 0.3761, 1.0], rel=1e-3)
    assert valves.opened("linear", lift, 50.0) == pytest.approx(lift)
    for kind in ("linear", "equal", "quick"):
        assert float(valves.opened(kind, 0.0, 50.0)) == 0.0
        assert (np.diff(valves.opened(kind, np.linspace(0, 1, 101), 50.0)) > 0).all()
    phi, authority = valves.opened("equal", lift[:3], 50.0), 0.5
    assert 1 / np.sqrt(1 - authority + authority / phi**2) == pytest.approx(
        [0.0751, 0.1980, 0.4978], rel=2e-3
    )


@pytest.mark.parametrize(
    ("units", "ratio", "figures"),
    [
        (1, 0.5, (0.56473, 0.51791, 0.5475, 0.53994)),
        (2, 0.75, (0.72183, 0.55417, 0.6711, 0.62043)),
        (3, 1, (0.75, 0.49876, 0.6813, 0.57880)),
    ],
)
def test_effectiveness_has_the_figures_of_the_table(
    units: float, ratio: float, figures: tuple[float, ...]
) -> None:
    """O-3.10."""
    for arrangement, figure, tolerance in zip(
        exchange.ARRANGEMENTS, figures, (1e-3, 1e-3, 1e-2, 1e-3), strict=True
    ):
        assert float(exchange.effectiveness(arrangement, units, ratio)) == pytest.approx(
            figure, rel=tolerance
        )


@SOME
@given(units=st.floats(0.01, 8), ratio=st.floats(0.01, 0.999))
def test_effectiveness_agrees_with_the_library(units: float, ratio: float) -> None:
    names = {"counter": "counterflow", "parallel": "parallel", "shell": "S&T", "cross": "crossflow"}
    for ours, theirs in names.items():
        got = float(exchange.effectiveness(ours, units, ratio))
        assert got == pytest.approx(
            ht.effectiveness_from_NTU(
                units, ratio, subtype=theirs, n_shell_tube=1 if ours == "shell" else None
            ),
            rel=1e-6,
        )


def test_sections() -> None:
    """O-1.9, O-2.10; sizes as the `fluids` library has them."""
    assert sections.rectangle_product([1.0, 0.5, 0.25, 0.1, 0.0]) / 4 == pytest.approx(
        [14.227, 15.548, 18.233, 21.169, 24.0], rel=1e-3
    )
    assert sections.round_equivalent([0.4, 0.5, 0.25], [0.2, 0.3, 0.15]) * 1e3 == pytest.approx(
        [304.7, 420.0, 210.0], abs=0.5
    )
    for nominal in sections.OUTSIDE:
        _, inside, outside, wall = fluids.nearest_pipe(
            Do=sections.OUTSIDE[nominal] * 1e-3 - 4e-4, schedule="40"
        )
        assert sections.bore(nominal) == pytest.approx(inside, abs=1.5e-4), nominal
        assert sections.OUTSIDE[nominal] == pytest.approx(outside * 1e3, abs=1.0) and wall > 0
