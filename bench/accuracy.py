"""Print every check value: case, expected, got, deviation, tolerance, source, pass."""

from __future__ import annotations

import argparse
import inspect
import json
import re
import sys
from collections.abc import Callable
from typing import Any

from bench.cases import CASES, Check

WAITING = {
    "O-9": "particles",
    "O-10": "walls that give way",
    "O-11.2": "turning wheels",
}


def waits_for(name: str) -> str:
    """Say what the program must learn before an id of the reference can be checked; empty for no such id."""
    return next((words for key, words in WAITING.items() if _is_of(name, key)), "")


def main() -> int:
    """Run the chosen cases; exit 1 when one misses its tolerance."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--case", action="append", default=[])
    parser.add_argument("--json", action="store_true")
    options = parser.parse_args()
    ids = {name: ids_of(name, function) for name, function in CASES.items()}
    unknown = [name for name in options.case if not any(name in known for known in ids.values())]
    waiting = [name for name in unknown if waits_for(name)]
    for name in waiting:
        print(f"wait  {name:20} there is no check yet: it waits for {waits_for(name)}.", file=sys.stderr)
    unknown = [name for name in unknown if name not in waiting]
    if waiting and not set(options.case) - set(waiting):
        return 0
    if unknown:
        every = sorted(set().union(*ids.values()), key=_in_order)
        print(f"there is no check of {', '.join(unknown)}. Checks: {', '.join(every)}.", file=sys.stderr)
        return 2
    checks: list[Check] = []
    if not options.json:
        print(
            f"{'':6}{'case':20} {'value':46} {'expected':>12} {'got':>12} {'deviation':>9}    "
            f"{'tolerance':8} source"
        )
    for name, function in CASES.items():
        wanted = [case for case in options.case if case in ids[name]]
        if not options.case or wanted:
            found = function()
            if wanted and name not in wanted:
                found = [check for check in found if any(_is_of(check.case, case) for case in wanted)]
            checks += found
            if not options.json:
                for check in found:
                    mark = "pass" if check.passed else "MISS"
                    off = f"{check.deviation:.2e}" if check.absolute else f"{check.deviation:.2%}"
                    limit = f"{check.tolerance:g}" if check.absolute else f"{check.tolerance:.2%}"
                    print(
                        (
                            f"{mark}  {check.case:20} {check.what:46} {check.expected:12.6g} "
                            f"{check.got:12.6g} {off:>9} of {limit:8} {check.source}"
                        ),
                        flush=True,
                    )
    if options.json:
        print(json.dumps([check.as_dict() for check in checks], indent=1))
    return 0 if all(check.passed for check in checks) else 1


_ID = re.compile(r"O-\d+\.\d+")


def ids_of(name: str, function: Callable[[], list[Check]]) -> set[str]:
    """Give what a group of checks can be asked for by: its name, and every id of the reference that its code
    names.
    """
    try:
        source = inspect.getsource(function)
    except (OSError, TypeError):
        source = ""
    if "lambda" in source:  # a line of the table of cases: it names others too
        source = name
    return {name, *_ID.findall(source), *_ID.findall(name)}


def _is_of(row: str, case: str) -> bool:
    """Tell whether a row belongs to an id: O-1.1 is not O-1.10."""
    return row == case or (row.startswith(case) and not row[len(case)].isdigit())


def _in_order(name: str) -> tuple[Any, ...]:
    return tuple(int(part) if part.isdigit() else part for part in re.split(r"(\d+)", name))


if __name__ == "__main__":
    sys.exit(main())
