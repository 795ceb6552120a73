"""The stage: the view with its strip of layers and quantities above it, tools of a space and times below."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QMenu, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from mop_lantern.declare import declared, discover
from mop_lantern.desk.background import BackgroundTask
from mop_lantern.desk.stage.space_tools import SpaceTools
from mop_lantern.desk.stage.strip import Strip
from mop_lantern.desk.stage.timebar import TimeBar
from mop_lantern.desk.stage.view import View
from mop_lantern.desk.theme import Tokens
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult
from mop_lantern.scene import Picture
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.options import PACKAGE
from mop_lantern.scene.pane import layers_of
from mop_lantern.scene.space_stage import Places, places_of
from mop_lantern.shape import Plane, Surface

NAME_WIDTH = 112  # pixels of the name of a quantity; the rest is in its tooltip


class Stage(QWidget):
    """The view with its strip of layers and quantities above it.

    Signals
    -------
    quantity_changed : another quantity is coloured. handles_toggled : handles are shown or hidden.
    options_wanted : of a layer, by its name. scale_wanted : of a quantity, by its key.
    """

    quantity_changed = pyqtSignal()
    handles_toggled = pyqtSignal(bool)
    options_wanted = pyqtSignal(str)
    scale_wanted = pyqtSignal(str)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.view = View(tokens)
        self._next: tuple[FieldResult | None, str] = (None, "")
        self._ordering: BackgroundTask | None = None
        self.layer_buttons: dict[str, QPushButton] = {}
        strip = Strip()
        self.quantity = QPushButton()
        self.quantity.setProperty("plain", "true")
        self.quantity.setObjectName("quantity")
        self.quantity.clicked.connect(self._offer_quantities)
        self.quantity.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.quantity.customContextMenuRequested.connect(lambda _: self._want_scale())
        strip.addWidget(self.quantity)
        shown = self.view_options().layers
        kinds = sorted(
            discover(PACKAGE, Layer).items(), key=lambda item: (not item[1].has(False), item[1].order)
        )
        for name, kind in kinds:
            button = self._strip_button(kind.caption, kind.help)
            button.setChecked(name in shown)
            button.toggled.connect(lambda on, n=name: self.set_layer(n, on))
            if declared(kind):
                button.setToolTip(f"{kind.help} (right click: how)")
                button.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
                button.customContextMenuRequested.connect(lambda _, n=name: self.options_wanted.emit(n))
            self.layer_buttons[name] = button
            strip.addWidget(button)
        self.space_tools = SpaceTools()
        self.space_tools.changed.connect(self.view.redraw)
        self.space_tools.aimed.connect(self.view.fit)
        self.space_tools.setVisible(False)
        self.handles_button = self._strip_button(
            "Handles", "Drag dimensions on the stage: click an edge or a face to choose its part (H)"
        )
        self.handles_button.toggled.connect(self._handles_tool)
        strip.addWidget(self.handles_button)
        self.line_button = self._strip_button(
            "Line", "Draw a line on the stage to see the profile along it in the traces"
        )
        self.line_button.toggled.connect(self._line_tool)
        strip.addWidget(self.line_button)
        fit = self._strip_button("Fit", "Show everything (F)")
        fit.setCheckable(False)
        fit.clicked.connect(self.view.fit)
        strip.addWidget(fit)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 2, 0, 0)
        layout.setSpacing(2)
        layout.addLayout(strip)
        layout.addWidget(self.view, 1)
        layout.addWidget(self.space_tools)
        self.times = TimeBar()
        layout.addWidget(self.times)
        self.view.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.view.lining.signals.drawn.connect(self._keep_line)
        self.view.handles_wanted.connect(self.handles_button.toggle)
        self._show_quantity()

    @staticmethod
    def view_options() -> Any:
        """Give the options a picture starts with."""
        from mop_lantern.scene import ViewOptions

        return ViewOptions()

    @staticmethod
    def _strip_button(words: str, tip: str) -> QPushButton:
        button = QPushButton(words)
        button.setProperty("layer", "true")
        button.setCheckable(True)
        button.setToolTip(tip)
        button.setObjectName(f"layer:{words.lower()}")
        return button

    def set_layer(self, name: str, on: bool) -> None:
        """Show or hide a layer."""
        picture = self.view.ensure()
        picture.set_options(layers=picture.options.layers | {name} if on else picture.options.layers - {name})
        self.space_tools.tell()
        self.view.redraw()

    def set_quantity(self, name: str) -> None:
        """Colour by another quantity."""
        self.view.ensure().set_options(quantity=name)
        self._show_quantity()
        self.quantity_changed.emit()
        self.view.redraw()

    def _show_quantity(self) -> None:
        picture = self.view.picture
        words = picture.quantities[picture.quantity][0] if picture else "speed"
        name = words.capitalize()
        short = self.quantity.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, NAME_WIDTH)
        self.quantity.setText(f"{short} ▾")
        self.quantity.setToolTip(f"{name}: what the colours show (right click: its scale)")
        self.space_tools.tell()

    def _offer_quantities(self) -> None:
        menu = QMenu(self)
        for name, (words, _) in self.view.ensure().quantities.items():
            action = menu.addAction(words.capitalize())
            assert action is not None
            action.triggered.connect(lambda _=False, n=name: self.set_quantity(n))
        menu.addSeparator()
        scale = menu.addAction("Scale …")
        assert scale is not None
        scale.triggered.connect(lambda _=False: self._want_scale())
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self.quantity.mapToGlobal(self.quantity.rect().bottomLeft()))

    def _want_scale(self) -> None:
        self.scale_wanted.emit(self.view.ensure().quantity)

    def _handles_tool(self, on: bool) -> None:
        if on:
            self.line_button.setChecked(False)
            self.view.take_up(self.view.hands)
        elif self.view.tool is self.view.hands:
            self.view.put_down()
        self.handles_toggled.emit(on)

    def _line_tool(self, on: bool) -> None:
        if on:
            self.handles_button.setChecked(False)
            self.view.take_up(self.view.lining)
        elif self.view.tool is self.view.lining:
            self.view.put_down()

    def _keep_line(self, start: Any, end: Any) -> None:
        """Let streamlines of a space begin on the line where they are asked to."""
        self.view.ensure().set_options(line=(tuple(start), tuple(end)))
        self.view.redraw()

    def show_shape(
        self,
        shape: Plane | Surface | None,
        openings: dict[str, str],
        units: dict[str, str],
        marks: tuple[Any, ...] | None = None,
    ) -> None:
        """Show a shape; ``marks`` : lines of devices in the fluid, those before where not told."""
        picture = self.view.ensure()
        first = picture.shape is None and picture.surface is None and shape is not None
        picture.set_shape(shape, openings)
        picture.set_options(units=units)
        if marks is not None:
            picture.set_options(marks=marks)
        self.view.units = units
        if isinstance(shape, Surface):  # what lies around a hollow hides it
            picture.set_options(
                hidden=picture.options.hidden | {name for name in shape.names if name.endswith(".outside")}
            )
        self.space_tools.show_picture(picture, units)
        self._show_buttons(picture)
        if first:
            self.view.untouched = True
        if first or (self.view.untouched and self.view.at_rest and not picture.fits(self.view.pane)):
            picture.fit_later()
        self.view.redraw()

    def _show_buttons(self, picture: Picture) -> None:
        """Show the buttons of layers that have something to draw."""
        shape = picture.shape or picture.surface
        dry = shape is not None and shape.dry
        known = {
            name
            for name, kind in layers_of(picture.surface is not None)
            if (not dry or kind.of_solids or not kind.needs_answer)
            and (not kind.asks or kind.asks in picture.quantities)
        }
        for name, button in self.layer_buttons.items():
            button.setVisible(name in known)

    def show_answer(self, answer: FieldResult | None, message: str = "") -> None:
        """Show a field, or the bare shape. One on many cells of a space is put in order beside the window
        first; meanwhile the picture stays as it is.
        """
        picture = self.view.ensure()
        self._next = answer, message
        if picture.ready_for(answer):
            picture.set_answer(answer)
            self._show_quantity()
            self._show_buttons(picture)
            self.view.message = message
        elif self._ordering is None and answer is not None and picture.surface is not None:
            surface = picture.surface
            mesh = answer.mesh.fluid
            self._ordering = BackgroundTask(
                self,
                "",
                lambda _: places_of(surface, mesh),
                lambda places: self._ordered(surface, mesh, places),
                lambda _: self._ordered(surface, mesh, None),
            )
            self.view.message = "Putting the cells in order …"
        self.view.redraw()

    def _ordered(
        self,
        surface: Surface,
        mesh: Mesh,
        places: Places | None,
    ) -> None:
        """Show the newest field now that its cells are in order; if they cannot be, the picture does without
        help.
        """
        self._ordering = None
        picture = self.view.ensure()
        if (
            places is not None
            and picture.surface is not None
            and np.array_equal(picture.surface.points, surface.points)
        ):
            picture.take_places(mesh, places)
        answer, message = self._next
        if places is None:
            picture.set_answer(answer)
            self.view.redraw()
        else:
            self.show_answer(answer, message)

    def set_tokens(self, tokens: Tokens, night: bool) -> None:
        """Change the theme."""
        self.view.tokens = tokens
        if self.view.picture is not None:
            self.view.picture.set_options(night=night)
        self.view.redraw()
