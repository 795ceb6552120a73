"""Check values of the fluid library against tables made with other libraries."""

from __future__ import annotations

import csv
from collections.abc import Callable
from typing import Any

from bench.stating import TABLES, Check
from mop_lantern.case import parse_case, settle
from mop_lantern.media import Fluid


def medium(**settings: Any) -> Fluid:
    """Work a fluid of the library out."""
    parts = {"run": {"kind": "straight", "start": ["0 m", "0 m"], "length": "1 m", "width": "0.1 m"}}
    openings = {
        "in": {"kind": "velocity", "edge": "run.start"},
        "out": {"kind": "static_pressure", "edge": "run.end"},
    }
    return settle(
        parse_case({"media": {"f": settings}, "shape": {"parts": parts}, "field": {"openings": openings}})
    ).medium


def rows(name: str) -> list[dict[str, str]]:
    """Read a table."""
    with (TABLES / f"{name}.csv").open() as file:
        return list(csv.DictReader(file))


def figures(
    name: str, fluid: Fluid, wanted: tuple[float, ...], tolerances: tuple[float, ...], source: str
) -> list[Check]:
    """Compare density, viscosity, specific heat and conductivity."""
    got = (fluid.density, fluid.viscosity, fluid.capacity, fluid.conductivity)
    words = ("density, kg/m3", "viscosity, Pa s", "specific heat, J/kg/K", "conductivity, W/m/K")
    return [
        Check(f"section 4 {name}", word, want, have, limit, source)
        for word, want, have, limit in zip(words, wanted, got, tolerances, strict=True)
    ]


def library() -> list[Check]:
    """Water, air, glycols, moist air and oil of section 4 of the reference."""
    checks = []
    for row in rows("water"):
        wanted = (
            float(row["rho_kg/m3"]),
            float(row["mu_mPa.s"]) * 1e-3,
            float(row["cp_J/kgK"]),
            float(row["k_W/mK"]),
        )
        celsius = row["T_C"]
        checks += figures(
            f"water {celsius} °C",
            medium(kind="water", temperature=f"{celsius} °C"),
            wanted,
            (5e-4, 0.01, 0.003, 0.01),
            "IAPWS-97, CoolProp",
        )
    for row in rows("air"):
        wanted = (
            float(row["rho_kg/m3"]),
            float(row["mu_uPa.s"]) * 1e-6,
            float(row["cp_J/kgK"]),
            float(row["k_mW/mK"]) * 1e-3,
        )
        celsius = row["T_C"]
        checks += figures(
            f"air {celsius} °C",
            medium(kind="air", temperature=f"{celsius} °C"),
            wanted,
            (1e-3, 0.01, 0.01, 0.02),
            "CoolProp",
        )
    for row in rows("glycol"):
        wanted = (
            float(row["rho_kg/m3"]),
            float(row["mu_mPa.s"]) * 1e-3,
            float(row["cp_J/kgK"]),
            float(row["k_W/mK"]),
        )
        which = "ethylene" if row["fluid"] == "MEG" else "propylene"
        fluid = medium(
            kind="glycol", glycol=which, share=row["mass_fraction"], temperature=f"{row['T_C']} °C"
        )
        checks += figures(
            f"{which} glycol {row['mass_fraction']}, {row['T_C']} °C",
            fluid,
            wanted,
            (0.005, 0.10, 0.02, 0.05),
            "CoolProp; suppliers differ",
        )
    for row in rows("moistair"):
        fluid = medium(kind="moist_air", temperature=f"{row['Tdb_C']} °C", humidity=row["RH"])
        checks.append(
            Check(
                f"section 4 moist air {row['Tdb_C']} °C",
                "density, kg/m3",
                float(row["rho_moist"]),
                fluid.density,
                1e-3,
                "psychrolib (ASHRAE)",
            )
        )
    for celsius, nu in ((0, 577.3), (20, 133.84), (60, 20.623), (80, 11.103)):
        fluid = medium(kind="oil", temperature=f"{celsius} °C")
        checks.append(
            Check(
                f"section 4 oil {celsius} °C",
                "kinematic viscosity, mm2/s",
                nu,
                fluid.viscosity / fluid.density * 1e6,
                0.02,
                "ASTM D341, two-point form",
            )
        )
    return checks


CASES: dict[str, Callable[[], list[Check]]] = {"section-4": library}
