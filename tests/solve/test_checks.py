"""Trust checks: each is seen to fail on an answer spoilt on purpose; a new kind is one new file."""

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
from mop_lantern.case import apply, parse_case, settle
from mop_lantern.judge import Trust
from mop_lantern.solve import FlowRun, prepare
from mop_lantern.solve.check import Evidence, checked
from mop_lantern.solve.checks.carried import Carried
from mop_lantern.solve.checks.cautions import Cautions
from mop_lantern.solve.checks.forces import Forces
from mop_lantern.solve.checks.sense import Sense

WARM = {
    "media.water": {
        "kind": "constant",
        "density": "1000 kg/m3",
        "viscosity": "1 mPa s",
        "capacity": "4000 J/kg/K",
        "conductivity": "0.6 W/m/K",
    },
    "field.heat.solve": True,
    "field.openings.in.temperature": "30 °C",
    "field.warm.hot": {"kind": "temperature", "edge": "run.left", "temperature": "40 °C"},
}


@pytest.fixture
def evidence(channel: dict[str, Any]) -> Evidence:
    """Give a sound answer: a channel that is warmed from one side."""
    settled = settle(apply(parse_case(channel), WARM))
    run = FlowRun(settled, prepare(settled), None)
    while not run.finished() and run.last.iteration < 400:
        run.advance(5.0, 50)
    run.physics.finish()
    return Evidence(settled, run.physics, run.physics.answer(final=True), True, False)


def verdicts(items: list[Trust]) -> dict[str, str]:
    """Give the verdicts by id."""
    return {item.id: item.verdict for item in items}


def test_a_sound_answer_passes_every_check(evidence: Evidence) -> None:
    found = verdicts(checked(evidence))
    assert found["forces"] == found["balance.T"] == "holds"
    assert not [key for key, verdict in found.items() if verdict == "fails"]


def test_forces_that_do_not_add_up_are_told(evidence: Evidence) -> None:
    evidence.physics.flow.p *= 1.5
    assert verdicts(Forces.judge(evidence)) == {"forces": "caution"}


def test_heat_that_comes_from_nowhere_fails(evidence: Evidence) -> None:
    heat = evidence.physics.scalars["T"]
    heat.phi += 3.0
    assert verdicts(Carried.judge(evidence))["balance.T"] == "fails"


def test_a_pressure_under_nothing_fails_and_sound_is_told(evidence: Evidence) -> None:
    evidence.answer.pressure[:] -= 2e5
    assert verdicts(Sense.judge(evidence))["absolute"] == "fails"
    evidence.answer.velocity[:, 0] = 700.0
    assert verdicts(Sense.judge(evidence))["mach"] == "caution"


def test_cautions_of_the_review_go_along_but_not_while_edits_are_followed(channel: dict[str, Any]) -> None:
    fast = apply(parse_case(channel), {"field.openings.in.velocity": "1 m/s"})
    settled = settle(fast)
    run = FlowRun(settled, prepare(settled), None)
    run.advance(1.0, 1)
    answer = run.physics.answer()
    assert any(
        item.id.startswith("note.")
        for item in Cautions.judge(Evidence(settled, run.physics, answer, True, False))
    )
    following = checked(Evidence(settled, run.physics, answer, True, True))
    assert not any(item.id.startswith("note.") for item in following)


def test_checks_of_steady_answers_are_left_out_in_time(evidence: Evidence) -> None:
    in_time = Evidence(evidence.settled, evidence.physics, evidence.answer, False, False)
    assert "forces" not in verdicts(checked(in_time)) and not Forces.in_time


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
"""An opening dropped in."""
from typing import Any, ClassVar, Literal
from mop_lantern.field.openings.velocity import Velocity
class Trickle(Velocity):
    """A velocity inlet by another name. Source: none needed."""
    caption: ClassVar[str] = "Trickle"
    kind: Literal["trickle"] = "trickle"
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
    def entering(cls, opening: Any, name: str) -> float:
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
from mop_lantern.scene.stagehand import actor
import numpy as np
class Cross(Layer):
    """A cross over the space. Source: none needed."""
    caption: ClassVar[str] = "Cross"
    help: ClassVar[str] = "Cross it out"
    needs_answer: ClassVar[bool] = False
    kind: Literal["cross"] = "cross"
    width: Text = quantity("number", "width", "In pixels.", default="2", above=0)
    @classmethod
    def plane_props(cls, hand: Any, options: Any) -> list[Any]:
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
    assert picture.take_layer_options(case.model_copy(update={"views": views})) == []
    image = picture.image((300, 200)).astype(int)
    counts.append(int((image[:, :, 0] - image[:, :, 1] > 150).sum()))
print(json.dumps(counts))
"""


@pytest.mark.slow
def test_a_kind_is_one_new_file(channel: dict[str, Any], tmp_path: Path) -> None:
    """A check, a reading, an opening, an equation, a source and a layer dropped into a copy of the tree are
    found by sheet, solve, result, picture and manual.
    """
    tree = tmp_path / "src"
    shutil.copytree(Path(mop_lantern.__file__).parent, tree / "mop_lantern")
    package = tree / "mop_lantern"
    (package / "solve/checks/probe.py").write_text(CHECK, "utf-8")
    (package / "judge/readings/wetted.py").write_text(READING, "utf-8")
    (package / "field/openings/trickle.py").write_text(OPENING, "utf-8")
    (package / "solve/equations/dye.py").write_text(EQUATION, "utf-8")
    (package / "scene/layers/cross.py").write_text(LAYER, "utf-8")
    (package / "field/sources/flame.py").write_text(SOURCE, "utf-8")
    case = tmp_path / "c.lantern"
    channel["field"]["openings"]["in"]["kind"] = "trickle"
    channel["readings"]["wet"] = {"kind": "wetted"}
    channel["field"]["heat"] = {"solve": True, "start": "20 °C"}
    channel["field"]["sources"] = {"f": {"kind": "flame"}}
    channel["readings"]["heat"] = {"kind": "passing", "edge": "run.end", "quantity": "T", "way": "out"}
    channel["readings"]["cold"] = {"kind": "passing", "edge": "run.start", "quantity": "T", "way": "in"}
    case.write_text(json.dumps(channel), "utf-8")
    environment = {**os.environ, "PYTHONPATH": str(tree)}

    def ran(*command: str) -> str:
        words = [sys.executable, *command]
        done = subprocess.run(
            words, env=environment, capture_output=True, text=True, check=False, cwd=tmp_path
        )
        assert done.returncode in (0, 3), done.stderr[-2000:]
        return done.stdout

    answer = json.loads(ran("-m", "mop_lantern", "solve", str(case)))
    assert answer["readings"]["wet"]["value"] == pytest.approx(0.04 * 0.01 * 1.0, rel=1e-6)
    assert any(item["id"] == "probe" for item in answer["trust"])
    warmed = answer["readings"]["heat"]["value"] - answer["readings"]["cold"]["value"]
    assert warmed == pytest.approx(3.0, rel=1e-3)
    assert any(item["id"] == "balance.dye" and item["verdict"] == "holds" for item in answer["trust"])
    found = ran(
        "-c",
        "from mop_lantern.results import open_answer; from pathlib import Path; import sys\n"
        f"a = open_answer(Path({answer['run']!r})); print(a.quantities['dye'], a.cells('dye').min())",
    )
    assert "'dye', 'fraction'" in found and 0.0 < float(found.split()[-1]) < 0.5
    thin, thick = json.loads(ran("-c", LOOK, str(case)))
    assert 0 < thin < thick / 2, "the layer is drawn, by its option"
    assert "the volume of the fluid" in ran("-m", "mop_lantern", "show", str(case))
    manual = ran("-c", "from mop_lantern.manual import manual_html; print(manual_html())")
    assert "Wetted volume" in manual and "Trickle" in manual and "Flame" in manual
