"""Pressure waves against Joukowsky, Michaud and the periods of a line: O-3.13."""

from __future__ import annotations

import numpy as np
import pytest

from mop_lantern.network.waves import WaveEnd, WavePipe, Waves, wave_speed

RHO, MU, G = 998.2, 1.0016e-3, 9.80665
SPEED = wave_speed(2.18e9, RHO, 0.1, 0.005, 200e9)
AREA = np.pi / 4 * 0.1**2


def line(
    closing: float, rough: float = -1.0, length: float = 600.0, step: float = 0.002
) -> tuple[Waves, float]:
    """Make a reservoir, a line and a valve at its end that closes in some seconds; give the waves and the
    first flow.
    """
    flow, head = 1.5 * AREA, 60.0
    ends = [
        WaveEnd(head=lambda t: head),
        WaveEnd(
            opening=lambda t: max(0.0, 1 - t / closing) if closing else 0.0, coefficient=flow / np.sqrt(head)
        ),
    ]
    return Waves(
        [WavePipe(0, 1, length, 0.1, SPEED, rough)],
        ends,
        step,
        RHO,
        MU,
        np.array([head, head]),
        np.array([flow]),
    ), flow


def test_the_speed_of_waves() -> None:
    assert pytest.approx(1339.05, rel=1e-4) == SPEED


def test_instant_closure_has_joukowsky_s_rise_and_the_period_of_the_line() -> None:
    waves, _ = line(0.0)
    heads, times = [], []
    while waves.time < 4.0:
        heads.append(waves.advance()[1])
        times.append(waves.time)
    heads_, times_ = np.array(heads), np.array(times)
    assert heads_.max() - 60 == pytest.approx(204.82, rel=0.01)
    assert (heads_.max() - 60) * RHO * G == pytest.approx(20.0496e5, rel=0.01)
    high = heads_ > 60
    turns = times_[1:][high[1:] != high[:-1]]
    assert turns[0] == pytest.approx(0.89616, rel=0.01) and turns[2] - turns[0] == pytest.approx(
        1.79232, rel=0.01
    )
    assert waves.adjusted < 0.005 and waves.cavity


def test_a_slow_closure_stays_under_michaud_s_bound() -> None:
    closing = 10 * 600 / SPEED
    waves, _ = line(closing)
    heads = []
    while waves.time < 2 * closing:
        heads.append(waves.advance()[1])
    rise = (max(heads) - 60) * RHO * G
    assert 0.5 * 4.010e5 < rise < 4.010e5 * 1.01


def test_friction_damps_and_a_steady_line_stays_steady() -> None:
    still, flow = line(1e9, rough=4.5e-5)
    lost = still._friction(still.pipes[0], np.array([flow]), 1)[0]
    ends = [
        WaveEnd(head=lambda t: 60.0 + lost),
        WaveEnd(opening=lambda t: 1.0, coefficient=flow / np.sqrt(60.0)),
    ]
    waves = Waves(still.pipes, ends, 0.002, RHO, MU, np.array([60.0 + lost, 60.0]), np.array([flow]))
    for _ in range(500):
        at = waves.advance()
    assert at[1] == pytest.approx(60.0, abs=1e-6)
    damped, _ = line(0.0, rough=4.5e-5)
    heads = []
    while damped.time < 9.0:
        heads.append(damped.advance()[1])
    assert max(heads[-900:]) < 0.95 * max(heads[:900])


def test_a_pump_that_trips_sends_a_wave_of_low_pressure_and_mass_is_kept_at_a_branch() -> None:
    flow = 0.01
    pipes = [
        WavePipe(0, 1, 300, 0.1, 1200.0),
        WavePipe(1, 2, 300, 0.08, 1200.0),
        WavePipe(1, 3, 450, 0.06, 1200.0),
    ]
    ends = [
        WaveEnd(head=lambda t: 50.0 if t < 0.05 else 5.0),
        WaveEnd(),
        WaveEnd(head=lambda t: 40.0),
        WaveEnd(demand=0.4 * flow),
    ]
    waves = Waves(
        pipes,
        ends,
        0.01,
        RHO,
        MU,
        np.array([50.0, 45.0, 40.0, 45.0]),
        np.array([flow, 0.6 * flow, 0.4 * flow]),
    )
    lowest = np.inf
    for _ in range(200):
        at = waves.advance()
        lowest = min(lowest, at[1])
        assert waves.flows[0][-1] == pytest.approx(waves.flows[1][0] + waves.flows[2][0], abs=1e-12)
    assert lowest < 30
