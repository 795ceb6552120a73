"""Every check value of the accuracy bench, within its tolerance; sources stand beside the checks in `bench.cases`."""

from __future__ import annotations

import pytest

from bench.cases import CASES
from bench.time_cases import SLOW

pytestmark = pytest.mark.slow


@pytest.mark.parametrize("case", sorted(set(CASES) - SLOW))
def test_check_values(case: str) -> None:
    missed = [check.as_dict() for check in CASES[case]() if not check.passed]
    assert not missed
