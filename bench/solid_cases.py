"""Check cases of heat in solids, alone and together with a flow."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bench.stating import OUT, Check, document, inflow, run_case, solved
from mop_lantern.judge import FieldResult
from mop_lantern.solve.solving import final_answer

SERIES = "resistances in series, exact"
# thickness (m) and conductivity (W/m/K) of the layers of O-6.5, and two more
LAYERS = ((0.0125, 0.25), (0.1, 0.035), (0.2, 0.8), (0.02, 16.0), (0.06, 0.12))


def rectangle(x0: float, y0: float, x1: float, y1: float, **more: Any) -> dict[str, Any]:
    """Give a solid rectangle: side1 below, side2 right, side3 above, side4 left."""
    corners = ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
    return {"kind": "block", "points": [[f"{x!r} m", f"{y!r} m"] for x, y in corners], **more}


def made_of(
    part: str, conductivity: float, density: float = 1000.0, capacity: float = 1000.0
) -> dict[str, Any]:
    """Give the material of a solid part."""
    return {
        "kind": "own",
        "part": part,
        "conductivity": f"{conductivity!r} W/m/K",
        "density": f"{density!r} kg/m3",
        "capacity": f"{capacity!r} J/kg/K",
    }


def film(edge: str, outside: float, coefficient: float | None) -> dict[str, Any]:
    """Give a wall with surroundings at a temperature (°C) behind a film (W/m2/K; None: none)."""
    return {
        "kind": "layered",
        "edge": edge,
        "thickness": "0 m",
        "outside": f"{outside!r} °C",
        "film": "auto" if coefficient is None else f"{coefficient!r} W/m2/K",
    }


def solids(
    parts: dict[str, Any], materials: dict[str, Any], walls: dict[str, Any], cell: float, **more: Any
) -> dict[str, Any]:
    """State a case of solids alone."""
    field = {"heat": {"solve": True}, "solids": materials, "warm": walls, **more.pop("field", {})}
    return document(parts, {}, {"cell": f"{cell!r} m", **more.pop("grid", {})}, media={}, field=field, **more)


def through(answer: FieldResult, edge: str) -> float:
    """Give the heat that leaves by an edge, W."""
    return float(answer.scalars["T"].leaving[answer.mesh.faces_of(edge)].sum())


def surface(answer: FieldResult, edge: str) -> float:
    """Give the mean temperature of an edge, °C."""
    faces = answer.mesh.faces_of(edge)
    return float(np.average(answer.boundary("T")[faces], weights=answer.face_size[faces])) - 273.15


def wall_of(layers: tuple[tuple[float, float], ...], cell: float, turn: str = "0 deg") -> dict[str, Any]:
    """State a wall of layers 100 mm high between films of 8 and 25 W/m2/K, 20 °C and -10 °C."""
    ends = np.concatenate([[0.0], np.cumsum([thickness for thickness, _ in layers])]).tolist()
    parts = {f"l{k}": rectangle(ends[k], 0.0, ends[k + 1], 0.1) for k in range(len(layers))}
    materials = {f"l{k}": made_of(f"l{k}", layers[k][1]) for k in range(len(layers))}
    walls = {"in": film("l0.side4", 20.0, 8.0), "out": film(f"l{len(layers) - 1}.side2", -10.0, 25.0)}
    return solids(parts, materials, walls, cell, turn=turn)


def flux_of(layers: tuple[tuple[float, float], ...]) -> float:
    """Give the heat flux through the layers and their films, W/m2."""
    return 30.0 / (1 / 8 + 1 / 25 + sum(thickness / k for thickness, k in layers))


def layers() -> list[Check]:
    """O-6.5: three layers, then five, on cells that fit none of them; turned; in space."""
    answer = solved(wall_of(LAYERS[:3], 0.007))
    checks = [Check("O-6.5", "heat flux, W/m2", 9.0303, through(answer, "l2.side2") / 0.1, 5e-4, SERIES)]
    surfaces = ("l0.side4", 18.871), ("l1.side4", 18.420), ("l2.side4", -7.381), ("l2.side2", -9.639)
    for edge, expected in surfaces:
        what = f"temperature of {edge}, °C"
        checks.append(Check("O-6.5", what, expected, surface(answer, edge), 0.005, SERIES, True))
    for turn in ("0 deg", "7 deg", "30 deg"):
        answer = solved(wall_of(LAYERS, 0.006, turn))
        what = f"five layers turned by {turn}, heat flux, W/m2"
        checks.append(Check("O-6.5", what, flux_of(LAYERS), through(answer, "l4.side2") / 0.1, 1e-3, SERIES))
    answer = solved(wall_in_space(LAYERS[:3], 0.0123))
    what = "three layers in space, heat flux, W/m2"
    checks.append(Check("O-6.5", what, 9.0303, through(answer, "l2.east") / 0.01, 1e-3, SERIES))
    return checks


def wall_in_space(layers: tuple[tuple[float, float], ...], cell: float) -> dict[str, Any]:
    """State a wall of layers in space, 100 mm by 100 mm."""
    ends = np.concatenate([[0.0], np.cumsum([thickness for thickness, _ in layers])]).tolist()
    parts = {
        f"l{k}": {
            "kind": "brick",
            "role": "solid",
            "x": f"{ends[k]!r} m",
            "length": f"{thickness!r} m",
            "width": "0.1 m",
            "height": "0.1 m",
        }
        for k, (thickness, _) in enumerate(layers)
    }
    data = wall_of(layers, cell)
    data["shape"] = {"space": "space", "solids": parts}
    data["field"]["grid"]["doublings"] = "0"
    data["field"]["warm"] = {
        "in": film("l0.west", 20.0, 8.0),
        "out": film(f"l{len(layers) - 1}.east", -10.0, 25.0),
    }
    return data


def insulated() -> list[Check]:
    """O-6.6: an insulated pipe around the axis, as a section in a plane, and in space."""
    source = "cylindrical layers in series, exact"
    parts = {"steel": rectangle(0.0, 0.0265, 0.1, 0.03), "wool": rectangle(0.0, 0.03, 0.1, 0.06)}
    materials = {"steel": made_of("steel", 50.0), "wool": made_of("wool", 0.04)}
    walls = {"in": film("steel.side1", 80.0, 1500.0), "out": film("wool.side3", 10.0, 10.0)}
    answer = solved(solids(parts, materials, walls, 0.002, space="axis"))
    checks = [
        Check(
            "O-6.6", "heat, around the axis, W/m", 23.121, through(answer, "wool.side3") / 0.1, 0.005, source
        ),
        Check("O-6.6", "steel outside, °C", 79.898, surface(answer, "wool.side1"), 0.005, source, True),
        Check("O-6.6", "surface, °C", 16.133, surface(answer, "wool.side3"), 0.03, source, True),
    ]
    discs = {
        "wool": {"kind": "disc", "centre": ["0 m", "0 m"], "diameter": "120 mm"},
        "steel": {"kind": "disc", "centre": ["0 m", "0 m"], "diameter": "60 mm"},
        "bore": {"kind": "disc", "centre": ["0 m", "0 m"], "diameter": "53 mm"},
    }
    walls = {"in": film("bore.surface", 80.0, 1500.0), "out": film("wool.surface", 10.0, 10.0)}
    answer = solved(solids(discs, materials, walls, 0.002, depth="1 m"))
    checks.append(
        Check("O-6.6", "heat, in a section, W/m", 23.121, through(answer, "wool.surface"), 0.005, source)
    )
    return checks


def conjugate() -> list[Check]:
    """O-6.7: a slab under a fluid in shear flow, straight and askew to the cells, alone and in contact."""
    exact = "Couette flow, linear temperature, exact"
    checks = []
    for turn in ("0 deg", "7 deg", "30 deg"):
        answer = solved(sheared(turn))
        flux = through(answer, "slab.side1") / -0.1
        checks += [
            Check("O-6.7", f"heat flux, turned by {turn}, W/m2", 685.714, flux, 0.01, exact),
            Check(
                "O-6.7",
                f"interface, turned by {turn}, °C",
                25.7143,
                surface(answer, "slab.side3"),
                0.2,
                exact,
                True,
            ),
        ]
    data = sheared("0 deg")
    data["field"]["warm"]["joint"] = {"kind": "contact", "edge": "slab.side3", "resistance": "0.01 m2*K/W"}
    answer = solved(data)
    flux = through(answer, "slab.side1") / -0.1
    expected = 40.0 / (0.05 + 0.01 + 0.005 / 0.6)
    checks.append(Check("O-6.7", "heat flux past a contact, W/m2", expected, flux, 0.01, exact))
    return checks


def sheared(turn: str) -> dict[str, Any]:
    """State 100 mm of a slab of 10 mm, k 0.2, heated to 60 °C from below, and 5 mm of fluid, k 0.6, under a
    lid at 20 °C that moves at 1 mm/s. The flow enters with the temperature it ends up with.
    """
    fluid = {"kind": "constant", "density": "1000 kg/m3", "viscosity": "0.01 Pa s", "capacity": "4000 J/kg/K"}
    parts = {
        "gap": {"kind": "straight", "start": ["0 m", "2.5 mm"], "length": "100 mm", "width": "5 mm"},
        "slab": rectangle(0.0, -0.01, 0.1, 0.0),
    }
    share = "(1 - across) / 2"
    opening = {"velocity": "0.5 mm/s", "profile": "drawn", "drawn": f"= {share}", "way": "in"}
    openings = {
        "in": {
            "kind": "velocity",
            "edge": "gap.start",
            "temperature": f"= 298.8643 K - 5.7143 K * {share}",
            **opening,
        },
        "out": {**OUT, "edge": "gap.end"},
    }
    walls = {"below": {"kind": "temperature", "edge": "slab.side1", "temperature": "60 °C"}}
    walls["lid"] = {"kind": "temperature", "edge": "gap.left", "temperature": "20 °C"}
    return document(
        parts,
        openings,
        {"cell": "0.5 mm", "across": "10"},
        media={"oil": {**fluid, "conductivity": "0.6 W/m/K"}},
        walls={"lid": {"kind": "sliding", "edge": "gap.left", "speed": "1 mm/s"}},
        turn=turn,
        field={
            "heat": {"solve": True, "start": "40 °C"},
            "solids": {"slab": made_of("slab", 0.2)},
            "warm": walls,
        },
    )


def fin() -> list[Check]:
    """Efficiency of a straight fin with an adiabatic tip, tanh(mL)/(mL)."""
    source = "Incropera et al., straight fin, adiabatic tip (7th ed., section 3.6), from memory"
    long, thick, k, h = 0.05, 0.002, 60.0, 40.0
    walls = {
        "root": {"kind": "temperature", "edge": "fin.side4", "temperature": "100 °C"},
        "top": film("fin.side3", 20.0, h),
        "bottom": film("fin.side1", 20.0, h),
    }
    answer = solved(
        solids({"fin": rectangle(0.0, 0.0, long, thick)}, {"fin": made_of("fin", k)}, walls, 0.0005)
    )
    ml = long * np.sqrt(2 * h / (k * thick))
    got = through(answer, "fin.side4") / -(h * 2 * long * 80.0)
    return [Check("fin", "efficiency", float(np.tanh(ml) / ml), got, 0.01, source)]


def slab() -> list[Check]:
    """Conduction in a slab in time, convection on both faces: the series of Carslaw and Jaeger (Heisler)."""
    source = "Carslaw and Jaeger, Conduction of Heat in Solids, section 3.11 (series), from memory"
    half, k, h = 0.05, 1.0, 40.0  # Biot number 2
    walls = {"a": film("s.side4", 20.0, h), "b": film("s.side2", 20.0, h)}
    data = solids({"s": rectangle(0.0, 0.0, 2 * half, 0.02)}, {"s": made_of("s", k)}, walls, 0.0025)
    data["field"] |= {
        "heat": {"solve": True, "start": "100 °C"},
        "time": {"mode": "transient", "until": "1250 s", "step": "5 s", "every": "250 s"},
    }
    answer = final_answer(run_case(data))
    checks = []
    for what, place in (("middle", half), ("surface", 2 * half)):
        fourier = k / 1e6 * 1250.0 / half**2
        expected = series(h * half / k, fourier, (place - half) / half)
        got = (float(answer.sampler("T", np.array([[place - 1e-9, 0.01]]))[0]) - 293.15) / 80.0
        checks.append(Check("slab", f"share of the excess left, {what}", expected, got, 0.01, source))
    return checks


def series(biot: float, fourier: float, place: float) -> float:
    """Give the share of a slab's first excess that is left at a place (0 the middle, 1 the surface)."""
    from scipy.optimize import brentq

    total = 0.0
    for n in range(12):
        root = brentq(lambda z: z * np.sin(z) - biot * np.cos(z), n * np.pi, n * np.pi + np.pi / 2)
        factor = 4 * np.sin(root) / (2 * root + np.sin(2 * root))
        total += factor * np.exp(-(root**2) * fourier) * np.cos(root * place)
    return float(total)


def piped() -> list[Check]:
    """Hot water in a steel pipe in insulation in air: heat through every layer, and by ln(r2/r1)."""
    source = "cylindrical layer, exact"
    checks = []
    for space, data in (("axis", pipe_around_axis()), ("space", pipe_in_space())):
        answer = solved(data)
        inner, outer, skin = (
            ("steel.side1", "wool.side1", "wool.side3")
            if space == "axis"
            else ("bore.wall", "pipe.wall", "wool.wall")
        )
        heats = [abs(through(answer, edge)) for edge in (inner, outer, skin)]
        length = 0.1
        spread = (max(heats) - min(heats)) / max(heats)
        checks.append(
            Check("O-6.6", f"heat of layers, apart by, {space}", 0.0, spread, 1e-3, "conservation", True)
        )
        drop = surface(answer, outer) - surface(answer, skin)
        expected = 2 * np.pi * 0.04 * length * drop / np.log(0.02 / 0.012)
        checks.append(
            Check("O-6.6", f"heat through the insulation, {space}, W", expected, heats[2], 0.01, source)
        )
    return checks


WATER = {
    "kind": "constant",
    "density": "992 kg/m3",
    "viscosity": "0.65 mPa s",
    "capacity": "4180 J/kg/K",
    "conductivity": "0.63 W/m/K",
}


def pipe_around_axis() -> dict[str, Any]:
    """State 100 mm of a bore of 20 mm, 2 mm of steel and 8 mm of wool."""
    parts = {
        "run": {"kind": "straight", "start": ["0 m", "0 m"], "length": "100 mm", "width": "20 mm"},
        "steel": rectangle(0.0, 0.01, 0.1, 0.012),
        "wool": rectangle(0.0, 0.012, 0.1, 0.02),
    }
    return _piped(
        parts, ("run.start", "run.end", "wool.side3"), "steel", {"cell": "0.5 mm", "across": "8"}, "axis"
    )


def pipe_in_space() -> dict[str, Any]:
    """State the same in space."""
    parts = {
        "wool": {"kind": "cylinder", "role": "solid", "length": "100 mm", "diameter": "40 mm"},
        "pipe": {"kind": "cylinder", "role": "solid", "length": "100 mm", "diameter": "24 mm"},
        "bore": {"kind": "cylinder", "role": "fluid", "length": "100 mm", "diameter": "20 mm"},
    }
    grid = {"cell": "1 mm", "doublings": "1"}
    data = _piped({}, ("bore.start", "bore.end", "wool.wall"), "pipe", grid, "space")
    data["shape"] = {"space": "space", "solids": parts}
    return data


def _piped(
    parts: dict[str, Any], edges: tuple[str, str, str], pipe: str, grid: dict[str, Any], space: str
) -> dict[str, Any]:
    start, end, skin = edges
    openings = {"in": {**inflow(start, "20 mm/s"), "temperature": "60 °C"}, "out": {**OUT, "edge": end}}
    field = {
        "heat": {"solve": True, "start": "60 °C"},
        "solids": {"pipe": made_of(pipe, 50.0), "wool": made_of("wool", 0.04)},
        "warm": {"air": film(skin, 10.0, 10.0)},
    }
    return document(
        parts, openings, grid, media={"water": WATER}, space=space, field=field, solver={"residual": "1e-6"}
    )


CASES: dict[str, Callable[[], list[Check]]] = {
    "O-6.5": layers,
    "O-6.6": insulated,
    "O-6.6-piped": piped,
    "O-6.7-solid": conjugate,
    "solid-fin": fin,
    "solid-slab": slab,
}
