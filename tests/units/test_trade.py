"""Values as the trade writes them; what might be read in two ways is asked about, never guessed."""

from __future__ import annotations

import pytest

from mop_lantern.units import UnitFault, evaluate, read
from mop_lantern.units.expression import unit_typed
from mop_lantern.units.trade import value_spelled

FOOT, INCH = 0.3048, 0.0254


@pytest.mark.parametrize(
    ("text", "dimension", "si"),
    [
        ("2 1/2 in", "length", 2.5 * INCH),
        ("2-1/2 in", "length", 2.5 * INCH),
        ("3/4in", "length", 0.75 * INCH),
        ("-1 1/4 in", "length", -1.25 * INCH),
        ("6 ft 3 in", "length", 75 * INCH),
        ("6' 3 1/2\"", "length", 75.5 * INCH),
        ("6'-3\"", "length", 75 * INCH),
        ('4"', "length", 4 * INCH),
        ("1 500 mm", "length", 1.5),
        ("12\u202f500.5 mm", "length", 12.5005),
        ("0,500 m", "length", 0.5),
        ("1,5 m", "length", 1.5),
        ("1,5000 m", "length", 1.5),
        ("45 μm", "length", 45e-6),  # the Greek letter
        ("500 FPM", "velocity", 500 * FOOT / 60),
        ("100 CFM", "volume_flow", 100 * FOOT**3 / 60),
        ("10 lps", "volume_flow", 0.01),
        ("100 acfm", "volume_flow", 100 * FOOT**3 / 60),  # an atto-cfm before
        ("0.5 in wg", "pressure", 0.5 * 249.08891),
        ("10 ft H2O", "pressure", 29890.669),  # NIST SP 811 appendix B.8
        ("2 psig", "pressure", 2 * 6894.757293168),
        ("72 F", "temperature", 295.3722222),
        ("22 C", "temperature", 295.15),
        ("0.3 W/m²K", "film", 0.3),
        ("0.3 W/m2·K", "film", 0.3),
        ("0.04 W/mK", "conductivity", 0.04),
        ("4.18 kJ/kgK", "heat_capacity", 4180.0),
        ("2 m²K/W", "resistance", 2.0),
        ("1 Btu/h·ft²·°F", "film", 5.678263),  # NIST SP 811 appendix B.8
        ("5 Nm", "torque", 5.0),
        ("2 mPas", "viscosity", 2e-3),
    ],
)
def test_reads_what_the_trade_writes(text: str, dimension: str, si: float) -> None:
    assert read(text, dimension) == pytest.approx(si, rel=1e-6)
    assert evaluate(text, dimension, {}) == pytest.approx(si, rel=1e-6)


@pytest.mark.parametrize("number", ["1,500", "-12,345", "123,456"])
def test_a_comma_that_may_part_thousands_is_asked_about(number: str) -> None:
    whole = number.replace(",", "")
    with pytest.raises(UnitFault, match=f"may be .* or {whole}: write one of them"):
        read(f"{number} mm", "length")
    assert read(f"{whole} mm", "length") == pytest.approx(float(whole) / 1000)


@pytest.mark.parametrize(
    ("text", "dimension"),
    [
        ("1/0 in", "length"),
        ("1 2/3.5 in", "length"),
        ("6 ft wide in", "length"),
        ("1 50 mm", "length"),
        ("1 5000 mm", "length"),
        ("22 C", "number"),
        ("22 F", "power"),
        ("3/4", "length"),
        ("2 bara", "pressure"),
        ("100 pcfm", "volume_flow"),
        ("100 mgpm", "volume_flow"),
        ("1,500.5 mm", "length"),
        ("1,234,567 mm", "length"),
    ],
)
def test_refuses_what_is_none(text: str, dimension: str) -> None:
    with pytest.raises(UnitFault):
        read(text, dimension)


def test_a_handle_that_moves_such_a_value_knows_its_unit() -> None:
    for text, unit in (("2 1/2 in", "in"), ("6 ft 3 in", "in"), ("1 500 mm", "mm"), ("3 mm", "mm")):
        assert unit_typed(text) == unit
    assert value_spelled("= 1/2 * width") == "= 1/2 * width"
    assert value_spelled("3/4") == "0.75"
