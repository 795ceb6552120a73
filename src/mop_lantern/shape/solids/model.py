"""A model of triangles brought in from a file."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity, stored, text, words
from mop_lantern.declare.kind import Text
from mop_lantern.shape.model import Model as Read
from mop_lantern.shape.model import length, spot, unpacked
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Floats, Others, Solid, frame, place_of
from mop_lantern.shape.surface import Surface
from mop_lantern.shape.wet import spaces_of

LEAST = "; bodies smaller than {least} are excluded"
NOTHING = re.compile(r"0(\.0*)?( ?\w+)?")
SHOWN = 40  # crossing triangles drawn
REPAIR = (
    "Wrap it watertight at a feature size (right button on the stage, or the command wrap), or repair it in "
    "the program it comes from."
)


class Model(Solid):
    """Closed bodies from a file, set off, turned about the upright and scaled; the faces carry the names
    listed. Bodies that overlap are joined.

    Source: the file.
    """

    caption: ClassVar[str] = "Imported model"
    group: ClassVar[str] = "From a file"
    symbol: ClassVar[str] = (
        "M-0.7,-0.9 L0.3,-0.9 L0.7,-0.5 L0.7,0.9 L-0.7,0.9 Z M-0.4,0.1 L0.1,0.1 L0.1,0.6 L-0.4,0.6 Z "
        "M-0.4,0.1 L-0.1,-0.2 L0.4,-0.2 L0.4,0.3 L0.1,0.6 M0.1,0.1 L0.4,-0.2"
    )
    imported: ClassVar[str] = "model"
    sentence: ClassVar[str] = (
        "{id}: the model {source}, {role}, set off by ({x}, {y}, {z}), turned by {turn}, scaled by "
        "{scale}" + LEAST + "; its faces are {names}."
    )

    kind: Literal["model"] = "model"
    source: str = text("source", "Where it came from.", default="")
    turn: Text = quantity("angle", "turn", "About the upright through the origin.", default="0 deg")
    scale: Text = quantity(
        "number",
        "scale",
        "About the origin.",
        default="1",
        above=0,
    )
    least: Text = quantity(
        "length",
        "least size",
        "Bodies whose box has a shorter diagonal are excluded, such as bolts.",
        default="0 mm",
        at_least=0,
    )
    names: tuple[str, ...] = words(
        "faces", "A name for every face, in order, parted by commas; none twice.", default=()
    )
    mesh: str = stored("mesh", "Points, triangles and faces.", default="")
    layers: tuple[str, ...] = stored("layers", "The part of the file every face belongs to.", default=())
    colours: tuple[str, ...] = stored("colours", "The colour of every face in the file.", default=())

    def template(self, space: bool = False) -> str:
        """Excluded bodies are told where there are any."""
        told = super().template(space)
        return told.replace(LEAST, "") if NOTHING.fullmatch(self.least.strip()) else told

    @classmethod
    def as_it_is(cls, numbers: Any) -> Surface | None:
        """Give the stored triangles to be looked at, open or not; None where they are damaged."""
        try:
            model = _known(numbers.mesh, tuple(numbers.names))[0]
        except ValueError:
            return None
        return Surface(_placed(model, numbers), model.triangles, model.face, model.names)

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Body]:
        """Move the stored triangles, body by body."""
        try:
            model, bodies, crossed = _known(numbers.mesh, tuple(numbers.names))
        except ValueError as problem:
            where = "names" if "name" in str(problem) else "mesh"
            raise PartFault(
                where,
                f"{problem}.",
                "Import the file again." if where == "mesh" else "Give as many names as there are faces.",
            ) from None
        points = _placed(model, numbers)
        if model.rims:
            says = (
                f"the model has {len(model.rims)} open rims, the largest about {spot(points[model.rims[0]])}."
            )
            raise PartFault(
                "mesh",
                says,
                "Close them from the menu of the stage, one by one or all.",
                [points[np.append(rim, rim[0])] for rim in model.rims],
            )
        odd = model.surface.odd_edges
        if len(odd):
            says = (
                f"{len(odd)} edges belong to an odd number of triangles, or to ones that face opposite ways, "
                f"first about {spot(points[odd[0]])}: there is no clear inside."
            )
            raise PartFault("mesh", says, REPAIR, [points[edge] for edge in odd[:SHOWN]])
        if crossed.count:
            depth = length(crossed.deepest * numbers.scale)
            says = (
                f"{crossed.count} pairs of its triangles cross each other, by up to {depth}, first about "
                f"{spot(points[crossed.triangles[0]])}."
            )
            lines = [points[triangle[[0, 1, 2, 0]]] for triangle in crossed.triangles[:SHOWN]]
            raise PartFault("mesh", says, REPAIR, lines)
        bodies = [body for body in bodies if body.extent * numbers.scale >= numbers.least]
        if not bodies:
            raise PartFault(
                "least", "all of its bodies are smaller than that.", "Make the least size smaller."
            )
        layers, colours = (
            tuple(given) if len(given) == len(model.names) else ("",) * len(model.names)
            for given in (numbers.layers, numbers.colours)
        )
        looks = {
            name: (layer, colour)
            for name, layer, colour in zip(model.names, layers, colours, strict=True)
            if layer or colour
        }
        return [
            Body(
                points,
                body.triangles,
                body.labels,
                model.names,
                looks,
            )
            for body in bodies
        ]


def _placed(model: Read, numbers: Any) -> Floats:
    return np.asarray(place_of(numbers) + numbers.scale * model.points @ frame(numbers.turn, 0.0))


@dataclass(frozen=True)
class _Crossed:
    """Triangles (k, 3) that cross others of their body, how many pairs do, and how deep (m)."""

    triangles: Any
    count: int = 0
    deepest: float = 0.0


@lru_cache(maxsize=8)
def _known(mesh: str, names: tuple[str, ...]) -> tuple[Read, list[Surface], _Crossed]:
    """Read a stored model, part it into bodies and look for triangles that cross within one.

    Slow for many triangles, so it is remembered.
    """
    from mop_lantern.shape.crossing import crossings  # it is compiled: loaded where there is a model only

    model = unpacked(mesh, names)
    if model.rims:
        return model, [], _Crossed(model.triangles[:0])
    bodies = spaces_of(Surface(model.points, model.triangles, model.face, model.names))
    found = [crossings(model.points, body.triangles) for body in bodies]
    met = [body.triangles[np.unique(each.pairs)] for body, each in zip(bodies, found, strict=True)]
    deepest = max((float(each.depth.max()) for each in found if each.count), default=0.0)
    return model, bodies, _Crossed(np.concatenate(met), sum(each.count for each in found), deepest)
