"""Print every check value: case, expected, got, deviation, tolerance, source, pass."""

from __future__ import annotations

import argparse
import json
import sys

from bench.cases import CASES, Check


def main() -> int:
    """Run the chosen cases; exit 1 when one misses its tolerance."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--case", action="append", default=[])
    parser.add_argument("--json", action="store_true")
    options = parser.parse_args()
    unknown = [name for name in options.case if name not in CASES]
    if unknown:
        print(f"there is no case {', '.join(unknown)}. Cases: {', '.join(CASES)}.", file=sys.stderr)
        return 2
    checks: list[Check] = []
    if not options.json:
        print(f"{'':6}{'case':20} {'value':46} {'expected':>12} {'got':>12} {'deviation':>9}    {'tolerance':8} source")
    for name, function in CASES.items():
        if not options.case or name in options.case:
            found = function()
            checks += found
            if not options.json:
                for check in found:
                    mark = "pass" if check.passed else "MISS"
                    off = f"{check.deviation:.2e}" if check.absolute else f"{check.deviation:.2%}"
                    limit = f"{check.tolerance:g}" if check.absolute else f"{check.tolerance:.2%}"
                    print(f"{mark}  {check.case:20} {check.what:46} {check.expected:12.6g} {check.got:12.6g} {off:>9} of {limit:8} {check.source}", flush=True)
    if options.json:
        print(json.dumps([check.as_dict() for check in checks], indent=1))
    return 0 if all(check.passed for check in checks) else 1


if __name__ == "__main__":
    sys.exit(main())
