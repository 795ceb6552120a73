"""What a tool of the stage is: it takes presses of the pointer and paints what it is about."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Protocol

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QPainter

from mop_lantern.desk.theme import Tokens
from mop_lantern.scene import Picture

STILL = 3  # px: a press that goes no farther is a click


@dataclass
class Pull:
    """A press of the left button, from when it begins until it is let go.

    Attributes
    ----------
    start, last, at : pixels of the view it began in: where it began, was told last, and is. moved : whether
    it has gone far enough to be no click. shift, control : keys held down.
    """

    start: QPoint
    last: QPoint
    at: QPoint
    moved: bool = False
    shift: bool = False
    control: bool = False

    def go(self, at: QPoint) -> None:
        """Follow the pointer."""
        self.at = at
        self.moved = self.moved or (at - self.start).manhattanLength() > STILL


class Canvas(Protocol):
    """What a tool may use of the view."""

    picture: Picture | None
    tokens: Tokens
    units: dict[str, str]
    pins: list[Any]
    line: tuple[Any, Any] | None

    @property
    def pane(self) -> tuple[int, int]:
        """Width and height of one view, pixels."""

    def place_at(self, at: QPoint) -> Any:
        """Give the place (m) under a pixel: in a space on its section, or None."""

    def value_words(self, place: Any, what: str = "") -> str:
        """Give the value at a place in words."""

    def move_section(self, by: float) -> None:
        """Move the section of a space by a share of the way through it."""

    def hurry(self) -> None:
        """Draw anew, coarsely if that is slow."""

    def update(self) -> None:
        """Paint anew."""


class Tool:
    """One way the pointer works. The one chosen takes every press, from `press` to `release`.

    Attributes
    ----------
    cursor : what the pointer looks like. alone : it does one thing, over the grip of the section too, and is
    put down by Esc.
    """

    cursor = Qt.CursorShape.ArrowCursor
    alone = False

    def press(self, pull: Pull) -> None:
        """A press begins."""

    def drag(self, pull: Pull) -> None:
        """The pointer has gone on with the button down."""

    def release(self, pull: Pull) -> None:
        """The button is let go."""

    def paint(self, painter: QPainter, hover: QPoint | None) -> None:
        """Paint over one view; ``hover``: the pixel under the pointer."""
