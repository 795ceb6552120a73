"""Finer cells behind a body."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.grid.refinement import Refinement

CLOSE = 0.45  # of the length: there, and over six tenths of the width, cells are halved once more
NARROW = 0.6


class Wake(Refinement):
    """Cells behind a body are so small that a number of them lie across it, and half as large close behind
    it.

    Source: own measurements on a cylinder in a pulsed channel: with 16 cells across it for eight widths, 32
    for three, the largest lift is 4 % low; with a box that ends two widths behind it 20 %.
    """

    caption: ClassVar[str] = "Finer in a wake"
    group: ClassVar[str] = "In a place"
    symbol: ClassVar[str] = (
        "M-0.9,0 A0.3,0.3 0 1 1 -0.3,0 A0.3,0.3 0 1 1 -0.9,0 Z M-0.2,-0.3 L0.9,-0.6 M-0.2,0.3 "
        "L0.9,0.6 M0.2,-0.4 L0.2,0.4 M0.55,-0.5 L0.55,0.5"
    )
    sentence: ClassVar[str] = (
        "{id}: behind {edge}, towards {way}, {across} cells lie across its width for {length} of it "
        "and {width} to either side, twice as many close behind."
    )

    kind: Literal["wake"] = "wake"
    edge: str = reference("edge", "body", "An edge (in a space: face) of the body.")
    way: Text = quantity("angle", "way", "Where the flow goes, from the x axis.", default="0 deg")
    length: Text = quantity(
        "number",
        "length",
        "How far the wake reaches, in widths of the body.",
        default="7",
        above=0,
        at_most=100,
    )
    width: Text = quantity(
        "number",
        "half width",
        "To either side of its middle, in widths of the body.",
        default="1.4",
        above=0,
        at_most=20,
    )
    across: Text = count(
        "cells across",
        "Cells wanted across the body.",
        default="16",
        at_least=2,
        at_most=200,
    )

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Want small cells in a rectangle behind the body, smaller ones close to it."""
        places = plane.samples(plane.labels == plane.names.index(numbers.edge), base / 8)
        ahead = np.zeros(centres.shape[1])
        ahead[:2] = np.cos(numbers.way), np.sin(numbers.way)
        aside = np.zeros(centres.shape[1])
        aside[:2] = -np.sin(numbers.way), np.cos(numbers.way)
        middle = 0.5 * (places.min(axis=0) + places.max(axis=0))
        wide = float(np.ptp(places @ aside))
        along = (centres - middle) @ ahead / wide
        across = np.abs((centres - middle) @ aside) / wide
        reach = 0.5 * sizes / wide
        far = (along > -0.5 - reach) & (along < numbers.length + reach) & (across < numbers.width + reach)
        close = (
            (along > -0.5 - reach)
            & (along < CLOSE * numbers.length + reach)
            & (across < NARROW * numbers.width + reach)
        )
        size = wide / numbers.across
        return np.where(close, size / 2, np.where(far, size, np.inf))
