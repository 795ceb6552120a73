"""A rough wall."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Patch, Wall
from mop_lantern.laws.sections import ROUGHNESS


class Rough(Wall):
    """A wall whose roughness adds to the friction of turbulent flow; laminar flow does not feel it.

    Source: equivalent sand roughness, Nikuradse, Forschungsheft 361 (1933); values after Moody, Trans. ASME
    66 (1944).
    """

    caption: ClassVar[str] = "Rough wall"
    group: ClassVar[str] = "Walls"
    symbol: ClassVar[str] = (
        "M-1,0.6 L-0.8,0.3 L-0.6,0.6 L-0.4,0.2 L-0.2,0.6 L0,0.35 L0.2,0.6 L0.4,0.2 L0.6,0.6 L0.8,0.3 L1,0.6 "
        "M-0.8,0.9 L-0.5,0.6 M-0.3,0.9 L0,0.6 M0.2,0.9 L0.5,0.6 M0.7,0.9 L1,0.6"
    )
    sentence: ClassVar[str] = "{id}: the wall {edge} is of {material}, its sand roughness {grain}."

    kind: Literal["rough"] = "rough"
    edge: str = reference("edge", "edge", "The wall.")
    material: Literal[
        "smooth", "steel", "galvanised", "cast_iron", "asphalted", "concrete", "sheet", "flexible"
    ] = choice(
        "material",
        "Gives the roughness.",
        {key: words for key, (words, _) in ROUGHNESS.items()},
        default="steel",
    )
    grain: Text = quantity(
        "length",
        "sand roughness",
        "Equivalent sand roughness; auto takes that of the material.",
        default="auto",
        at_least=0,
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Give the faces their roughness."""
        grain = ROUGHNESS[numbers.material][1] if numbers.grain is None else numbers.grain
        boundary.roughness[patch.faces] = grain
