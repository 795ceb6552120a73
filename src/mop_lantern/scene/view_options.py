"""What a picture is asked to show, and the inks of the two themes."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from mop_lantern.scene.plane_stage import Inks

PAPER = Inks(
    (0.984, 0.973, 0.945),
    (0.16, 0.16, 0.19),
    (0.55, 0.53, 0.5),
    (0.72, 0.42, 0.0),
    (0.0, 0.43, 0.43),
    (0.86, 0.89, 0.9),
)
NIGHT = Inks(
    (0.09, 0.1, 0.125),
    (0.9, 0.89, 0.86),
    (0.5, 0.5, 0.52),
    (1.0, 0.7, 0.25),
    (0.3, 0.8, 0.78),
    (0.18, 0.22, 0.27),
)


@dataclass(frozen=True)
class ViewOptions:
    """What is drawn and how.

    Attributes
    ----------
    layers : kinds of layer shown. quantity : coloured by. low, high : fixed range (SI) or None for the
    field's own.
    night : dark theme. across, share : direction across the section of a space (-1: its thinnest way) and its
    share of the way through. level : share of the scale
        at which a level surface lies. cut_away : the model is cut away before the section. lit, chosen :
        faces of a space that are marked, one under the pointer and those picked.
        hidden : faces not drawn. near_walls : how solid walls before the fluid are drawn, 0 (not at all) to
        1. seeds : where streamlines of a space begin, of `SEEDS`. line : ends of a line (m) they may begin
        on. beside : quantities shown in further views. marks : lines (k, 3) m of devices in the fluid.
        units : preferred display units.
    """

    layers: frozenset[str] = frozenset({"colours", "streamlines", "parts", "solids"})
    quantity: str = "speed"
    low: float | None = None
    high: float | None = None
    night: bool = False
    across: int = -1
    share: float = 0.5
    level: float = 0.5
    cut_away: bool = False
    lit: str = ""
    chosen: tuple[str, ...] = ()
    hidden: frozenset[str] = frozenset()
    near_walls: float = 0.0
    seeds: str = "openings"
    line: tuple[tuple[float, ...], ...] = ()
    beside: tuple[str, ...] = ()
    marks: tuple[Any, ...] = ()
    units: dict[str, str] = field(default_factory=dict)
