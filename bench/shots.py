"""Refresh docs/screenshots from the demo data: one picture a main view, 1280 x 800."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

SHOTS = Path(__file__).parents[1] / "docs" / "screenshots"


def wait(until: Callable[[], bool], seconds: float = 120.0) -> None:
    """Process events until something holds; raise when it never does."""
    from PyQt6.QtWidgets import QApplication

    end = time.monotonic() + seconds
    while not until():
        if time.monotonic() > end:
            raise TimeoutError("the window did not come to rest")
        QApplication.processEvents()
        time.sleep(0.01)


def solve(window: object, variant: str) -> None:
    """Choose a variant and solve it in the window."""
    from mop_lantern.desk.window import Desk

    assert isinstance(window, Desk)
    window.document.choose(variant)
    wait(lambda: window.document.review is not None and window.document.review.variant == variant)
    window.solve()
    wait(lambda: window.engine.state == "solving")
    wait(lambda: window.engine.state == "idle")
    wait(lambda: variant in window.archive.records and not window.archive.stale(window.document.case, variant))


def main() -> int:
    """Draw all pictures."""
    home = tempfile.mkdtemp(prefix="lantern-shots-")
    os.environ.update({"QT_QPA_PLATFORM": "offscreen", "XDG_STATE_HOME": home, "XDG_CONFIG_HOME": home, "HOME": home})
    import numpy as np

    from mop_lantern.desk.app import application, settle
    from mop_lantern.desk.starters import DEMOS
    from mop_lantern.desk.window import Desk

    SHOTS.mkdir(parents=True, exist_ok=True)
    app = application()  # kept alive to the end
    window = Desk()
    window.show()

    def take(name: str) -> None:
        settle(window)
        window.grab().save(str(SHOTS / f"{name}.png"))
        print(SHOTS / f"{name}.png")

    take("starters")
    window.open(DEMOS / "header.lantern")
    solve(window, "")
    take("desk")
    for variant in ("B", "C", "D"):
        solve(window, variant)
    window.document.choose("B")
    settle(window)
    window.stage.set_quantity("pressure")
    window._on_line(np.array([0.0, -0.004]), np.array([0.35, -0.004]))
    take("variants-compared")
    window.stage.set_quantity("speed")
    window.set_night(True)
    window.stage.layer_buttons["grid"].setChecked(True)
    window.document.choose("C")
    window.traces.show_page("Residuals")
    settle(window)
    window.stage.view.zoom(0.16, *window.stage.view.picture.to_pixel(np.array([0.33, -0.012]), (window.stage.view.width(), window.stage.view.height())))
    take("night")
    window.set_night(False)
    window.stage.layer_buttons["grid"].setChecked(False)
    window.document.choose("")
    edits = {"parameters.supply.value": "90 mL/s", "field.openings.feed.profile": "uniform", "field.grid.across": "4", "shape.parts.tank3.corner_radius": "90 mm"}
    window.document.edit(edits)
    wait(lambda: bool(window.document.review and window.document.review.faults))
    window.document.edit({"shape.parts.tank3.corner_radius": "1 mm"})
    wait(lambda: bool(window.document.review and window.document.review.facts and not window.document.review.faults))
    window.sheet.go_to("field.openings.feed")
    wait(lambda: window.sheet.rows["field.openings.feed"].level == "caution")
    window.sheet.area.verticalScrollBar().setValue(window.sheet.rows["field.openings.feed"].y() - 120)
    take("margin-notes")
    window.document._saved = window.document.case
    window.close()
    shutil.rmtree(home, ignore_errors=True)
    del app
    return 0


if __name__ == "__main__":
    sys.exit(main())
