"""Checks of losses: pipes, friction tables, ducts, fittings, plates."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from bench.network_bits import AIR, RHO, G, pipe, pushed, through
from bench.stating import Check
from mop_lantern.laws import fittings, friction, sections
from mop_lantern.network.sizing import diameter_by_friction


def pipes() -> list[Check]:
    """O-1.1, O-1.2, O-1.5, O-1.6: straight pipes."""
    exact, own = "Hagen-Poiseuille, exact", "Darcy-Weisbach with Colebrook, own iteration (reference)"
    air = pushed(
        {"d": {"kind": "duct", "length": "1 m", "width": "250 mm", "rough": "0.09 mm"}}, "0.2 m3/s", AIR
    )
    return [
        Check(
            "O-1.1 network",
            "laminar loss, Pa",
            64.32074,
            pushed({"p": pipe("2 m", "10 mm", "0 mm")}, "7.8807e-6 m3/s"),
            1e-4,
            exact,
        ),
        Check(
            "O-1.2",
            "turbulent loss, Pa",
            21106.04,
            pushed({"p": pipe("30 m", "52.54 mm", "0.045 mm")}, "4 L/s"),
            1e-3,
            own,
        ),
        Check(
            "O-1.5",
            "flow at 20 kPa, m3/h",
            56.7933,
            3600 * through({"p": pipe("60 m", "102.3 mm", "0.045 mm")}, "20 kPa"),
            1e-3,
            own,
        ),
        Check("O-1.6", "loss of a round duct, Pa/m", 0.8397, air, 5e-3, own),
    ]


def friction_tables() -> list[Check]:
    """O-1.3, O-1.4, O-1.7, O-1.8: friction factors."""
    checks = []
    for reynolds, rough, expected in (
        (5e3, 0, 0.037393),
        (1e4, 1e-2, 0.043127),
        (1e5, 1e-4, 0.018514),
        (1e6, 1e-3, 0.019943),
        (1e7, 1e-5, 0.008996),
    ):
        got = float(friction.colebrook(reynolds, rough))
        checks.append(
            Check(
                "O-1.3",
                f"f at Re {reynolds:.0e}, roughness {rough:g}",
                expected,
                got,
                1e-5,
                "Colebrook, iterated (reference)",
                True,
            )
        )
    foot = 0.3048
    media = {
        "water": {
            "kind": "constant",
            "density": "998.2 kg/m3",
            "viscosity": f"{998.2 * 3 * foot**2 / 270000!r} Pa s",
        }
    }
    flow = np.pi / 4 * (0.5 * foot) ** 2 * 6 * foot
    parts = {"p": pipe("200 ft", "0.5 ft", "0.0004 ft")}
    head = pushed(parts, f"{float(flow)!r} m3/s", media) / RHO / G / foot
    checks.append(
        Check(
            "O-1.4",
            "head lost, ft",
            4.5,
            head,
            0.03,
            "White, Fluid Mechanics, worked example (chart reading)",
        )
    )
    f, _ = friction.darcy(np.array([2000.0, 4000.0]), 0.0)
    checks.append(Check("O-1.7", "f at Re 2000", 64 / 2000, float(f[0]), 5e-3, "Hagen-Poiseuille"))
    checks.append(
        Check("O-1.7", "f at Re 4000", float(friction.colebrook(4000.0, 0.0)), float(f[1]), 0.03, "Colebrook")
    )
    for key, expected in (
        ("steel", 0.045),
        ("asphalted", 0.12),
        ("galvanised", 0.15),
        ("cast_iron", 0.26),
        ("smooth", 0.0015),
    ):
        checks.append(
            Check(
                "O-1.8",
                f"roughness of {sections.ROUGHNESS[key][0]}, mm",
                expected,
                1e3 * sections.ROUGHNESS[key][1],
                0.1,
                "Moody, Trans. ASME 66 (1944)",
            )
        )
    return checks


def ducts() -> list[Check]:
    """O-1.9, O-1.12, O-2.10: rectangular ducts."""
    checks = []
    for ratio, expected in ((1.0, 14.227), (0.5, 15.548), (0.25, 18.233), (0.1, 21.169), (0.0, 24.0)):
        got = float(sections.rectangle_product(ratio)) / 4
        checks.append(
            Check(
                "O-1.9",
                f"Fanning f Re at a ratio of {ratio:g}",
                expected,
                got,
                5e-3,
                "Shah and London (1978)",
            )
        )
    small = {
        "d": {"kind": "duct", "length": "1 m", "section": "rectangular", "width": "20 mm", "height": "10 mm"}
    }
    checks.append(
        Check(
            "O-1.9",
            "worked duct, Pa",
            1.5961,
            pushed(small, "1e-4 m3/s", AIR),
            5e-3,
            "Shah and London (1978)",
        )
    )
    large = {
        "d": {
            "kind": "duct",
            "length": "20 m",
            "section": "rectangular",
            "width": "500 mm",
            "height": "300 mm",
        }
    }
    checks.append(
        Check(
            "O-1.12",
            "turbulent duct, Pa",
            14.899,
            pushed(large, "0.75 m3/s", AIR),
            0.03,
            "Colebrook on the hydraulic diameter",
        )
    )
    for a, b, expected in ((400, 200, 304.7), (500, 300, 420.0), (250, 150, 210.0)):
        got = float(sections.round_equivalent(a, b))
        checks.append(
            Check("O-2.10", f"equivalent of {a} x {b}, mm", expected, got, 0.5, "Huebscher (1948)", True)
        )
    got = diameter_by_friction(0.5, 0.8, 9e-5, 1.204, 1.825e-5)
    checks.append(
        Check("O-2.10", "size at 0.8 Pa/m, mm", 356.0, 1e3 * got, 0.01, "Colebrook, solved for the diameter")
    )
    checks.append(
        Check(
            "O-2.10",
            "velocity in it, m/s",
            5.022,
            0.5 / (np.pi / 4 * got**2),
            0.01,
            "Colebrook, solved for the diameter",
        )
    )
    return checks


def single_losses() -> list[Check]:
    """O-2.1 to O-2.4, O-2.6 to O-2.9: fittings and valves."""
    chain = {"l": {"kind": "loss", "k": "3.36", "bore": "52.5 mm"}, "p": pipe("40 m", "52.5 mm", "0.045 mm")}
    flow = 3600 * through(chain, "0 Pa", level="5 m")
    own = "own iteration (reference)"
    return [
        *_sudden(),
        *_handbook_values(),
        *_valves(),
        *_cones_and_tees(),
        Check("O-2.9", "reservoir to reservoir, m3/h", 17.4198, flow, 2e-3, own),
    ]


def _sudden() -> list[Check]:
    widening = {"w": {"kind": "reducer", "bore": "50 mm", "to": "70.7107 mm"}}
    narrowing = {"n": {"kind": "reducer", "bore": "70.7107 mm", "to": "50 mm"}}
    velocity = 0.5 * RHO * (4e-3 / (np.pi / 4 * 0.05**2)) ** 2
    lost = pushed(widening, "4 L/s")
    entry = pushed(narrowing, "4 L/s") / velocity
    accepted = "accepted range 0.22 to 0.36 (reference)"
    return [
        Check("O-2.1", "sudden widening, Pa", 517.83, lost, 1e-3, "Borda and Carnot, exact"),
        Check("O-2.2", "K of a sudden narrowing", 0.29, entry, 0.07, accepted, True),
    ]


def _handbook_values() -> list[Check]:
    steel = 0.25 / np.log10(4.5e-5 / 0.1 / 3.7) ** 2
    singles = {
        "square entry": (0.5, float(fittings.rounded_entry(0.0))),
        "mitre of 90 deg": (1.2, float(fittings.mitre(np.pi / 2))),
        "bend of 1.5 bores": (0.24, float(fittings.smooth_bend(np.pi / 2, 1.5, steel))),
        "bend of 1 bore": (0.31, float(fittings.smooth_bend(np.pi / 2, 1.0, steel))),
        "well-rounded entry": (0.04, float(fittings.rounded_entry(0.3))),
    }
    checks = [
        Check("O-2.3", f"K of a {name}", expected, got, 0.2, "handbook values (reference), 20 %")
        for name, (expected, got) in singles.items()
    ]
    for size, expected in ((0.0525, 0.019), (0.1023, 0.0163)):
        loss = pushed({"l": {"kind": "loss", "k": "0", "lengths": "1", "bore": f"{size} m"}}, "10 L/s")
        got = loss / (0.5 * RHO * (0.01 / (np.pi / 4 * size**2)) ** 2)
        name = f"f of rough flow in {1e3 * size:g} mm"
        checks.append(Check("O-2.4", name, expected, got, 0.03, "Crane, Technical Paper 410"))
    return checks


def _valves() -> list[Check]:
    rest = {"kind": "valve", "kv": "25 m3/h", "bore": "50 mm"}
    lost = pushed({"v": rest}, "18 m3/h")
    checks = [Check("O-2.6", "loss of a valve of Kv 25, Pa", 51746.7, lost, 3e-3, "IEC 60534-1")]
    for lift, expected in ((0.25, 0.0751), (0.5, 0.1980), (0.75, 0.4978)):
        flows = [through({"v": {**rest, "opening": f"{at}"}, "rest": rest}, "1 bar") for at in (lift, 1.0)]
        name = f"installed share at {lift:.0%}, authority 0.5"
        checks.append(Check("O-2.6", name, expected, flows[0] / flows[1], 2e-3, "exact"))
    return checks


def _cones_and_tees() -> list[Check]:
    cone = {"kind": "reducer", "form": "cone", "angle": "20 deg"}
    area = np.pi / 4 * 0.1**2
    fast = 0.5 * RHO * 9.0
    wide = pushed({"c": {**cone, "bore": "100 mm", "to": "150 mm"}}, f"{3 * area!r} m3/s") / fast
    narrow = pushed({"c": {**cone, "bore": "150 mm", "to": "100 mm"}}, f"{3 * area!r} m3/s") / fast
    crane, idelchik = "Crane (reference), 30 % between methods", "Idelchik (reference)"
    side = {share: float(fittings.joining_straight(share)) for share in (0.3, 0.5)}
    return [
        Check("O-2.7", "K of a diffuser of 20 deg", 0.1393, wide, 0.3, crane),
        Check("O-2.7", "K of the reducer", 0.0772, narrow, 0.3, crane),
        Check("O-2.8", "K straight, joining tee, 30 % from the side", 0.375, side[0.3], 0.25, idelchik),
        Check("O-2.8", "K straight, joining tee, half from the side", 0.525, side[0.5], 0.25, idelchik),
    ]


def plates() -> list[Check]:
    """O-2.5: orifice plates in a line."""
    checks = []
    for case, bore, hole, taps, mass, loss in (
        ("a", 0.1, 0.06, "corner", 13.0338, 15694),
        ("b", 0.2, 0.1, "flange", 21.9467, 7324),
    ):
        parts = {"o": {"kind": "orifice", "bore": f"{bore} m", "hole": f"{hole} m", "taps": taps}}
        got = pushed(parts, f"{mass / RHO!r} m3/s")
        checks.append(Check(f"O-2.5 {case}", "permanent loss, Pa", loss, got, 0.01, "ISO 5167-2:2003"))
    return checks


CASES: dict[str, Callable[[], list[Check]]] = {
    "pipes": pipes,
    "friction": friction_tables,
    "ducts": ducts,
    "losses": single_losses,
    "O-2.5": plates,
}
