"""Names of faces over changes of a model: moved, resized, longer, a branch more, a branch less, shifted."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.shape.describing import faces_told
from mop_lantern.shape.model import Model
from mop_lantern.shape.reading import read_model
from mop_lantern.shape.renaming import renamed
from tests.shape import hollow_models as made

FORMS = {"60 mm": "main_out", "52 mm": "main_bore", "40 mm": "branch_out", "34 mm": "branch_bore"}
MAIN = {"main_out", "main_bore", "west", "east"}
BRANCH = {"branch_out", "branch_bore", "top"}


def tee(
    x: float = 0.1, bore: float = 0.017, length: float = 0.2, height: float = 0.12, more: float = 0.0
) -> Any:
    """A hollow tee; a height of 0 leaves its branch away, ``more`` adds another one to the side."""
    outer = [made.along((1, 0, 0), 0.03, length)]
    inner = [made.along((1, 0, 0), 0.026, length + 0.02, (-0.01, 0, 0))]
    if height:
        outer.append(made.along((0, 0, 1), bore + 0.003, height, (x, 0, 0)))
        inner.append(made.along((0, 0, 1), bore, height + 0.01, (x, 0, 0)))
    if more:
        outer.append(made.along((0, 1, 0), 0.015, 0.1, (more, 0, 0)))
        inner.append(made.along((0, 1, 0), 0.012, 0.12, (more, 0, 0)))
    return made.less(made.fused(*outer) if len(outer) > 1 else outer[0], *inner)


def called(model: Model) -> Model:
    """Name the faces of a tee by what they are, as a person would."""
    names = {}
    for face in faces_told(model.surface):
        x, _, z = face.middle
        ring = "top" if z > 0.1 else "west" if x < 0.05 else "east"
        names[face.name] = FORMS.get(face.words.removeprefix("cylinder of "), ring)
    return replace(model, names=tuple(names[name] for name in model.names))


def read(body: Any, tmp_path: Path) -> Model:
    return read_model(made.saved(body, tmp_path / "tee.stl"), "m")


@pytest.mark.parametrize(
    ("body", "lost"),
    [
        (tee(), set()),
        (tee(x=0.13), set()),
        (tee(length=0.26), set()),
        (tee(height=0.2), set()),
        (tee(more=0.16), set()),
        (tee(height=0.0), BRANCH),
        (tee().apply_translation([0.05, 0.02, 0]), set()),
    ],
    ids=["the same", "branch moved", "longer", "taller", "branch added", "branch removed", "all shifted"],
)
def test_every_face_keeps_its_name(body: Any, lost: set[str], tmp_path: Path) -> None:
    """Which is which is known by the diameters, which stay."""
    former = called(read(tee(), tmp_path))
    found, told = renamed(read(body, tmp_path), former)
    assert set(told) == lost
    for face in faces_told(found.surface):
        form = face.words.removeprefix("cylinder of ")
        if form in FORMS:
            assert face.name == FORMS[form]
        elif face.name in ("west", "east"):
            assert face.direction[0] == pytest.approx(-1.0 if face.name == "west" else 1.0)
        elif face.name == "top":
            assert face.direction[2] == pytest.approx(1.0)
        else:
            assert face.name.startswith("face"), "what is new has no name of another"
    assert (MAIN | BRANCH) - lost <= set(found.names) and len(set(found.names)) == len(found.names)


def test_bores_and_their_outsides_are_not_mixed_up_when_resized(tmp_path: Path) -> None:
    found, lost = renamed(read(tee(bore=0.021), tmp_path), called(read(tee(), tmp_path)))
    across = {face.name: face.across for face in faces_told(found.surface)}
    assert not lost and across["branch_bore"] == pytest.approx(0.042, rel=1e-3)
    assert across["branch_out"] == pytest.approx(0.048, rel=1e-3)
    other, gone = renamed(read(made.bottle(), tmp_path), called(read(tee(), tmp_path)))
    assert len(gone) >= 4 and len(set(other.names)) == len(other.names), "another thing altogether"
