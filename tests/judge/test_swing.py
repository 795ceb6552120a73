"""Readings that keep swinging: found, read in the mean of whole swings; what comes to rest is left alone."""

from __future__ import annotations

import numpy as np
import pytest

from mop_lantern.judge.swing import swing_of

PLACES = np.arange(0.0, 1000.0, 5.0)


@pytest.mark.parametrize("period", [23.0, 60.0, 170.0])
def test_a_swing_is_read_in_the_mean_of_whole_periods(period: float) -> None:
    values = 3.0 + 0.2 * np.sin(2 * np.pi * PLACES / period) + 0.05 * np.sin(6 * np.pi * PLACES / period)
    swing = swing_of(PLACES, values)
    assert swing is not None
    assert swing.mean == pytest.approx(3.0, abs=0.02)
    assert swing.half == pytest.approx(np.ptp(values) / 2, rel=0.1)
    assert swing.period == pytest.approx(period, rel=0.1)


def test_the_way_there_does_not_count() -> None:
    values = 3.0 + 5 * np.exp(-PLACES / 60) + 0.2 * np.sin(PLACES / 8)
    swing = swing_of(PLACES, values)
    assert swing is not None
    assert swing.mean == pytest.approx(3.0, abs=0.02)


@pytest.mark.parametrize(
    "values",
    [
        np.exp(-PLACES / 100),
        np.exp(-PLACES / 100) * np.sin(PLACES / 8),
        PLACES / 1000 + 0.01 * np.sin(PLACES / 8),
        np.full(len(PLACES), 2.0),
        np.exp(PLACES / 150) * np.sin(PLACES / 8),
        np.full(len(PLACES), np.nan),
        np.sin(2 * np.pi * PLACES / 900),
    ],
    ids=["settling", "dying out", "drifting", "at rest", "growing", "without values", "one swing"],
)
def test_what_is_no_lasting_swing_is_none(values: np.ndarray) -> None:
    assert swing_of(PLACES, values) is None
