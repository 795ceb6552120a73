"""How much enters a space in all, and how much is given to leave it, in words."""

from __future__ import annotations

from dataclasses import dataclass

from mop_lantern.judge.facts import LIQUID, Facts
from mop_lantern.units import show

NAMED = 3
SAME = 1e-6  # share by which flows may differ


@dataclass(frozen=True)
class Totals:
    """The flows a case gives.

    Attributes
    ----------
    enters, leaves : m3/s. free : ids of openings whose flow follows. changes : of the volume an hour, 0 where
    the fluid is no gas.
    """

    enters: float
    leaves: float
    free: tuple[str, ...]
    changes: float

    @property
    def gap(self) -> float:
        """How much more enters than leaves, m3/s; 0 where they cancel."""
        gap = self.enters - self.leaves
        return gap if abs(gap) > SAME * max(self.enters, self.leaves) else 0.0

    @property
    def unequal(self) -> bool:
        """Whether both are given, and differ."""
        return bool(self.enters and self.leaves and self.gap)

    def briefly(self, unit: str) -> str:
        """Say it for a line at the edge of the window; nothing where no flow is given."""
        enters, leaves, gap = (
            show(value, "volume_flow", unit, 4) for value in (self.enters, self.leaves, abs(self.gap))
        )
        if self.unequal:
            return f"in {enters}, out {leaves}, {gap} differ"
        if self.enters and self.leaves:
            return f"in and out {enters}"
        return f"in {enters}" if self.enters else f"out {leaves}" if self.leaves else ""

    def told(self, unit: str) -> str:
        """Say it in a sentence, in a unit of volume flow; nothing where no flow is given."""
        if not self.enters and not self.leaves:
            return ""
        words = [f"{show(self.enters, 'volume_flow', unit, 4)} enter"] if self.enters else []
        if self.leaves:
            does = "leave" if self.enters else "are drawn off"
            words.append(f"{show(self.leaves, 'volume_flow', unit, 4)} {does}")
        told = f"In all {' and '.join(words)}"
        if self.changes:
            told += f", {self.changes:.3g} air changes an hour"
        return f"{told}{self._rest(unit)}."

    def _rest(self, unit: str) -> str:
        """Say where what does not cancel goes, or comes from."""
        if not self.gap:
            return ""
        gap = show(abs(self.gap), "volume_flow", unit, 3)
        if not self.free:
            return f": {gap} too much {'enters' if self.gap > 0 else 'leaves'}"
        names = ", ".join(self.free[:NAMED]) + (" and more" if len(self.free) > NAMED else "")
        what = f"the difference of {gap}" if self.unequal else "as much"
        return f"; {what} {'leaves' if self.gap > 0 else 'comes in'} through {names}"


def totals_of(facts: Facts) -> Totals:
    """Add up the flows the openings of a case are given."""
    flows = [opening.flow for opening in facts.openings]
    enters = sum(max(flow, 0.0) for flow in flows if flow is not None)
    leaves = sum(max(-flow, 0.0) for flow in flows if flow is not None)
    free = tuple(opening.key for opening in facts.openings if opening.flow is None)
    gas = facts.density < LIQUID and facts.shape.volume > 0
    return Totals(enters, leaves, free, 3600 * max(enters, leaves) / facts.shape.volume if gas else 0.0)
