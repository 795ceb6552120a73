"""Things that are seldom stated together: whatever a case combines must end in an answer or in words.

``python -m bench.together N`` tries N random cases of a few hundred cells, six iterations each; the tests try
a few of the same.
"""

from __future__ import annotations

import json
import random
import sys
import traceback
from typing import Any

import numpy as np

from mop_lantern.case import parse_case, settle
from mop_lantern.errors import LanternError
from mop_lantern.solve import Solving

Data = dict[str, Any]
FLUIDS: list[Data] = [
    {"kind": "air"},
    {"kind": "water"},
    {"kind": "moist_air"},
    {"kind": "power_law"},
    {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "0.01 Pa s"},
]
CLOSURES = "laminar", "reynolds", "sst", "k_epsilon", "realizable", "mixing_length"
INLETS: list[Data] = [
    {"kind": "velocity", "velocity": "0.3 m/s"},
    {"kind": "total_pressure", "pressure": "0.1 Pa"},
    {"kind": "volume_flow", "flow": "0.2 m3/s"},
    {"kind": "air_changes", "rate": "100 1/h"},
    {"kind": "machine", "curve": [["0 m3/s", "1 Pa"], ["0.4 m3/s", "0 Pa"]]},
    {"kind": "per_person", "people": "5"},
    {"kind": "diffuser", "flow": "300 m3/h", "type": "displacement"},
    {"kind": "window", "wind": "3 m/s"},
]
OUTLETS = "static_pressure", "grille", "mean_pressure", "window"
WARM: list[Data] = [
    {"kind": "flux", "flux": "20 W/m2"},
    {"kind": "temperature", "temperature": "30 °C"},
    {"kind": "layered"},
    {"kind": "built"},
    {"kind": "still_air"},
]
WALLS = "slip", "rough", "sliding", "symmetry"
DEVICES = "fan", "screen", "heater", "cleaner", "humidifier", "tempering"
READ = "speed", "p", "T", "age", "c.co2", "k", "y_plus", "vote", "humidity"
ENDS = {
    "plane": ("room.start", "room.end", "room.left"),
    "axis": ("room.start", "room.end", "room.left"),
    "space": ("room.west", "room.east", "room.top"),
}


class Composer:
    """Draws one case by a seed."""

    def __init__(self, seed: int) -> None:
        self.random = random.Random(seed)
        self.space = self.random.choice(["plane", "axis", "space"])
        self.field: Data = {}
        self.shape: Data = {}

    def chance(self, share: float) -> bool:
        """Whether something of a share of all cases is in this one."""
        return self.random.random() < share

    def point(self, *values: float) -> list[str]:
        """Give a place of as many lengths as the case has ways."""
        return [f"{value} m" for value in (values if self.space == "space" else values[:2])]

    def case(self) -> Data:
        """Give the whole case."""
        self._physics()
        self._openings()
        self._body()
        self._inside()
        self.field["grid"] = {"cell": self.random.choice(["0.25 m", "0.2 m", "0.125 m"])}
        self.field["solver"] = {"most": "6"}
        if self.chance(0.3):
            self.field["time"] = {"mode": "transient", "until": "3 s", "step": "1 s", "courant": "0"}
            self.field["time"] |= {"flow": "kept"} if self.chance(0.4) else {}
        chosen = self.random.choice(FLUIDS)
        return {"media": {"f": chosen}, "shape": {"space": self.space, **self.shape}, "field": self.field}

    def _physics(self) -> None:
        field = self.field
        field["physics"] = {"flow": self.random.choice(CLOSURES)}
        if self.chance(0.4):
            field["physics"]["buoyancy"] = self.random.choice(["boussinesq", "gas"])
        if self.chance(0.65):
            field["heat"] = {"solve": True, "start": "20 °C"}
            for name, share in (("radiation", 0.3), ("comfort", 0.3)):
                field |= {name: {"solve": True}} if self.chance(share) else {}
            if self.chance(0.7):
                wall = {**self.random.choice(WARM), "edge": ENDS[self.space][2]}
                field["warm"] = {"w": wall}
        field |= {"age": {"solve": True}} if self.chance(0.4) else {}
        field["species"] = {"co2": {"measure": self.random.choice(["fraction", "density"])}}
        field["species"] |= {"wet": {"nature": "vapour"}} if self.chance(0.3) else {}

    def _openings(self) -> None:
        if self.chance(0.1):  # shut
            return
        first, last, side = ENDS[self.space]
        inlet = {**self.random.choice(INLETS), "edge": first}
        outlet = {"kind": self.random.choice(OUTLETS), "edge": last}
        self.field["openings"] = {"in": inlet, "out": outlet}
        if self.chance(0.3):
            self.field["walls"] = {"s": {"kind": self.random.choice(WALLS), "edge": side}}

    def _body(self) -> None:
        if self.space == "space":
            room = {"kind": "brick", "length": "2 m", "width": "1 m", "height": "1 m"}
            place = {"x": "0.9 m", "y": "0.3 m", "length": "0.3 m", "width": "0.4 m", "height": "0.4 m"}
            role = self.random.choice(["solid", "void"])
            bar = {"kind": "brick", "role": role, **place}
            self.shape["solids"] = {"room": room, **({"bar": bar} if self.chance(0.5) else {})}
            parts = self.shape["solids"]
            if "bar" in parts and self.chance(0.4):
                parts["bars"] = {"kind": "row", "of": "bar", "copies": "1", "x": "0.5 m"}
        else:
            room = {"kind": "straight", "length": "2 m", "width": "1 m"}
            corners = [["0.9 m", "0.1 m"], ["1.2 m", "0.1 m"], ["1.2 m", "0.4 m"], ["0.9 m", "0.4 m"]]
            bar = {"kind": "block", "points": corners}
            self.shape["parts"] = {"room": room, **({"bar": bar} if self.chance(0.4) else {})}
            parts = self.shape["parts"]
        if "bar" in parts and parts["bar"].get("role") != "void" and self.chance(0.7):
            self.field["solids"] = {"m": {"kind": "listed", "part": "bar"}}

    def _inside(self) -> None:
        box = {"low": self.point(0.8, 0.1, 0.2), "high": self.point(1.2, 0.45, 0.5)}
        found: Data = {
            "heat": {"kind": "heat", "power": "50 W", **box},
            "people": {"kind": "people", "gas": "co2", **box},
            "push": {"kind": "push", "force": "0.05 N", **box},
            "leak": {"kind": "species", "species": "co2", "volume": "0.1 L/s", "mass": "1 mg/s", **box},
        }
        if "bar" in self.shape.get("solids", {}):
            found["load"] = {"kind": "load", "around": "bar", "power": "40 W", "gas": "co2"}
        if "solids" in self.field:
            found["inner"] = {"kind": "part_heat", "part": "bar", "power": "20 W"}
        self.field["sources"] = {key: each for key, each in found.items() if self.chance(0.3)}
        if self.chance(0.4):
            kind = self.random.choice(DEVICES)
            device = {"kind": kind, "centre": self.point(0.5, 0.5, 0.5), "width": "0.7 m"}
            device |= {"height": "0.7 m"} if self.space == "space" else {}
            device |= {"species": "co2"} if kind == "cleaner" else {}
            device |= {"species": "wet"} if kind == "humidifier" else {}
            self.field["devices"] = {"d": device}

    def readings(self, data: Data) -> Data:
        """Give means of some quantities, those the case has."""
        good: Data = {}
        for what in self.random.sample(READ, 4):
            asked = {what.replace(".", "_"): {"kind": "region", "quantity": what, "measure": "mean"}}
            try:
                settle(parse_case({**data, "readings": {**good, **asked}}))
            except LanternError:
                continue
            good |= asked
        return good


def try_together(seed: int) -> str:
    """Solve one case; give "solved", or the words it was refused or ended with.

    Raises
    ------
    AssertionError : a reading is no number. Exception : whatever the program should have told in words.
    """
    composer = Composer(seed)
    data = composer.case()
    try:
        settle(parse_case(data))
        data["readings"] = composer.readings(data)
        *_, last = Solving(settle(parse_case(data)), None, None).events()
    except LanternError as problem:
        assert str(problem).strip()
        return str(problem)
    json.dumps(last, default=float)
    for key, reading in last["readings"].items():
        assert reading["value"] is None or np.isfinite(reading["value"]), key
    return "solved"


def main() -> int:
    """Try N cases; exit 1 where one ends otherwise than in an answer or in words."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 50
    failed = solved = 0
    for seed in range(count):
        try:
            solved += try_together(seed) == "solved"
        except Exception:  # told, and the others are tried all the same
            failed += 1
            print(f"FAIL seed {seed}\n{traceback.format_exc()[-1500:]}", flush=True)
    print(f"{solved} of {count} solved, {failed} failed, the others were told what is wrong")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
