"""The standard k-epsilon closure."""

from __future__ import annotations

from functools import cache
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.field.closure import Dissipating


class KEpsilon(Dissipating):
    """Turbulence energy k and its dissipation epsilon. Robust and well known in rooms and ducts; it
    shortens the eddies behind steps and overspreads round jets. Beside walls dissipation is by law of the
    distance.

    Source: Launder and Spalding, Computer Methods in Applied Mechanics and Engineering 3 (1974) 269; beside
    walls Wolfshtein, Int. J. Heat Mass Transfer 12 (1969) 301, blended as by Jongen (1992).
    """

    caption: ClassVar[str] = "Turbulent, k-epsilon"
    phrase: ClassVar[str] = "turbulent (k-epsilon)"
    kind: Literal["k_epsilon"] = "k_epsilon"

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
            root = np.sqrt(k[c])
            reynolds = root * y[c] / nu[c]
            share = 0.5 * (1.0 + np.tanh((reynolds - 200.0) / 8.7))
            near = 0.09 * root * scale * y[c] * (1.0 - np.exp(-min(reynolds / 70.0, 50.0)))
            eddy[c] = share * 0.09 * k[c] * k[c] / e[c] + (1.0 - share) * min(near, 1e6)
            Gk[c] = nu[c] + eddy[c]
            Ge[c] = nu[c] + eddy[c] / 1.3
            made = min(eddy[c] * S2[c], 10.0 * e[c])
            rate = e[c] / k[c]
            make[c] = made
            lose[c] = rate
            pull[c] = rate
            make2[c] = 1.44 * rate * made
            lose2[c] = 1.92 * rate
            pull2[c] = 2.0 * 1.92 * rate

    return terms
