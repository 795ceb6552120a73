"""What a part gives off at its surface: a rack of machines, a person, a tank."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.source import SourceKind
from mop_lantern.grid import Mesh


class Load(SourceKind):
    """Heat, and a gas if wanted, that a part gives off: spread over the fluid that touches its surface.

    The part itself takes space away and has no temperature: all its heat goes to the fluid. Copies in a row
    are one part; what is given counts for all of them together.

    Source: definition.
    """

    caption: ClassVar[str] = "Load of a part"
    group: ClassVar[str] = "Sources"
    fits: ClassVar[str] = "space"
    symbol: ClassVar[str] = (
        "M-0.5,-0.2 L0.5,-0.2 L0.5,0.8 L-0.5,0.8 Z M-0.3,-0.4 L-0.3,-0.9 M0,-0.4 L0,-0.9 M0.3,-0.4 L0.3,-0.9 "
        "M-0.7,0.1 L-0.95,0.1 M-0.7,0.5 L-0.95,0.5 M0.7,0.1 L0.95,0.1 M0.7,0.5 L0.95,0.5"
    )
    sentence: ClassVar[str] = (
        "{id}: {around} gives off {power} of heat at its surface, and of {gas} {volume} (a fraction) or "
        "{mass} (a concentration)."
    )

    kind: Literal["load"] = "load"
    around: str = reference("solid", "part", "The part whose surface gives it off; no part that holds fluid.")
    power: Text = quantity(
        "power",
        "power",
        "For the part and all its copies together.",
        default="100 W",
        varies="t",
    )
    gas: str = reference("species", "gas", "A species it gives off too, or empty.", default="")
    volume: Text = quantity(
        "volume_flow",
        "volume rate",
        "Of the gas, where it is measured as a fraction.",
        default="0 L/s",
        varies="t",
    )
    mass: Text = quantity(
        "mass_flow",
        "mass rate",
        "Of the gas, where it is measured as mass per volume.",
        default="0 kg/s",
        varies="t",
    )

    @classmethod
    def gives(cls, numbers: Any, density: float, measures: Any) -> dict[str, float]:
        """Heat, W, and the gas by what it is measured in."""
        found = {"heat": float(numbers.power)}
        if numbers.gas:
            by_mass = measures.get(numbers.gas) == "density"
            found[numbers.gas] = float(numbers.mass if by_mass else numbers.volume)
        return found

    @classmethod
    def cells(cls, numbers: Any, mesh: Mesh) -> NDArray[np.bool_]:
        """Mark the cells of fluid that touch the part."""
        own = [
            number for number, name in enumerate(mesh.patch_names) if name.startswith(f"{numbers.around}.")
        ]
        touching = mesh.owner[mesh.n_internal :][np.isin(mesh.patch, own)]
        marked = np.zeros(mesh.n_cells, bool)
        marked[touching] = True
        return marked & (mesh.region == 0) if len(mesh.region) else marked
