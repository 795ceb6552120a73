"""What a finish of a surface is."""

from __future__ import annotations

from typing import Any

from mop_lantern.declare import Kind


class Finish(Kind):
    """The finish of a wall: ``emissivity`` tells the share of a black surface's radiation it sends, and takes
    of what falls on it.
    """

    @classmethod
    def emissivity_of(cls, numbers: Any) -> float:
        """Give the emissivity."""
        raise NotImplementedError
