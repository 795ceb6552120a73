"""Whether layers lie along the walls where they were asked for."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.field.boundary import GIVEN
from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck

LIMIT = 0.8


class WallsCovered(TrustCheck):
    """How much of the walls carries the layers that were asked for: none lie in sharp corners, nor where
    cells are already lower than the first layer.

    Source: count of faces; the limit is common practice, no source.
    """

    caption: ClassVar[str] = "Layers along walls"
    kind: Literal["layers"] = "layers"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at the grid of an answer."""
        mesh = evidence.physics.wet
        asked = any(item.kind == "layers" for item in evidence.settled.numbers.grid.refine.values())
        if not asked or not len(mesh.plane_area) or evidence.settled.solids:  # the sheet tells of those
            return []
        flow = evidence.physics.flow
        size = flow.geometry.size_b * (flow.boundary.wall & (flow.boundary.code == GIVEN))
        layered = mesh.level[mesh.owner[mesh.n_internal :]] < 0
        share = float(size[layered].sum() / max(size.sum(), 1e-300))
        if share >= LIMIT:
            return [Trust("layers", "holds", share, LIMIT, "Layers lie along the walls.")]
        text = f"Layers lie along {100 * share:.0f} % of the walls. "
        text += (
            "Elsewhere, in corners, the law of the wall serves on the cells there."
            if share
            else "The cells are lower than the first layer already, or there is no room."
        )
        return [Trust("layers", "caution", share, LIMIT, text)]
