"""What a turbulence closure is: one file a kind in `closures`."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind

Floats = NDArray[np.float64]
C_MU = 0.09
KAPPA = 0.41
LAMINAR_LIKE = 200.0  # sqrt(k) y / nu: below, dissipation is by law


@dataclass
class Terms:
    """What a closure makes of the present field, in every cell: (n_cells,) each.

    Attributes
    ----------
    eddy : eddy viscosity, m2/s. spread, spread2 : diffusivity of the turbulence energy and of the second
    quantity, m2/s. make, make2 : what is made of them a second. lose, lose2 : the share lost, 1/s. pull,
    pull2 : what counts for the diagonal, 1/s; not less than what is lost.
    """

    eddy: Floats
    spread: Floats
    spread2: Floats
    make: Floats
    make2: Floats
    lose: Floats
    lose2: Floats
    pull: Floats
    pull2: Floats

    @classmethod
    def empty(cls, count: int) -> Terms:
        """Make room for so many cells."""
        return cls(*(np.zeros(count) for _ in range(9)))


@dataclass(frozen=True)
class Present:
    """The field a closure looks at, in every cell.

    Attributes
    ----------
    k, second : (n_cells,) m2/s2 and the closure's own. gk, g2 : (n_cells, 3) 1/m, gradients of their
    logarithms. distance : (n_cells,) m from the nearest wall. nu : (n_cells,) m2/s, of the fluid. velocity
    : (n_cells, 3) m/s. shear : (n_cells,) 1/s2, the square of the shear rate. slope : (n_cells, 3, 3) 1/s,
    gradient of the velocity.
    """

    k: Floats
    second: Floats
    gk: Floats
    g2: Floats
    distance: Floats
    nu: Floats
    velocity: Floats
    shear: Floats
    slope: Floats


class Closure(Kind):
    """How turbulence is modelled. The wall treatment is the same for all.

    Attributes
    ----------
    phrase : how a sentence says it, "The flow is ...". second : name of the second quantity, "omega" (1/s) or
    "epsilon" (m2/s3); "" where only an eddy viscosity is made, without equations. relaxation : of both
    quantities, 0 to 1; with 0.95 columns of k-epsilon and diffusers of SST may swing for ever.
    rise : what of the turbulence made by buoyancy counts in the second quantity.
    """

    phrase: ClassVar[str] = ""
    relaxation: ClassVar[float] = 0.8
    second: ClassVar[str] = ""
    rise: ClassVar[float] = 0.0

    @classmethod
    def terms(cls, block: Any, now: Present, out: Terms) -> None:
        """Write what the closure makes of the present field in the cells of a block (first, end, ...)."""
        cls.compiled()(block, *_arrays(now), *_arrays(out))

    @classmethod
    def compiled(cls) -> Any:
        """Give the compiled loop over the cells of a block; it takes the block, and the arrays of `Present`
        and of `Terms` in their order.
        """
        raise NotImplementedError

    @classmethod
    def held(cls, k: Floats, distance: Floats, nu: Floats) -> Floats:
        """Give the second quantity by law beside a wall, (m,)."""
        raise NotImplementedError

    @classmethod
    def also_held(cls, k: Floats, distance: Floats, nu: Floats) -> NDArray[np.bool_]:
        """Tell where it is by law besides the cells on walls, (n_cells,)."""
        return np.zeros(len(k), bool)

    @classmethod
    def dissipation(cls, k: Floats, second: Floats) -> Floats:
        """Give the dissipation, m2/s3."""
        raise NotImplementedError

    @classmethod
    def of_length(cls, k: Any, length: Any) -> Any:
        """Give the second quantity where turbulence has an energy (m2/s2) and a mixing length (m)."""
        raise NotImplementedError


class Dissipating(Closure):
    """A closure of turbulence energy k and its dissipation epsilon. Beside walls dissipation is by law of the
    distance.

    Source of the law: Wolfshtein, Int. J. Heat Mass Transfer 12 (1969) 301.
    """

    second: ClassVar[str] = "epsilon"
    rise: ClassVar[float] = 1.44

    @classmethod
    def held(cls, k: Floats, distance: Floats, nu: Floats) -> Floats:
        """Dissipation of a layer beside a wall."""
        scale = KAPPA * C_MU**-0.75
        reynolds = np.sqrt(k) * distance / nu
        return np.asarray(k**1.5 / (scale * distance * -np.expm1(-reynolds / (2 * scale))))

    @classmethod
    def dissipation(cls, k: Floats, second: Floats) -> Floats:
        """It is carried itself."""
        return second

    @classmethod
    def also_held(cls, k: Floats, distance: Floats, nu: Floats) -> NDArray[np.bool_]:
        """All of the layer that viscosity rules."""
        return np.asarray(np.sqrt(k) * distance < LAMINAR_LIKE * nu)

    @classmethod
    def of_length(cls, k: Any, length: Any) -> Any:
        """Dissipation of turbulence of a mixing length."""
        return C_MU**0.75 * k**1.5 / length


def _arrays(record: Present | Terms) -> list[Floats]:
    return [getattr(record, item.name) for item in fields(record)]
