"""Pump and fan curves: points to a smooth falling curve, and its change with speed."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.network.component import LEAK, ComponentFault

Floats = NDArray[np.float64]
_KNOTS = 65
ABSURD = 1e30


def fitted(points: Any, how: str) -> tuple[Floats, Floats]:
    """Give a curve as (flow, value) knots from a few points.

    Parameters
    ----------
    points : (n, 2) flow m3/s and value. how : ``parabola`` (least squares, needs three) or ``through``
    (monotone cubics).

    Raises
    ------
    ComponentFault : too few points, flows given twice, a value beyond 1e30.

    Source: least squares; Fritsch and Carlson, SIAM J. Numer. Anal. 17 (1980) 238-246 for monotone cubics.
    """
    from scipy.interpolate import PchipInterpolator

    rows = np.array(sorted(np.asarray(points, float).reshape(-1, 2).tolist())).reshape(-1, 2)
    if not len(rows):
        raise ComponentFault(
            "curve", "it has no curve yet.", "Give points of flow and what it gives there, from its maker."
        )
    if len(rows) < (3 if how == "parabola" else 2):
        raise ComponentFault(
            "curve", "the curve has too few points.", "Give three or more pairs of flow and value."
        )
    if not (np.abs(rows) < ABSURD).all():  # least squares would break on it
        raise ComponentFault(
            "curve", "the curve has a value beyond all reason.", "Correct its number or unit."
        )
    if (np.diff(rows[:, 0]) <= 0).any():
        raise ComponentFault("curve", "the curve has two values at one flow.", "Remove one of them.")
    flow = np.linspace(0.0, rows[-1, 0], _KNOTS)
    if how == "parabola":
        return flow, np.asarray(
            np.polynomial.polynomial.polyval(
                flow, np.polynomial.polynomial.polyfit(rows[:, 0], rows[:, 1], 2)
            ),
            float,
        )
    flow = np.union1d(flow[flow >= rows[0, 0]], rows[:, 0])
    return flow, np.asarray(PchipInterpolator(*rows.T)(flow), float)


def read(curve: tuple[Floats, Floats], flow: Floats) -> tuple[Floats, Floats]:
    """Give value and slope at flows, by parabolas through neighbouring knots; straight beyond both ends."""
    x, y = curve
    k = np.clip(np.searchsorted(x, flow) - 1, 1, len(x) - 2)
    x0 = x[k - 1]
    x1 = x[k]
    x2 = x[k + 1]
    a = (y[k] - y[k - 1]) / (x1 - x0)
    b = ((y[k + 1] - y[k]) / (x2 - x1) - a) / (x2 - x0)
    at = np.clip(flow, x[0], x[-1])
    value = y[k - 1] + a * (at - x0) + b * (at - x0) * (at - x1)
    slope = a + b * (2 * at - x0 - x1)
    return value + slope * (flow - at), slope


def driven(curves: list[tuple[Floats, Floats]], speed: Floats, flow: Floats) -> tuple[Floats, Floats]:
    """Give value and slope of many machines at their speeds (1: as the curve was taken).

    Source: affinity laws: flow by the speed, head and pressure by its square.
    """
    value = np.empty(len(flow))
    slope = np.empty(len(flow))
    for i, curve in enumerate(curves):
        n = max(float(speed[i]), 1e-9)
        y, by = read(curve, flow[i : i + 1] / n)
        value[i], slope[i] = n * n * y[0], n * by[0]
    return value, slope


def falling(curve: tuple[Floats, Floats], what: str) -> tuple[Floats, Floats]:
    """Refuse a curve that gives nothing; give it back otherwise.

    Raises
    ------
    ComponentFault : it does not begin above zero, or rises at its end.
    """
    if not curve[1][0] > 0:
        raise ComponentFault("curve", f"the {what} curve must begin above zero.", "Check its points.")
    if curve[1][-1] >= curve[1][0]:
        raise ComponentFault(
            "curve", f"the {what} curve does not fall.", "Give points up to where it delivers most flow."
        )
    return curve


def given(a: Any, q: Floats, scale: Any) -> tuple[Floats, Floats]:
    """Give the drop over running or halted machines, minus what they give, and its slope.

    Parameters
    ----------
    a : ``knots`` (curves), ``speed`` (1: as taken), ``backflow`` (may fluid flow back). scale : turns the
    curve's value into Pa.

    A rising part of a curve is followed, but its slope is told as falling. A halted machine resists as its
    own curve falls.
    """
    value, slope = driven(list(a.knots), np.maximum(a.speed, 1e-6), np.maximum(q, 0.0))
    value = value * scale
    slope = slope * scale
    top = np.array([knots[1][0] for knots in a.knots]) * scale
    wide = np.array([knots[0][-1] for knots in a.knots])
    back = np.where(
        a.backflow, 10 * top / wide, LEAK
    )  # steep, so that flow backwards through a running machine is small
    drop = np.where(q < 0, -value + back * q, -value)
    by = np.where(
        q < 0, back, -np.minimum(slope, -1e-3 * top / wide)
    )  # a flat curve would leave the answer open
    passing = a.backflow | (q > 0)
    halted = a.speed <= 1e-6
    resisting = top / wide**2
    drop = np.where(halted, np.where(passing, resisting * q * np.abs(q), LEAK * q), drop)
    return drop, np.where(halted, np.where(passing, 2 * resisting * np.abs(q) + 1e-6 * top / wide, LEAK), by)
