"""Looking: the stage is turned or moved, a click pins the value at a place."""

from __future__ import annotations

import numpy as np

from mop_lantern.desk.stage.tools.tool import Canvas, Pull, Tool

NEAR = 8  # px: a click as near to a pin takes it away


class Looking(Tool):
    """Drag to turn a space, with Shift to move it; a plane is moved."""

    def __init__(self, view: Canvas) -> None:
        self.view = view

    def drag(self, pull: Pull) -> None:
        """Turn or move."""
        picture = self.view.picture
        if picture is None or not pull.moved:
            return
        if picture.surface is not None and not pull.shift:
            step = pull.at - pull.last
            picture.orbit.turn(step.x(), step.y())
        else:
            size = self.view.pane
            before = picture.to_world(pull.last.x(), pull.last.y(), size)
            after = picture.to_world(pull.at.x(), pull.at.y(), size)
            picture.centre = picture.centre + before - after
        self.view.hurry()

    def release(self, pull: Pull) -> None:
        """Pin what lies under a click, or take a pin away."""
        picture = self.view.picture
        if picture is None or pull.moved:
            return
        at = (pull.at.x(), pull.at.y())
        size = self.view.pane
        far = [
            pin for pin in self.view.pins if np.hypot(*np.subtract(picture.to_pixel(pin, size), at)) >= NEAR
        ]
        place = self.view.place_at(pull.at)
        if len(far) < len(self.view.pins):
            self.view.pins = far
        elif place is not None and self.view.value_words(place):
            self.view.pins.append(place)
