"""Models with exact faces (STEP)."""

from __future__ import annotations

from typing import Any

import numpy as np

from bench.corpus.specimen import specimen
from bench.step_files import Part, ball, block, cylinder, fused, less, placed, rounded

RUN = np.pi * 0.05**2 * 0.3
SHARED = 2.55868e-4  # m3, of cylinders of 50 and 40 mm radius over half the run, by quadrature


def _tee() -> tuple[Any, Any]:
    return cylinder((-150, 0, 0), (1, 0, 0), 50, 300), cylinder((0, 0, 0), (0, 0, 1), 40, 150)


def _shared() -> float:
    """Volume two cylinders share, by quadrature, m3."""
    x, weight = np.polynomial.legendre.leggauss(200)
    y = 0.04 * x
    return float((0.04 * weight * 2 * np.sqrt(0.04**2 - y**2) * np.sqrt(0.05**2 - y**2)).sum())


TEE = RUN + np.pi * 0.04**2 * 0.15 - _shared()


@specimen("block.step", 6e-3)
@specimen("block-inch.stp", 6e-3, unit="in")
def plain() -> Any:
    return [Part("block", block((0, 0, 0), (100, 200, 300)))]


@specimen("tee-of-two.step", TEE, within=5e-3)
def two() -> Any:
    return [Part(name, body) for name, body in zip(("run", "branch"), _tee(), strict=True)]


@specimen("tee-fused.step", TEE, within=5e-3)
def one() -> Any:
    return [Part("tee", fused(*_tee()))]


@specimen("bottle-fillets.step", 2.813e-4, within=1e-2)
def bottle() -> Any:
    """Volume by the library that made it, so only a check of the triangles."""
    body = fused(cylinder((0, 0, 0), (0, 0, 1), 35, 70), cylinder((0, 0, 70), (0, 0, 1), 12, 30))
    return [Part("bottle", rounded(body, 4))]


@specimen("rounded-block.step", 0.1 * 0.06 * 0.04, within=6e-2)
def pebble() -> Any:
    return [Part("pebble", rounded(block((0, 0, 0), (100, 60, 40)), 8))]


@specimen("foil.step", np.pi * (0.1**2 - 0.09995**2) * 0.02, within=3e-3)
def foil() -> Any:
    """A wall of 50 µm, thinner than coarse triangles lie off it."""
    inner = placed(cylinder((0, 0, -1), (0, 0, 1), 99.95, 22), turn=0.05)
    return [Part("foil", less(cylinder((0, 0, 0), (0, 0, 1), 100, 20), inner))]


def _bores() -> tuple[Any, Any]:
    return cylinder((-1, 0, 0), (1, 0, 0), 26, 202), cylinder((100, 0, 0), (0, 0, 1), 17, 121)


@specimen("hollow-tee.step", 5.114e-4, how="inside", within=5e-3)
@specimen("hollow-tee-inch.step", 5.114e-4, unit="in", how="inside", within=5e-3)
def hollow_tee() -> Any:
    outer = fused(cylinder((0, 0, 0), (1, 0, 0), 30, 200), cylinder((100, 0, 0), (0, 0, 1), 20, 120))
    return [Part("tee", less(outer, *_bores()))]


@specimen(
    "pump.step", np.pi * (0.1**2 * 0.05 - 0.06**2 * 0.02 + 2 * 0.02**2 * 0.01), how="inside", within=5e-3
)
def pump() -> Any:
    """A casing with two ports and a disc turning in it."""
    casing = less(
        cylinder((0, 0, -10), (0, 0, 1), 110, 70),
        cylinder((0, 0, 0), (0, 0, 1), 100, 50),
        cylinder((0, 0, 40), (0, 0, 1), 20, 30),
        cylinder((60, 0, -20), (0, 0, 1), 20, 30),
    )
    return [Part("casing", casing), Part("rotor", cylinder((0, 0, 15), (0, 0, 1), 60, 20), "#2060c0")]


@specimen("flange.step", np.pi * 0.025**2 * 0.1, how="inside", within=5e-3)
def flange() -> Any:
    """A pipe end with a flange of eight bolt holes, which are mouths of nothing larger."""
    body = fused(cylinder((0, 0, 0), (0, 0, 1), 30, 100), cylinder((0, 0, 0), (0, 0, 1), 60, 12))
    holes = [
        cylinder((45 * np.cos(a), 45 * np.sin(a), -1), (0, 0, 1), 5, 20) for a in np.arange(8) * np.pi / 4
    ]
    return [Part("flange", less(body, cylinder((0, 0, -1), (0, 0, 1), 25, 102), *holes))]


@specimen("globe.step", 1.8e-4, within=5e-2)
def globe() -> Any:
    return [Part("globe", fused(cylinder((0, 0, 0), (1, 0, 0), 15, 150), ball((60, 0, 0), 30)))]


@specimen("damaged.step", says="cannot be read")
def damaged() -> Any:
    return b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.\nEND"
