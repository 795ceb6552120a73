"""Make the property tables of the fluid library once, with CoolProp: ``python -m bench.media_tables``."""

from __future__ import annotations

from pathlib import Path

import numpy as np

TARGET = Path(__file__).parents[1] / "src" / "mop_lantern" / "media" / "assets" / "properties.npz"
P = 101325.0
CODES = {"density": "D", "viscosity": "V", "capacity": "C", "conductivity": "L"}


def figure(code: str, T: float, fluid: str) -> float:
    """Give one property, nan outside the range of its data."""
    from CoolProp.CoolProp import PropsSI

    try:
        return float(PropsSI(code, "T", T, "P", P, fluid))
    except ValueError:
        return np.nan


def moist(name: str, T: float, humidity: float) -> float:
    """Give one property of moist air; density and specific heat by mass of moist air."""
    from CoolProp.CoolProp import HAPropsSI

    at = ("T", T, "P", P, "R", humidity)
    wet = 1.0 + HAPropsSI("W", *at)
    if name == "density":
        return float(wet / HAPropsSI("V", *at))
    if name == "capacity":
        return float(HAPropsSI("C", *at) / wet)
    return float(HAPropsSI({"viscosity": "M", "conductivity": "K"}[name], *at))


def main() -> None:
    """Write all tables."""
    made: dict[str, np.ndarray] = {}
    plain = {"water": ("Water", 273.16, 373.05, 1.0), "air": ("Air", 213.15, 673.15, 5.0)}
    for name, (fluid, low, high, step) in plain.items():
        T = np.append(np.arange(low, high, step), high)
        made[f"{name}.temperature"] = T
        for item, code in CODES.items():
            made[f"{name}.{item}"] = np.array([figure(code, t, fluid) for t in T])
    mixtures = {
        "sea_water": ("MITSW", np.arange(0.0, 0.1201, 0.01), np.arange(273.15, 373.2, 2.0)),
        "ethylene_glycol": ("MEG", np.arange(0.0, 0.601, 0.05), np.arange(233.15, 373.2, 2.0)),
        "propylene_glycol": ("MPG", np.arange(0.0, 0.601, 0.05), np.arange(233.15, 373.2, 2.0)),
    }
    for name, (code_name, shares, T) in mixtures.items():
        made[f"{name}.temperature"], made[f"{name}.share"] = T, shares
        for item, code in CODES.items():
            made[f"{name}.{item}"] = np.array(
                [[figure(code, t, f"INCOMP::{code_name}[{s:.4f}]") for t in T] for s in shares]
            )
    T, shares = np.arange(253.15, 333.2, 2.0), np.linspace(0.0, 1.0, 11)
    made["moist_air.temperature"], made["moist_air.share"] = T, shares
    for item in CODES:
        made[f"moist_air.{item}"] = np.array([[moist(item, t, s) for t in T] for s in shares])
    TARGET.parent.mkdir(exist_ok=True)
    np.savez_compressed(TARGET, **made)
    for name, values in made.items():
        if not np.isfinite(values).all():
            print(f"{name}: {np.isnan(values).sum()} of {values.size} outside the data")


if __name__ == "__main__":
    main()
