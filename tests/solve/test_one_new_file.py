"""A new kind of anything is one new file: dropped into a copy of the tree, it is found by the sheet, the
solve, the answer, the picture and the manual.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

import mop_lantern

CHECK = '''
"""A check dropped in."""
from typing import ClassVar, Literal
from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck
class Probe(TrustCheck):
    """Say how many cells there are. Source: none needed."""
    caption: ClassVar[str] = "Probe"
    kind: Literal["probe"] = "probe"
    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Count."""
        return [Trust("probe", "holds", float(evidence.answer.mesh.n_cells), 0.0, "Counted.")]
'''
READING = '''
"""A reading dropped in."""
from typing import Any, ClassVar, Literal
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title
class Wetted(Reading):
    """The volume of the fluid. Source: sum of the cells."""
    caption: ClassVar[str] = "Wetted volume"
    sentence: ClassVar[str] = "{id}: the volume of the fluid."
    kind: Literal["wetted"] = "wetted"
    title: str = title()
    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A volume."""
        return "volume"
    @classmethod
    def take(cls, numbers: Any, answer: Any) -> float:
        """Add up."""
        return float(answer.mesh.volume.sum() * answer.mesh.turn)
'''
OPENING = '''
"""An opening dropped in, whose pressure follows the flow."""
from typing import Any, ClassVar, Literal
from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure
class Breeze(Opening):
    """A fan that gives 2 Pa at rest and less the more it blows. Source: none needed."""
    caption: ClassVar[str] = "Breeze"
    sentence: ClassVar[str] = "{id}: a breeze of {still} through {edge}."
    fixes: ClassVar[str] = "pressure"
    follows_flow: ClassVar[bool] = True
    kind: Literal["breeze"] = "breeze"
    edge: str = reference("edge", "edge", "Where it blows.")
    still: Text = quantity("pressure", "pressure at rest", "At no flow.", default="2 Pa")
    @classmethod
    def apply(cls, numbers: Any, patch: Patch, boundary: Boundary) -> None:
        fix_pressure(patch, boundary, numbers.still, 0.0)
    @classmethod
    def pressure_at(cls, numbers: Any, flow: float, density: float) -> tuple[float, float]:
        return numbers.still + 1e4 * flow, 1e4
'''
COMPONENT = '''
"""A thermal component dropped in."""
from typing import Any, ClassVar, Literal
import numpy as np
from mop_lantern.network.component import Bored, Drop, Floats, valve_drop
class Glow(Bored):
    """It glows with 5 kW, always. Source: none needed."""
    caption: ClassVar[str] = "Glow"
    sentence: ClassVar[str] = "{id}: a glow, bore {bore}."
    heats: ClassVar[bool] = True
    kind: Literal["glow"] = "glow"
    @classmethod
    def drop(cls, a: Any, q: Floats, rho: Floats, mu: Floats) -> Drop:
        return valve_drop(q, 1e9 * np.ones_like(q), mu, rho, a.bore)
    @classmethod
    def switches(cls, a: Any) -> tuple[Floats, Floats, Floats]:
        one = np.ones_like(a.bore)
        return 5000.0 * one, 1000.0 * one, 1001.0 * one
'''
NODE = '''
"""A node dropped in, which stores heat and fluid."""
from typing import Any, ClassVar, Literal
from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.node import Node
class Pot(Node):
    """A full pot of 50 litres. Source: none needed."""
    caption: ClassVar[str] = "Pot"
    sentence: ClassVar[str] = "{id}: a pot at {z}, {temperature} at the start."
    encloses: ClassVar[bool] = True
    kind: Literal["pot"] = "pot"
    temperature: Text = quantity("temperature", "temperature", "At the start.", default="20 °C")
    @classmethod
    def content(cls, numbers: Any) -> float:
        return 0.05
    @classmethod
    def transmittance(cls, numbers: Any) -> tuple[float, float]:
        return 100.0, 273.15
'''


EQUATION = '''
"""An equation dropped in."""
from typing import Any, ClassVar, Literal
from mop_lantern.solve.equation import Equation
class Dye(Equation):
    """A dye that enters everywhere at full strength and fades by half of it a second. Source: none needed."""
    caption: ClassVar[str] = "Dye"
    kind: Literal["dye"] = "dye"
    order: ClassVar[int] = 9
    @classmethod
    def names(cls, settled: Any) -> list[str]:
        return ["dye"]
    @classmethod
    def diffusivity(cls, settled: Any, mesh: Any, name: str) -> float:
        return 1e-9
    @classmethod
    def entering(cls, settled: Any, opening: Any, name: str) -> float:
        return 1.0
    @classmethod
    def sink(cls, settled: Any, name: str) -> float:
        return 0.5
    @classmethod
    def told(cls, settled: Any, name: str) -> tuple[str, str]:
        return "dye", "fraction"
'''
SOURCE = '''
"""A heat source dropped in: its cells are a disc, its strength falls with the time."""
from typing import Any, ClassVar, Literal
from mop_lantern.field.source import SourceKind
from mop_lantern.grid.zones import in_cylinder
class Flame(SourceKind):
    """A flame. Source: none needed."""
    caption: ClassVar[str] = "Flame"
    sentence: ClassVar[str] = "{id}: a flame."
    kind: Literal["flame"] = "flame"
    @classmethod
    def feeds(cls, numbers: Any) -> str:
        return "heat"
    @classmethod
    def rate(cls, numbers: Any) -> float:
        return 3.0
    @classmethod
    def cells(cls, numbers: Any, mesh: Any) -> Any:
        return in_cylinder(mesh.centre[:, :2], (0.0, 0.0), (0.02, 0.0), 0.002)
'''


LAYER = '''
"""A layer dropped in, with an option."""
from typing import Any, ClassVar, Literal
from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.datasets import polylines
from mop_lantern.scene.plane_stage import actor
import numpy as np
class Cross(Layer):
    """A cross over the space. Source: none needed."""
    caption: ClassVar[str] = "Cross"
    help: ClassVar[str] = "Cross it out"
    needs_answer: ClassVar[bool] = False
    kind: Literal["cross"] = "cross"
    width: Text = quantity("number", "width", "In pixels.", default="2", above=0)
    @classmethod
    def plane_props(cls, context: Any, options: Any) -> list[Any]:
        ends = [np.array([[0.0, 0.0], [0.04, 0.01]]), np.array([[0.0, 0.01], [0.04, 0.0]])]
        return [actor(polylines(ends), (1.0, 0.0, 0.0), options.width)]
'''
LOOK = """
import json, sys
from pathlib import Path
from mop_lantern.case import load, settle
from mop_lantern.scene import Picture
case = load(Path(sys.argv[1]))
picture = Picture()
picture.set_shape(settle(case).shape, {})
counts = []
for views in ({}, {"layers": {"cross": {"width": "9"}}}):
    picture.set_options(layers=frozenset({"cross"}))
    assert picture.take_views(case.model_copy(update={"views": views})) == []
    image = picture.image((300, 200)).astype(int)
    counts.append(int((image[:, :, 0] - image[:, :, 1] > 150).sum()))
print(json.dumps(counts))
"""


@pytest.fixture(scope="module")
def grown(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Copy the tree and drop one new file of each kind into it."""
    tree = tmp_path_factory.mktemp("tree")
    package = tree / "mop_lantern"
    shutil.copytree(Path(mop_lantern.__file__).parent, package)
    for file, text in {
        "solve/checks/probe.py": CHECK,
        "judge/readings/wetted.py": READING,
        "field/openings/breeze.py": OPENING,
        "field/sources/flame.py": SOURCE,
        "solve/equations/dye.py": EQUATION,
        "scene/layers/cross.py": LAYER,
        "network/components/glow.py": COMPONENT,
        "network/nodes/pot.py": NODE,
    }.items():
        (package / file).write_text(text, "utf-8")
    return tree


def ran(tree: Path, where: Path, *command: str) -> str:
    """Run the program of a tree; give what it prints."""
    done = subprocess.run(
        [sys.executable, *command],
        env={**os.environ, "PYTHONPATH": str(tree)},
        capture_output=True,
        text=True,
        check=False,
        cwd=where,
    )
    assert done.returncode in (0, 3), done.stderr[-2000:]
    return done.stdout


def test_new_files_of_a_field(grown: Path, channel: dict[str, Any], tmp_path: Path) -> None:
    """A check, a reading, an opening that follows its flow, an equation, a source and a layer."""
    case = tmp_path / "c.lantern"
    channel["field"]["openings"]["in"] = {"kind": "breeze", "edge": "run.start"}
    channel["readings"]["wet"] = {"kind": "wetted"}
    channel["field"]["heat"] = {"solve": True, "start": "20 °C"}
    channel["field"]["sources"] = {"f": {"kind": "flame"}}
    channel["readings"]["heat"] = {"kind": "passing", "edge": "run.end", "quantity": "T", "way": "out"}
    channel["readings"]["cold"] = {"kind": "passing", "edge": "run.start", "quantity": "T", "way": "in"}
    channel["readings"]["blown"] = {"kind": "edge_value", "edge": "run.start"}
    channel["readings"]["through"] = {"kind": "flow", "edge": "run.end"}
    case.write_text(json.dumps(channel), "utf-8")
    answer = json.loads(ran(grown, tmp_path, "-m", "mop_lantern", "solve", str(case)))
    got = {key: reading["value"] for key, reading in answer["readings"].items()}
    assert got["wet"] == pytest.approx(0.04 * 0.01 * 1.0, rel=1e-6)
    assert any(item["id"] == "probe" for item in answer["trust"])
    assert got["heat"] - got["cold"] == pytest.approx(3.0, rel=1e-3)
    assert got["through"] > 1e-5, "it blows"
    assert got["blown"] == pytest.approx(2.0 - 1e4 * got["through"], rel=1e-5)
    assert any(item["id"] == "balance.dye" and item["verdict"] == "holds" for item in answer["trust"])
    found = ran(
        grown,
        tmp_path,
        "-c",
        "from mop_lantern.results import open_answer; from pathlib import Path; import sys\n"
        f"a = open_answer(Path({answer['run']!r})); print(a.quantities['dye'], a.cells('dye').min())",
    )
    assert "'dye', 'fraction'" in found and 0.0 < float(found.split()[-1]) < 0.5
    thin, thick = json.loads(ran(grown, tmp_path, "-c", LOOK, str(case)))
    assert 0 < thin < thick / 2, "the layer is drawn, by its option"
    told = ran(grown, tmp_path, "-m", "mop_lantern", "show", str(case))
    assert "the volume of the fluid" in told and "a breeze of 2 Pa" in told
    manual = ran(grown, tmp_path, "-c", "from mop_lantern.manual import manual_html; print(manual_html())")
    for caption in ("Wetted volume", "Breeze", "Flame", "Glow", "Pot"):
        assert caption in manual


def test_new_files_of_a_network(grown: Path, tmp_path: Path) -> None:
    """A thermal component and a node that stores heat: at rest, by the balance of heat, and in time."""
    sea = {"kind": "reservoir", "temperature": "20 °C"}
    pipe = {"kind": "pipe", "length": "5 m", "bore": "20 mm"}
    data: dict[str, Any] = {
        "title": "glow",
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "network": {
            "thermal": True,
            "nodes": {"a": {**sea, "z": "3 m"}, "b": {"kind": "pot"}, "c": sea},
            "lines": {
                "one": {"start": "a", "end": "b", "parts": {"p": pipe, "g": {"kind": "glow"}}},
                "two": {"start": "b", "end": "c", "parts": {"p": pipe}},
            },
        },
        "readings": {
            "T": {"kind": "node_value", "node": "b", "figure": "temperature"},
            "q": {"kind": "line_value", "line": "one", "figure": "volume_flow"},
        },
    }
    data["media"]["w"] |= {"capacity": "4000 J/kg/K", "conductivity": "0.6 W/m/K"}
    case = tmp_path / "n.lantern"

    def got(**time: str) -> tuple[float, float]:
        data["network"]["time"] = time
        case.write_text(json.dumps(data), "utf-8")
        answer = json.loads(ran(grown, tmp_path, "-m", "mop_lantern", "solve", str(case)))
        return answer["readings"]["T"]["value"], answer["readings"]["q"]["value"]

    warm, flow = got()
    stream = 4e6 * flow
    rest = (stream * 293.15 + 5000.0 + 100.0 * 273.15) / (stream + 100.0)
    assert flow > 1e-4 and warm == pytest.approx(rest, abs=0.01)
    soon, _ = got(mode="transient", until="30 s", step="0.5 s")
    filled = 0.05 * 4e6 / (stream + 100.0)
    assert soon == pytest.approx(rest + (293.15 - rest) * 2.718281828 ** (-30.0 / filled), abs=0.3)
    assert 293.25 < soon < rest - 0.1
    told = ran(grown, tmp_path, "-m", "mop_lantern", "show", str(case))
    assert "a glow, bore" in told and "a pot at" in told
