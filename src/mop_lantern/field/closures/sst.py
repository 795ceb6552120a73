"""Shear stress transport."""

from __future__ import annotations

from functools import cache
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.field.closure import C_MU, Closure, Floats


class Sst(Closure):
    """Turbulence energy k and its frequency omega, k-omega beside walls and k-epsilon off them, with a limit
    on the shear stress. The best choice where flow separates: steps, diffusers, valves.

    Source: Menter, Kuntz and Langtry, Turbulence, Heat and Mass Transfer 4 (2003) 625.
    """

    caption: ClassVar[str] = "Turbulent, k-omega SST"
    phrase: ClassVar[str] = "turbulent (k-omega SST)"
    second: ClassVar[str] = "omega"
    rise: ClassVar[float] = 0.5
    kind: Literal["sst"] = "sst"

    @classmethod
    def compiled(cls) -> Any:
        """Its loop, compiled on first use: the window knows closures by their words only."""
        return _compiled()

    @classmethod
    def held(cls, k: Floats, distance: Floats, nu: Floats) -> Floats:
        """The sum of the values of the sublayer and of the log layer: 6 to 10 % low at y+ 5 to 100, the root
        of their squares 20 to 36 % (measured against fine solutions).
        """
        return np.asarray(6 * nu / (0.075 * distance**2) + np.sqrt(k) / (C_MU**0.25 * 0.41 * distance))

    @classmethod
    def dissipation(cls, k: Any, second: Any) -> Any:
        """Of the frequency."""
        return C_MU * k * second

    @classmethod
    def of_length(cls, k: Any, length: Any) -> Any:
        """Frequency of turbulence of a mixing length."""
        return np.sqrt(k) / (C_MU**0.25 * length)


@cache
def _compiled() -> Any:
    from numba import njit

    @njit(cache=True, error_model="numpy", nogil=True)
    def terms(  # type: ignore[no-untyped-def]  # noqa: PLR0913 - arrays of a field
        block, k, w, gk, gw, y, nu, U, S2, g, eddy, Gk, Gw, make, make2, lose, lose2, pull, pull2
    ):
        for c in range(block[0], block[1]):
            cross = k[c] * (gk[c, 0] * gw[c, 0] + gk[c, 1] * gw[c, 1] + gk[c, 2] * gw[c, 2])
            root = np.sqrt(k[c])
            far = root / (0.09 * w[c] * y[c])
            near = 500.0 * nu[c] / (y[c] * y[c] * w[c])
            limit = 4.0 * 0.856 * k[c] / (max(2.0 * 0.856 * cross, 1e-10) * y[c] * y[c])
            blend = np.tanh(min(min(max(far, near), limit), 10.0) ** 4)
            wall = np.tanh(min(max(2.0 * far, near), 10.0) ** 2)
            eddy[c] = 0.31 * k[c] / max(0.31 * w[c], np.sqrt(S2[c]) * wall)
            Gk[c] = nu[c] + (0.85 * blend + 1.0 * (1.0 - blend)) * eddy[c]
            Gw[c] = nu[c] + (0.5 * blend + 0.856 * (1.0 - blend)) * eddy[c]
            beta = 0.075 * blend + 0.0828 * (1.0 - blend)
            alpha = 5.0 / 9.0 * blend + 0.44 * (1.0 - blend)
            made = min(eddy[c] * S2[c], 10.0 * 0.09 * k[c] * w[c])
            make[c] = made
            lose[c] = 0.09 * w[c]
            pull[c] = lose[c]
            along = 2.0 * 0.856 * (1.0 - blend) * cross
            make2[c] = alpha * made / max(eddy[c], 1e-30) + max(along, 0.0)
            lose2[c] = beta * w[c] + max(-along, 0.0) / w[c]
            pull2[c] = 2.0 * beta * w[c] + max(-along, 0.0) / w[c]

    return terms
