"""Lets the stage draw layers as the case wants them, and opens the panel of a layer's options."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from mop_lantern.declare import declared, discover
from mop_lantern.desk.document import Document
from mop_lantern.desk.stage.layer_panel import LayerPanel
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.options import PACKAGE


class LayerLooks(QObject):
    """The options of layers between the document and the stage.

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
        self.panel: LayerPanel | None = None
        document.changed.connect(lambda _: self.follow())
        stage.options_wanted.connect(self.open)

    def follow(self) -> None:
        """Draw layers as the case wants them."""
        picture = self.stage.view.ensure()
        faults = picture.take_layer_options(self.document.case)
        if faults:
            self.tell(f"{faults[0].path}: {faults[0].says} {faults[0].remedy}")
        self.stage.view.redraw()

    def open(self, name: str) -> None:
        """Open the panel of a layer under its button."""
        kind = discover(PACKAGE, Layer)[name]
        if self.document.case is None or not declared(kind):
            self.tell(f"The layer {kind.caption} has no options.")
            return
        self.panel = LayerPanel(self.document, name, self.stage)
        self.panel.told.connect(self.tell)
        self.panel.open_below(self.stage.layer_buttons[name])
