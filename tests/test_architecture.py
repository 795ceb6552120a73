"""Import directions, and proof that every guard can fail; the contract of kinds."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from mop_lantern.declare import declared, discover
from mop_lantern.declare.kind import kind_name
from mop_lantern.units import DIMENSIONS

ROOT = Path(__file__).parents[1]
PACKAGES = (
    "shape.parts",
    "media",
    "field.openings",
    "field.walls",
    "field.heat_walls",
    "field.sources",
    "grid.refinements",
    "judge.readings",
    "judge.notes",
    "scene.layers",
)


def linted(root: Path) -> str:
    """Run the import linter on a tree and give what it says."""
    tool = Path(sys.executable).parent / "lint-imports"
    done = subprocess.run(
        [str(tool), "--no-cache"],
        cwd=root,
        env={"PYTHONPATH": str(root / "src"), "PATH": "/usr/bin:/bin"},
        capture_output=True,
        text=True,
    )
    return done.stdout + done.stderr


@pytest.fixture(scope="module")
def copied(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Copy the sources."""
    place = tmp_path_factory.mktemp("tree")
    shutil.copytree(ROOT / "src", place / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    shutil.copy(ROOT / "pyproject.toml", place)
    return place


@pytest.mark.parametrize(
    ("contract", "file", "line"),
    [
        ("layers", "shape/plane.py", "import mop_lantern.grid"),
        ("layers", "field/face_geometry.py", "import mop_lantern.judge"),
        ("Qt lives in the desk only", "results/runs.py", "import PyQt6.QtCore"),
        (
            "the window and the command line never load the solvers",
            "desk/window.py",
            "import mop_lantern.field.kernels",
        ),
        ("VTK lives in scene and desk only", "judge/field_result.py", "import vtkmodules.vtkCommonCore"),
        (
            "kinds do not know each other",
            "field/openings/velocity.py",
            "import mop_lantern.field.openings.mass_flow",
        ),
    ],
)
def test_every_contract_can_break(copied: Path, contract: str, file: str, line: str) -> None:
    target = copied / "src" / "mop_lantern" / file
    kept = target.read_text()
    try:
        target.write_text(
            kept.replace(
                "from __future__ import annotations\n", f"from __future__ import annotations\n\n{line}\n", 1
            )
        )
        assert f"{contract} BROKEN" in linted(copied)
    finally:
        target.write_text(kept)


def test_a_package_nobody_listed_breaks_the_layers(copied: Path) -> None:
    extra = copied / "src" / "mop_lantern" / "helpers"
    extra.mkdir()
    (extra / "__init__.py").write_text("")
    try:
        assert "helpers" in linted(copied)
    finally:
        shutil.rmtree(extra)


@pytest.mark.parametrize("module", ["mop_lantern.desk.window", "mop_lantern.cli.commands"])
def test_window_and_command_line_load_no_solver(module: str) -> None:
    code = (
        f"import sys, {module}; assert not {{'numba', 'mop_lantern.solve', 'mop_lantern.field.kernels'}} & "
        "set(sys.modules), 'solver loaded'"
    )
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True).returncode == 0


@pytest.mark.parametrize("package", PACKAGES)
def test_kinds_keep_their_contract(package: str) -> None:
    kinds = discover(f"mop_lantern.{package}")
    assert kinds
    files = {
        path.stem
        for path in (ROOT / "src" / "mop_lantern" / package.replace(".", "/")).glob("*.py")
        if not path.stem.startswith("_")
    }
    assert set(kinds) == files  # one kind a file, named after it
    captions = [kind.caption for kind in kinds.values()]
    assert len(set(captions)) == len(captions) and all(captions)
    for name, kind in kinds.items():
        assert kind_name(kind) == name
        assert "Source:" in (kind.__doc__ or ""), name
        rules = declared(kind)
        slots = [part.split("}")[0] for part in kind.sentence.split("{")[1:]]
        assert set(slots) <= set(rules) | {"id"}, name
        for field, rule in rules.items():
            assert rule.label and rule.help and rule.dimension in DIMENSIONS, (name, field)
        for field in kind.model_fields:
            assert field == "kind" or field in rules, (name, field)
