"""A model of triangles brought in from a file."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from mop_lantern.declare import quantity, stored
from mop_lantern.declare.kind import Text
from mop_lantern.shape.model import unpacked
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Others, Solid, frame, place_of


class Model(Solid):
    """A closed body from a file, set off, turned about the upright and scaled; its faces carry the names listed.

    Source: the file.
    """

    caption: ClassVar[str] = "Imported model"
    sentence: ClassVar[str] = "{id}: the model {source}, {role}, set off by ({x}, {y}, {z}), turned by {turn}, scaled by {scale}; its faces are {names}."

    kind: Literal["model"] = "model"
    source: str = Field(default="", title="source", description="Where it came from.")
    turn: Text = quantity("angle", "turn", "About the upright through the origin.", default="0 deg")
    scale: Text = quantity("number", "scale", "About the origin.", default="1", above=0)
    names: tuple[str, ...] = Field(default=(), title="faces", description="A name for every face, in order, parted by commas; none twice.")
    mesh: str = stored("mesh", "Points, triangles and faces.", default="")

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Move the stored triangles."""
        try:
            model = unpacked(numbers.mesh, numbers.names)
        except ValueError as problem:
            where = "names" if "name" in str(problem) else "mesh"
            raise PartFault(where, f"{problem}.", "Import the file again." if where == "mesh" else "Give as many names as there are faces.") from None
        if model.rims:
            x, y, z = 1e3 * model.points[model.rims[0]].mean(axis=0)
            raise PartFault("mesh", f"the model has {len(model.rims)} open rims, the largest about ({x:.4g}, {y:.4g}, {z:.4g}) mm.", "Import it again and let rims be sealed.")
        points = place_of(numbers) + numbers.scale * model.points @ frame(numbers.turn, 0.0)
        return Body(np.asarray(points), model.triangles, model.face, model.names)
