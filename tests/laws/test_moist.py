"""Moist air against a reference library of its properties (CoolProp, humid air after RP-1485)."""

from __future__ import annotations

import numpy as np
import pytest
from CoolProp.HumidAirProp import HAPropsSI

from mop_lantern.laws.moist import LIGHTER, PRESSURE, dew_point, humidity_of, share_of


@pytest.mark.parametrize("warm", [5.0, 20.0, 28.0, 40.0])
@pytest.mark.parametrize("wet", [0.2, 0.5, 0.9])
def test_share_and_dew_point(warm: float, wet: float) -> None:
    kelvin = warm + 273.15
    ratio = HAPropsSI("W", "T", kelvin, "P", PRESSURE, "R", wet)
    share = share_of(wet, kelvin)
    assert share == pytest.approx(ratio / (1 + ratio), rel=0.006)  # an ideal mixture lacks half a per cent
    assert humidity_of(share, kelvin) == pytest.approx(wet, rel=1e-9)
    dew = HAPropsSI("D", "T", kelvin, "P", PRESSURE, "R", wet)
    if dew > 273.16:  # below, the library takes ice
        assert dew_point(share) == pytest.approx(dew, abs=0.1)


def test_moist_air_is_lighter_by_the_molar_masses() -> None:
    kelvin = 300.0
    dry = HAPropsSI("Vha", "T", kelvin, "P", PRESSURE, "R", 0.0)
    wet = HAPropsSI("Vha", "T", kelvin, "P", PRESSURE, "R", 0.8)
    share = float(share_of(0.8, kelvin))
    assert dry / wet - 1 == pytest.approx(-LIGHTER * share, rel=0.03)


def test_values_beyond_reason_stay_finite() -> None:
    for share in (0.0, -1e-9, 0.5, 2.0):
        assert np.isfinite(dew_point(share)) and np.isfinite(humidity_of(share, 293.0))
    assert share_of(1.0, 400.0) < 1.0
