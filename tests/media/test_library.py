"""The fluid library: against CoolProp at random places, ranges told in words, laws of shear."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case, review, settle
from mop_lantern.declare import discover
from mop_lantern.media import Fluid


def fluid(channel: dict[str, Any], **settings: Any) -> Fluid:
    """Settle the channel with another medium."""
    channel["media"] = {"f": settings}
    return settle(parse_case(channel)).medium


def test_tables_agree_with_the_library_they_were_made_from(channel: dict[str, Any]) -> None:
    """Between the rows, where interpolation shows. Source: CoolProp 8 (open property library)."""
    from CoolProp.CoolProp import PropsSI

    plain = {"water": "Water", "air": "Air"}
    for kind, name in plain.items():
        for celsius in (3.37, 21.8, 57.3, 91.9):
            made = fluid(channel, kind=kind, temperature=f"{celsius} °C")
            wanted = [PropsSI(code, "T", celsius + 273.15, "P", 101325, name) for code in "DVCL"]
            assert (made.density, made.viscosity, made.capacity, made.conductivity) == pytest.approx(
                wanted, rel=1e-3
            )
    mixed = {"sea_water": ("MITSW", "salinity"), "glycol": ("MPG", "share")}
    for kind, (name, share) in mixed.items():
        made = fluid(
            channel, kind=kind, temperature="17.3 °C", **{share: "0.043" if share == "salinity" else "0.327"}
        )
        part = 0.043 if share == "salinity" else 0.327
        wanted = [PropsSI(code, "T", 290.45, "P", 101325, f"INCOMP::{name}[{part}]") for code in "DVCL"]
        assert (made.density, made.viscosity, made.capacity, made.conductivity) == pytest.approx(
            wanted, rel=5e-3
        )


def test_expansion_is_the_slope_of_the_density(channel: dict[str, Any]) -> None:
    """Source: reference table of water, IAPWS-97."""
    assert fluid(channel, kind="water", temperature="20 °C").expansion == pytest.approx(2.0681e-4, rel=0.01)
    assert fluid(channel, kind="air", temperature="20 °C").expansion == pytest.approx(1 / 293.15, rel=0.02)


@pytest.mark.parametrize(
    ("settings", "words"),
    [
        ({"kind": "water", "temperature": "130 °C"}, "99.9 °C"),
        ({"kind": "glycol", "glycol": "ethylene", "share": "30 %", "temperature": "-30 °C"}, "not at -30 °C"),
        ({"kind": "oil", "t1": "40 °C", "t2": "40 °C"}, "too close"),
    ],
)
def test_what_is_not_known_is_told(channel: dict[str, Any], settings: dict[str, Any], words: str) -> None:
    channel["media"] = {"f": settings}
    faults = review(parse_case(channel)).faults
    assert [fault.path for fault in faults] == ["media.f"] and words in faults[0].says


def test_own_fluid_by_tables_follows_the_temperature(channel: dict[str, Any]) -> None:
    channel["tables"] = {"thin": {"along": "°C", "gives": "mPa s", "rows": [[0, 2], [100, 1]]}}
    made = fluid(channel, kind="constant", viscosity="= thin(T)", temperature="50 °C")
    assert made.follows and made.viscosity == pytest.approx(1.5e-3, rel=1e-3)
    assert made.at("viscosity", np.array([273.15, 373.15])) == pytest.approx([2e-3, 1e-3], rel=1e-3)


def test_laws_of_shear_have_their_limits(channel: dict[str, Any]) -> None:
    power = fluid(
        channel, kind="power_law", consistency="2 Pa s", index="0.5", lowest="0.01 Pa s", highest="5 Pa s"
    ).law
    assert power is not None
    assert power(np.array([4.0, 1e9, 1e-12])) == pytest.approx([1.0, 0.01, 5.0])
    carreau = fluid(channel, kind="carreau", still="1 Pa s", sheared="0.1 Pa s", time="2 s", index="0.5").law
    assert carreau is not None and carreau(np.array([0.0]))[0] == pytest.approx(1.0)
    assert carreau(np.array([3.0]))[0] == pytest.approx(0.1 + 0.9 * (1 + 36) ** -0.25)
    cross = fluid(channel, kind="cross", still="1 Pa s", sheared="0 Pa s", time="1 s", power="1").law
    assert cross is not None and cross(np.array([1.0]))[0] == pytest.approx(0.5)


def test_every_medium_can_be_made_with_its_defaults(channel: dict[str, Any]) -> None:
    for kind in discover("mop_lantern.media"):
        made = fluid(channel, kind=kind)
        assert made.density > 0 and made.viscosity > 0 and made.capacity > 0 and made.conductivity > 0
