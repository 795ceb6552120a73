"""Import directions, and proof that every guard can fail."""

from __future__ import annotations

import ast
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


def imports_of(folder: Path) -> dict[str, set[str]]:
    """Give which modules of a folder import which others of it, those for types alone too."""
    modules = {
        ".".join(path.relative_to(ROOT / "src").with_suffix("").parts): path for path in folder.rglob("*.py")
    }
    found = {}
    for name, path in modules.items():
        tree = ast.parse(path.read_text("utf-8"))
        named = [node for node in ast.walk(tree) if isinstance(node, ast.ImportFrom) and node.module]
        direct = {node.module for node in named}
        inner = {f"{node.module}.{alias.name}" for node in named for alias in node.names}
        found[name] = {other for other in direct | inner if other in modules and other != name}
    return found


def circle_in(imports: dict[str, set[str]]) -> list[str]:
    """Give modules that import each other in a circle: what is left once those that import nothing go."""
    left = {name: set(others) for name, others in imports.items()}
    while free := [name for name, others in left.items() if not others]:
        for name in free:
            del left[name]
        for others in left.values():
            others.difference_update(free)
    return sorted(left)


def test_no_module_of_the_desk_or_the_scene_imports_in_a_circle() -> None:
    for room in ("desk", "scene", "case", "judge", "network", "field"):
        assert circle_in(imports_of(ROOT / "src" / "mop_lantern" / room)) == [], room


def test_a_circle_would_be_seen() -> None:
    assert circle_in({"a": {"b"}, "b": {"c"}, "c": {"a"}, "d": {"a"}, "e": set()}) == ["a", "b", "c", "d"]
