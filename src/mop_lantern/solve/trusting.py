"""Trust in the grid, from the bands that several grids give."""

from __future__ import annotations

from mop_lantern.judge import Trust
from mop_lantern.numerics.richardson import GridError

GRID_LIMIT = 0.05  # common practice, no source


def grid_trust(bands: dict[str, GridError]) -> list[Trust]:
    """Judge the grid by the widest band of a reading."""
    if not bands:
        return []
    worst = max(bands, key=lambda key: bands[key].band)
    band = bands[worst]
    verdict = "holds" if band.band <= GRID_LIMIT else "caution"
    text = (
        f"The grid moves the readings by at most {band.band:.1%} ({worst}; {band.grids} grids, order "
        f"{band.order:.1f}"
    )
    text += ", to and fro)." if band.oscillating else ")."
    return [
        Trust(
            "grid_error",
            verdict,
            band.band,
            GRID_LIMIT,
            text,
        )
    ]
