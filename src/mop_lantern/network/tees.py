"""Tees: losses where three lines meet, by how the flow divides.

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
    """Give the loss of total pressure along every line that tees at its ends make, (n_lines,) Pa, signed
    along
    the line.

    Parameters
    ----------
    tees : node to the line that is its side way, and the angle of that (rad). Nodes that have not three lines
    are passed over.

    Source: Idelchik, chapter 7, as in `laws.fittings`; a flow that comes together in the side way, or parts
    from it, as two side ways.
    """
    offset = np.zeros(net.n_lines)
    at_start, at_end = net.end_areas()
    for node, (side, angle) in tees.items():
        lines = np.flatnonzero((net.start == node) | (net.end == node))
        if len(lines) != 3 or side not in lines:
            continue
        area = dict(
            zip(
                lines.tolist(),
                np.where(net.start[lines] == node, at_start[lines], at_end[lines]).tolist(),
                strict=True,
            )
        )
        # m3/s towards the node
        into = np.where(net.end[lines] == node, mass[lines], -mass[lines]) / net.density[lines]
        whole = int(np.abs(into).argmax())
        total = abs(float(into[whole]))
        if total < 1e-12:
            continue
        joins = into[whole] < 0
        pressure = 0.5 * net.density[lines[whole]] * (total / area[lines[whole]]) ** 2
        for k, line in enumerate(lines.tolist()):
            if k == whole:
                continue
            share = float(np.clip(abs(into[k]) / total, 0.0, 1.0))
            other = next(j for j in range(3) if j not in (k, whole))
            sideways = line == side or lines[whole] == side
            ratio = area[line] / area[int(lines[whole])]
            if sideways:
                loss = (
                    fittings.joining_side(share, ratio, angle)
                    if joins
                    else fittings.dividing_side(share, ratio, angle)
                )
            else:
                from_side = float(np.clip(abs(into[other]) / total, 0.0, 1.0))
                loss = (
                    fittings.joining_straight(from_side, area[side] / area[int(lines[whole])], angle)
                    if joins
                    else fittings.dividing_straight(from_side)
                )
            offset[line] += float(loss) * pressure * (1.0 if mass[line] >= 0 else -1.0)
    return offset
