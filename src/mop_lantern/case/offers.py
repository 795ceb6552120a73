"""What can be added to a case: for every heading of the sheet the kinds that fit, grouped, with words."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.case.network_section import NetworkLine, NetworkRelease, NetworkSpecies, Operation
from mop_lantern.case.ready_part import PLACE, ready_parts
from mop_lantern.case.sections import COMPONENTS, offered_under, package_of
from mop_lantern.declare import discover

_ORDER = (
    "Passages",
    "Obstacles",
    "Corners",
    "Pipes and ducts",
    "Boxes and round parts",
    "From an outline",
    "Ready for rooms",
    "Liquids",
    "Gases",
    "Given flow",
    "Given pressure",
    "Walls",
    "Heat at walls",
    "Materials of solids",
    "At an edge or face",
    "In the flow domain",
    "Nodes",
    "Places that set the pressure",
    "Lines",
)
_FOUND_AS = {
    "drop": "pressure loss",
    "static_pressure": "outlet gauge pressure",
    "velocity": "inlet",
    "volume_flow": "inlet outlet",
    "pipe": "line",
    "grille": "terminal air outlet supply extract",
    "reservoir": "source boundary outdoors open air sea",
    "loss": "loss coefficient K equivalent length",
    "passage": "pipe duct elbow",
    "straight": "pipe channel duct",
    "bent": "elbow bend",
    "patch": "window grille inlet outlet opening",
    "brick": "room tank box",
    "fitting": "tee wye manifold",
    "layered": "U-value insulation film",
    "shell": "sheet metal fin conduction shell duct foil",
    "built": "U-value insulation weather sun roof window",
    "radiator": "heater heating panel",
    "rack": "machines servers cabinet equipment load",
    "bench": "table desk furniture",
    "person": "people occupant load",
    "lamp": "light luminaire",
    "pane": "window glass U-value",
    "load": "equipment rack person heat gain",
    "evenness": "flow distribution uniformity",
}
"""Other words of the trade that find a kind."""


@dataclass(frozen=True)
class Offer:
    """Something that can be added.

    Attributes
    ----------
    place, kind : where it goes, and its kind ("" where all have one form). caption, help : its words. group :
    the heading it comes under. symbol : path data of its drawing. imported : the import that makes one, or
    "". found : further words that find it.
    """

    place: str
    kind: str
    caption: str
    help: str
    group: str
    symbol: str
    imported: str = ""
    found: str = ""

    def fits(self, typed: str) -> bool:
        """Whether every word typed is in its words."""
        words = f"{self.caption} {self.help} {self.group} {self.found}".lower()
        return all(word in words for word in typed.lower().split())


def offers(case: Case, heading: str, line: str = "") -> list[Offer]:
    """Give what the sheet offers to add under a heading, in order.

    Parameters
    ----------
    line : of the network, into which components go; "" for the last one.
    """
    found: list[Offer] = []
    for place in offered_under(heading):
        if place == "field.species":
            found.append(
                Offer(
                    place, "", "Species", "Something dissolved or mixed in.", "Species", _DOTS, found="tracer"
                )
            )
        elif place == "network.lines":
            found += _of_lines(case, line)
        elif _has_place(case, place):
            found += _of_kinds(case, place, discover(package_of(place)).items())
        if place == "shape.solids" and _has_place(case, place):
            found += [_offer(PLACE, kind, model) for kind, model in ready_parts().items()]
    return sorted(found, key=_rank)


def components(line: str) -> list[Offer]:
    """Give the components that can be added to a line of the network."""
    return sorted(
        (_offer(f"network.lines.{line}.parts", kind, model) for kind, model in discover(COMPONENTS).items()),
        key=_rank,
    )


def _has_place(case: Case, place: str) -> bool:
    """Whether a case of this dimension has use for a section."""
    return place != ("shape.parts" if case.shape.space == "space" else "shape.solids")


def _of_kinds(case: Case, place: str, kinds: Iterable[tuple[str, Any]]) -> list[Offer]:
    here = "space" if case.shape.space == "space" else "plane"
    network = bool(case.network.lines or case.network.nodes)
    field = bool(case.shape.parts or case.shape.solids) or not network
    read = {on for on, there in (("network", network), ("field", field)) if there}
    return [
        _offer(place, kind, model)
        for kind, model in kinds
        if model.fits in ("", here) and (place != "readings" or model.on in read)
    ]


def _of_lines(case: Case, line: str) -> list[Offer]:
    """Give lines, what else a network has, and the components of one line."""
    plain = (
        ("network.lines", "Line between two nodes", NetworkLine, "Lines", _LINE),
        ("network.operations", "Timed operation", Operation, "In time", _CLOCK),
        ("network.species", "Species", NetworkSpecies, "Species", _DOTS),
        (
            "network.releases",
            "Release of a species",
            NetworkRelease,
            "Species",
            f"{_DOTS} M-0.9,0.9 L0.9,0.9",
        ),
    )
    found = [
        Offer(place, "", caption, _first(model), group, symbol)
        for place, caption, model, group, symbol in plain
    ]
    line = line or next(reversed(case.network.lines), "")
    return found + (components(line) if line else [])


_DOTS = (
    "M-0.5,-0.4 L-0.4,-0.4 M0.2,-0.6 L0.3,-0.6 M-0.1,0 L0,0 M0.5,0.1 L0.6,0.1 M-0.5,0.5 L-0.4,0.5 "
    "M0.2,0.6 L0.3,0.6"
)
_LINE = "M-1,0 L1,0 M-1,-0.3 L-1,0.3 M1,-0.3 L1,0.3"
_CLOCK = "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M0,-0.5 L0,0 L0.4,0.2"


def _offer(place: str, kind: str, model: Any) -> Offer:
    return Offer(
        place,
        kind,
        model.caption,
        _first(model),
        model.group,
        model.symbol,
        model.imported,
        _FOUND_AS.get(kind, ""),
    )


def _first(model: Any) -> str:
    """Give the first sentence of what a kind says of itself."""
    words = " ".join((model.__doc__ or "").split("\n\n")[0].split())
    return words.split(". ")[0].rstrip(".") + "."


def _rank(offer: Offer) -> tuple[int, str, str]:
    place = _ORDER.index(offer.group) if offer.group in _ORDER else len(_ORDER)
    return place, offer.group, offer.caption.lower()
