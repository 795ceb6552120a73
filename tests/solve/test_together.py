"""What is seldom stated together ends in an answer or in words: a few of the cases of ``bench.together``."""

from __future__ import annotations

import pytest

from bench.together import Composer, try_together


@pytest.mark.parametrize("seed", [0, 1, 2, 3, 5, 7, 9])  # the quick ones
def test_what_is_seldom_stated_together_is_solved_or_told(seed: int) -> None:
    assert try_together(seed)


def test_most_of_them_are_solved_and_all_differ() -> None:
    cases = [str(Composer(seed).case()) for seed in range(200)]
    assert len(set(cases)) == 200
    for what in ("radiation", "comfort", "kept", "part_heat", "load", "tempering", "axis", "space"):
        assert sum(f"'{what}'" in case for case in cases) >= 3, what
