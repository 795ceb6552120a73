"""Surfaces on which vapour condenses."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge import Trust
from mop_lantern.laws.moist import dew_point, humidity_of
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.moisture import shares
from mop_lantern.units import show, show_change

NAMED = 3


class Dew(TrustCheck):
    """Whether vapour condenses on surfaces, or makes fog in the air: neither is solved for.

    Source: the dew point of the air before every surface.
    """

    caption: ClassVar[str] = "Dew and fog"
    kind: Literal["dew"] = "dew"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at surfaces, then at the air."""
        physics = evidence.physics
        held = shares(physics)
        if held is None:
            return []
        mesh = physics.wet
        walls = physics.flow.boundary.wall
        warmer = physics.scalars["T"].boundary_values()[: mesh.n_boundary] - dew_point(held[1])
        warmer = np.where(walls, warmer, np.inf)
        size = physics.flow.geometry.size_b * mesh.turn
        worst = int(np.argmin(warmer))
        least = float(warmer[worst])
        place = mesh.patch_names[mesh.patch[worst]]
        items = []
        if least >= 0:
            text = (
                f"No surface is colder than the dew point of the air before it; {place} is closest, "
                f"{show_change(least, 'temperature', '°C')} over it."
            )
            items.append(Trust("dew", "holds", -least, 0.0, text))
        else:
            wet = warmer < 0
            names = list(dict.fromkeys(mesh.patch_names[k] for k in mesh.patch[wet]))
            area = show(float(size[wet].sum()), "area", "m2", 3)
            more = " and more" if len(names) > NAMED else ""
            text = (
                f"{area} of {', '.join(names[:NAMED])}{more} are colder than the dew point of the air before "
                f"them, by {show_change(-least, 'temperature', '°C')} at most: vapour condenses "
                "there. What it takes from the air and the heat it brings are not solved for."
            )
            items.append(Trust("dew", "caution", -least, 0.0, text))
        fog = humidity_of(held[0], physics.in_fluid("T")).max(initial=0.0)
        if fog > 1:
            text = f"The air holds more vapour than it can, {fog:.0%} of it at most: fog would form."
            items.append(Trust("dew.fog", "caution", float(fog), 1.0, text))
        return items
