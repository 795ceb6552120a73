"""Choose the tests that ``./lantern test`` leaves to ``./lantern test --all``.

``python -m bench.checks --all --durations 0 | python -m bench.long_tests 900`` writes `LIST`: the longest,
so many that those left take 900 s together, on one core of the machine they were timed on.
"""

from __future__ import annotations

import re
import sys
from collections import defaultdict
from collections.abc import Iterable, Sequence
from pathlib import Path

LIST = Path(__file__).parents[1] / "tests" / "long.txt"
KEPT = (
    "tests/desk/test_walkthroughs_rooms.py::test_fan",
    "tests/test_architecture.py",
    "tests/test_words.py",
    "tests/worker/test_protocol.py",
)
"""How those begin that run every time: a whole task of a person, and what guards everything else."""
_LINE = re.compile(r"^ *([0-9.]+)s (?:call|setup|teardown) +(\S.*)$")


def seconds_of(lines: Iterable[str]) -> dict[str, float]:
    """Read what pytest tells of durations: seconds by test."""
    taken: defaultdict[str, float] = defaultdict(float)
    for line in lines:
        if found := _LINE.match(line.rstrip("\n")):
            taken[found[2]] += float(found[1])
    return dict(taken)


def chosen(taken: dict[str, float], left: float, kept: Sequence[str] = KEPT) -> list[str]:
    """Give the longest tests, so many that the others take no more than ``left`` seconds."""
    rest = sum(taken.values())
    long = []
    for name in sorted(taken, key=lambda name: -taken[name]):
        if rest <= left:
            break
        if name.startswith(tuple(kept)):
            continue
        rest -= taken[name]
        long.append(name)
    return sorted(long)


def main(words: Sequence[str], lines: Iterable[str]) -> int:
    """Write the list."""
    try:
        left = float(words[0])
    except (IndexError, ValueError):
        print("how many seconds the tests left may take, for instance 900", file=sys.stderr)
        return 2
    taken = seconds_of(lines)
    if not taken:
        print("no durations: run the tests with --durations 0", file=sys.stderr)
        return 2
    long = chosen(taken, left)
    LIST.write_text("".join(f"{name}\n" for name in long), "utf-8")
    print(f"{len(long)} of {len(taken)} tests are left to --all")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:], sys.stdin))
