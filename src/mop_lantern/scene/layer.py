"""What a layer of a picture is: drawn in planes, in spaces, or in both, by options of its own."""

from __future__ import annotations

from typing import Any, ClassVar

from mop_lantern.declare import Kind
from mop_lantern.scene.plane_stage import PlaneContext
from mop_lantern.scene.space_stage import SpaceContext


class Layer(Kind):
    """Something drawn on the stage. ``plane_props`` and ``space_props`` give its VTK props, lowest first by
    ``order``; a layer has one of them or both. Its declared values are its options, kept in the case under
    ``views.layers.NAME`` and told to it as numbers.

    Attributes
    ----------
    order, order_in_space : where it lies among others; in spaces ``order`` unless the other is given.
    needs_answer : it draws a field. scaled : it is coloured by the scale. of_solids : drawn of solids too,
    where there is no fluid. follows : what of a space it depends on besides surface, field and options:
    "quantity", "section", "level", "seeds". asks : a quantity without which it has nothing to draw.
    """

    order: ClassVar[int] = 0
    order_in_space: ClassVar[int | None] = None
    needs_answer: ClassVar[bool] = True
    scaled: ClassVar[bool] = False
    of_solids: ClassVar[bool] = False
    follows: ClassVar[frozenset[str]] = frozenset()
    asks: ClassVar[str] = ""
    help: ClassVar[str] = ""

    @classmethod
    def needs_scale(cls, options: Any) -> bool:
        """Whether it is coloured by the scale, with its options as they are."""
        return cls.scaled

    @classmethod
    def plane_props(cls, context: PlaneContext, options: Any) -> list[Any]:
        """Make the props of a plane."""
        raise NotImplementedError

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Make the props of a space."""
        raise NotImplementedError

    @classmethod
    def has(cls, spatial: bool) -> bool:
        """Whether it draws spaces, or planes."""
        name = "space_props" if spatial else "plane_props"
        return any(name in vars(base) for base in cls.__mro__[: cls.__mro__.index(Layer)])
