"""What the grid will spread of a species."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.judge.regime import regime_of
from mop_lantern.units import show


class NumericalSpreading(NoteKind):
    """Tell how far a species may be spread by the cells rather than by diffusion.

    A second-order scheme spreads fronts oblique to its cells about like a diffusivity of a tenth of speed
    times cell size (own measurement on oblique fronts); the result tells what it was in truth.

    Source: definition of the cell Peclet number; any text on numerical convection.
    """

    caption: ClassVar[str] = "Numerical spreading"
    measured: ClassVar[bool] = True
    kind: Literal["numerical_spreading"] = "numerical_spreading"
    PART: ClassVar[float] = 0.1

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for every species whose own diffusivity is the smaller."""
        speeds = [
            abs(opening.flow) / opening.area
            for opening in facts.openings
            if opening.flow and opening.area > 0
        ]
        cell = facts.gap_cell or facts.shape.size / 100
        if not speeds or regime_of(facts).closure:  # eddies spread far more than the grid
            return []
        false = cls.PART * max(speeds) * cell
        notes = []
        for key, species in facts.numbers.species.items():
            own = species.diffusivity
            if own >= false:
                continue
            spread = show(false, "diffusivity", "m2/s", 2)
            text = f"Cells of {show(cell, 'length', 'mm', 2)} may spread it like a diffusivity of {spread}"
            text += (
                f", {false / own:.2g} times its own."
                if own > 0
                else "; of its own it has none, so all spreading seen is the grid's doing."
            )
            peclet = max(speeds) * facts.shape.size / (false + own)
            text += (
                f" Effective Péclet number about {peclet:.2g}. Fronts come out thicker than they are; "
                "amounts and balances are not touched."
            )
            notes.append(Note(f"field.species.{key}", "caution" if own > 0 else "ready", text))
        return notes
