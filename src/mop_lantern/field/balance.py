"""What came and went of something carried."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Balance:
    """What came and went, in the quantity's own unit a second (W; share x m3/s; kg/s), whole body.

    Attributes
    ----------
    carried_in, carried_out : by the flow. through_walls, made : into the fluid. stored : gained by it.
    """

    carried_in: float
    carried_out: float
    through_walls: float
    made: float
    stored: float

    @property
    def open(self) -> float:
        """What is not accounted for."""
        return self.carried_in - self.carried_out + self.through_walls + self.made - self.stored
