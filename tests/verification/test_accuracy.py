"""Every check value of the accuracy bench, within its tolerance; sources stand beside the checks in
`bench.cases`.
"""

from __future__ import annotations

import pytest

from bench.accuracy import waits_for
from bench.cases import CASES
from bench.time_cases import SLOW
from bench.turbulent_cases import SLOW as TURBULENT
from bench.turbulent_losses import SLOW as LOSSES

pytestmark = pytest.mark.slow


@pytest.mark.parametrize("case", sorted(set(CASES) - SLOW - TURBULENT - LOSSES))
def test_check_values(case: str) -> None:
    missed = [check.as_dict() for check in CASES[case]() if not check.passed]
    assert not missed


@pytest.mark.parametrize(
    ("name", "waits"),
    [
        ("O-7.4", False),
        ("O-8.6", True),
        ("O-10.1", True),
        ("O-1.1", False),
        ("O-8.1", False),
        ("O-6.60", False),
        ("O-99", False),
    ],
)
def test_ids_that_wait_for_the_program_are_told_from_wrong_ones(name: str, waits: bool) -> None:
    assert bool(waits_for(name)) is waits
