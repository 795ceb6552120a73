"""A picture: one off-screen render window with the layers of a case, its camera, and its image as an
array.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import vtkmodules.vtkRenderingOpenGL2 as rendering
from numpy.typing import NDArray
from vtkmodules.util.numpy_support import vtk_to_numpy
from vtkmodules.vtkCommonCore import vtkUnsignedCharArray
from vtkmodules.vtkCommonDataModel import vtkPlane
from vtkmodules.vtkRenderingCore import vtkRenderWindow

from mop_lantern.case import Case
from mop_lantern.errors import Fault, RunError
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult
from mop_lantern.judge.field_result import FLOW_QUANTITIES
from mop_lantern.judge.sampling import Sampler
from mop_lantern.scene.datasets import Drawing, drawing
from mop_lantern.scene.looks import banded
from mop_lantern.scene.maps import default_map, lookup
from mop_lantern.scene.options import layer_options
from mop_lantern.scene.orbit import Orbit
from mop_lantern.scene.pane import Pane, needs_scale
from mop_lantern.scene.picking import Picked, pick
from mop_lantern.scene.plane_stage import Inks, PlaneContext, ways_now
from mop_lantern.scene.scale import Scale, reach, scales
from mop_lantern.scene.space_stage import (
    Places,
    SpaceContext,
    nodes_of,
    places_of,
    section_place,
    share_at,
    thinnest,
)
from mop_lantern.scene.view_options import NIGHT, PAPER, ViewOptions
from mop_lantern.shape import Plane, Surface

_STREAM = {
    "oslo": (0.93, 0.58, 0.1),
    "batlow": (0.98, 0.98, 0.96),
    "vik": (0.15, 0.15, 0.18),
}  # seen on every step of its map


LOST = 0.25  # of the view: a shape that is smaller both ways is lost in it
MANY = 50_000  # cells: more take half a second and longer to put in order


def _off_screen_window() -> vtkRenderWindow:
    """Make a window that needs no display; without EGL, whatever the system offers."""
    made = getattr(rendering, "vtkEGLRenderWindow", vtkRenderWindow)()
    return made if made.SupportsOpenGL() else vtkRenderWindow()


class Picture:
    """Draws a shape and a field into an image. Keep and reuse it: making one takes a third of a second."""

    def __init__(self) -> None:
        self.window = _off_screen_window()
        self.window.SetOffScreenRendering(1)
        self.window.SetMultiSamples(0)
        self._draws = False  # not asked yet: to ask takes as long as a frame of few lines
        self.window.SetUseOffScreenBuffers(True)
        self.panes: list[Pane] = []
        self._tables: list[Any] = []
        self.options = ViewOptions()
        self.layer_options, _ = layer_options(None)
        self.case: Case | None = None
        self.scales: dict[str, Scale] = {}
        self.shape: Plane | None = None
        self.surface: Surface | None = None
        self.orbit = Orbit()
        self._cutter = vtkPlane()
        self._store: dict[str, Any] = {}
        self._mesh: Mesh | None = None
        self._places: Places | None = None
        self.answer: FieldResult | None = None
        self.openings: dict[str, str] = {}
        self._drawn: dict[str, Drawing] = {}  # by region
        self._stale = True
        self.patient = True  # sections have the values of readings, however long that takes
        self.wanted: list[tuple[Sampler, NDArray[np.float64]]] = []
        self._fitted = False
        self._legend_size = (0, 0)
        self.centre = np.zeros(2)
        self.height = 1.0

    def set_shape(self, shape: Plane | Surface | None, openings: dict[str, str]) -> None:
        """Show another shape; the view is kept unless there was none, or it changes between plane and
        space.
        """
        former = self.surface
        spatial = former is not None
        self.surface = shape if isinstance(shape, Surface) else None
        self.shape = shape if isinstance(shape, Plane) else None
        if self.surface is not former:
            if not (
                former is not None
                and self.surface is not None
                and np.array_equal(former.points, self.surface.points)
            ):
                self._mesh = self._places = None
            self._forget()
        self.openings = openings
        self._stale = True
        if spatial != (self.surface is not None):
            self._fitted = False

    @property
    def ways(self) -> dict[str, str]:
        """Which way it flows through every opening: "in", "out", or "open" where that is not known."""
        return ways_now(self.openings, self.answer)

    def set_answer(self, answer: FieldResult | None) -> None:
        """Show another field, or none."""
        former = self._drawn
        self._drawn = {}
        if answer is not None and len(answer.mesh.ways) == 2:
            for name, part in answer.parts.items():
                kept = former.get(name)
                same = kept is not None and kept.mesh is part.mesh
                self._drawn[name] = kept if kept is not None and same else drawing(part.mesh)
        if answer is not self.answer:
            self._forget()
        self.answer = answer
        self._stale = True
        self._take_scales()

    def ready_for(self, answer: FieldResult | None) -> bool:
        """Whether a field can be drawn at once: not where many cells must first be put in order
        (`places_of`).
        """
        return (
            answer is None
            or self.surface is None
            or len(answer.mesh.ways) < 3
            or answer.mesh.fluid.n_cells < MANY
            or answer.mesh.fluid is self._mesh
        )

    def take_places(self, mesh: Mesh, places: Places) -> None:
        """Take what was worked out beside the window for a mesh."""
        self._mesh = mesh
        self._places = places

    def _places_now(self, answer: FieldResult) -> Places:
        assert self.surface is not None
        if answer.mesh is not self._mesh or self._places is None:
            self.take_places(answer.mesh, places_of(self.surface, answer.mesh))
        assert self._places is not None
        return self._places

    def draw_better(self) -> None:
        """Draw anew what was drawn from values at hand (``wanted``)."""
        self._stale = True

    def _forget(self) -> None:
        self._store = {}
        for pane in self.panes:
            pane.forget()

    def set_options(self, **changes: Any) -> None:
        """Change what is drawn."""
        self.options = replace(self.options, **changes)
        self._stale = True

    def take_views(self, case: Case | None) -> list[Fault]:
        """Draw layers and scales as a case wants them; give what is wrong with what it keeps of them."""
        self.case = case
        found, faults = layer_options(case)
        if found != self.layer_options:
            self.layer_options = found
            self._stale = True
        return faults + self._take_scales()

    def _take_scales(self) -> list[Fault]:
        """Take the scales of what can be shown now."""
        found, faults = scales(self.case, self.quantities)
        if found != self.scales:
            self.scales = found
            self._stale = True
        return faults

    @property
    def across(self) -> int:
        """The direction across the section of a space."""
        return (
            thinnest(self.surface)
            if self.options.across < 0 and self.surface is not None
            else max(self.options.across, 0)
        )

    def on_section(
        self,
        x: float,
        y: float,
        size: tuple[int, int],
    ) -> NDArray[np.float64] | None:
        """Give the place (3,) m on the section of a space under a pixel; None where the section is seen edge
        on.
        """
        if self.surface is None:
            return None
        right, up, towards = self.orbit.axes
        flat = self.to_world(x, y, size)
        start = np.array(self.orbit.focus) + flat[0] * right + flat[1] * up
        k = self.across
        if abs(towards[k]) < 0.02:
            return None
        return np.asarray(
            start + (section_place(self.surface, k, self.options.share) - start[k]) / towards[k] * towards
        )

    def volume_above(self, value: float) -> float:
        """Give the volume (m3) in which the quantity shown lies above a value (SI), whole cells."""
        answer = self.answer
        if answer is None:
            return 0.0
        beyond = answer.covers(self.quantity) & (answer.cells(self.quantity) > value)
        return float((answer.mesh.volume * answer.mesh.turn)[beyond].sum())

    def seen(self, place: NDArray[np.float64]) -> NDArray[np.float64]:
        """Give where in the plane of the picture (2,) m a place of a space lies."""
        right, up, _ = self.orbit.axes
        return np.array([(place - self.orbit.focus) @ right, (place - self.orbit.focus) @ up])

    @property
    def quantity(self) -> str:
        """What is coloured: the one chosen, or speed when the field lacks it, or the first there is."""
        known = self.quantities
        return next(what for what in (self.options.quantity, "speed", *known) if what in known)

    @property
    def shown(self) -> tuple[str, ...]:
        """What the views show, from left to right."""
        beside = self.options.beside if self.answer is not None else ()
        return (self.quantity, *(what for what in beside if what in self.quantities))

    @property
    def quantities(self) -> dict[str, tuple[str, str]]:
        """Everything the field can be coloured by: key to label and dimension."""
        return FLOW_QUANTITIES if self.answer is None else self.answer.quantities

    def value_range(self, what: str = "") -> tuple[float, float]:
        """Give the range of the scale of a quantity (of the one chosen), SI."""
        return self._reach(what or self.quantity)[:2]

    def _reach(self, what: str) -> tuple[float, float, bool]:
        shared = (self.options.low, self.options.high) if what == self.quantity else (None, None)
        answer = self.answer
        values = np.zeros(0) if answer is None else answer.cells(what)[answer.covers(what)]
        return reach(values, self.scales.get(what, Scale()), shared, what == "speed")

    def table_of(self, what: str) -> tuple[str, Any]:
        """Give the name of the colour map of a quantity, and its lookup table."""
        low, high, powers = self._reach(what)
        kept = self.scales.get(what, Scale())
        name = default_map(what, low, high, kept.low is not None or kept.high is not None)
        return name, lookup(name, low, high, powers)

    def fit(self, size: tuple[int, int]) -> None:
        """Show the whole shape with a margin, above the scale."""
        if self.surface is not None:
            points = self.surface.points
            self.orbit.focus = tuple((0.5 * (points.min(axis=0) + points.max(axis=0))).tolist())
            self.centre, seen = self.orbit.extent(points)
            self.height = float(max(seen[1] * 1.35, seen[0] * 1.36 * size[1] / max(size[0], 1))) or 1.0
            self.centre = self.centre - [0.0, 0.04 * self.height]
            self._fitted = True
        if self.shape is None:
            return
        x0, y0, x1, y1 = self.shape.whole.polygon.bounds
        aspect = size[0] / max(size[1], 1)
        self.height = max((y1 - y0) * 1.35, (x1 - x0) * 1.16 / aspect) or 1.0
        self.centre = np.array([(x0 + x1) / 2, (y0 + y1) / 2 - 0.03 * self.height])
        self._fitted = True

    def fits(self, size: tuple[int, int]) -> bool:
        """Whether the whole shape is in view, and not lost in it."""
        if self.surface is not None:
            middle, seen = self.orbit.extent(self.surface.points)
        elif self.shape is not None:
            x0, y0, x1, y1 = self.shape.whole.polygon.bounds
            middle, seen = np.array([x0 + x1, y0 + y1]) / 2, np.array([x1 - x0, y1 - y0])
        else:
            return True
        view = self.height * np.array([size[0] / max(size[1], 1), 1.0])
        off = np.abs(middle - self.centre)
        return bool((off + seen / 2 <= view / 2).all() and (seen >= LOST * view).any())

    def fit_later(self) -> None:
        """Show the whole shape at the next drawing, when the size is known: a view may not be laid out
        yet.
        """
        self._fitted = False

    def to_world(
        self,
        x: float,
        y: float,
        size: tuple[int, int],
    ) -> NDArray[np.float64]:
        """Give the place (m) under a pixel counted from the upper left."""
        scale = self.height / size[1]
        return self.centre + np.array([(x - size[0] / 2) * scale, (size[1] / 2 - y) * scale])

    def to_pixel(self, place: NDArray[np.float64], size: tuple[int, int]) -> tuple[float, float]:
        """Give the pixel, counted from the upper left, of a place (m)."""
        flat = np.asarray(place) if len(place) == 2 else self.seen(np.asarray(place))
        offset = (flat - self.centre) * size[1] / self.height
        return float(size[0] / 2 + offset[0]), float(size[1] / 2 - offset[1])

    def way_seen(self, pull: NDArray[np.float64] | None) -> NDArray[np.float64]:
        """Give how a direction is seen, (2,), of length 1 where it lies in the plane of the picture; (1, 0)
        for none.
        """
        if pull is None:
            return np.array([1.0, 0.0])
        way = np.asarray(pull) / (np.linalg.norm(pull) or 1.0)
        return way if len(way) == 2 else np.array([way @ self.orbit.axes[0], way @ self.orbit.axes[1]])

    def dragged(
        self,
        at: NDArray[np.float64],
        pull: NDArray[np.float64] | None,
        x: float,
        y: float,
        size: tuple[int, int],
    ) -> NDArray[np.float64]:
        """Give the place (m) a pixel brings a handle to: along its direction or, in a space and free, square
        to the axis seen most nearly end on.
        """
        flat = self.to_world(x, y, size)
        if self.surface is None:
            return flat
        if pull is not None:
            seen = np.array([pull @ self.orbit.axes[0], pull @ self.orbit.axes[1]])
            return np.asarray(at + (flat - self.seen(at)) @ seen / max(float(seen @ seen), 1e-300) * pull)
        right, up, towards = self.orbit.axes
        start = np.array(self.orbit.focus) + flat[0] * right + flat[1] * up
        k = int(np.abs(towards).argmax())
        return np.asarray(start + (at[k] - start[k]) / towards[k] * towards)

    def pick(
        self,
        x: float,
        y: float,
        size: tuple[int, int],
    ) -> list[Picked]:
        """Give the faces of a space under a pixel, those seen from the fluid first."""
        if self.surface is None:
            return []
        cut = (
            (self.across, section_place(self.surface, self.across, self.options.share))
            if self.options.cut_away
            else None
        )
        return [
            one
            for one in pick(self.surface, self.orbit, self.to_world(x, y, size), cut)
            if one.name not in self.options.hidden
        ]

    def image(self, size: tuple[int, int], scale: float = 1.0) -> NDArray[np.uint8]:
        """Draw.

        Parameters
        ----------
        size : width and height in device pixels, shared by the views beside each other. scale : device pixels
        a logical pixel.

        Returns
        -------
        (height, width, 3) uint8, upper row first.

        Raises
        ------
        RunError : this machine can draw nothing off screen.
        """
        width = max(size[0], 8)
        height = max(size[1], 8)
        self.window.SetSize(width, height)
        self._draws = self._draws or bool(self.window.SupportsOpenGL())
        if not self._draws:
            raise RunError(
                "this machine has no way to draw off screen.",
                "",
                "Install Mesa's EGL libraries (libegl1, libgl1-mesa-dri).",
            )
        each = (width // len(self.shown), height)
        if not self._fitted:
            self.fit(each)
        if self._stale:
            self._rebuild()
        if self._stale or self._legend_size != each:
            self._set_legends(each, scale)
        self._stale = False
        for pane in self.panes:
            pane.aim(self._aim)
        self.window.Render()
        pixels: Any = vtkUnsignedCharArray()
        window: Any = self.window
        window.GetRGBACharPixelData(
            0,
            0,
            width - 1,
            height - 1,
            0,
            pixels,
        )
        return np.ascontiguousarray(vtk_to_numpy(pixels).reshape(height, width, 4)[::-1, :, :3])

    def _aim(self, camera: Any) -> None:
        """Set a camera."""
        if self.surface is not None:
            self.orbit.aim(camera, self.centre, self.height)
            away = np.zeros(3)  # what lies before the section, seen from the eye, is cut away
            away[self.across] = -1.0 if self.orbit.axes[2][self.across] > 0 else 1.0
            self._cutter.SetNormal(*away)
            return
        x = float(self.centre[0])
        y = float(self.centre[1])
        camera.SetFocalPoint(x, y, 0.0)
        camera.SetPosition(x, y, 10 * self.height)
        camera.SetViewUp(0.0, 1.0, 0.0)
        camera.SetParallelScale(self.height / 2)
        camera.SetClippingRange(0.1 * self.height, 20 * self.height)

    def _rebuild(self) -> None:
        shown = self.shown
        inks = NIGHT if self.options.night else PAPER
        while len(self.panes) < len(shown):
            self.panes.append(Pane())
            self.window.AddRenderer(self.panes[-1].renderer)
        for pane in self.panes[len(shown) :]:
            self.window.RemoveRenderer(pane.renderer)
        del self.panes[len(shown) :]
        self._tables = []
        self.wanted = []
        for k, (pane, what) in enumerate(zip(self.panes, shown, strict=True)):
            pane.renderer.SetViewport(k / len(shown), 0.0, (k + 1) / len(shown), 1.0)
            pane.clear(inks)
            self._draw(pane, what, inks)

    def _draw(
        self,
        pane: Pane,
        what: str,
        inks: Inks,
    ) -> None:
        """Draw one view."""
        options = self.options
        map_name, table = self.table_of(what)
        self._tables.append(table)
        if self.surface is None:
            unit = self.shape.size / 45 if self.shape is not None else 1.0
            parts = self.answer.parts if self.answer is not None and self._drawn else {}
            fields = {name: (self._drawn[name], part) for name, part in parts.items()}
            fluid = fields.pop("", None)
            context = PlaneContext(
                self.shape,
                fluid[0] if fluid else None,
                fluid[1] if fluid else None,
                self.ways,
                table,
                what,
                inks,
                unit,
                _STREAM[map_name],
                fields,
                self.patient,
                self.wanted,
                options.marks,
            )
            pane.draw_plane(context, options.layers, self.layer_options)
            return
        parts = self.answer.parts if self.answer is not None and len(self.answer.mesh.ways) == 3 else {}
        answer = parts.get("")
        self._cutter.SetOrigin(*([section_place(self.surface, self.across, options.share)] * 3))
        cutter = self._cutter if options.cut_away else None
        space = SpaceContext(
            self.surface,
            answer,
            self.ways,
            table,
            what,
            inks,
            _STREAM[map_name],
            self.across,
            options.share,
            options.level,
            cutter,
            self._store,
            options.hidden,
            options.near_walls,
            options.seeds,
            options.line,
            self._places_now(answer) if answer is not None else None,
            patient=self.patient,
            wanted=self.wanted,
            marks=options.marks,
        )
        for name, part in parts.items():
            if name and name in self.surface.solids:
                space.solids[name] = self._solid_context(space, name, part)
        look = (
            options.night,
            options.cut_away,
            options.hidden,
            options.near_walls,
            tuple(self.ways.items()),
        )
        pane.draw_space(
            space,
            options.layers,
            self.layer_options,
            look,
            options.chosen,
            options.lit,
        )

    def _solid_context(
        self,
        space: SpaceContext,
        name: str,
        part: FieldResult,
    ) -> SpaceContext:
        """Give what a solid is drawn with: its own surface and field."""
        assert self.surface is not None
        key = f"places of {name}"
        if key not in self._store:
            self._store[key] = nodes_of(part.mesh), {}
        places, store = self._store[key]
        solid = self.surface.solids[name]
        return replace(
            space,
            surface=solid,
            answer=part,
            openings={},
            share=share_at(solid, space.across, space.place),
            store=store,
            places=places,
            solids={},
        )

    def _set_legends(self, size: tuple[int, int], scale: float) -> None:
        self._legend_size = size
        inks = NIGHT if self.options.night else PAPER
        bands = int(self.layer_options["colours"].bands)
        for pane, what, table in zip(self.panes, self.shown, self._tables, strict=True):
            pane.no_scale()
            if self.answer is not None and needs_scale(self.options.layers, self.layer_options):
                pane.scale(
                    banded(table, bands),
                    *self.quantities[what],
                    self.options.units,
                    size[0],
                    inks.ink,
                    scale,
                )
