"""The list of long tests: chosen by their seconds, and each of them a test that is there."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from bench import long_tests

TOLD = """
============================= slowest durations ==============================
30.00s call     tests/a/test_b.py::test_long[x y]
2.00s setup    tests/a/test_b.py::test_short
1.50s call     tests/a/test_b.py::test_short
0.50s teardown tests/a/test_b.py::test_long[x y]
4.00s call     tests/a/test_b.py::test_middle
"""
ROOT = Path(__file__).parents[2]


def test_the_longest_are_left_until_the_rest_is_short_enough() -> None:
    taken = long_tests.seconds_of(TOLD.splitlines())
    assert taken["tests/a/test_b.py::test_long[x y]"] == 30.5 and len(taken) == 3
    assert long_tests.chosen(taken, 100.0) == []
    assert long_tests.chosen(taken, 8.0) == ["tests/a/test_b.py::test_long[x y]"]
    kept = ["tests/a/test_b.py::test_long[x y]"]
    assert long_tests.chosen(taken, 34.0, kept) == ["tests/a/test_b.py::test_middle"]


def test_the_list_is_written_and_nonsense_writes_none(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(long_tests, "LIST", tmp_path / "long.txt")
    for words, lines in ((["8"], []), ([], TOLD.splitlines()), (["many"], TOLD.splitlines())):
        assert long_tests.main(words, lines) == 2 and not long_tests.LIST.exists()
    assert long_tests.main(["8"], TOLD.splitlines()) == 0
    assert long_tests.LIST.read_text() == "tests/a/test_b.py::test_long[x y]\n"


def test_every_long_test_is_there() -> None:
    """A test renamed would run every time again, and nobody would see why."""
    for line in long_tests.LIST.read_text("utf-8").splitlines():
        file, name = line.split("::", 1)
        wanted = re.escape(name.partition("[")[0])
        assert re.search(rf"^(async )?def {wanted}\(", (ROOT / file).read_text("utf-8"), re.MULTILINE), line
