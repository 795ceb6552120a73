"""Measured points against a model's curve: error figures, and the shift and scale that fit best."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import FileError

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Deviation:
    """Model less measured, at the measured places the curve reaches.

    Attributes
    ----------
    bias : mean. rms : root of the mean square. worst : the largest, with its sign. at : where. count : points
    compared.
    """

    bias: float
    rms: float
    worst: float
    at: float
    count: int


def deviation(
    x: Floats,
    y: Floats,
    curve_x: Floats,
    curve_y: Floats,
) -> Deviation | None:
    """Compare points (x, y) with a curve by straight lines between its points; None where they do not
    overlap.
    """
    model = _on(x, curve_x, curve_y)
    use = np.isfinite(model) & np.isfinite(y)
    if not use.any():
        return None
    off = (model - y)[use]
    worst = int(np.abs(off).argmax())
    return Deviation(
        float(off.mean()),
        float(np.sqrt((off**2).mean())),
        float(off[worst]),
        float(x[use][worst]),
        int(use.sum()),
    )


def fit(
    x: Floats,
    y: Floats,
    curve_x: Floats,
    curve_y: Floats,
    what: str,
) -> tuple[float, float, float]:
    """Give scale and shift of the values, and shift along, that bring measured points closest to a curve.

    Parameters
    ----------
    what : "scale", "shift", "both" (scale and shift) or "along" (shift along only).

    Raises
    ------
    ValueError : too few points lie on the curve.
    """
    if what == "along":
        from scipy.optimize import minimize_scalar

        span = float(np.ptp(curve_x))

        def miss(move: float) -> float:
            found = deviation(x + move, y, curve_x, curve_y)
            return np.inf if found is None or found.count < len(x) / 2 else found.rms

        moves = np.linspace(-0.3 * span, 0.3 * span, 121)
        best = moves[int(np.argmin([miss(move) for move in moves]))]
        step = moves[1] - moves[0]
        found = minimize_scalar(miss, bounds=(best - step, best + step), method="bounded")
        return 1.0, 0.0, float(found.x)
    model = _on(x, curve_x, curve_y)
    use = np.isfinite(model) & np.isfinite(y)
    if use.sum() < 2:
        raise ValueError("fewer than two measured points lie on the model's curve.")
    y = y[use]
    model = model[use]
    if what == "shift":
        return 1.0, float((model - y).mean()), 0.0
    if what == "scale":
        return float((model @ y) / ((y @ y) or 1e-300)), 0.0, 0.0
    basis = np.column_stack([y, np.ones(len(y))])
    scale, shift = np.linalg.lstsq(basis, model, rcond=None)[0]
    return float(scale), float(shift), 0.0


def _on(x: Floats, curve_x: Floats, curve_y: Floats) -> Floats:
    good = np.isfinite(curve_y)
    if good.sum() < 2:
        return np.full(len(x), np.nan)
    order = np.argsort(curve_x[good])
    return np.interp(
        x,
        curve_x[good][order],
        curve_y[good][order],
        left=np.nan,
        right=np.nan,
    )


def write_comparison(
    path: Path,
    heading: tuple[str, str],
    curves: dict[str, tuple[Floats, Floats]],
    points: dict[str, tuple[Floats, Floats]],
) -> None:
    """Write curves and measured points together as CSV: name, kind, the two columns.

    Raises
    ------
    FileError : it cannot be written.
    """
    try:
        with path.open("w", newline="", encoding="utf-8") as out:
            table: Any = csv.writer(out)
            table.writerow(["name", "kind", *heading])
            for kind, group in (("model", curves), ("measured", points)):
                for name, (x, y) in group.items():
                    table.writerows(
                        [name, kind, f"{a:.9g}", "" if not np.isfinite(b) else f"{b:.9g}"]
                        for a, b in zip(x, y, strict=True)
                    )
    except OSError as problem:
        raise FileError(f"{path}: cannot be written ({problem.strerror}). Choose another folder.") from None
