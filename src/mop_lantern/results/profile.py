"""Profiles along a line, on stored or live fields."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.judge import FieldResult

Floats = NDArray[np.float64]


def profile(
    answer: FieldResult,
    what: str,
    start: Floats,
    end: Floats,
    samples: int = 201,
) -> tuple[Floats, Floats]:
    """Sample a quantity along a straight line.

    Parameters
    ----------
    what : a key of `judge.answer.QUANTITIES`. start, end : (2,) m, in a space (3,).

    Returns
    -------
    distance : (samples,) m from the start. value : (samples,) SI; nan outside the wet space.
    """
    ways = len(answer.mesh.ways)
    start = np.asarray(start, float)[:ways]
    end = np.asarray(end, float)[:ways]
    part = np.linspace(0.0, 1.0, samples)
    places = start + part[:, None] * (end - start)
    values = np.where(answer.inside(places), answer.sampler(what, places), np.nan)
    return part * float(np.linalg.norm(end - start)), values
