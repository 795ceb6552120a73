"""How often the trust list is wrong: over cases with known values on several grids, readings called good that
are not, and the other way round.

A reading is bad when it is off by more than 3 %. It counts as cautioned when its own guess is above the
limit, the coarse flow did not come to rest, or too few cells lie across a passage. Bands: how often the truth
lies outside the one three grids give.
"""

from __future__ import annotations

import argparse
import json
import sys
import time
from typing import Any

from bench.trust_cases import CASES, Known
from mop_lantern.case import parse_case, settle
from mop_lantern.errors import LanternError
from mop_lantern.judge.facts import GUESS_BELOW, SLACK
from mop_lantern.judge.trust import GUESS_LIMIT
from mop_lantern.solve import Solving

BAD = 0.03


def rows_of(known: Known, cells: float, bands: bool) -> list[dict[str, Any]]:
    """Solve a case on a grid and hold every reading against the truth."""
    data = known.state(cells)
    data["field"]["solver"] = {**data["field"].get("run", {}), "grids": "3" if bands else "1"}
    began = time.monotonic()
    last = [
        event
        for event in Solving(settle(parse_case(data)), None, None).events()
        if event["event"] == "finished"
    ][-1]
    trust = {item["id"]: item for item in last["trust"]}
    whole = trust.get("grid_guess", {})
    gap = trust.get("gap", {})
    general = whole.get("value") == 1.0 or (
        gap.get("verdict") == "caution" and gap["value"] < GUESS_BELOW - SLACK
    )
    rows = []
    for key, truth in known.truth.items():
        value, scale = truth if isinstance(truth, tuple) else (truth, abs(truth))
        reading = last["readings"][key]
        guess = reading.get("grid_guess")
        band = reading.get("grid_error")
        off = abs(reading["value"] - value) / scale
        row = {
            "case": known.name,
            "cells": cells,
            "reading": key,
            "off": off,
            "guess": guess,
            "general": general,
            "failed": not last["converged"],
            "cautioned": bool(general or (guess is not None and guess > GUESS_LIMIT)),
            "seconds": time.monotonic() - began,
        }
        if band:
            width = band["band"] * abs(reading["value"]) / scale
            row |= {"band": width, "held": off <= max(width, 5e-4)}
        rows.append(row)
    return rows


def summary(rows: list[dict[str, Any]]) -> dict[str, Any]:
    """Count how often the trust list was right."""
    told = [row for row in rows if not row["failed"] and "band" not in row]
    bad = [row for row in told if row["off"] > BAD]
    good = [row for row in told if row["off"] <= BAD]
    bands = [row for row in rows if not row["failed"] and "band" in row]
    return {
        "bad": len(bad),
        "bad cautioned": sum(row["cautioned"] for row in bad),
        "good": len(good),
        "good cautioned": sum(row["cautioned"] for row in good),
        "bands": len(bands),
        "bands that hold the truth": sum(row["held"] for row in bands),
    }


def main() -> int:
    """Run the chosen cases; exit 1 when fewer than 9 of 10 bad readings are cautioned, or more than 1 in 10
    good ones.
    """
    parser = argparse.ArgumentParser()
    parser.add_argument("--case", action="append", default=[])
    parser.add_argument("--bands", action="store_true")
    parser.add_argument("--json", action="store_true")
    options = parser.parse_args()
    rows: list[dict[str, Any]] = []
    for known in CASES:
        if options.case and known.name not in options.case:
            continue
        for cells in known.grids:
            for bands in (False, True) if options.bands else (False,):
                try:
                    found = rows_of(known, cells, bands)
                except LanternError as problem:
                    print(f"{known.name} on {cells:g}: {problem}", file=sys.stderr)
                    continue
                rows += found
                for row in found if not options.json else []:
                    more = (
                        f"band {row['band']:7.2%} {'holds' if row['held'] else 'MISSES'}"
                        if "band" in row
                        else (
                            f"guess {row['guess'] if row['guess'] is not None else float('nan'):7.2%} "
                            f"{'cautioned' if row['cautioned'] else ''}"
                        )
                    )
                    print(
                        (
                            f"{row['case']:22} {row['cells']:6g} {row['reading']:9} off {row['off']:7.2%}  "
                            f"{more}{' FAILED' if row['failed'] else ''}"
                        ),
                        flush=True,
                    )
    found = summary(rows)
    print(
        json.dumps({"rows": rows, "summary": found}, indent=1)
        if options.json
        else "  ".join(f"{name}: {count}" for name, count in found.items())
    )
    seen = found["bad cautioned"] >= 0.9 * found["bad"] and found["good cautioned"] <= 0.1 * found["good"]
    return 0 if seen and found["bands that hold the truth"] >= 0.9 * found["bands"] else 1


if __name__ == "__main__":
    sys.exit(main())
