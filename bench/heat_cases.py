"""Check cases of heat and natural convection."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.stating import OUT, Check, box, document, inflow, run, solved
from mop_lantern.judge import FieldResult

OIL = {
    "oil": {
        "kind": "constant",
        "density": "870 kg/m3",
        "viscosity": "0.05 Pa s",
        "capacity": "1900 J/kg/K",
        "conductivity": "0.14 W/m/K",
    }
}


def held(edge: str, temperature: str) -> dict[str, Any]:
    """Give a wall of a given temperature."""
    return {"kind": "temperature", "edge": edge, "temperature": temperature}


def warm(data: dict[str, Any], walls: dict[str, Any], **heat: Any) -> dict[str, Any]:
    """Add heat to a case."""
    data["field"] |= {"warm": walls, "heat": {"solve": True, **heat}}
    return data


def bulk(answer: FieldResult, edge: str) -> float:
    """Give the flow-weighted temperature of an opening, °C."""
    faces = answer.mesh.faces_of(edge)
    flow = answer.outflow[faces]
    return float((answer.boundary("T")[faces] * flow).sum() / flow.sum()) - 273.15


def graetz() -> list[Check]:
    """O-6.4: oil cooled in a pipe; water heated by a constant flux."""
    openings = {
        "in": {**inflow("run.start", "0.1 m/s"), "temperature": "60 °C"},
        "out": {**OUT, "edge": "run.end"},
    }
    grid = {"cell": "0.125 mm", "across": "4", "aspect": "20"}
    data = document(run("2 m", "10 mm"), openings, grid, media=OIL, space="axis")
    answer = solved(warm(data, {"wall": held("run.left", "20 °C")}))
    source = "Graetz, own eigenvalue solution"
    out = bulk(answer, "run.end")
    lost = float(answer.scalars["T"].leaving[answer.mesh.faces_of("run.left")].sum())
    checks = [
        Check("O-6.4", "cooling of the bulk, K", 60 - 46.461, 60 - out, 0.02, source),
        Check("O-6.4", "heat to the wall, W", 175.78, lost, 0.02, source),
    ]
    water = {
        "water": {
            "kind": "constant",
            "density": "998 kg/m3",
            "viscosity": "1e-3 Pa s",
            "capacity": "4182 J/kg/K",
            "conductivity": "0.6 W/m/K",
        }
    }
    profile = "= 20 °C + 2000 * 0.005 / 0.6 * 1 K * ((r / 5 mm)**2 - (r / 5 mm)**4 / 4 - 7 / 24)"
    openings = {
        "in": {**inflow("run.start", "0.08 m/s"), "temperature": profile},
        "out": {**OUT, "edge": "run.end"},
    }
    grid = {"cell": "0.2 mm", "across": "4", "aspect": "40"}
    data = document(run("3 m", "10 mm"), openings, grid, media=water, space="axis")
    answer = solved(warm(data, {"wall": {"kind": "flux", "edge": "run.left", "flux": "2000 W/m2"}}))
    faces = answer.mesh.faces_of("run.left")
    x = answer.mesh.face_centre[answer.mesh.n_internal + faces, 0]
    wall = float(answer.boundary("T")[faces][x.argmax()]) - 273.15
    end = bulk(answer, "run.end")
    return [
        *checks,
        Check("O-6.4 flux", "rise of the bulk, K", 7.188, end - 20, 0.02, "heat balance, exact"),
        Check(
            "O-6.4 flux",
            "wall over bulk at the end, K",
            34.827 - 27.188,
            wall - end,
            0.02,
            "developed constant flux, Nu = 48/11, exact",
        ),
    ]


def developed() -> list[Check]:
    """O-6.3: developed Nusselt numbers in a pipe and between plates."""
    medium = {
        "f": {
            "kind": "constant",
            "density": "1 kg/m3",
            "viscosity": "0.01 Pa s",
            "capacity": "1 J/kg/K",
            "conductivity": "0.005 W/m/K",
        }
    }
    checks = []
    for space, name, of, number, width in (
        ("axis", "pipe", "temperature", 3.6568, 1.0),
        ("axis", "pipe", "flux", 4.3636, 1.0),
        ("plane", "plates", "temperature", 7.5407, 2.0),
        ("plane", "plates", "flux", 8.2353, 2.0),
    ):
        openings = {"in": inflow("run.start", "1 m/s"), "out": {**OUT, "edge": "run.end"}}
        grid = {"cell": "0.025 m", "across": "4", "aspect": "20"}
        data = document(run("60 m", "1 m"), openings, grid, media=medium, space=space)
        sides = ["run.left"] if space == "axis" else ["run.left", "run.right"]
        walls = {
            f"w{k}": held(side, "30 °C")
            if of == "temperature"
            else {"kind": "flux", "edge": side, "flux": "0.01 W/m2"}
            for k, side in enumerate(sides)
        }
        answer = solved(warm(data, walls))
        checks.append(
            Check(
                "O-6.3",
                f"Nusselt number, {name}, constant {of}",
                number,
                _local_nusselt(answer, 40.0, width),
                0.03,
                "Shah and London 1978; exact",
            )
        )
    return checks


def _local_nusselt(answer: FieldResult, at: float, width: float) -> float:
    """Give the Nusselt number at a place along the run, conductivity 0.005 W/m/K."""
    mesh = answer.mesh
    faces = mesh.faces_of("run.left")
    place = mesh.face_centre[mesh.n_internal + faces, 0]
    near = faces[np.abs(place - at) < 0.3]
    flux = float(-answer.scalars["T"].leaving[near].sum() / answer.face_size[near].sum())
    wall = float(answer.boundary("T")[near].mean())
    slice_ = np.abs(mesh.centre[:, 0] - at) < 0.3
    weight = (mesh.volume * answer.velocity[:, 0])[slice_]
    mixed = float((answer.cells("T")[slice_] * weight).sum() / weight.sum())
    return flux / (wall - mixed) * width / 0.005


def layered() -> list[Check]:
    """O-6.7: a wall with a layer beside still fluid; friction heat between moving walls."""
    water = {"f": {"kind": "constant", "conductivity": "0.6 W/m/K"}}
    lid = {"lid": {"kind": "sliding", "edge": "box.side3", "speed": "0 mm/s"}}
    data = document(box("20 mm", "5 mm"), {}, {"cell": "0.5 mm", "across": "4"}, media=water, walls=lid)
    behind = {
        "kind": "layered",
        "edge": "box.side1",
        "thickness": "10 mm",
        "conductivity": "0.2 W/m/K",
        "outside": "60 °C",
        "film": "auto",
    }
    answer = solved(warm(data, {"low": behind, "high": held("box.side3", "20 °C")}))
    faces = answer.mesh.faces_of("box.side1")
    flux = float(-answer.scalars["T"].leaving[faces].sum()) / 0.02
    exact = "resistances in series, exact"
    checks = [
        Check("O-6.7", "heat flux, W/m2", 685.714, flux, 0.01, exact),
        Check(
            "O-6.7",
            "temperature between layer and fluid, °C",
            25.7143,
            float(answer.boundary("T")[faces].mean()) - 273.15,
            0.01,
            exact,
        ),
    ]
    thick = {
        "f": {
            "kind": "constant",
            "density": "900 kg/m3",
            "viscosity": "0.8 Pa s",
            "capacity": "2000 J/kg/K",
            "conductivity": "0.145 W/m/K",
        }
    }
    gap = {
        "run": {"kind": "straight", "start": ["0 mm", "10.0025 m"], "length": "10 mm", "width": "5 mm"}
    }  # so wide that it is flat
    ends = {"a": {"kind": "symmetry", "edge": "run.start"}, "b": {"kind": "symmetry", "edge": "run.end"}}
    walls = {"lid": {"kind": "turning", "edge": "run.left", "rate": f"{5 / 10.005!r} rad/s"}, **ends}
    for what, rise, low in (
        ("middle, both walls held", 17.241, {"low": held("run.right", "20 °C")}),
        ("lower wall, adiabatic", 68.966, {}),
    ):
        data = document(
            gap,
            {},
            {"cell": "0.125 mm", "across": "4", "aspect": "8"},
            media=thick,
            walls=walls,
            space="axis",
        )
        answer = solved(warm(data, {"high": held("run.left", "20 °C"), **low}, friction=True))
        place = np.array([[5e-3, 10.0025 if low else 10.0]])
        got = float(answer.sampler("T", place)[0]) - 293.15
        checks.append(
            Check(
                "O-6.7 friction",
                f"rise in the {what}, K",
                rise,
                got,
                0.01,
                "Couette flow with friction heat, exact",
            )
        )
    return checks


def convection_document(
    rayleigh: float, sides: tuple[str, str], width: float, cells: int, ratio: float, **more: Any
) -> dict[str, Any]:
    """State natural convection in a box of unit height, Pr 0.71, temperatures half a kelvin about 20 °C."""
    alpha, beta = 1e-3, 1e-3
    gravity = rayleigh * 0.71 * alpha**2 / beta
    medium = {
        "f": {
            "kind": "constant",
            "density": "1 kg/m3",
            "viscosity": f"{0.71 * alpha!r} Pa s",
            "capacity": "1 J/kg/K",
            "conductivity": f"{alpha!r} W/m/K",
            "expansion": f"{beta!r} 1/K",
        }
    }
    grid = {
        "cell": f"= 1 m / {cells}",
        "across": "1",
        "grading_x": "both",
        "grading_y": "both",
        "ratio": f"{ratio!r}",
    }
    data = document(box(f"{width!r} m", "1 m"), {}, grid, media=medium, **more)
    data["field"]["physics"] = {"buoyancy": "boussinesq", "gravity": f"{gravity!r} m/s2"}
    return warm(data, {"hot": held(sides[0], "20.5 °C"), "cold": held(sides[1], "19.5 °C")})


def nusselt(answer: FieldResult, edge: str, length: float) -> float:
    """Give the mean Nusselt number on a hot edge of a length (m); conductivity 1e-3, difference 1 K."""
    return float(-answer.scalars["T"].leaving[answer.mesh.faces_of(edge)].sum()) / 1e-3 / length


CAVITIES = {
    1e4: (64, 2.0, 0.02, (2.243, 16.178, 19.617)),
    1e6: (96, 6.0, 0.03, (8.800, 64.63, 219.36)),
}
"""Cells across, their spacing, tolerance and values of O-6.1, by the Rayleigh number."""


def side_heated(numbers: tuple[float, ...] = (1e4,)) -> list[Check]:
    """O-6.1: square cavity heated from the side."""
    checks = []
    for number in numbers:
        cells, ratio, tolerance, values = CAVITIES[number]
        answer = solved(convection_document(number, ("box.side4", "box.side2"), 1.0, cells, ratio))
        line = np.linspace(0.0, 1.0, 801)
        half = np.full(len(line), 0.5)
        u = float(answer.sampler("u", np.column_stack([half, line])).max()) / 1e-3
        v = float(answer.sampler("v", np.column_stack([line, half])).max()) / 1e-3
        name, source = (
            f"O-6.1 Ra {number:.0e}",
            "de Vahl Davis, Int. J. Numer. Meth. Fluids 3 (1983), from memory; own FEM agrees",
        )
        got = (nusselt(answer, "box.side4", 1.0), u, v)
        words = ("mean Nusselt number", "highest u on x = 0.5", "highest v on y = 0.5")
        checks += [
            Check(name, word, expected, value, tolerance, source)
            for word, expected, value in zip(words, values, got, strict=True)
        ]
    return checks


def steep() -> list[Check]:
    """O-6.1 at a Rayleigh number of a million."""
    return side_heated((1e6,))


def floor_heated() -> list[Check]:
    """O-6.2: rolls over a heated floor, onset, and a square room with a heated floor."""
    width = float(np.pi / 3.117)
    slip = {"w": {"kind": "slip", "edge": "box.side4"}, "e": {"kind": "slip", "edge": "box.side2"}}
    roll = {
        "u": f"= 20 mm/s * sin(pi * x / {width!r} m) * cos(pi * y / 1 m)",
        "v": f"= 0 m/s - 20 mm/s * cos(pi * x / {width!r} m) * sin(pi * y / 1 m)",
    }
    checks = []
    for number, expected, tolerance in ((5000.0, 2.110, 0.03), (20000.0, 3.235, 0.03), (1000.0, 1.0, 0.001)):
        data = convection_document(number, ("box.side1", "box.side3"), width, 48, 2.0, walls=slip)
        data["field"]["start"] = roll
        if (
            number < 1708
        ):  # a roll dying out slowly: its residual is told against the force, not against what is left of it
            data["field"]["solver"]["residual"] = "1e-3"
        answer = solved(data)
        source = (
            "own FEM; Clever and Busse, J. Fluid Mech. 65 (1974) within 0.7 %, from memory"
            if number > 1708
            else "conduction below onset at 1707.76, exact"
        )
        checks.append(
            Check(
                f"O-6.2 Ra {number:.0f}",
                "mean Nusselt number, rolls",
                expected,
                nusselt(answer, "box.side1", width),
                tolerance,
                source,
            )
        )
    for number, expected in ((5e3, 1.672), (1e4, 2.158)):
        data = convection_document(number, ("box.side1", "box.side3"), 1.0, 48, 2.0)
        data["field"]["start"] = {
            "u": roll["u"].replace(f"{width!r}", "1"),
            "v": roll["v"].replace(f"{width!r}", "1"),
        }
        answer = solved(data)
        checks.append(
            Check(
                f"O-6.2 room Ra {number:.0e}",
                "mean Nusselt number, still walls",
                expected,
                nusselt(answer, "box.side1", 1.0),
                0.03,
                "own FEM, 1 % (reference O-6.2)",
            )
        )
    return checks


CASES: dict[str, Callable[[], list[Check]]] = {
    "O-6.1": side_heated,
    "O-6.1-steep": steep,
    "O-6.2": floor_heated,
    "O-6.3": developed,
    "O-6.4": graetz,
    "O-6.7": layered,
}
