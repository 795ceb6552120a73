"""Writes the STEP file of the demo valve body: what the water fills of a globe-shaped body with a sampling
neck.
"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from bench.step_files import Part, ball, cylinder, fused, middle_of, write_step

SHIPPED = Path(__file__).parents[1] / "src/mop_lantern/demos/models/valve-body.step"


def write(path: Path, unit: str = "MM", flange: str = "") -> None:
    """Write the body; its faces are named by what lies on them. ``unit`` : MM, M or INCH. ``flange`` : the
    colour of one beside it, or none.
    """
    bore = cylinder((0, 0, 0), (1, 0, 0), 15, 150)
    neck = cylinder((60, 0, 0), (0, 0, 1), 10, 45)
    parts = [Part("Valve body", fused(bore, ball((60, 0, 0), 24), neck), called=_called)]
    if flange:
        parts.append(Part("Flange", cylinder((-10, 0, 0), (1, 0, 0), 30, 12), flange))
    write_step(path, parts, unit)


def _called(face: Any) -> str:
    """Name a face by its area's middle."""
    x, _, z = middle_of(face)
    if x < 1:
        return "inlet"
    if x > 149:
        return "outlet"
    if z > 44.9:
        return "top"
    if z > 25:
        return "neck"
    return "globe" if 45 < x < 75 else "inlet bore" if x < 60 else "outlet bore"


if __name__ == "__main__":
    write(Path(sys.argv[1]) if len(sys.argv) > 1 else SHIPPED)
