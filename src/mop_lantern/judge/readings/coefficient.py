"""A force or heat over a reference: drag and lift coefficients, mean Nusselt numbers."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class Coefficient(Reading):
    """The force on an edge over a given force, or the heat through it over a given heat flow.

    A drag coefficient has rho U2 A / 2 as reference, a mean Nusselt number k A dT / L: both are written as
    expressions.

    Source: definitions; integrals of the solver's own face forces and fluxes.
    """

    caption: ClassVar[str] = "Coefficient"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = "M-0.6,-0.8 L0.6,-0.8 M-0.8,0 L0.8,0 M-0.6,0.8 L0.6,0.8"
    sentence: ClassVar[str] = "{id}: {of} on {edge} over a force of {force}, or a heat flow of {heat}."

    kind: Literal["coefficient"] = "coefficient"
    title: str = title()
    edge: str = reference("edge", "edge", "The wall.")
    of: Literal["x", "y", "z", "heat"] = choice(
        "what",
        "A component of the force of the fluid, or the heat that enters the fluid.",
        {
            "x": "the force along x",
            "y": "the force along y",
            "z": "the force along z",
            "heat": "the heat entering",
        },
        default="x",
    )
    force: Text = quantity(
        "force",
        "reference force",
        "What forces are divided by, such as = 0.5 * 1000 kg/m3 * (1 m/s)**2 * 0.1 m2.",
        default="1 N",
        above=0,
    )
    heat: Text = quantity(
        "power",
        "reference heat flow",
        "What heat is divided by, such as = 0.6 W/m/K * 1 m2 * 10 K / 0.1 m.",
        default="1 W",
        above=0,
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A plain number."""
        return "number"

    @classmethod
    def reads(cls, numbers: Any) -> str:
        """Heat is that of the temperature."""
        return "T" if numbers.of == "heat" else ""

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up and divide."""
        mesh = answer.mesh
        faces = answer.mesh.faces_of(numbers.edge)
        if numbers.of == "heat":
            return (
                float(-answer.scalars["T"].leaving[faces].sum() / numbers.heat)
                if "T" in answer.scalars
                else float("nan")
            )
        way = "xyz".index(numbers.of)
        if mesh.axisymmetric and way == 1:
            return 0.0
        push = (answer.wall_pressure[faces] * mesh.area[mesh.n_internal + faces, way]).sum()
        return float((push + answer.shear[faces, way].sum()) * mesh.turn / numbers.force)
