"""Heat made in a solid part."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.source import SourceKind
from mop_lantern.grid import Mesh


class PartHeat(SourceKind):
    """Heat made evenly in a solid part that conducts it: a heating rod, a motor, a cable; negative when
    taken.

    Source: definition.
    """

    caption: ClassVar[str] = "Heat in a solid part"
    group: ClassVar[str] = "Sources"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 "
        "M0.3,-0.3 L0.8,-0.8 M-0.3,0 L-0.5,0.3 L-0.1,0.3 L-0.3,0.6"
    )
    sentence: ClassVar[str] = "{id}: {power} of heat are made in the solid part {part}."

    kind: Literal["part_heat"] = "part_heat"
    power: Text = quantity(
        "power",
        "power",
        "For the whole depth, or all around the axis.",
        default="100 W",
        varies="t",
    )
    part: str = reference("body", "part", "The solid part; it needs a material.")

    @classmethod
    def feeds(cls, numbers: Any) -> str:
        """Heat."""
        return "heat"

    @classmethod
    def rate(cls, numbers: Any) -> float:
        """Give the power, W."""
        return float(numbers.power)

    @classmethod
    def cells(cls, numbers: Any, mesh: Mesh) -> NDArray[np.bool_]:
        """Mark the cells of the part."""
        return mesh.cells_of(numbers.part)
