"""Views of a space kept by name in the case: where the eye stands, the section, what is shown."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QInputDialog, QMenu

from mop_lantern.desk.document import Document
from mop_lantern.desk.stage.stage import Stage

SEEN = ("across", "share", "quantity", "cut_away", "near_walls", "beside", "level", "seeds")


class Cameras(QObject):
    """Keeps, shows and forgets views; every deed is one step of undo."""

    def __init__(
        self,
        document: Document,
        stage: Stage,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.stage = stage
        stage.space_tools.viewing.connect(self.offer)

    @property
    def kept(self) -> dict[str, Any]:
        """The views of the case by name."""
        case = self.document.case
        found = case.views.get("cameras", {}) if case is not None else {}
        return dict(found) if isinstance(found, dict) else {}

    def offer(self, menu: QMenu) -> None:
        """Add the entries to the menu of views."""
        menu.addSeparator()
        for name in self.kept:
            menu.addAction(name, lambda n=name: self.show(n))
        menu.addAction("Keep this view …", self.ask)
        if self.kept:
            away = menu.addMenu("Forget")
            assert away is not None
            for name in self.kept:
                away.addAction(name, lambda n=name: self.forget(n))

    def ask(self) -> None:
        """Ask for a name and keep the view."""
        name, sure = QInputDialog.getText(
            self.stage, "Keep this view", "Its name:", text=f"View {len(self.kept) + 1}"
        )
        if sure and name.strip():
            self.keep(name.strip())

    def keep(self, name: str) -> bool:
        """Keep the view as it is."""
        picture = self.stage.view.ensure()
        orbit = picture.orbit
        options = picture.options
        state: dict[str, Any] = {
            "azimuth": orbit.azimuth,
            "elevation": orbit.elevation,
            "focus": list(orbit.focus),
            "centre": picture.centre.tolist(),
            "height": picture.height,
        }
        state |= {key: getattr(options, key) for key in SEEN} | {
            "beside": list(options.beside),
            "layers": sorted(options.layers),
        }
        return self.document.edit({"views.cameras": self.kept | {name: state}}, "keep a view")

    def forget(self, name: str) -> bool:
        """Forget a view."""
        return self.document.edit(
            {"views.cameras": {key: state for key, state in self.kept.items() if key != name}},
            "forget a view",
        )

    def show(self, name: str) -> None:
        """Show a view; what a damaged one lacks stays as it is."""
        state = self.kept[name]
        picture = self.stage.view.ensure()
        try:
            focus = np.array(state["focus"], float)
            centre = np.array(state["centre"], float)
            place = (
                float(state["azimuth"]),
                float(state["elevation"]),
                float(state["height"]),
            )
            assert focus.shape == (3,) and centre.shape == (2,) and place[2] > 0
        except (KeyError, TypeError, ValueError, AssertionError):
            self.document.troubled.emit(f"The view {name} is damaged: keep it anew.")
            return
        picture.orbit.azimuth, picture.orbit.elevation, picture.height = place
        picture.orbit.focus, picture.centre, self.stage.view.untouched = tuple(focus.tolist()), centre, False
        picture.set_options(
            **{key: tuple(state[key]) if key == "beside" else state[key] for key in SEEN if key in state}
        )
        for layer, button in self.stage.layer_buttons.items():
            button.setChecked(layer in state.get("layers", picture.options.layers))
        self.stage.set_quantity(picture.quantity)
