"""Words of the trade, and where the manual answers them under its own."""

from __future__ import annotations

from mop_lantern.manual.pages import anchors

SYNONYMS: dict[str, str] = {
    "absolute pressure": "trust-absolute",
    "age of air": "Transported",
    "air change": "walk-room",
    "air changes": "walk-room",
    "air quality": "walk-room",
    "axisymmetric": "Shape",
    "balancing": "Network",
    "boundary condition": "Openings",
    "carbon dioxide": "walk-room",
    "cavitation": "trust-cavity",
    "cfl": "trust-courant",
    "column separation": "trust-cavity",
    "concentration": "Transported",
    "conjugate heat": "solids",
    "convergence": "Solver",
    "drag": "readings.force",
    "duty point": "walk-pipe",
    "egl": "Network",
    "energy grade line": "Network",
    "fan curve": "network.components.fan",
    "flow distribution": "readings.evenness",
    "gauge pressure": "Network",
    "gci": "trust-grid_error",
    "grid independence": "trust-grid_error",
    "head loss": "network.components.loss",
    "hgl": "Network",
    "hydraulic grade": "Network",
    "hydraulic grade line": "Network",
    "infiltration": "note.supply_extract",
    "inlet": "Openings",
    "iso-surface": "layers",
    "isosurface": "layers",
    "k factor": "network.components.loss",
    "k value": "network.components.loss",
    "loss coefficient": "network.components.loss",
    "mesh": "Grid",
    "minor loss": "network.components.loss",
    "npsh": "network.components.pump",
    "outlet": "Openings",
    "periodic": "readings.frequency",
    "pressure loss": "readings.drop",
    "pump curve": "network.components.pump",
    "residence time": "Transported",
    "residual": "trust-momentum",
    "restart": "Physics",
    "roughness": "network.components.pipe",
    "scalar": "Transported",
    "sensitivity": "command-line",
    "sweep": "command-line",
    "surge": "network-waves",
    "system curve": "walk-pipe",
    "transient": "Physics",
    "turbulence": "Physics",
    "u-value": "field.warm.layered",
    "u value": "field.warm.layered",
    "uniformity": "readings.evenness",
    "ventilation": "walk-room",
    "vortex shedding": "trust-stability",
    "water hammer": "network-waves",
}
"""What is typed, in small letters, to the anchor that answers it."""


def answers(typed: str) -> list[tuple[str, str]]:
    """Give the places that answer words: anchor and heading, the trade's words first, then headings with
    them.
    """
    wanted = " ".join(typed.lower().replace("_", " ").split())
    if not wanted:
        return []
    headings = dict(anchors())
    found = [SYNONYMS[wanted]] if wanted in SYNONYMS else []
    found += [place for words, place in SYNONYMS.items() if len(wanted) > 3 and words.startswith(wanted)]
    found += [place for place, words in headings.items() if wanted in words.lower()]
    return [(place, headings[place]) for place in dict.fromkeys(found) if place in headings]
