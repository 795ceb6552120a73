"""What surfaces of a space radiate to each other: grey, diffuse, through a gas that takes no part."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import lu_factor, lu_solve

from mop_lantern.field.radiation.views import Views

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
NO_ROWS = np.zeros(0, np.int64)
SIGMA = 5.670374419e-8  # W/m2/K4; CODATA 2018


class Exchange:
    """The net of radiosities, linear about the present temperatures of the surfaces.

    A face of emissivity e and temperature T sends e s T^4 + (1 - e) H; patches share the irradiation H (W/m2)
    of what their faces send. About a temperature, e s T^4 is r T - b with r = 4 e s T^3 and b = 3 e s T^4,
    and T itself follows from H, so that H is solved for together with T.

    Source: Howell, Menguc, Daun and Siegel, *Thermal Radiation Heat Transfer* (7th ed.), chapter 5
    (net-radiation method); linear form: own derivation.

    Parameters
    ----------
    views : what patches see. emissivity : (n_boundary,) of every boundary face. size : (n_boundary,) m2.
    """

    def __init__(self, views: Views, emissivity: Floats, size: Floats) -> None:
        self.views = views
        self.faces = np.flatnonzero(views.patch >= 0)
        self.patch = views.patch[self.faces]
        self.size = size[self.faces]
        self.emissivity = emissivity[self.faces]
        self.count = len(views.size)
        self.reflected = 1 - self._mean(self.emissivity)
        self.slope = np.zeros(len(self.faces))  # r, W/m2/K
        self.less = np.zeros(len(self.faces))  # b, W/m2
        self.gain = np.zeros(len(self.faces))  # K of a surface for 1 W/m2 of irradiation
        self._net: tuple[Floats, NDArray[np.int32]] | None = None

    def _mean(self, values: Floats) -> Floats:
        """Mean over the faces of every patch, (count,)."""
        return np.asarray(np.bincount(self.patch, values * self.size, self.count) / self.views.size)

    def linearise(self, temperature: Floats) -> None:
        """Take the temperatures (k,) K of the faces to be linear about."""
        warm = np.maximum(temperature, 1.0)
        self.slope = 4 * self.emissivity * SIGMA * warm**3
        self.less = 3 * self.emissivity * SIGMA * warm**4

    def tie(
        self,
        gain: Floats,
        rows: Ints = NO_ROWS,
        spread: Callable[[Floats], Floats] | None = None,
    ) -> None:
        """Take how much warmer (K) every face (k,) gets by 1 W/m2 of irradiation: 0 where it is held.

        Parameters
        ----------
        rows : (s,) faces that pass heat on to each other as well, of no ``gain``. spread : gives how much
        warmer these get, (s, n) K, by irradiations (s, n) W/m2.
        """
        self.gain = gain
        comes_back = self.reflected + self._mean(self.slope * gain)
        seen = self.views.factors * comes_back
        if spread is not None:
            patch = self.patch[rows]
            lit, each = np.unique(patch, return_inverse=True)
            warmer = spread((each[:, None] == np.arange(len(lit))).astype(float))
            sent = (self.slope[rows] * self.size[rows])[:, None] * warmer
            of_patch = np.zeros((self.count, len(lit)))
            np.add.at(of_patch, patch, sent)
            seen[:, lit] += self.views.factors @ (of_patch / self.views.size[:, None])
        self._net = lu_factor(np.eye(self.count) - seen, check_finite=False)

    def irradiation(self, unlit: Floats, change: bool = False) -> Floats:
        """Give the irradiation (k,) W/m2 of every face from the temperatures (k,) K that faces would have
        without any; of a ``change`` of those, its change.
        """
        assert self._net is not None
        own = self._mean(self.slope * unlit - (0.0 if change else self.less))
        return np.asarray(lu_solve(self._net, self.views.factors @ own, check_finite=False)[self.patch])

    def taken(self, irradiation: Floats, temperature: Floats) -> Floats:
        """Give the net heat every face takes up, (k,) W/m2."""
        return np.asarray(self.emissivity * irradiation - self.slope * temperature + self.less)

    def sent(self, irradiation: Floats, temperature: Floats) -> Floats:
        """Give the radiosity of every patch, (count,) W/m2."""
        own = self._mean(self.slope * temperature - self.less)
        return own + self.reflected * self._mean(irradiation)
