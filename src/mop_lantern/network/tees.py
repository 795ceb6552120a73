"""Tees: losses where three runs meet, by how the flow divides.

The loss of each way hangs on the shares of the flow, so it is held while the network is solved, worked out
again from the flows found, and so on.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from mop_lantern.laws import fittings
from mop_lantern.network.net import Net

Floats = NDArray[np.float64]
Tees = Mapping[int, tuple[int, float]]


def tee_offsets(net: Net, mass: Floats, tees: Tees) -> Floats:
    """Give the loss of total pressure along every run that tees at its ends make, (n_runs,) Pa, signed along
    the run.

    Parameters
    ----------
    tees : node to the run that is its side way, and the angle of that (rad). Nodes that have not three runs
    are passed over.

    Source: Idelchik, chapter 7, as in `laws.fittings`; a flow that comes together in the side way, or parts
    from it, as two side ways.
    """
    offset = np.zeros(net.n_runs)
    at_start, at_end = net.end_areas()
    for node, (side, angle) in tees.items():
        runs = np.flatnonzero((net.start == node) | (net.end == node))
        if len(runs) != 3 or side not in runs:
            continue
        area = dict(
            zip(
                runs.tolist(),
                np.where(net.start[runs] == node, at_start[runs], at_end[runs]).tolist(),
                strict=True,
            )
        )
        # m3/s towards the node
        into = np.where(net.end[runs] == node, mass[runs], -mass[runs]) / net.density[runs]
        whole = int(np.abs(into).argmax())
        total = abs(float(into[whole]))
        if total < 1e-12:
            continue
        joins = into[whole] < 0
        pressure = 0.5 * net.density[runs[whole]] * (total / area[runs[whole]]) ** 2
        for k, run in enumerate(runs.tolist()):
            if k == whole:
                continue
            share = float(np.clip(abs(into[k]) / total, 0.0, 1.0))
            other = next(j for j in range(3) if j not in (k, whole))
            sideways = run == side or runs[whole] == side
            ratio = area[run] / area[int(runs[whole])]
            if sideways:
                loss = (
                    fittings.joining_side(share, ratio, angle)
                    if joins
                    else fittings.dividing_side(share, ratio, angle)
                )
            else:
                from_side = float(np.clip(abs(into[other]) / total, 0.0, 1.0))
                loss = (
                    fittings.joining_straight(from_side, area[side] / area[int(runs[whole])], angle)
                    if joins
                    else fittings.dividing_straight(from_side)
                )
            offset[run] += float(loss) * pressure * (1.0 if mass[run] >= 0 else -1.0)
    return offset
