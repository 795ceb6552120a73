"""Tools of a space beside the stage: where the section lies, what is cut away, where the eye stands, the
level surface.
"""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QPushButton, QSlider, QWidget

from mop_lantern.scene import Picture
from mop_lantern.scene.scale import value_at
from mop_lantern.scene.space_stage import SEEDS
from mop_lantern.units import preferred, show

MOST_BESIDE = 2
SMALL = 1e-3  # m3: less is told in mL where nobody chose a unit
SECTIONS = (
    ("Across x", 0),
    ("Across y", 1),
    ("Across z", 2),
    ("Across its thinnest way", -1),
)
VIEWS = (
    ("Slanting", -62.0, 28.0),
    ("Along x", 180.0, 0.0),
    ("Against x", 0.0, 0.0),
    ("Along y", -90.0, 0.0),
    ("Against y", 90.0, 0.0),
    ("From above", -90.0, 89.9),
    ("From below", -90.0, -89.9),
)


class LevelBar(QWidget):
    """Where the level surface lies on the scale: a slider and its value. ``changed``: the picture is to be
    drawn anew.
    """

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.picture: Picture | None = None
        self.units: dict[str, str] = {}
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 100)
        self.slider.setValue(50)
        self.slider.setObjectName("level")
        self.slider.setAccessibleName("Place of the level surface on the scale")
        self.slider.setToolTip("Where on the scale the level surface lies; arrow keys move it")
        self.slider.valueChanged.connect(self._move)
        self.words = QLabel()
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 4, 0)
        row.addWidget(self.words)
        row.addWidget(self.slider, 1)

    def tell(self) -> None:
        """Say at which value the surface lies."""
        if self.picture is None or self.picture.answer is None:
            self.words.setText("Iso-surface")
            return
        words, dimension = self.picture.quantities[self.picture.quantity]
        _, table = self.picture.table_of(self.picture.quantity)
        value = value_at(table, self.picture.options.level)
        volume = self.picture.volume_above(value)
        usual = "m3" if volume >= SMALL or not volume else "mL"
        above = show(volume, "volume", self.units.get("volume", usual), 3)
        at = show(value, dimension, preferred(dimension, self.units))
        self.words.setText(f"{words.capitalize()} over {at}: {above}")

    def _move(self, value: int) -> None:
        if self.picture is not None:
            self.picture.set_options(level=value / 100)
            self.tell()
            self.changed.emit()


class SpaceTools(QWidget):
    """Buttons for section and view, and the level surface's slider.

    Signals
    -------
    changed : the picture is to be drawn anew. aimed : so is it, with everything in view. viewing : the menu
    of views opens, others may add to it.
    """

    changed = pyqtSignal()
    aimed = pyqtSignal()
    viewing = pyqtSignal(QMenu)

    def __init__(self) -> None:
        super().__init__()
        self.picture: Picture | None = None
        self.section = self._button(
            "Section ▾",
            (
                "Where the section of a space lies; its grip, Page up and Page down (or Ctrl with up and "
                "down) move it, with Shift in fine steps"
            ),
        )
        self.view = self._button("View ▾", "From where the space is seen")
        self.seeds = self._button("Lines from ▾", "Where streamlines begin")
        self.parts = self._button(
            "Show ▾", "Parts of the shape and layers of models that are drawn or hidden"
        )
        self.parts.clicked.connect(lambda: self._popup(self.parts_menu(), self.parts))
        self.seeds.clicked.connect(self._offer_seeds)
        self.section.clicked.connect(self._offer_sections)
        self.view.clicked.connect(self._offer_views)
        self.level = LevelBar()
        self.level.changed.connect(self.changed)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 0, 8, 4)
        row.setSpacing(2)
        for widget in (self.section, self.view, self.parts, self.seeds):
            row.addWidget(widget)
        row.addWidget(self.level, 1)
        row.addStretch(0)

    @staticmethod
    def _button(words: str, tip: str) -> QPushButton:
        button = QPushButton(words)
        button.setProperty("layer", "true")
        button.setObjectName(f"layer:{words.lower()}")
        button.setToolTip(tip)
        return button

    def show_picture(self, picture: Picture, units: dict[str, str]) -> None:
        """Serve a picture of a space; hidden in a plane."""
        self.picture = self.level.picture = picture
        self.level.units = units
        self.setVisible(picture.surface is not None)
        self.tell()

    def tell(self) -> None:
        """Show the level surface's slider where there is such a surface."""
        self.level.setVisible(self.picture is not None and "level" in self.picture.options.layers)
        self.level.tell()

    def lay(self, across: int) -> None:
        """Lay the section across another direction, through the middle."""
        if self.picture is not None:
            self.picture.set_options(across=across, share=0.5)
            self.changed.emit()

    def cut(self, on: bool) -> None:
        """Cut the model away before the section, or not."""
        if self.picture is not None:
            self.picture.set_options(cut_away=on)
            self.changed.emit()

    def look(self, azimuth: float, elevation: float) -> None:
        """Look from a direction, in degrees, at everything."""
        if self.picture is not None:
            self.picture.orbit.azimuth, self.picture.orbit.elevation = azimuth % 360.0, elevation
            self.aimed.emit()

    @staticmethod
    def _popup(menu: QMenu, button: QPushButton) -> None:
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def layers(self) -> dict[str, frozenset[str]]:
        """Give what can be shown and hidden by itself, with its faces: every part, and every layer of a
        model.
        """
        found: dict[str, set[str]] = {}
        surface = self.picture.surface if self.picture is not None else None
        for name in surface.edge_lengths if surface is not None else ():
            part = name.partition(".")[0]
            found.setdefault(part, set()).add(name)
            layer = surface.looks.get(name, ("", ""))[0]  # type: ignore[union-attr]
            if layer:
                found.setdefault(f"{part}: {layer}", set()).add(name)
        return {words: frozenset(names) for words, names in sorted(found.items())}

    def draw(self, words: str, on: bool) -> None:
        """Draw a part or a layer, or hide it."""
        if self.picture is not None:
            names = self.layers()[words]
            hidden = self.picture.options.hidden
            self.picture.set_options(hidden=hidden - names if on else hidden | names)
            self.changed.emit()

    def parts_menu(self) -> QMenu:
        """Give the menu of parts and layers."""
        menu = QMenu(self)
        for words, names in self.layers().items():
            action = menu.addAction(words)
            assert action is not None and self.picture is not None
            action.setCheckable(True)
            action.setChecked(not names <= self.picture.options.hidden)
            action.toggled.connect(lambda on, w=words: self.draw(w, on))
        return menu

    def _offer_sections(self) -> None:
        menu = QMenu(self)
        for words, across in SECTIONS:
            action = menu.addAction(words, lambda a=across: self.lay(a))
            assert action is not None
            action.setCheckable(True)
            action.setChecked(self.picture is not None and self.picture.options.across == across)
        menu.addSeparator()
        away = menu.addAction("Cut the model away before it")
        assert away is not None
        away.setCheckable(True)
        away.setChecked(self.picture is not None and self.picture.options.cut_away)
        away.toggled.connect(self.cut)
        self._popup(menu, self.section)

    def _offer_views(self) -> None:
        self._popup(self.view_menu(), self.view)

    def view_menu(self) -> QMenu:
        """Give the menu of views: directions, further views beside this one, and what others add."""
        menu = QMenu(self)
        for words, azimuth, elevation in VIEWS:
            menu.addAction(words, lambda a=azimuth, e=elevation: self.look(a, e))
        if self.picture is not None:
            beside = menu.addMenu("Beside it, the same view of")
            assert beside is not None
            for name, (words, _) in self.picture.quantities.items():
                action = beside.addAction(words.capitalize())
                assert action is not None
                action.setCheckable(True)
                action.setChecked(name in self.picture.options.beside)
                action.toggled.connect(lambda on, n=name: self.set_beside(n, on))
        self.viewing.emit(menu)
        return menu

    def set_beside(self, name: str, on: bool) -> None:
        """Show a quantity in a further view of the same camera, or no more; the oldest goes when there would
        be too many.
        """
        if self.picture is not None:
            kept = tuple(what for what in self.picture.options.beside if what != name)
            self.picture.set_options(beside=(*kept, name)[-MOST_BESIDE:] if on else kept)
            self.aimed.emit()

    def begin(self, seeds: str) -> None:
        """Let streamlines begin elsewhere."""
        if self.picture is not None:
            self.picture.set_options(seeds=seeds)
            self.changed.emit()

    def _offer_seeds(self) -> None:
        menu = QMenu(self)
        for seeds, words in SEEDS.items():
            action = menu.addAction(words.capitalize(), lambda s=seeds: self.begin(s))
            assert action is not None
            action.setCheckable(True)
            action.setChecked(self.picture is not None and self.picture.options.seeds == seeds)
            if seeds == "line" and self.picture is not None and len(self.picture.options.line) < 2:
                action.setText("Along a line: draw one with Line first")
                action.setEnabled(False)
        self._popup(menu, self.seeds)
