"""Brings every model of the corpus in and tells what came of it: ``python -m bench.corpus.run [NAMES]``."""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

from bench.corpus.specimen import SPECIMENS, outcome_of

LONGEST = 60.0  # s a model may take
SHARE = 0.95  # of models that must come out as expected


def load() -> None:
    """Make the list whole."""
    from bench.corpus import clean, exact, spoilt  # noqa: F401


def run(names: list[str]) -> int:
    """Print a row a model; 1 where too many come out otherwise than expected, or take too long."""
    load()
    chosen = [one for one in SPECIMENS if not names or one.file in names]
    good = 0
    slow = []
    began = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        for one in chosen:
            found = outcome_of(one, Path(folder))
            good += found.good
            if found.seconds > LONGEST:
                slow.append(one.file)
            mark = "as expected" if found.good else "OTHERWISE"
            print(
                f"{one.file:26} {one.how:14.14} {found.seconds:6.1f} s  {mark:12} {found.words[:150]}",
                flush=True,
            )
    took = time.monotonic() - began
    print(f"{good} of {len(chosen)} as expected in {took:.0f} s; over {LONGEST:.0f} s: {slow or 'none'}")
    return int(good < SHARE * len(chosen) or bool(slow))


if __name__ == "__main__":
    raise SystemExit(run(sys.argv[1:]))
