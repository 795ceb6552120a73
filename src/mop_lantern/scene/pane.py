"""One view of a picture: its own colours and scale, the camera of all."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any

import numpy as np
from vtkmodules.vtkRenderingCore import vtkRenderer

from mop_lantern.declare import Numbers, discover
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.legend import MARKS, legend
from mop_lantern.scene.options import PACKAGE
from mop_lantern.scene.plane_stage import Inks, PlaneContext
from mop_lantern.scene.scale import by_powers, figures
from mop_lantern.scene.space_stage import SpaceContext, marked
from mop_lantern.units import convert, preferred, show_number
from mop_lantern.units.quantity import pretty_unit


def needs_scale(layers: Iterable[str], options: Mapping[str, Numbers]) -> bool:
    """Whether one of the layers named is coloured by the scale, with its options."""
    kinds = discover(PACKAGE, Layer)
    return any(kinds[name].needs_scale(options[name]) for name in layers if name in kinds)


class Pane:
    """A renderer with the props of one coloured quantity."""

    def __init__(self) -> None:
        self.renderer = vtkRenderer()
        self.renderer.GetActiveCamera().ParallelProjectionOn()
        self.renderer.UseFXAAOn()
        self._props: dict[str, tuple[Any, list[Any]]] = {}  # None for a key: to be drawn better
        self._legend: list[Any] = []

    def forget(self) -> None:
        """Keep no prop: the shape or the field is another."""
        self._props = {}

    def clear(self, inks: Inks) -> None:
        """Take everything away."""
        self.renderer.SetBackground(*inks.ground)
        self.renderer.RemoveAllViewProps()

    def draw_plane(
        self,
        context: PlaneContext,
        layers: frozenset[str],
        options: Mapping[str, Numbers],
    ) -> None:
        """Draw the chosen layers of a plane."""
        for name, kind in layers_of(False):
            there = context.answer is not None or (kind.of_solids and bool(context.solids))
            if name in layers and (there or not kind.needs_answer):
                for prop in kind.plane_props(context, options[name]):
                    self.renderer.AddViewProp(prop)

    def draw_space(
        self,
        context: SpaceContext,
        layers: frozenset[str],
        options: Mapping[str, Numbers],
        look: tuple[Any, ...],
        chosen: tuple[str, ...],
        lit: str,
    ) -> None:
        """Draw the chosen layers of a space; those nothing has changed for are kept. ``look``: what every
        layer depends on.
        """
        low, high = context.table.GetTableRange()
        states = {
            "quantity": (context.quantity, low, high, by_powers(context.table)),
            "section": (context.across, context.share),
            "level": (context.level,),
            "seeds": (
                context.seeds,
                context.line,
                (context.across, context.share) if context.seeds == "section" else None,
            ),
        }
        for name, kind in layers_of(True):
            there = context.answer is not None or (kind.of_solids and bool(context.solids))
            if name not in layers or not (there or not kind.needs_answer):
                continue
            chosen_options = tuple(vars(options[name]).items())
            key = (look, chosen_options, *(states[part] for part in sorted(kind.follows)))
            if self._props.get(name, (None, []))[0] != key:
                before = len(context.wanted)
                props = kind.space_props(context, options[name])
                self._props[name] = (key if len(context.wanted) == before else None), props
            for prop in self._props[name][1]:
                self.renderer.AddViewProp(prop)
        for prop in marked(context, chosen, lit):
            self.renderer.AddViewProp(prop)

    def scale(
        self,
        table: Any,
        words: str,
        dimension: str,
        units: dict[str, str],
        width: int,
        ink: Any,
        scale: float,
    ) -> None:
        """Draw the scale of the colours along the lower edge of a pane ``width`` pixels wide."""
        self.no_scale()
        unit = preferred(dimension, units)
        values = figures(table, MARKS)
        dust = 0.0 if by_powers(table) else 1e-9 * float(np.abs(values).max())
        marks = [show_number(convert(v if abs(v) > dust else 0.0, dimension, unit), 3) for v in values]
        self._legend = legend(
            table,
            f"{words}, {pretty_unit(unit)}" if unit else words,
            marks,
            width,
            ink,
            scale,
        )
        for prop in self._legend:
            self.renderer.AddViewProp(prop)

    def no_scale(self) -> None:
        """Take the scale away."""
        for prop in self._legend:
            self.renderer.RemoveViewProp(prop)
        self._legend = []

    def aim(self, how: Callable[[Any], None]) -> None:
        """Set the camera."""
        how(self.renderer.GetActiveCamera())


def layers_of(spatial: bool) -> list[tuple[str, type[Layer]]]:
    """Give the layers of planes or spaces, lowest first."""
    every = discover(PACKAGE, Layer)
    found = [(name, kind) for name, kind in every.items() if kind.has(spatial)]

    def place(item: tuple[str, type[Layer]]) -> int:
        kind = item[1]
        return kind.order_in_space if spatial and kind.order_in_space is not None else kind.order

    return sorted(found, key=place)
