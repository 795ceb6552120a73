"""Checks of turbulent flow: developed friction, heat, separation, losses, a ventilated room."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from ht.conv_internal import turbulent_Dipprey_Sabersky

from bench.stating import Check
from mop_lantern.case import parse_case, settle
from mop_lantern.field.turbulence.profile import shear_speed
from mop_lantern.laws.friction import colebrook
from mop_lantern.solve import Solving
from mop_lantern.solve.flow_run import FlowRun

WIDTH = 0.1  # m
PRANDTL = "Prandtl's friction law (reference O-7.1)"
JONES = "Prandtl at two thirds of Re (Jones 1976, from memory)"
DEAN = "Dean (1978), reference O-7.2"
MOST = 1000  # iterations


@dataclass(frozen=True)
class Along:
    """Friction along the second half of a straight run.

    Attributes
    ----------
    friction : mean on the wall over the density, m2/s2. scatter : from face to face, of the mean. fall : what
    the pressure falls, in friction: 1 where both agree. y_plus : of most of the wall. iterations : that it
    took.
    """

    friction: float
    scatter: float
    fall: float
    y_plus: float
    iterations: int


def stated(shape: dict[str, Any], speed: str, grid: dict[str, Any], **field: Any) -> dict[str, Any]:
    """State a straight run "p" of water-like fluid of 1e-6 m2/s with developed inflow."""
    return {
        "media": {
            "w": {
                "kind": "constant",
                "density": "1000 kg/m3",
                "viscosity": "1 mPa s",
                **field.pop("fluid", {}),
            }
        },
        "shape": shape,
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "p.start", "velocity": speed, "profile": "developed"},
                "out": {"kind": "static_pressure", "edge": "p.end"},
            },
            "physics": {"flow": field.pop("flow", "sst")},
            "grid": {"across": "2", **grid},
            **field,
        },
        "readings": {"drop": {"kind": "drop", "edge": "p.start", "to": "p.end"}},
    }


def run(data: dict[str, Any], most: int = MOST) -> FlowRun:
    """Solve a case as the program does, coarser grids first."""
    data["field"]["solver"] = {"most": str(most)}
    solving = Solving(settle(parse_case(data)), None, None)
    for _ in solving.events():
        pass
    assert isinstance(solving.run, FlowRun)
    return solving.run


def along(made: FlowRun, way: Any, length: float, hydraulic: float) -> Along:
    """Measure friction and pressure fall between half and nine tenths of a run of a length (m)."""
    turbulence = made.physics.turbulence
    assert turbulence is not None
    mesh = made.mesh
    walls = turbulence.walls.faces
    place = mesh.face_centre[mesh.n_internal :][walls] @ way / length
    size = made.flow.geometry.size_b[walls] * ((place > 0.5) & (place < 0.9))
    mean = float(np.average(turbulence.tau, weights=size))
    scatter = float(np.sqrt(np.average((turbulence.tau / mean - 1) ** 2, weights=size)))
    cell = mesh.centre @ way / length
    mine = (cell > 0.5) & (cell < 0.9)
    slope = float(np.polyfit(mesh.centre[mine] @ way, made.flow.p[mine], 1)[0])
    y_plus = float(np.median(turbulence.y_plus[size > 0]))
    return Along(mean, scatter, -slope * hydraulic / 4 / mean, y_plus, made.last.iteration)


def friction(name: str, got: Along, law: float, source: str, off: float) -> list[Check]:
    """Compare friction with a law, and the pressure fall with the friction."""
    return [
        Check(name, f"friction at y+ {got.y_plus:.0f}", law, got.friction, off, source),
        Check(name, "pressure fall over wall force", 1.0, got.fall, 0.03, "balance of forces"),
        Check(name, "scatter of the wall shear", 0.0, got.scatter, 0.03, "own limit", absolute=True),
    ]


def pipes() -> list[Check]:
    """O-7.1: pipes around the axis at three Reynolds numbers, smooth and rough."""
    checks = []
    shape = {"kind": "straight", "length": "3 m", "width": "100 mm"}
    for reynolds, cell in ((1e4, "8 mm"), (1e5, "8 mm"), (1e5, "2 mm"), (1e6, "4 mm")):
        data = stated(
            {"space": "axis", "parts": {"p": shape}}, f"{reynolds * 1e-5} m/s", {"cell": cell, "aspect": "6"}
        )
        got = along(run(data), np.array([1.0, 0, 0]), 3.0, WIDTH)
        law = (shear_speed(reynolds) * reynolds * 1e-5) ** 2
        checks += friction(f"O-7.1 pipe {reynolds:.0e}", got, law, PRANDTL, 0.05 if reynolds > 2e4 else 0.1)[
            :2
        ]
    rough = {"r": {"kind": "rough", "edge": "p.left", "grain": "0.5 mm"}}
    data = stated(
        {"space": "axis", "parts": {"p": shape}}, "1 m/s", {"cell": "8 mm", "aspect": "6"}, walls=rough
    )
    got = along(run(data), np.array([1.0, 0, 0]), 3.0, WIDTH)
    law = float(colebrook(1e5, 0.005)) / 8
    return [*checks, *friction("O-7.1 rough pipe", got, law, "Colebrook (reference O-1.3)", 0.07)[:2]]


def channels() -> list[Check]:
    """O-7.1: channels along the lattice and turned on it, over the range of y+."""
    checks = []
    law = (shear_speed(2 / 3 * 2 * 1e5)) ** 2
    near = {"w": {"kind": "walls", "levels": "2", "layers": "6"}}
    for angle in (0, 17, 30):
        for cell, length, grid in ((10, 2.5, {}), (4, 2.5, {}), (3, 1.0, {"refine": near})):
            shape = {
                "kind": "straight",
                "length": f"{length} m",
                "width": "100 mm",
                "direction": f"{angle} deg",
            }
            data = stated({"parts": {"p": shape}}, "1 m/s", {"cell": f"{cell} mm", **grid})
            way = np.array([np.cos(np.deg2rad(angle)), np.sin(np.deg2rad(angle)), 0])
            got = along(run(data), way, length, 2 * WIDTH)
            checks += friction(f"O-7.1 channel {angle}", got, law, JONES, 0.05 if angle == 0 else 0.08)
    return checks


def layers() -> list[Check]:
    """O-7.1: channels along the lattice and turned on it, walls resolved by layers, over the range of y+."""
    checks = []
    law = (shear_speed(2 / 3 * 2 * 1e5)) ** 2
    for angle in (0, 17, 30):
        for y_plus in (1, 3, 10, 30):
            shape = {"kind": "straight", "length": "2.5 m", "width": "100 mm", "direction": f"{angle} deg"}
            sheets = {"w": {"kind": "layers", "y_plus": f"{y_plus}"}}
            data = stated({"parts": {"p": shape}}, "1 m/s", {"cell": "8.4 mm", "refine": sheets})
            way = np.array([np.cos(np.deg2rad(angle)), np.sin(np.deg2rad(angle)), 0])
            got = along(run(data), way, 2.5, 2 * WIDTH)
            checks += friction(f"O-7.1 layers {angle}", got, law, JONES, 0.05)
    return checks


def in_space() -> list[Check]:
    """O-7.1: pipes in space along the lattice and oblique to it."""
    checks = []
    law = shear_speed(1e5) ** 2
    for heading, rise in ((0, 0), (25, 35)):
        shape = {
            "kind": "cylinder",
            "length": "1.2 m",
            "diameter": "100 mm",
            "heading": f"{heading} deg",
            "rise": f"{rise} deg",
        }
        data = stated({"space": "space", "solids": {"p": shape}}, "1 m/s", {"cell": "7 mm", "doublings": "0"})
        turn, up = np.deg2rad([heading, rise])
        way = np.array([np.cos(turn) * np.cos(up), np.sin(turn) * np.cos(up), np.sin(up)])
        got = along(run(data), way, 1.2, WIDTH)
        checks += friction(f"O-7.1 space {heading}/{rise}", got, law, PRANDTL, 0.08)
    return checks


def heat() -> list[Check]:
    """O-6.8: Nusselt number of a pipe by Gnielinski, on coarse and fine cells; that of rough pipes."""
    checks = []
    for reynolds, prandtl, expected in ((1e5, 0.71, 180.2), (5e4, 5.0, 285.2)):
        for cell in ("6 mm", "1.6 mm"):
            got = nusselt(reynolds, prandtl, cell)
            what = f"Nu at Re {reynolds:.0e}, Pr {prandtl}, cells of {cell}"
            checks.append(Check("O-6.8 pipe", what, expected, got, 0.15, "Gnielinski (reference O-6.8)"))
    for prandtl, grain, cell in (
        (5.0, 0.5, "8 mm"),
        (5.0, 0.5, "3 mm"),
        (1.2, 0.5, "6 mm"),
        (5.0, 1.0, "6 mm"),
    ):
        share = grain / 100
        expected = turbulent_Dipprey_Sabersky(1e5, prandtl, float(colebrook(1e5, share)), share)
        got = nusselt(1e5, prandtl, cell, r={"kind": "rough", "edge": "p.left", "grain": f"{grain} mm"})
        what = f"Nu on grains of {grain} mm, Pr {prandtl}, cells of {cell}"
        source = "Dipprey & Sabersky (1963), by the library ht"
        checks.append(Check("Heat of a rough pipe", what, expected, got, 0.1, source))
    return checks


def nusselt(reynolds: float, prandtl: float, cell: str, **walls: Any) -> float:
    """Solve a pipe of water-like fluid with a warm wall, and give its Nusselt number far from the inlet."""
    data = stated(
        {"space": "axis", "parts": {"p": {"kind": "straight", "length": "4 m", "width": "100 mm"}}},
        f"{reynolds * 1e-5} m/s",
        {"cell": cell, "aspect": "8"},
        fluid={"capacity": "4000 J/kg/K", "conductivity": f"{4 / prandtl} W/m/K"},
        heat={"solve": True},
        warm={"w": {"kind": "temperature", "edge": "p.left", "temperature": "30 °C"}},
        walls=walls,
    )
    made = run(data)
    mesh = made.mesh
    scalar = made.physics.scalars["T"]
    face = mesh.face_centre[mesh.n_internal :, 0]
    mine = (face > 3.2) & (face < 3.6) & (mesh.patch == mesh.patch_names.index("p.left"))
    size = made.flow.geometry.size_b * mesh.turn
    flux = -scalar.boundary_flux()[mine].sum() / size[mine].sum()
    cells = (mesh.centre[:, 0] > 3.2) & (mesh.centre[:, 0] < 3.6)
    weight = (mesh.volume * made.flow.U[:, 0])[cells]
    bulk = float(np.average(scalar.phi[cells], weights=weight))
    return float(flux / (303.15 - bulk) * WIDTH / (4 / prandtl))


def step() -> list[Check]:
    """O-7.3: where the flow over a backward-facing step lies on again, on two grids."""
    checks = []
    for cells, closure, off in ((8, "sst", 0.08), (16, "sst", 0.08), (8, "realizable", 0.15)):
        made = run(stepped(cells, closure))
        point = made.readings["back"].value / 0.0127
        what = f"reattachment, h ({closure}, {cells} cells a step)"
        checks.append(Check("O-7.3", what, 6.26, point, off, "Driver and Seegmiller (1985), reference"))
    return checks


def stepped(cells: int, closure: str) -> dict[str, Any]:
    """State the step of Driver and Seegmiller with a power-law layer 1.5 steps deep."""
    h = 0.0127
    into = np.concatenate([[0], np.geomspace(1e-3, 1.5, 40), np.linspace(1.6, 6.4, 5)])
    rows = np.concatenate([into, 8 - into[::-1][5:]])
    speed = np.minimum(1, (rows / 1.5) ** (1 / 7)) * np.minimum(1, ((8 - rows) / 1.5) ** (1 / 7))
    corners = [(-4, 1), (0, 1), (0, 0), (30, 0), (30, 9), (-4, 9)]
    air = {"kind": "constant", "density": "1 kg/m3", "viscosity": f"{44.2 * h / 37500} Pa s"}
    return {
        "media": {"air": air},
        "tables": {
            "layer": {
                "along": "m",
                "gives": "m/s",
                "rows": np.column_stack([h * (1 + rows), 44.2 * speed]).tolist(),
            }
        },
        "shape": {
            "parts": {"p": {"kind": "outline", "points": [[f"{x * h} m", f"{y * h} m"] for x, y in corners]}}
        },
        "field": {
            "openings": {
                "in": {
                    "kind": "velocity_profile",
                    "edge": "p.side6",
                    "velocity": "= layer(y)",
                    "turbulence": "given",
                    "intensity": "1 %",
                    "mixing": f"{0.135 * h} m",
                },
                "out": {"kind": "static_pressure", "edge": "p.side4"},
            },
            "physics": {"flow": closure},
            "grid": {"cell": f"{h / cells} m", "across": "2"},
        },
        "readings": {
            "back": {"kind": "turning_point", "edge": "p.side3", "which": "reattachment", "after": "25 mm"}
        },
    }


def room() -> list[Check]:
    """O-7.5: a plane room with a slot at the ceiling: the jet at one and two heights, and the flow back."""
    corners = [["0 m", "0 m"], ["9 m", "0 m"], ["9 m", "3 m"], ["0 m", "3 m"]]
    slot = {"kind": "straight", "start": ["-0.5 m", "2.916 m"], "length": "0.51 m", "width": "0.168 m"}
    way_out = {"kind": "straight", "start": ["8.99 m", "0.24 m"], "length": "0.51 m", "width": "0.48 m"}
    places = {"jet": ("3 m", "2.916 m"), "far": ("6 m", "2.916 m"), "floor": ("6 m", "0.084 m")}
    data = {
        "media": {"a": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "1.836e-5 Pa s"}},
        "shape": {"parts": {"r": {"kind": "outline", "points": corners}, "i": slot, "o": way_out}},
        "field": {
            "openings": {
                "in": {
                    "kind": "velocity",
                    "edge": "i.start",
                    "velocity": "0.455 m/s",
                    "turbulence": "given",
                    "intensity": "4 %",
                    "mixing": "2.8 mm",  # of the dissipation of the reference, k^1.5 / 0.0168 m
                },
                "out": {"kind": "static_pressure", "edge": "o.end"},
            },
            "physics": {"flow": "sst"},
            "grid": {"cell": "60 mm", "across": "6"},
        },
        "readings": {
            key: {"kind": "point", "at": list(place), "quantity": "u"} for key, place in places.items()
        },
    }
    readings = run(data, 2000).readings
    source = "IEA Annex 20 (Nielsen 1990), plausible range of the reference"
    return [
        Check("O-7.5", f"u over U0, {key}", expected, readings[key].value / 0.455, 0.1, source, absolute=True)
        for key, expected in (("jet", 0.95), ("far", 0.7), ("floor", -0.35))
    ]


CASES: dict[str, Callable[[], list[Check]]] = {
    "O-7.1": pipes,
    "O-7.1-turned": channels,
    "O-7.1-layers": layers,
    "O-7.1-space": in_space,
    "O-6.8": heat,
    "O-7.3": step,
    "O-7.5": room,
}
SLOW = frozenset(CASES)
