"""What margin notes are judged on, and the notes themselves."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, ClassVar

from mop_lantern.declare import Kind, discover
from mop_lantern.judge.network_result import NetworkResult
from mop_lantern.shape import Plane, Surface, spaces_of

# cells across a passage: friction errs by about 3 % there, by 6 % on 4 (measured between plates and in pipes)
FEWEST_ACROSS = 6.0
GUESS_BELOW = 5.0
SLACK = 0.2  # of a cell
LIQUID = 100.0  # kg/m3: gases are lighter
CRITICAL_REYNOLDS = 2300.0  # on the hydraulic diameter; common practice, no source


@dataclass(frozen=True)
class OpeningFacts:
    """An opening with its numbers worked out.

    Attributes
    ----------
    key : id in the case. edge : its edge. kind : its kind. width : m. area : m2 of the whole body.
    flow : volume flow into the space, m3/s, or None. run_length : m, of the part the edge belongs to (0
    unknown).
    profile : "usual", "uniform", "developed" or "".
    """

    key: str
    edge: str
    kind: str
    width: float
    area: float
    flow: float | None
    run_length: float = 0.0
    profile: str = ""


@dataclass(frozen=True)
class Facts:
    """All a margin note may look at.

    Attributes
    ----------
    numbers : the resolved case. shape : the plane. openings : by order of the sheet. gap : narrowest free
    width, m (0: none).
    gap_at : its place, m. gap_cell : size of the cells there across it, m. cells : expected number of cells.
    density, viscosity, expansion (1/K) : SI.
    """

    numbers: Any
    shape: Plane | Surface
    openings: tuple[OpeningFacts, ...]
    gap: float
    gap_at: tuple[float, ...]
    gap_cell: float
    cells: int
    density: float
    viscosity: float
    expansion: float = 0.0

    @property
    def rubs(self) -> bool:
        """Whether there is a wall the fluid rubs on."""
        smooth = {wall.edge for wall in self.numbers.walls.values() if wall.kind in ("slip", "symmetry")}
        return bool(
            set(self.shape.edge_lengths) - smooth - {opening.edge for opening in self.openings} - {"axis"}
        )

    @property
    def shape_is_plane(self) -> bool:
        """Whether the fluid fills a plane, or turns about an axis."""
        return isinstance(self.shape, Plane)

    @property
    def gap_across(self) -> float:
        """Cells across the narrowest gap."""
        return self.gap / self.gap_cell if self.gap_cell else 0.0

    def by_space(self) -> list[tuple[OpeningFacts, ...]]:
        """Give the openings of every space that hangs together; those of a plane are of one."""
        spaces = spaces_of(self.shape) if isinstance(self.shape, Surface) else []
        if len(spaces) < 2:
            return [self.openings]
        return [
            tuple(opening for opening in self.openings if opening.edge in space.edge_lengths)
            for space in spaces
        ]

    def reynolds(self, opening: OpeningFacts) -> float | None:
        """Reynolds number of an opening on its hydraulic diameter: the bore, or twice the gap between
        plates.
        """
        if opening.flow is None or opening.area <= 0:
            return None
        diameter = opening.width if self.shape.axisymmetric else 2 * opening.width
        return abs(opening.flow) / opening.area * diameter * self.density / self.viscosity


@dataclass(frozen=True)
class NetFacts:
    """What margin notes on a network may look at: the resolved case, and the network at work."""

    numbers: Any
    working: NetworkResult


@dataclass(frozen=True)
class Note:
    """A remark beside a line of the sheet.

    Attributes
    ----------
    path : the line. level : "ready", "caution" or "blocked". text : the remark. remedy : words of the button,
    if any.
    edits : what the button does, path to value. fails : an answer made all the same is not to be trusted.
    """

    path: str
    level: str
    text: str
    remedy: str = ""
    edits: dict[str, Any] = field(default_factory=dict)
    kind: str = ""
    fails: bool = False


class NoteKind(Kind):
    """A check that is made while the case is written; ``check(facts)`` gives its notes.

    ``blocks``: it can forbid a solve. ``needs_fluid``: there is nothing to say of solids alone.
    ``measured``: the trust list judges the same on the answer itself; cautions of other kinds are items of
    the trust list.
    """

    about: ClassVar[str] = ""
    blocks: ClassVar[bool] = False
    measured: ClassVar[bool] = False
    needs_fluid: ClassVar[bool] = True
    on: ClassVar[str] = "field"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """Give the notes this check has to make."""
        raise NotImplementedError


def review_notes(facts: Facts | NetFacts, blocking: bool = False) -> list[Note]:
    """Make all checks on a field or on a network, or only those that can forbid a solve."""
    notes = []
    on = "network" if isinstance(facts, NetFacts) else "field"
    dry = isinstance(facts, Facts) and facts.shape.dry
    for name, kind in discover("mop_lantern.judge.notes", NoteKind).items():
        if kind.on != on or (blocking and not kind.blocks) or (dry and kind.needs_fluid):  # type: ignore[attr-defined]
            continue
        found: list[Note] = kind.check(facts)  # type: ignore[attr-defined]
        notes += [replace(note, kind=name) for note in found]
    return notes


def lasting_notes(facts: Facts | NetFacts) -> list[Note]:
    """Make the checks whose cautions go with an answer: all but those judged on the answer itself."""
    kinds = discover("mop_lantern.judge.notes", NoteKind)
    return [note for note in review_notes(facts) if note.level == "caution" and not kinds[note.kind].measured]  # type: ignore[attr-defined]


def named_temperatures(numbers: Any) -> list[float]:
    """Give the fixed temperatures of walls and openings of a case, K."""
    walls = [
        getattr(item, name, None) for item in numbers.warm.values() for name in ("temperature", "outside")
    ]
    openings = [item.temperature for item in numbers.openings.values()]
    return [value for value in [*walls, *openings] if isinstance(value, float)]
