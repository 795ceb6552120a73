"""Every check value of the accuracy bench, within its tolerance; sources stand beside the checks in `bench.cases`."""

from __future__ import annotations

import pytest

from bench.cases import CASES

pytestmark = pytest.mark.slow


@pytest.mark.parametrize("case", sorted(CASES))
def test_check_values(case: str) -> None:
    missed = [check.as_dict() for check in CASES[case]() if not check.passed]
    assert not missed
