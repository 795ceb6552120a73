"""Lets the stage draw layers and scales as the case wants them, and opens the panels of their options."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from mop_lantern.case import Case
from mop_lantern.declare import Record, declared, discover
from mop_lantern.desk.document import Document
from mop_lantern.desk.stage.options_panel import OptionsPanel
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.errors import Fault
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.options import LAYERS, PACKAGE, layer_options
from mop_lantern.scene.scale import SCALES, scale_kind, scales


class Looks(QObject):
    """How things are drawn, between the document and the stage.

    Parameters
    ----------
    tell : shows words in the window.
    """

    def __init__(
        self,
        document: Document,
        stage: Stage,
        tell: Callable[[str], None],
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.stage = stage
        self.tell = tell
        self.panel: OptionsPanel | None = None
        document.changed.connect(lambda _: self.follow())
        stage.options_wanted.connect(self.open_layer)
        stage.scale_wanted.connect(self.open_scale)

    def follow(self) -> None:
        """Draw as the case wants it."""
        picture = self.stage.view.ensure()
        faults = picture.take_views(self.document.case)
        if faults:
            self.tell(f"{faults[0].path}: {faults[0].says} {faults[0].remedy}")
        self.stage.view.redraw()

    def open_layer(self, name: str) -> None:
        """Open the options of a layer under its button."""
        kind = discover(PACKAGE, Layer)[name]
        if self.document.case is None or not declared(kind):
            self.tell(f"The layer {kind.caption} has no options.")
            return
        self._open(
            LAYERS,
            name,
            kind,
            kind.caption,
            lambda case: layer_options(case)[1],
            self.stage.layer_buttons[name],
        )

    def open_scale(self, name: str) -> None:
        """Open the scale of a quantity under the button that names it."""
        if self.document.case is None:
            return
        known = self.stage.view.ensure().quantities
        words, dimension = known[name]
        self._open(
            SCALES,
            name,
            scale_kind(dimension),
            f"Scale of {words}",
            lambda case: scales(case, known)[1],
            self.stage.quantity,
        )

    def _open(
        self,
        place: str,
        name: str,
        kind: type[Record],
        title: str,
        faults: Callable[[Case], list[Fault]],
        button: QWidget,
    ) -> None:
        self.panel = OptionsPanel(self.document, place, name, kind, title, faults, self.stage)
        self.panel.told.connect(self.tell)
        self.panel.open_below(button)
