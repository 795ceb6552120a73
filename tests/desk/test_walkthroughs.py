"""The walkthroughs of the manual, followed in the real window; clicks and typed values are counted."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMessageBox,
    QPushButton,
    QWidget,
)

from mop_lantern.case import value_at
from mop_lantern.desk.sheet.editors import ChoiceButton
from mop_lantern.desk.sheet.tags import TagEdit
from mop_lantern.desk.starters import DEMOS
from mop_lantern.desk.window import Desk
from tests.desk.test_first_page import window  # noqa: F401
from tests.desk.test_window import reviewed, wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")
TEXT = Path(__file__).parents[2] / "src" / "mop_lantern" / "manual" / "text" / "12-walkthroughs.md"


class Person:
    """Follows a walkthrough: clicks and types as its text says, and counts both."""

    def __init__(self, desk: Desk, anchor: str, monkeypatch: pytest.MonkeyPatch) -> None:
        self.window = desk
        self.monkeypatch = monkeypatch
        self.clicks = self.typed = 0
        text = TEXT.read_text("utf-8")
        self.title = re.findall(rf"## (.+) \{{#{anchor}\}}", text)[0]
        self.text = re.split(r"\n## ", text.split(f"{{#{anchor}}}")[1])[0]
        monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Yes)
        self.unsaid = set(re.findall(r"`([^`]+)`", self.text))

    def _said(self, words: str) -> None:
        """What is typed must be what the text says."""
        assert f"`{words}`" in self.text, f"the manual does not say to type {words}"
        self.unsaid.discard(words)

    def click(self, button: QWidget | None) -> None:
        """Click a button."""
        assert button is not None and button.isVisible() and button.isEnabled()
        self.clicks += 1
        QTest.mouseClick(button, Qt.MouseButton.LeftButton)
        QApplication.processEvents()

    def begin(self, key: str) -> None:
        """Click a card of the first page."""
        self.click(self.window.starters.beginnings[key])
        wait(lambda: self.window.document.case is not None)

    def say(self, key: str, *lines: str) -> None:
        """Type lines of words on the first page."""
        for line in lines:
            self._said(line)
        self.typed += len(lines)
        self.monkeypatch.setattr(QInputDialog, "getMultiLineText", lambda *_, **__: ("\n".join(lines), True))
        self.begin(key)
        reviewed(self.window)

    def add(self, section: str, words: str) -> str:
        """Click + at a section, type what is wanted, Enter; give the path of the new line."""
        self._said(words)
        reviewed(self.window)
        self.click(self.window.findChild(QPushButton, f"add:{section}"))
        QTest.keyClicks(self.window.sheet.adding.search, words)
        QTest.keyClick(self.window.sheet.adding.search, Qt.Key.Key_Return)
        self.typed += 1
        reviewed(self.window)
        return self.window.sheet.focused()

    def type(self, path: str, words: str) -> None:
        """Type a value over the one there is; it takes a click unless the cursor is there already. Nobody
        waits
        for the review between two values.
        """
        self._said(words)
        editor = self.window.findChild(QLineEdit, path)
        assert editor is not None, path
        if not editor.hasFocus():
            self.clicks += 1
            editor.setFocus()
        editor.selectAll()
        QTest.keyClicks(editor, words)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.typed += 1
        QApplication.processEvents()

    def tag(self, path: str, words: str) -> None:
        """Click a tag and type a part of a name."""
        reviewed(self.window)
        assert isinstance(self.window.findChild(QLineEdit, path), TagEdit)
        self.type(path, words)

    def choose(self, path: str, words: str) -> None:
        """Choose among words: two clicks."""
        button = self.window.findChild(ChoiceButton, path)
        assert button is not None
        value = next(value for value, shown in button.options if shown == words)
        self.clicks += 2
        button._commit(value)
        QApplication.processEvents()

    def solve(self) -> None:
        """Click Solve and wait for the answer."""
        desk = self.window
        reviewed(desk)
        variant = desk.document.variant
        assert not desk.document.review.blocked, [str(f) for f in desk.document.review.faults]
        self.click(desk.bar.solve)
        wait(lambda: desk.engine.state == "solving")
        wait(lambda: desk.engine.state == "idle", 120)
        archive = desk.archive
        wait(lambda: variant in archive.records and not archive.stale(desk.document.case, variant), 120)

    def variant(self) -> None:
        """Click + beside the base."""
        reviewed(self.window)
        self.click(self.window.bar.findChild(QPushButton, "variant:add"))

    def reading(self, key: str, variant: str = "") -> float:
        """Give a reading of the answer."""
        record = self.window.archive.records[variant]
        return float((record.readings | record.standard)[key]["value"])

    def done(self, most: int) -> None:
        """Print what it took, and hold it to a limit; nothing the text says to type is left out."""
        print(f"\n{self.title}: {self.clicks} clicks, {self.typed} typed values")
        assert self.clicks <= most and self.typed <= most
        assert not {words for words in self.unsaid if not self._only_named(words)}

    def _only_named(self, words: str) -> bool:
        """Whether a word in typewriter is the name of something rather than typed."""
        return words in ("valve-body.step", "Pond", "V1")


def test_a_channel_with_an_obstacle(window: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    person = Person(window, "walk-plane", monkeypatch)
    person.begin("plane")
    passage = person.add("shape.parts", "straight")
    person.type(f"{passage}.length", "200 mm")
    person.type(f"{passage}.width", "20 mm")
    post = person.add("shape.parts", "round obstacle")
    person.type(f"{post}.centre", "(60 mm, 2 mm)")
    person.type(f"{post}.diameter", "8 mm")
    inlet = person.add("field.openings", "given velocity")
    person.type(f"{inlet}.velocity", "5 mm/s")
    person.add("field.openings", "given static")
    drop = person.add("readings", "pressure drop").split(".")[1]
    person.solve()
    base = person.reading(drop)
    person.variant()
    person.type(f"{post}.diameter", "12 mm")
    person.solve()
    assert 0 < base < 0.7 * person.reading(drop, "B")
    person.done(30)


def test_the_inside_of_a_valve(window: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    person = Person(window, "walk-model", monkeypatch)
    model = DEMOS / "models" / "valve-body.step"
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(model), ""))
    person.clicks += 1  # the file, in its dialog
    person.begin("model")
    wait(lambda: bool(window.document.case and window.document.case.shape.solids), 60)
    reviewed(window)
    inlet = person.add("field.openings", "given velocity")
    person.tag(f"{inlet}.edge", "inlet")
    person.type(f"{inlet}.velocity", "4 mm/s")
    outlet = person.add("field.openings", "given static")
    person.tag(f"{outlet}.edge", "outlet")
    assert value_at(window.document.case, f"{outlet}.edge").endswith(".outlet")
    person.type("field.grid.cell", "4 mm")
    drop = person.add("readings", "pressure drop").split(".")[1]
    person.solve()
    assert person.reading(drop) > 0
    person.done(45)


def test_a_pump_and_its_pipe_line(window: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    person = Person(window, "walk-pipe", monkeypatch)
    person.say(
        "words",
        "Suction: From reservoir Sea through entry, 6 m of DN80 steel, 2 bends to M",
        "Lift: From M through pump P1 with curve 0 L/s 20 m / 5 L/s 17 m / 10 L/s 11 m, 40 m of DN50 steel, "
        "valve V1 at 100 %, exit to tank Pond",
    )
    person.type("network.nodes.Pond.z", "8 m")
    person.solve()
    flow = person.reading("Lift.flow")
    assert 0.003 < flow < 0.01
    for page in ("Duty", "Path"):
        person.clicks += 1
        window.traces.show_page(page)
    person.variant()
    person.type("network.lines.Lift.parts.V1.opening", "30 %")
    person.solve()
    assert 0 < person.reading("Lift.flow", "B") < flow
    person.done(30)


def test_a_ventilated_room(window: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    person = Person(window, "walk-room", monkeypatch)
    person.say(
        "words",
        "Supply: From reservoir Outdoors through fan F1 with curve 0 L/s 150 Pa / 100 L/s 120 Pa / 200 L/s "
        "40 Pa, 8 m of 200 mm duct, diffuser to room Hall",
        "Extract: From Hall through grille, 5 m of 200 mm duct to reservoir Roof",
    )
    person.type("network.nodes.Hall.volume", "90 m3")
    person.type("network.nodes.Hall.occupants", "12")
    species = person.add("network.nodes", "species")
    person.type(f"{species}.inlet", "420 ppm")
    release = person.add("network.nodes", "release")
    person.choose(f"{release}.node", "Hall")
    person.type(f"{release}.volume", "18 L/h")
    person.choose(f"{release}.per", "by each person")
    share = person.add("readings", "fraction of a species")
    person.choose(f"{share}.node", "Hall")
    person.solve()
    flow = person.reading("Extract.flow")
    base = person.reading(share.split(".")[1])
    assert base == pytest.approx(420e-6 + 12 * 18e-3 / 3600 / flow, rel=0.02), "a balance by hand"
    person.variant()
    person.type("network.lines.Supply.parts.F1.speed", "60 %")
    person.solve()
    assert person.reading(share.split(".")[1], "B") > 1.3 * base
    person.done(45)


def test_air_in_a_room(window: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    person = Person(window, "walk-air", monkeypatch)
    person.begin("space")
    person.add("media", "air")
    room = person.add("shape.parts", "box")
    for side, value in (("length", "6 m"), ("width", "4 m"), ("height", "3 m")):
        person.type(f"{room}.{side}", value)
    supply = person.add("shape.parts", "grille")
    person.tag(f"{supply}.on", "top")
    person.add("shape.parts", "grille")
    inlet = person.add("field.openings", "diffuser")
    person.type(f"{inlet}.flow", "430 m3/h")
    person.add("field.openings", "given static")
    person.choose("field.age.solve", "solved")
    old = person.add("readings", "volume beyond")
    person.choose(f"{old}.quantity", "mean age")
    person.type(f"{old}.limit", "15 min")
    mean = person.add("readings", "ventilation")
    person.choose(f"{mean}.measure", "mean age of the air")
    person.type("field.grid.cell", "500 mm")
    person.solve()
    age, stands = (path.split(".")[1] for path in (mean, old))
    nominal = 72 / (430 / 3600)
    mixed = person.reading(age)
    assert 0.5 * nominal < mixed < 1.5 * nominal and 0 <= person.reading(stands) < 72
    person.variant()
    person.choose(f"{inlet}.type", "displacement")
    person.solve()
    assert person.reading(age, "B") != pytest.approx(mixed, rel=1e-3)
    person.done(60)
