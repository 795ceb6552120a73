"""What a layer is given to draw with."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray
from vtkmodules.vtkRenderingCore import vtkActor, vtkPolyDataMapper

from mop_lantern.judge import FieldResult
from mop_lantern.judge.sampling import Sampler, sampler_of
from mop_lantern.scene.datasets import Drawing
from mop_lantern.shape import Plane

Colour = tuple[float, float, float]
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Inks:
    """Colours of a theme, 0 to 1: ground, lines, entering, leaving, filled space."""

    ground: Colour
    ink: Colour
    faint: Colour
    enter: Colour
    leave: Colour
    fluid: Colour


@dataclass(frozen=True)
class PlaneContext:
    """All a layer may use.

    Attributes
    ----------
    shape : the plane, or None. drawn, answer : the field, or None. openings : edge name to way ("in", "out",
    "open").
    table : lookup table of the coloured quantity. quantity : its name. inks : theme colours. unit : size of a
    mark, m. stream : colour of streamlines. solids : the fields of solids that conduct heat, by region, where
    what is coloured has a meaning in them; ``answer`` is that of the fluid. patient, wanted,
    marks : as in `space_stage.SpaceContext`.
    """

    shape: Plane | None
    drawn: Drawing | None
    answer: FieldResult | None
    openings: dict[str, str]
    table: Any
    quantity: str
    inks: Inks
    unit: float
    stream: Colour = (1.0, 1.0, 1.0)
    solids: dict[str, tuple[Drawing, FieldResult]] = field(default_factory=dict)
    patient: bool = True
    wanted: list[tuple[Sampler, Floats]] = field(default_factory=list)
    marks: tuple[Floats, ...] = ()

    def at_points(self, drawn: Drawing, answer: FieldResult, what: str) -> Floats:
        """Give a quantity at the points of a drawing; one who is not patient may get a quick one first."""
        quick = not self.patient and not drawn.ready
        if quick:
            self.wanted.append((sampler_of(drawn.mesh), drawn.places))
        return drawn.at_points(answer, what, quick)

    @property
    def fields(self) -> dict[str, tuple[Drawing, FieldResult]]:
        """Every field that there is: that of the fluid, under "", and those of solids."""
        fluid = {"": (self.drawn, self.answer)} if self.drawn is not None and self.answer is not None else {}
        return fluid | self.solids

    @property
    def coloured(self) -> dict[str, tuple[Drawing, FieldResult]]:
        """The fields in which what is coloured has a meaning."""
        return {name: each for name, each in self.fields.items() if each[1].has(self.quantity)}


def actor(
    data: Any,
    colour: Colour | None = None,
    width: float = 1.0,
    lift: float = 0.0,
    table: Any = None,
) -> vtkActor:
    """Make an actor of one colour, or coloured by a table, lifted a little towards the eye."""
    mapper = vtkPolyDataMapper()
    mapper.SetInputData(data)
    if table is None:
        mapper.ScalarVisibilityOff()
    else:
        mapper.SetLookupTable(table)
        mapper.UseLookupTableScalarRangeOn()
        mapper.InterpolateScalarsBeforeMappingOn()
    made = vtkActor()
    made.SetMapper(mapper)
    made.GetProperty().LightingOff()
    made.GetProperty().SetLineWidth(width)
    if colour is not None:
        made.GetProperty().SetColor(*colour)
    made.SetPosition(0.0, 0.0, lift)
    made.PickableOff()
    return made


def ways_now(openings: dict[str, str], answer: FieldResult | None) -> dict[str, str]:
    """Give which way it flows through every opening: where nobody laid that down, as the field has it."""
    if answer is None:
        return openings
    leaving = answer.outflow
    least = 1e-9 * float(np.abs(leaving).sum())
    told = dict(openings)
    for name, way in openings.items():
        if way == "open" and name in answer.mesh.patch_names:
            told[name] = "in" if leaving[answer.mesh.faces_of(name)].sum() < -least else way
    return told


def chevron(at: NDArray[np.float64], way: NDArray[np.float64], size: float) -> NDArray[np.float64]:
    """Give the three points of a chevron whose tip lies at a place and points a way."""
    side = np.array([-way[1], way[0]])
    return np.array([at - size * (way + 0.75 * side), at, at - size * (way - 0.75 * side)])
