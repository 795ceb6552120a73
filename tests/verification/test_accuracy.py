"""Every check value of the accuracy bench, within its tolerance; sources stand beside the checks in
`bench.cases`.
"""

from __future__ import annotations

import pytest

from bench.accuracy import waits_for
from bench.cases import CASES
from bench.room_cases import SLOW as ROOMS
from bench.time_cases import SLOW
from bench.turbulent_cases import SLOW as TURBULENT
from bench.turbulent_losses import SLOW as LOSSES

LONG = {"O-5.4-Re1000", "O-5.6-faster", "O-5.7", "O-6.1-steep", "radiation-spheres", "sampling"}
"""Checks whose small versions are among the tests of their parts."""


@pytest.mark.parametrize("case", sorted(set(CASES) - SLOW - TURBULENT - LOSSES - ROOMS - LONG))
def test_check_values(case: str) -> None:
    missed = [check.as_dict() for check in CASES[case]() if not check.passed]
    assert not missed


def test_long_checks_are_checks() -> None:
    assert set(CASES) >= LONG


@pytest.mark.parametrize(
    ("name", "waits"),
    [
        ("O-7.4", False),
        ("O-9.1", True),
        ("O-10.1", True),
        ("O-1.1", False),
        ("O-8.1", False),
        ("O-6.60", False),
        ("O-99", False),
    ],
)
def test_ids_that_wait_for_the_program_are_told_from_wrong_ones(name: str, waits: bool) -> None:
    assert bool(waits_for(name)) is waits
