"""Quantities: read, shown, refused in words."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mop_lantern.units import DIMENSIONS, UnitFault, convert, evaluate, read, show
from mop_lantern.units.expression import quantity
from mop_lantern.units.quantity import _kept_units


@pytest.mark.parametrize(
    ("text", "dimension", "si"),
    [
        ("500 ft3/min", "volume_flow", 500 * 0.3048**3 / 60),
        ("3,6 m³/h", "volume_flow", 1e-3),
        (
            "1 gpm",
            "volume_flow",
            3.785411784e-3 / 60,
        ),  # NIST SP 811 appendix B.8: one US gallon 3.785412e-3 m3
        ("2 inH2O", "pressure", 498.17782),
        ("1 psi", "pressure", 6894.757293168),  # NIST SP 811 appendix B.8
        ("20 °C", "temperature", 293.15),
        ("5 L/min", "volume_flow", 5e-3 / 60),
        ("1.5 mPa·s", "viscosity", 1.5e-3),
        ("1 cP", "viscosity", 1e-3),
        ("1 kg m^-3", "density", 1.0),
        ("-90 deg", "angle", -1.5707963267948966),
        ("7", "number", 7.0),
    ],
)
def test_reads_units_of_practice(text: str, dimension: str, si: float) -> None:
    assert read(text, dimension) == pytest.approx(si, rel=1e-7)


@pytest.mark.parametrize(
    ("text", "dimension", "words"),
    [
        ("3 kg", "length", "not a unit of length"),
        ("3", "length", "no unit"),
        ("wide", "length", "does not begin with a number"),
        ("3 furlongsies", "length", "is not known"),
        ("3 m; import os", "length", "not a unit"),
        ("9e999 m", "length", "does not begin|too large|not known"),
    ],
)
def test_refuses_in_words(text: str, dimension: str, words: str) -> None:
    with pytest.raises(UnitFault, match=words):
        read(text, dimension)


@given(st.floats(-1e9, 1e9, allow_nan=False), st.sampled_from(sorted(DIMENSIONS)))
def test_every_offered_unit_goes_there_and_back(value: float, dimension: str) -> None:
    for unit in DIMENSIONS[dimension].units:
        if dimension == "temperature" or not unit:
            continue
        there = convert(value, dimension, unit)
        assert read(f"{there!r} {unit}", dimension) == pytest.approx(value, rel=1e-9, abs=1e-12)


def test_shows_in_the_preferred_unit() -> None:
    assert show(0.00125, "length", "mm") == "1.25 mm"
    assert show(1e-3, "viscosity", "mPa s") == "1 mPa·s"
    assert show(-2.0, "pressure", "Pa") == "−2 Pa"


NAMES = {"gap": lambda: quantity("10 mm", {}), "flow": lambda: quantity("2 L/s", {})}


@pytest.mark.parametrize(
    ("text", "dimension", "si"),
    [
        ("= 2 * gap + 3 mm", "length", 0.023),
        ("= flow / 2", "volume_flow", 1e-3),
        ("= gap ** 2 * pi / 4", "area", 7.853981634e-5),
        ("= max(gap, 1 in)", "length", 0.0254),
        ("= sqrt(gap * gap)", "length", 0.01),
        ("= -gap", "length", -0.01),
        ("= sin(30 deg) * 1 m", "length", 0.5),
        ("= 1 m / 4", "length", 0.25),
    ],
)
def test_arithmetic(text: str, dimension: str, si: float) -> None:
    assert evaluate(text, dimension, NAMES) == pytest.approx(si)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("= gap + flow", "do not go together"),
        ("= width * 2", "neither a parameter nor a unit"),
        ("= gap / 0", "zero"),
        ("= __import__('os')", "cannot be used|only numbers"),
        ("= gap.real", "only numbers"),
        ("= 9 ** 99 * gap", "powers above 12"),
        ("= (", "not arithmetic"),
        ("= " + "(" * 400, "too long|not arithmetic|nested"),
        ("= flow", "not a unit of length"),
    ],
)
def test_arithmetic_refused(text: str, words: str) -> None:
    with pytest.raises(UnitFault, match=words):
        evaluate(text, "length", NAMES)


@given(st.text(max_size=40))
def test_no_text_does_harm(text: str) -> None:
    for typed in (text, "=" + text):
        try:
            evaluate(typed, "length", NAMES)
        except UnitFault as fault:
            assert str(fault)


def test_what_is_kept_of_the_units_is_one_checkout_s_own(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What the library keeps names files of its own place: a checkout that is gone must not be asked."""
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    one, other = (_kept_units(f"/{name}/pint/__init__.py") for name in ("a", "b"))
    assert one != other and one is not None and one.is_dir() and one.parent.parent == tmp_path
    monkeypatch.setenv("XDG_CACHE_HOME", "/proc/nowhere")
    assert _kept_units("/a/pint/__init__.py") is None
