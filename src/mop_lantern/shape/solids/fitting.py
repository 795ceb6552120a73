"""A pipe with branches: tee, wye or header."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Others, Solid, frame, loft, place_of, round_ring


class Fitting(Solid):
    """A straight pipe with one branch or a row of them: at 90 degrees a tee, at 45 a wye, with several a
    header.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Tee, wye or header"
    group: ClassVar[str] = "Pipes and ducts"
    symbol: ClassVar[str] = (
        "M-1,0.6 L1,0.6 M-1,0 L-0.3,0 L-0.3,-0.8 L0.3,-0.8 L0.3,0 L1,0 M-1,0 L-1,0.6 M1,0 L1,0.6"
    )
    sentence: ClassVar[str] = (
        "{id}: a pipe with branches, {role}, from ({x}, {y}, {z}), heading {heading} and rising "
        "{rise}, {length} long, {diameter} across; {branches} branches, "
        "{branch_diameter} across and {branch_length} long from its middle line, the first {first} "
        "from its start, {spacing} apart, leaving at {angle}, turned {around} about it."
    )

    kind: Literal["fitting"] = "fitting"
    heading: Text = quantity("angle", "heading", "Of its axis in the x-y plane, from x.", default="0 deg")
    rise: Text = quantity("angle", "rise", "Of its axis over the x-y plane.", default="0 deg")
    length: Text = quantity(
        "length",
        "length",
        "Along its axis.",
        default="200 mm",
        above=0,
    )
    diameter: Text = quantity(
        "length",
        "diameter",
        "Clear width of the pipe.",
        default="30 mm",
        above=0,
    )
    branches: Text = count(
        "branches",
        "How many.",
        default="1",
        at_least=1,
        at_most=200,
    )
    branch_diameter: Text = quantity(
        "length",
        "branch diameter",
        "Clear width of a branch.",
        default="20 mm",
        above=0,
    )
    branch_length: Text = quantity(
        "length",
        "branch length",
        "From the middle line of the pipe to the end.",
        default="80 mm",
        above=0,
    )
    first: Text = quantity(
        "length",
        "first branch",
        "Where the first middle line leaves, from the start.",
        default="100 mm",
        above=0,
    )
    spacing: Text = quantity(
        "length",
        "spacing",
        "Between middle lines.",
        default="50 mm",
        above=0,
    )
    angle: Text = quantity(
        "angle",
        "angle",
        "Between the pipe's direction and a branch.",
        default="90 deg",
        above=0.1,
        below=3.04,
    )
    around: Text = quantity(
        "angle", "turn", "0 lets the branches leave to the left, 90 deg upwards.", default="0 deg"
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Body]:
        """The pipe, then every branch from its middle line on."""
        along, aside, up = frame(numbers.heading, numbers.rise)
        start = place_of(numbers)
        way = np.cos(numbers.around) * aside + np.sin(numbers.around) * up
        out = np.cos(numbers.angle) * along + np.sin(numbers.angle) * way
        last = numbers.first + (numbers.branches - 1) * numbers.spacing
        if (
            last + 0.5 * numbers.branch_diameter > numbers.length
            or numbers.first < 0.5 * numbers.branch_diameter
        ):
            raise PartFault(
                "length",
                (
                    f"the branches reach from {numbers.first * 1e3:.4g} to {last * 1e3:.4g} mm, which is "
                    "not within the pipe."
                ),
                "Make it longer or bring the branches together.",
            )
        if numbers.branch_diameter > numbers.diameter * (1 + 1e-9):
            raise PartFault(
                "branch_diameter", "a branch is wider than its pipe.", "Make it as wide as the pipe at most."
            )
        if numbers.branch_length * np.sin(numbers.angle) <= 0.5 * (
            numbers.diameter + numbers.branch_diameter * abs(np.cos(numbers.angle))
        ):
            raise PartFault("branch_length", "a branch ends within its pipe.", "Make it longer.")
        if numbers.branches > 1 and numbers.spacing * np.sin(numbers.angle) < numbers.branch_diameter:
            raise PartFault("spacing", "the branches cross each other.", "Set them further apart.")
        bodies = [
            loft(
                [
                    round_ring(start + s * along, aside, up, numbers.diameter / 2)
                    for s in (0.0, numbers.length)
                ],
                ["wall"],
            )
        ]
        side = np.cross(out, along) / np.linalg.norm(np.cross(out, along))
        for number in range(int(numbers.branches)):
            root = start + (numbers.first + number * numbers.spacing) * along
            rings = [
                round_ring(root + s * out, side, np.cross(out, side), numbers.branch_diameter / 2)
                for s in (0.0, numbers.branch_length)
            ]
            bodies.append(loft(rings, [f"branch{number + 1}"], (f"root{number + 1}", f"end{number + 1}")))
        return bodies
