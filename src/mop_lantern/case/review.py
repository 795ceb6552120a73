"""Review a case: its numbers, its shape, every fault, every margin note. A case without faults is settled:
ready to solve.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from mop_lantern.case.document import Case
from mop_lantern.case.edits import with_variant
from mop_lantern.case.first_grid import first_grid
from mop_lantern.case.network_review import (
    LIVE_BELOW,
    SettledNetwork,
    fault_of,
    fluids_of,
    network_faults,
    working_of,
)
from mop_lantern.case.overlooked import overlooked
from mop_lantern.case.reference_faults import endless_faults, reference_faults
from mop_lantern.case.resolve import resolve
from mop_lantern.case.sections import place_in_work
from mop_lantern.case.solid_review import NO_HEAT, solids_without_heat
from mop_lantern.case.space_review import facts_in_space
from mop_lantern.case.totals import made_equal
from mop_lantern.declare import Numbers, discover
from mop_lantern.errors import CaseError, EditError, Fault, RunError
from mop_lantern.field.boundary import Opening
from mop_lantern.field.closure import Closure
from mop_lantern.grid.across import leaves_across
from mop_lantern.grid.tree import refine
from mop_lantern.judge import Facts, NetFacts, NetworkResult, Note, OpeningFacts, review_notes
from mop_lantern.judge.regime import Regime, regime_of
from mop_lantern.materials import Material, Solid
from mop_lantern.media import Fluid
from mop_lantern.media._fluid import Medium
from mop_lantern.network.steady import NetworkFault
from mop_lantern.shape import Plane, Surface, as_it_is, build, join
from mop_lantern.shape.passages import narrowest_passage
from mop_lantern.units import UnitFault, worded_in

ROOM = 293.15  # K
NOTHING = Fluid(ROOM, 1.0, 1.0, 1.0, 1.0, 0.0)


@dataclass(frozen=True)
class ResolvedCase:
    """A case ready to solve: the case with its variant applied, its numbers and its shape."""

    case: Case
    variant: str
    numbers: Numbers
    shape: Plane | Surface

    def __post_init__(self) -> None:
        kinds: Any = discover("mop_lantern.field.openings", Opening)
        of_room = [each for each in self.numbers.openings.values() if kinds[each.kind].of_room]
        for opening in of_room:
            opening.room = self.shape.volume

    @cached_property
    def medium(self) -> Fluid:
        """The fluid, worked out; of solids alone something that counts for nothing."""
        if self.shape.dry:
            return NOTHING
        numbers = next(iter(self.numbers.media.values()))
        kind = discover("mop_lantern.media", Medium)[numbers.kind]
        return kind.fluid(numbers)

    @cached_property
    def regime(self) -> Regime:
        """Laminar or turbulent, and why."""
        return regime_of(self.facts)

    @cached_property
    def facts(self) -> Facts:
        """What is known of openings without the grid."""
        return facts_of(self, brief=True)

    @cached_property
    def closure(self) -> type[Closure] | None:
        """The turbulence closure, None for laminar flow."""
        name = self.regime.closure if not self.shape.dry else ""
        return discover("mop_lantern.field.closures", Closure)[name] if name else None

    @cached_property
    def solids(self) -> dict[str, Solid]:
        """What every part is made of that conducts heat, where heat is solved for."""
        if not self.numbers.heat.solve:
            return {}
        kinds = discover("mop_lantern.materials", Material)
        return {item.part: kinds[item.kind].solid(item) for item in self.numbers.solids.values()}

    @cached_property
    def meshed(self) -> Plane | Surface:
        """The shape with those of its solids that get cells."""
        kept = {key: solid for key, solid in self.shape.solids.items() if key in self.solids}
        return replace(self.shape, solids=kept)  # type: ignore[arg-type]

    @property
    def open_edges(self) -> frozenset[str]:
        """Names of the edges fluid crosses, and of lines of symmetry, which are no walls."""
        mirrors = [wall.edge for wall in self.numbers.walls.values() if wall.kind == "symmetry"]
        return frozenset([opening.edge for opening in self.numbers.openings.values()] + mirrors)


@dataclass(frozen=True)
class SettledBoth:
    """A case with a space and a network, both ready to solve, each for itself."""

    field: ResolvedCase
    network: SettledNetwork


Settled = ResolvedCase | SettledNetwork | SettledBoth


@dataclass(frozen=True)
class Review:
    """What is known of a case while it is written."""

    case: Case
    variant: str
    faults: tuple[Fault, ...] = ()
    notes: tuple[Note, ...] = ()
    numbers: Numbers | None = None
    shape: Plane | Surface | None = None
    facts: Facts | None = field(default=None, repr=False)
    working: NetworkResult | None = field(default=None, repr=False)

    @property
    def blocked(self) -> bool:
        """Whether the case cannot be solved as it stands."""
        return bool(self.faults) or any(note.level == "blocked" for note in self.notes)

    def settled(self) -> Settled:
        """Give the settled case: a field, a network alone, or both.

        Raises
        ------
        CaseError : all faults.
        """
        if self.blocked:
            blocked = [Fault(note.path, note.text) for note in self.notes if note.level == "blocked"]
            raise CaseError([*self.faults, *blocked])
        assert self.numbers is not None
        field_ = self.shape and ResolvedCase(self.case, self.variant, self.numbers, self.shape)
        network = (
            SettledNetwork(self.case, self.variant, self.numbers, fluids_of(self.numbers))
            if self.case.network.lines
            else None
        )
        if field_ and network:
            return SettledBoth(field_, network)
        settled = field_ or network
        assert settled is not None
        return settled


def settle_any(case: Case, variant: str | None = None) -> Settled:
    """Work out a case for solving; raise `CaseError` with all faults when it cannot be solved."""
    return review(case, variant, brief=True).settled()


def settle(case: Case, variant: str | None = None) -> ResolvedCase:
    """Work out a case that has a field; raise `CaseError` with all faults when it cannot be solved."""
    settled = settle_any(case, variant)
    if isinstance(settled, SettledBoth):
        return settled.field
    if isinstance(settled, SettledNetwork):
        raise CaseError(
            [
                Fault(
                    "shape",
                    "this case is a network alone: it has no space with a field.",
                    "Add a part to the shape.",
                )
            ]
        )
    return settled


def review(case: Case, variant: str | None = None, brief: bool = False) -> Review:
    """Review a case with a variant applied; never raises for anything a person may write.

    ``brief`` leaves out what only informs: the cells are not counted and only notes that can forbid a solve
    are made.
    """
    try:
        case = with_variant(case, variant)
    except EditError as problem:
        return Review(case, variant or "", problem.faults)
    with worded_in(case.units):
        return _reviewed(case, variant, brief)


def _reviewed(case: Case, variant: str | None, brief: bool) -> Review:
    """Review a case whose variant is applied."""
    numbers, faults = resolve(case)
    faults = [*faults, *overlooked(case)]
    if is_network(case):
        return _network(case, variant or "", numbers, faults, brief)
    found = _field(case, variant or "", numbers, list(faults), brief)
    if not case.network.lines:
        return found
    network = _network(case, variant or "", numbers, faults, brief)
    return replace(
        found,
        faults=tuple(_in_order([*found.faults, *network.faults])),
        notes=found.notes + network.notes,
        working=network.working,
    )


def _field(
    case: Case,
    variant: str,
    numbers: Numbers,
    faults: list[Fault],
    brief: bool,
) -> Review:
    """Review the space of a case, and the solids."""
    shape = None
    if solids_without_heat(case):
        faults.append(NO_HEAT)
    elif not any(fault.path.startswith("shape") for fault in faults):
        try:
            shape = build(numbers.shape)
        except CaseError as problem:
            faults += problem.faults
    faults += reference_faults(case, numbers, shape)
    if not any(fault.path.startswith("media") for fault in faults):
        faults += _medium_faults(case, numbers)
    result = Review(
        case,
        variant,
        tuple(_in_order(faults)),
        (),
        numbers,
        shape,
    )
    if shape is None or faults:
        return result
    if not shape.dry:
        numbers.grid.first = first_grid(numbers, shape, next(iter(fluids_of(numbers).values())))
    try:
        facts = facts_of(ResolvedCase(case, variant, numbers, shape), brief)
    except RunError as problem:
        return Review(
            case,
            variant,
            (Fault("field.grid", problem.says, problem.remedy),),
            (),
            numbers,
            shape,
        )
    notes = (_remedied(note, case, facts) for note in review_notes(facts, brief))
    return Review(
        case,
        variant,
        (),
        tuple(notes),
        numbers,
        shape,
        facts,
    )


def facts_of(settled: ResolvedCase, brief: bool = False) -> Facts:
    """Give what margin notes may look at of a settled case; ``brief`` leaves out the grid."""
    numbers = settled.numbers
    shape = settled.shape
    if not brief:  # which the regime is judged by
        numbers.grid.wall_unit = settled.regime.wall_unit
    return (
        facts_in_space(numbers, shape, settled.medium, brief)
        if isinstance(shape, Surface)
        else _facts(numbers, shape, settled, brief)
    )


def _remedied(note: Note, case: Case, facts: Facts) -> Note:
    """Give a note on flows that do not cancel the button that lets them."""
    if note.kind != "no_way_out":
        return note
    try:
        return replace(note, remedy="Let as much leave as enters", edits=made_equal(case, facts))
    except CaseError:
        return note


def _network(
    case: Case,
    variant: str,
    numbers: Numbers,
    faults: list[Fault],
    brief: bool,
) -> Review:
    """Review a network alone; one that can be solved at once is, so that its notes speak of what happens in
    it.
    """
    faults = [fault for fault in faults if not fault.path.startswith(("shape", "field"))]
    faults += (
        endless_faults(numbers.network.time, "network.time") if numbers.network.time.mode != "steady" else []
    )
    faults += network_faults(case, numbers) + (
        [] if any(fault.path.startswith("media") for fault in faults) else _medium_faults(case, numbers)
    )
    result = Review(
        case,
        variant,
        tuple(_in_order(faults)),
        (),
        numbers,
    )
    if faults or brief or len(case.network.lines) > LIVE_BELOW:
        return result
    settled = SettledNetwork(case, variant, numbers, fluids_of(numbers))
    try:
        working = working_of(settled.operate(), settled)
    except NetworkFault as problem:
        return Review(
            case,
            variant,
            (fault_of(problem),),
            (),
            numbers,
        )
    return Review(
        case,
        variant,
        (),
        tuple(review_notes(NetFacts(numbers, working))),
        numbers,
        working=working,
    )


def is_network(case: Case) -> bool:
    """Whether a case is a network alone."""
    return case.network_alone


def quick_shape(case: Case, variant: str | None = None) -> Plane | Surface | None:
    """Build only the shape of a case with a variant applied, or give None while it cannot be built. Of
    several spaces or a leaking one all is given.
    """
    try:
        numbers, faults = resolve(with_variant(case, variant))
        if any(fault.path.startswith("shape") for fault in faults):
            return None
        try:
            return build(numbers.shape)
        except CaseError:
            return _loosely(numbers.shape.solids) if numbers.shape.space == "space" else None
    except CaseError:
        return None


def _loosely(solids: dict[str, Any]) -> Surface | None:
    """Give all there is to see of parts that make no wet space: joined, or where a model is open, that
    alone.
    """
    try:
        return join(solids, loose=True)
    except CaseError:
        return as_it_is(solids)


def _in_order(faults: list[Fault]) -> list[Fault]:
    return sorted(dict.fromkeys(faults), key=lambda fault: place_in_work(fault.path))


def _medium_faults(case: Case, numbers: Numbers) -> list[Fault]:
    """Check that the fluid's data reach to where they are needed."""
    faults = []
    for key, medium in numbers.media.items():
        kind = discover("mop_lantern.media", Medium)[medium.kind]
        try:
            kind.fluid(medium)
        except (ValueError, UnitFault) as problem:
            faults.append(
                Fault(
                    f"media.{key}",
                    str(problem),
                    "Change its temperature or composition, or use own properties.",
                )
            )
    return faults


def _facts(
    numbers: Numbers,
    shape: Plane,
    settled: ResolvedCase,
    brief: bool,
) -> Facts:
    medium = settled.medium
    openings = tuple(
        _opening_facts(key, item, numbers, shape, medium.density) for key, item in numbers.openings.items()
    )
    gap, at, cell, cells = (0.0, (0.0, 0.0), 0.0, 0)
    if not brief:
        leaves = refine(settled.meshed, numbers.grid, settled.open_edges)  # type: ignore[arg-type]
        cells = len(leaves.level)
        passage = narrowest_passage(shape, settled.open_edges)
        if passage is not None:
            gap = passage.width
            at = (float(passage.middle[0]), float(passage.middle[1]))
            cell = gap / max(leaves_across(leaves, passage), 1e-9)
    return Facts(
        numbers,
        shape,
        openings,
        gap,
        at,
        cell,
        cells,
        medium.density,
        medium.viscosity,
        medium.expansion,
    )


def _opening_facts(key: str, item: Any, numbers: Numbers, shape: Plane, density: float) -> OpeningFacts:
    segments = shape.edge(item.edge)
    lengths = np.hypot(*(segments[:, 1] - segments[:, 0]).T)
    width = float(lengths.sum())
    area = width * shape.depth
    if shape.axisymmetric:
        area = float((2 * np.pi * segments[:, :, 1].mean(axis=1) * lengths).sum())
        inner = float(segments[:, :, 1].min())
        width = 2 * width if inner < 1e-9 * shape.size else width
    kind: Any = discover("mop_lantern.field.openings", Opening)[item.kind]
    part = numbers.shape.parts.get(item.edge.split(".")[0])
    run = float(getattr(part, "length", 0.0) or 0.0)
    if len(segments) == 1:
        across = np.linspace(-1, 1, 33)
        at = segments[0, 0] + (across[:, None] + 1) / 2 * (segments[0, 1] - segments[0, 0])
    else:
        across = np.zeros(len(segments))
        at = segments.mean(axis=1)
    now = item.at({"t": 0.0, "x": at[:, 0], "y": at[:, 1], "r": at[:, 1], "across": across})
    flow = kind.signed_flow(now, density, area)
    return OpeningFacts(key, item.edge, item.kind, width, area, flow, run, getattr(item, "profile", ""))
