"""Velocity arrows."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.scene.datasets import polylines
from mop_lantern.scene.stagehand import Layer, Stagehand, actor

SPACING = 2.2  # of the mark size


class Arrows(Layer):
    """Arrows on an even lattice, length by speed.

    Source: weighted linear fit through the nearest cells.
    """

    caption: ClassVar[str] = "Arrows"
    help: ClassVar[str] = "Show velocity arrows"
    order: ClassVar[int] = 4
    kind: Literal["arrows"] = "arrows"

    @classmethod
    def props(cls, hand: Stagehand) -> list[Any]:
        """Draw a shaft and two barbs for every arrow."""
        assert hand.answer
        low = hand.answer.mesh.centre.min(axis=0)[:2]
        high = hand.answer.mesh.centre.max(axis=0)[:2]
        step = SPACING * hand.unit
        axes = [
            np.arange(a + step / 2, b, step) if b - a > step else np.array([(a + b) / 2])
            for a, b in zip(low, high, strict=True)
        ]
        places = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 2)
        places = places[hand.answer.inside(places)]
        if not len(places):
            return []
        velocity = np.column_stack([hand.answer.sampler(name, places) for name in ("u", "v")])
        fastest = float(np.hypot(*velocity.T).max()) or 1.0
        lines = []
        for place, way in zip(places, velocity / fastest * step * 1.4, strict=True):
            if np.hypot(*way) < 0.05 * step:
                continue
            side = np.array([-way[1], way[0]])
            tip = place + way / 2
            lines += [
                np.array([place - way / 2, tip]),
                np.array([tip - 0.3 * way + 0.15 * side, tip, tip - 0.3 * way - 0.15 * side]),
            ]
        return [actor(polylines(lines), hand.inks.ink, 1.2, 0.4 * hand.unit)]
