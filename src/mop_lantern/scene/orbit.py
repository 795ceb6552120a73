"""Where the eye stands before a space: turned about the upright, raised, always looking at the middle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
SLOW = 0.4  # degrees a pixel


@dataclass
class Orbit:
    """A direction of view.

    Attributes
    ----------
    azimuth, elevation : degrees of the eye about z from x, and over the x-y plane. focus : (3,) m, what is
    looked at.
    """

    azimuth: float = -62.0
    elevation: float = 28.0
    focus: tuple[float, float, float] = (0.0, 0.0, 0.0)

    def turn(self, dx: float, dy: float) -> None:
        """Turn by a drag in pixels."""
        self.azimuth = (self.azimuth - SLOW * dx) % 360.0
        self.elevation = float(np.clip(self.elevation + SLOW * dy, -89.0, 89.0))

    @property
    def axes(self) -> tuple[Floats, Floats, Floats]:
        """Directions to the right, upwards and towards the eye."""
        a = np.radians(self.azimuth)
        e = np.radians(self.elevation)
        towards = np.array(
            [
                np.cos(e) * np.cos(a),
                np.cos(e) * np.sin(a),
                np.sin(e),
            ]
        )
        right = np.array([-np.sin(a), np.cos(a), 0.0])
        return right, np.cross(towards, right), towards

    def aim(
        self,
        camera: object,
        centre: Floats,
        height: float,
    ) -> None:
        """Set a camera with parallel projection, its middle moved by ``centre`` (2,) m in the plane of the
        picture.
        """
        right, up, towards = self.axes
        middle = np.array(self.focus) + centre[0] * right + centre[1] * up
        camera.SetFocalPoint(*middle)  # type: ignore[attr-defined]
        camera.SetPosition(*(middle + 10 * height * towards))  # type: ignore[attr-defined]
        camera.SetViewUp(*up)  # type: ignore[attr-defined]
        camera.SetParallelScale(height / 2)  # type: ignore[attr-defined]
        camera.SetClippingRange(0.1 * height, 40 * height)  # type: ignore[attr-defined]

    def extent(self, points: Floats) -> tuple[Floats, Floats]:
        """Give the middle (2,) and the size (2,) of points (n, 3) m as seen, from the focus."""
        right, up, _ = self.axes
        seen = (points - np.array(self.focus)) @ np.column_stack([right, up])
        low = seen.min(axis=0)
        high = seen.max(axis=0)
        return 0.5 * (low + high), high - low
