"""The realizable k-epsilon closure."""

from __future__ import annotations

from functools import cache
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.field.closure import Dissipating


class Realizable(Dissipating):
    """Turbulence energy k and its dissipation epsilon, with an eddy viscosity that keeps normal stresses
    positive. Better than the standard one where flow turns, is strained or forms jets.

    Source: Shih, Liou, Shabbir, Yang and Zhu, Computers & Fluids 24 (1995) 227.
    """

    caption: ClassVar[str] = "Turbulent, realizable k-epsilon"
    phrase: ClassVar[str] = "turbulent (realizable k-epsilon)"
    kind: Literal["realizable"] = "realizable"

    @classmethod
    def compiled(cls) -> Any:
        """Its loop, compiled on first use: the window knows closures by their words only."""
        return _compiled()


@cache
def _compiled() -> Any:
    from numba import njit

    @njit(cache=True, error_model="numpy", nogil=True)
    def terms(  # type: ignore[no-untyped-def]  # noqa: PLR0913 - arrays of a field
        block, k, e, gk, ge, y, nu, U, S2, g, eddy, Gk, Ge, make, make2, lose, lose2, pull, pull2
    ):
        scale = 0.41 * 0.09**-0.75
        for c in range(block[0], block[1]):
            strain = np.sqrt(0.5 * S2[c])  # sqrt(S:S)
            cube, turn = 0.0, 0.0
            for i in range(3):
                for j in range(3):
                    sij = 0.5 * (g[c, i, j] + g[c, j, i])
                    turn += 0.25 * (g[c, i, j] - g[c, j, i]) ** 2
                    for m in range(3):
                        cube += sij * 0.25 * (g[c, j, m] + g[c, m, j]) * (g[c, m, i] + g[c, i, m])
            angle = np.sqrt(6.0) * cube / max(strain**3, 1e-30)
            angle = np.arccos(min(max(angle, -1.0), 1.0)) / 3.0
            time = k[c] / e[c]
            c_mu = 1.0 / (4.04 + np.sqrt(6.0) * np.cos(angle) * np.sqrt(strain * strain + turn) * time)
            root = np.sqrt(k[c])
            reynolds = root * y[c] / nu[c]
            share = 0.5 * (1.0 + np.tanh((reynolds - 200.0) / 8.7))
            near = 0.09 * root * scale * y[c] * (1.0 - np.exp(-min(reynolds / 70.0, 50.0)))
            eddy[c] = share * c_mu * k[c] * time + (1.0 - share) * min(near, 1e6)
            Gk[c] = nu[c] + eddy[c]
            Ge[c] = nu[c] + eddy[c] / 1.2
            rate = np.sqrt(S2[c])
            made = min(eddy[c] * S2[c], 10.0 * e[c])
            make[c] = made
            lose[c] = 1.0 / time
            pull[c] = lose[c]
            stretch = rate * time
            make2[c] = max(0.43, stretch / (stretch + 5.0)) * rate * e[c]
            lose2[c] = 1.9 * e[c] / (k[c] + np.sqrt(nu[c] * e[c]))
            pull2[c] = 2.0 * lose2[c]

    return terms
