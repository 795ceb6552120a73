"""The standard k-epsilon closure."""

from __future__ import annotations

from functools import cache
from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.closure import C_MU, Closure, Floats, Present, Terms, dissipation_near

LAMINAR_LIKE = 200.0  # sqrt(k) y / nu: below, dissipation is by law


class KEpsilon(Closure):
    """Turbulence energy k and its dissipation epsilon. Robust and well known in rooms and ducts; it
    shortens the eddies behind steps and overspreads round jets. Beside walls dissipation is by law of the
    distance.

    Source: Launder and Spalding, Computer Methods in Applied Mechanics and Engineering 3 (1974) 269; beside
    walls Wolfshtein, Int. J. Heat Mass Transfer 12 (1969) 301, blended as by Jongen (1992).
    """

    caption: ClassVar[str] = "Turbulent, k-epsilon"
    phrase: ClassVar[str] = "turbulent (k-epsilon)"
    second: ClassVar[str] = "epsilon"
    kind: Literal["k_epsilon"] = "k_epsilon"

    @classmethod
    def terms(cls, block: Any, now: Present, out: Terms) -> None:
        """Production by shear, at most ten times the dissipation."""
        _compiled()(
            block,
            now.k,
            now.second,
            now.distance,
            now.nu,
            now.shear,
            out.eddy,
            out.spread,
            out.spread2,
            out.make,
            out.make2,
            out.lose,
            out.lose2,
            out.pull,
            out.pull2,
        )

    @classmethod
    def held(cls, k: Floats, distance: Floats, nu: Floats) -> Floats:
        """Dissipation of a layer beside a wall."""
        return dissipation_near(k, distance, nu)

    @classmethod
    def also_held(cls, k: Floats, distance: Floats, nu: Floats) -> NDArray[np.bool_]:
        """All of the layer that viscosity rules."""
        return np.asarray(np.sqrt(k) * distance < LAMINAR_LIKE * nu)

    @classmethod
    def of_length(cls, k: Any, length: Any) -> Any:
        """Dissipation of turbulence of a mixing length."""
        return C_MU**0.75 * k**1.5 / length


@cache
def _compiled() -> Any:
    from numba import njit

    @njit(cache=True, error_model="numpy", nogil=True)
    def terms(  # type: ignore[no-untyped-def]  # noqa: PLR0913 - arrays of a field
        block, k, e, y, nu, S2, eddy, Gk, Ge, make, make2, lose, lose2, pull, pull2
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
