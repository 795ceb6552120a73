"""What a run on one grid is, steady or in time."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any, ClassVar, Protocol

from mop_lantern.field.flow import Step
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult, Trust
from mop_lantern.solve.physics import Physics

if TYPE_CHECKING:
    from mop_lantern.solve.flow_run import Traces


class Run(Protocol):
    """A flow, and what it carries, on one grid.

    Attributes
    ----------
    steady : it is iterated to a steady state. mesh, physics : what is solved on what. readings : the newest,
    by id. traces : what was tracked. last : how the last iteration or step went.
    """

    steady: ClassVar[bool]
    mesh: Mesh
    physics: Physics
    readings: dict[str, Any]
    traces: Traces
    last: Step

    def answer(self) -> FieldResult:
        """Give the present field as readings and pictures see it."""

    def finished(self) -> bool:
        """Tell whether it has come to its end."""

    def remaining(self) -> float | None:
        """Guess the seconds left."""

    def concluded(self, gap_cells: Callable[[], float]) -> tuple[FieldResult, list[Trust]]:
        """Finish what is left to solve; give the field and what it is judged by. ``gap_cells`` counts the
        cells across the narrowest gap.
        """
