"""A closure without equations, for rooms."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.field.closure import Closure, Present, Terms

SHARE = 0.03874  # Chen and Xu (1998)


class MixingLength(Closure):
    """An eddy viscosity that is a share of the speed times the distance from the nearest wall: quick, and of
    use for first looks at ventilated rooms; not for pipes, jets or loss coefficients.

    Source: Chen and Xu, Energy and Buildings 28 (1998) 137.
    """

    caption: ClassVar[str] = "Turbulent, without equations (rooms)"
    phrase: ClassVar[str] = "turbulent (eddy viscosity of rooms, without equations)"
    kind: Literal["mixing_length"] = "mixing_length"

    @classmethod
    def terms(cls, block: Any, now: Present, out: Terms) -> None:
        """The eddy viscosity alone."""
        mine = slice(block[0], block[1])
        speed = np.linalg.norm(now.velocity[mine], axis=1)
        out.eddy[mine] = SHARE * speed * np.minimum(now.distance[mine], 1e3)
