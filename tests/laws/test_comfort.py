"""Comfort against the table of ISO 7730 (reference O-8.7) and the draught formula (O-8.8)."""

from __future__ import annotations

import numpy as np
import pytest

from mop_lantern.laws.comfort import CLO, MET, dissatisfied, draught, mean_vote, operative

TABLE = [  # air and radiant C, speed m/s, humidity, met, clo, vote, dissatisfied %
    (22, 22, 0.1, 0.6, 1.2, 0.5, -0.75, 17),
    (27, 27, 0.3, 0.6, 1.2, 0.5, 0.44, 9),
    (23.5, 25.5, 0.1, 0.6, 1.2, 0.5, -0.01, 5),
    (19, 19, 0.1, 0.4, 1.2, 1.0, -0.60, 13),
    (23.5, 23.5, 0.3, 0.4, 1.2, 1.0, 0.12, 5),
    (22, 22, 0.1, 0.6, 1.6, 0.5, 0.05, 5),
    (27, 27, 0.1, 0.6, 1.6, 0.5, 1.17, 34),
]


@pytest.mark.parametrize("row", TABLE)
def test_the_table_of_iso_7730(row: tuple[float, ...]) -> None:
    air, radiant, speed, humidity, met, clo, vote, share = row
    got = mean_vote(air, radiant, speed, humidity, met * MET, clo * CLO)
    assert got == pytest.approx(vote, abs=0.03)
    assert 100 * dissatisfied(got) == pytest.approx(share, abs=1)


def test_fields_are_taken_at_once() -> None:
    rows = np.array(TABLE)[:3]
    got = mean_vote(rows[:, 0], rows[:, 1], rows[:, 2], 0.6, 1.2 * MET, 0.5 * CLO)
    assert got == pytest.approx(rows[:, 6], abs=0.03)


def test_dissatisfied_of_a_vote() -> None:
    assert 100 * dissatisfied(np.array([0, 0.5, 1])) == pytest.approx([5, 10.23, 26.12], abs=0.01)


@pytest.mark.parametrize(
    ("air", "speed", "percent", "rating"),
    [(22, 0.20, 40, 22.58), (24, 0.15, 40, 12.86), (20, 0.10, 20, 8.48), (20, 0.04, 40, 0.0)],
)
def test_draught_rating(air: float, speed: float, percent: float, rating: float) -> None:
    assert 100 * draught(air, speed, percent / 100) == pytest.approx(rating, abs=0.01)


def test_operative_temperature_leans_to_the_air_as_it_moves() -> None:
    assert operative(20.0, np.array([24.0]), np.array([0.1])) == pytest.approx([22.0])
    assert operative(20.0, np.array([24.0]), np.array([0.8])) == pytest.approx([21.2])
