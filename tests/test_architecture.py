"""Import directions, and proof that every guard can fail."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]


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
