"""What is told of a network at work beside its figures: lengths and heights for paths, duty curves, where
heat goes.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from mop_lantern.declare import Numbers
from mop_lantern.network.build import tees_of
from mop_lantern.network.duty import duty_curves
from mop_lantern.network.heat_book import heat_at_rest
from mop_lantern.network.surge import Surge
from mop_lantern.network.system import Operating
from mop_lantern.network.transient import March

SMALL = 300  # lines: of larger networks no duty curves are told


def duties_of(made: Operating, network: Numbers) -> dict[str, Any]:
    """Give the duty curves of the machines of a network at rest as plain data; none for large networks."""
    if made.net.n_lines > SMALL:
        return {}
    return {
        name: duty.as_data() for name, duty in duty_curves(made.net, made.flows, tees_of(network)).items()
    }


def extras_of(
    made: Operating,
    network: Numbers,
    thermal: bool,
    march: March | Surge | None,
) -> dict[str, Any]:
    """Give plain data: ``lengths`` of components (m), ``z`` of nodes (m), ``density`` and ``air`` of lines
    (kg/m3), ``species`` that do not balance; at rest ``heat`` (W), over time the ``heat`` ledger since the
    start (J).
    """
    net = made.net
    lengths: dict[str, float] = {}
    for group in net.groups:
        lengths |= dict(
            zip(
                group.names,
                np.broadcast_to(group.kind.length_of(group.stack), len(group)).tolist(),
                strict=True,
            )
        )
    extra: dict[str, Any] = {
        "lengths": lengths,
        "z": dict(zip(net.node_names, net.z.tolist(), strict=True)),
        "density": dict(zip(net.line_names, net.density.tolist(), strict=True)),
        "air": dict(zip(net.line_names, net.air.tolist(), strict=True)),
        "species": {name: spread.balance for name, spread in made.species.items()},
        "on": {},
    }
    if march is not None:
        extra["on"] = {name: float(state) for name, state in march.on.items()}
        if thermal and isinstance(march, March):
            extra["heat"] = {name: float(value) for name, value in vars(march.ledger).items()} | {"unit": "J"}
        return extra
    if thermal:
        nodes = [node.at({"t": 0.0}) for node in network.nodes.values()]
        extra["heat"] = heat_at_rest(made, nodes, float(network.outside)) | {"unit": "W"}
    return extra
