"""The walkthroughs of rooms and heat, followed from nothing in the real window."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QInputDialog

from mop_lantern.desk.window import Desk
from tests.desk.test_first_page import window  # noqa: F401
from tests.desk.test_walkthroughs import Person
from tests.desk.test_window import reviewed

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")

ROOM_FLOW = "turbulent (eddy viscosity of rooms, without equations)"


class Guest(Person):
    """A person who builds rooms."""

    def room(self, length: str, width: str, height: str) -> str:
        """Begin a space full of air, with a box."""
        self.begin("space")
        self.add("media", "dry air")
        box = self.add("shape.parts", "box")
        self.fill(box, length=length, width=width, height=height)
        return box

    def fill(self, line: str, **values: str) -> str:
        """Type values of a line, in their order; give the line."""
        for name, words in values.items():
            self.type(f"{line}.{name}", words)
        return line

    def grille(self, on: str = "", **values: str) -> str:
        """Lay a grille on a face."""
        made = self.add("shape.parts", "grille")
        if on:
            self.tag(f"{made}.on", on)
        return self.fill(made, **values)

    def series(self, line: str, how_many: str) -> None:
        """Choose In series in the menu Edit."""
        self._said(how_many)
        reviewed(self.window)
        self.window.sheet.go_to(line)
        self.monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: (how_many, True))
        self.clicks += 2
        self.typed += 1
        self.window.actions_["In series …"].trigger()
        reviewed(self.window)

    def read(self, words: str, **choices: str) -> str:
        """Add a reading and choose; give its name."""
        line = self.add("readings", words)
        for name, chosen in choices.items():
            if name in ("edge", "limit", "at"):
                self.type(f"{line}.{name}", chosen)
            else:
                self.choose(f"{line}.{name}", chosen)
        return line.split(".")[1]


@pytest.fixture
def guest(window: Desk, monkeypatch: pytest.MonkeyPatch, request: pytest.FixtureRequest) -> Guest:  # noqa: F811
    """Give a person in front of the walkthrough a test is named after; pictures of flows that are not
    finished, which other tests look at, are not drawn: they take longer than the solves.
    """
    window.engine.frame.disconnect(window._on_frame)
    return Guest(window, request.node.name.replace("test_", "walk-"), monkeypatch)


def test_floor(guest: Guest) -> None:
    guest.begin("plane")
    guest.add("media", "dry air")
    guest.fill(guest.add("shape.parts", "straight"), length="5 m", width="2.8 m")
    guest.choose("field.heat.solve", "solved")
    guest.type("field.heat.start", "15 °C")
    guest.choose("field.physics.buoyancy", "move (Boussinesq)")
    guest.choose("field.radiation.solve", "solved")
    floor = guest.add("field.walls", "given heat flux")
    guest.tag(f"{floor}.edge", "right")
    guest.type(f"{floor}.flux", "48 W/m2")
    for tag in ("", "start", "end"):
        wall = guest.add("field.walls", "wall of a building")
        if tag:
            guest.tag(f"{wall}.edge", tag)
        guest.fill(wall, thickness2="20 mm", outside="-2 °C")
    air = guest.read("value over a box", quantity="temperature")
    warm = guest.read("value over an edge", edge="right", quantity="temperature")
    guest.type("field.grid.cell", "200 mm")
    guest.solve()
    assert 288 < guest.reading(air) < guest.reading(warm) < 320
    guest.variant()
    guest.type(f"{floor}.flux", "70 W/m2")
    guest.done(70)


def test_tee(guest: Guest) -> None:
    guest.begin("space")
    tee = guest.add("shape.parts", "tee")
    guest.fill(tee, length="700 mm", diameter="80 mm", branch_diameter="50 mm")
    guest.fill(tee, branch_length="120 mm", first="180 mm")
    guest.choose("field.heat.solve", "solved")
    guest.type("field.heat.start", "10 °C")
    guest.fill(guest.add("field.openings", "given velocity"), velocity="0.25 m/s", temperature="6 °C")
    warm = guest.add("field.openings", "given volume flow")
    guest.tag(f"{warm}.edge", "end1")
    guest.fill(warm, flow="0.5 L/s", temperature="38 °C")
    out = guest.add("field.openings", "given static")
    guest.tag(f"{out}.edge", "part1.end")
    wall = guest.add("field.walls", "wall of a building")
    guest.tag(f"{wall}.edge", "wall")
    guest.choose(f"{wall}.material1", "carbon steel")
    guest.fill(wall, thickness1="4 mm", thickness2="0 mm", thickness3="0 mm", outside="-15 °C", wind="8 m/s")
    lost = guest.read("heat or species passing", edge="wall", quantity="temperature")
    mixing = guest.read(
        "value over an edge", edge="part1.end", quantity="temperature", measure="coefficient of variation"
    )
    guest.type("field.grid.cell", "20 mm")
    guest.solve()
    assert guest.reading(lost) != 0 and 0 < guest.reading(mixing) < 1
    guest.variant()
    guest.type(f"{wall}.thickness1", "25 mm")
    guest.done(75)


def test_hall(guest: Guest) -> None:
    guest.room("12 m", "6 m", "3.2 m")
    guest.add("shape.parts", "tank")
    guest.grille("part1.top", width="2 m", height="1.5 m")
    supply = guest.fill(guest.add("field.openings", "air changes"), rate="1 1/h")
    guest.series(supply, "4 x 2")
    guest.grille("part1.south", width="0.5 m", height="0.4 m", z="0.4 m")
    guest.series(guest.add("field.openings", "given static"), "2")
    guest.choose("field.age.solve", "solved")
    mean = guest.read("ventilation", measure="mean age of the air")
    old = guest.read("volume beyond", quantity="mean age", limit="10 min")
    guest.choose("field.physics.flow", ROOM_FLOW)
    guest.type("field.grid.cell", "500 mm")
    guest.solve()
    assert guest.reading(mean) == pytest.approx(450, rel=0.3), "eight air changes an hour"
    assert 0 <= guest.reading(old) < 230
    guest.variant()
    parameter = next(iter(guest.window.document.case.parameters))
    guest.type(f"parameters.{parameter}.value", "0.6 1/h")
    guest.done(75)


def test_leak(guest: Guest) -> None:
    guest.room("6 m", "4 m", "3 m")
    guest.grille(width="3 m", height="1 m")
    supply = guest.fill(guest.add("field.openings", "air changes"), rate="4 1/h")
    guest.grille()
    guest.add("field.openings", "given static")
    guest.choose("field.physics.flow", ROOM_FLOW)
    gas = guest.add("field.species", "species")
    guest.type(f"{gas}.title", "ozone")
    guest.choose(f"{gas}.measure", "a concentration (mass per volume)")
    guest.type(f"{gas}.diffusivity", "16 mm2/s")
    leak = guest.add("field.species", "species in a box")
    guest.fill(leak, low="(3.5 m, 0.5 m, 1 m)", high="(4 m, 1 m, 1.5 m)", mass="= 20 mg/s * (t < 60 s)")
    guest.choose("field.time.mode", "followed in time")
    guest.fill("field.time", until="300 s", step="10 s", courant="0")
    guest.choose("field.time.flow", "stays as it began")
    near = guest.read("value at a point", at="(5 m, 1 m, 1.3 m)", quantity="ozone")
    cloud = guest.read("volume beyond", quantity="ozone", limit="0.2 mg/m3")
    responds = guest.read("time of a limit", limit="0.2 mg/m3")
    guest.type("field.grid.cell", "500 mm")
    guest.solve()
    traces = guest.window.archive.records[""].traces
    assert max(traces[near]) > 1e-6 and 0 <= guest.reading(cloud) <= 72
    assert 0 < guest.reading(responds) < 300
    guest.variant()
    guest.type(f"{supply}.rate", "8 1/h")
    guest.done(80)


def test_gallery(guest: Guest) -> None:
    guest.room("8 m", "5 m", "3 m")
    gas = guest.add("field.species", "species")
    guest.fill(gas, title="carbon dioxide", diffusivity="16 mm2/s", start="420 ppm")
    guest.grille("top", width="0.5 m", height="0.5 m")
    supply = guest.fill(guest.add("field.openings", "diffuser"), flow="240 m3/h")
    guest.type(f"{supply}.carries.{gas.split('.')[2]}", "420 ppm")
    guest.series(supply, "3")
    guest.grille("south", width="0.6 m", height="0.3 m", z="0.3 m")
    guest.series(guest.add("field.openings", "given static"), "2")
    people = guest.fill(guest.add("field.species", "people"), people="20")
    guest.fill(people, low="(2 m, 1.5 m, 0.5 m)", high="(6 m, 3.5 m, 1.5 m)")
    guest.choose(f"{people}.gas", "carbon dioxide")
    guest.choose("field.age.solve", "solved")
    breathe = guest.read("value over a box", quantity="carbon dioxide")
    efficiency = guest.read("ventilation", measure="air-exchange efficiency")
    guest.choose("field.physics.flow", ROOM_FLOW)
    guest.type("field.grid.cell", "500 mm")
    guest.solve()
    assert 500e-6 < guest.reading(breathe) < 2500e-6 and 0.2 < guest.reading(efficiency) < 1
    guest.variant()
    guest.type(f"{people}.people", "10")
    guest.done(85)


def test_fan(guest: Guest) -> None:
    guest.begin("plane")
    guest.add("media", "dry air")
    guest.fill(guest.add("shape.parts", "straight"), length="6 m", width="2.6 m")
    supply = guest.add("shape.parts", "straight")
    guest.fill(supply, start="(-0.4 m, 1.1 m)", length="0.45 m", width="0.2 m")
    extract = guest.add("shape.parts", "straight")
    guest.fill(extract, start="(0.05 m, -1.1 m)", direction="180 deg", length="0.45 m", width="0.4 m")
    inlet = guest.add("field.openings", "given volume flow")
    guest.tag(f"{inlet}.edge", "straight2.start")
    guest.type(f"{inlet}.flow", "180 m3/h")
    out = guest.add("field.openings", "given static")
    guest.tag(f"{out}.edge", "straight3.end")
    guest.choose("field.age.solve", "solved")
    mean = guest.read("ventilation", measure="mean age of the air")
    old = guest.read("volume beyond", quantity="mean age", limit="8 min")
    guest.type("field.grid.cell", "100 mm")
    guest.solve()
    was = guest.reading(mean), guest.reading(old)
    assert was[0] > 0 and was[1] >= 0
    guest.variant()
    fan = guest.add("field.devices", "circulation fan")
    guest.fill(fan, centre="(5 m, 0 m)", heading="-90 deg", width="0.5 m", pressure="3 Pa")
    guest.solve()
    assert guest.reading(mean, "B") != pytest.approx(was[0], rel=1e-3)
    guest.done(70)
