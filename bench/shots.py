"""Refresh docs/screenshots from the demo data: one picture a main view, 1280 x 800."""

from __future__ import annotations

import os
import shutil
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

SHOTS = Path(__file__).parents[1] / "docs" / "screenshots"


def wait(until: Callable[[], bool], seconds: float = 600.0) -> None:
    """Process events until something holds; raise when it never does."""
    from PyQt6.QtWidgets import QApplication

    end = time.monotonic() + seconds
    while True:
        QApplication.processEvents()
        if until():
            return
        if time.monotonic() > end:
            raise TimeoutError("the window did not come to rest")
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
    wait(
        lambda: variant in window.archive.records and not window.archive.stale(window.document.case, variant)
    )


def _depth(window: Any, take: Callable[[str], None]) -> None:
    """Handles, a flume with measured points, a pulse in time, the manual."""
    import numpy as np

    from mop_lantern.case import parse_columns
    from mop_lantern.desk.starters import DEMOS

    def open_demo(name: str) -> None:
        window.document._saved = window.document.case
        window.open(DEMOS / f"{name}.lantern")
        wait(lambda: window.document.review is not None)

    open_demo("header")
    solve(window, "")
    window.stage.handles_button.setChecked(True)
    window.following.pick("tank3.end")
    window.bar.follow.setChecked(True)
    handle = next(item for item in window.stage.view.hands.handles if item.path.endswith("corner_radius"))
    window.stage.view.hands.signals.moved.emit(handle, handle.at + 0.003 * handle.pull, True)
    wait(lambda: window.engine.state == "solving")
    wait(lambda: window.engine.state == "idle")
    take("handles")
    window.bar.follow.setChecked(False)
    window.stage.handles_button.setChecked(False)
    open_demo("choice-flume")
    solve(window, "")
    solve(window, "B")
    window.stage.set_quantity("c.salt")
    line = (np.array([0.5, -0.058]), np.array([0.5, 0.058]))
    window.showing.show_line(*line)
    rows = "\n".join(
        f"{y};{26 + 8 / (1 + np.exp(-(y - 61) / 2.4)) + 0.25 * np.sin(7 * y):.2f}" for y in range(4, 114, 6)
    )
    window.bringing.bring_measured(
        parse_columns(f"y [mm];salinity [g/kg]\n{rows}", "probe.csv"), "profile", "c.salt", line
    )
    window.traces.show_page("Profile")
    take("choice-flume")
    open_demo("pulsed-line")
    solve(window, "")
    window.stage.set_quantity("c.feed")
    window.traces.show_page("Readings")
    window.stage.times.slider.setValue(window.stage.times.slider.maximum() // 2)
    take("pulsed-line")
    _networks(window, open_demo, take)
    _space(window, open_demo, take)
    _solids(window, open_demo, take)
    comfort(window, open_demo)
    open_demo("pulsed-line")
    window.sheet.go_to("field.openings.in")
    window.show_manual()
    wait(lambda: window.handbook.isVisible())
    window.handbook.grab().save(str(SHOTS / "manual.png"))
    window.handbook.hide()


def _space(window: Any, open_demo: Callable[[str], None], take: Callable[[str], None]) -> None:
    """A valve body from a STEP file, cut through its middle, and its faces; the warm water of a junction as a
    level surface.
    """
    from mop_lantern.desk.stage.face_list import show_faces

    open_demo("valve-body")
    solve(window, "")
    solve(window, "B")
    window.document.choose("")
    window.stage.set_quantity("speed")
    window.stage.space_tools.lay(1)
    window.stage.layer_buttons["grid"].setChecked(True)
    take("space")
    window.stage.layer_buttons["grid"].setChecked(False)
    listed = show_faces(window)
    assert listed is not None
    listed.table.selectRow(1)
    listed.grab().save(str(SHOTS / "faces.png"))
    listed.close()
    open_demo("warm-junction")
    solve(window, "")
    window.stage.set_quantity("T")
    for name, on in (("level", True), ("streamlines", False)):
        window.stage.layer_buttons[name].setChecked(on)
    window.stage.space_tools.lay(2)
    window.stage.space_tools.level.slider.setValue(40)
    take("iso-surface")
    window.stage.layer_buttons["level"].setChecked(False)
    window.stage.layer_buttons["streamlines"].setChecked(True)
    window.stage.space_tools.lay(-1)


def _solids(window: Any, open_demo: Callable[[str], None], take: Callable[[str], None]) -> None:
    """A warm floor of concrete, foam and ground, in bands of colour."""
    open_demo("nursery-floor")
    for variant in ("", "B", "D"):
        solve(window, variant)
    window.document.choose("")
    window.stage.set_quantity("T")
    window.document.edit({"views.layers": {"colours": {"bands": "16"}}})
    window.sheet.go_to("field.solids.slab")
    take("solids")


def comfort(window: Any, open_demo: Callable[[str], None]) -> None:
    """The page of comfort of a warm room, three variants side by side."""
    from mop_lantern.desk.app import settle
    from mop_lantern.desk.results.comfort_page import show_comfort

    open_demo("nursery-room")
    for variant in ("", "B", "C"):
        solve(window, variant)
    page = show_comfort(window)
    page.resize(1280, 520)
    settle(window)
    page.grab().save(str(SHOTS / "comfort.png"))
    page.close()


def _networks(window: Any, open_demo: Callable[[str], None], take: Callable[[str], None]) -> None:
    """A loop balanced by its valves, and a drive worked by the clock."""
    open_demo("rearing-loop")
    solve(window, "")
    solve(window, "B")
    take("network")
    open_demo("gate-drive")
    wait(lambda: window.engine.state == "idle")
    window.network_stage.set_pace(600.0)
    window.network_stage.operate.click()
    wait(lambda: window.networking.live is not None and window.networking.live.time > 900)
    window.networking._choose("network.lines.cooled.parts.diverter")
    window.network_stage.slider.setValue(60)
    wait(lambda: window.networking.live is None or window.networking.live.time > 2400)
    take("operating")
    window.network_stage.operate.click()
    wait(lambda: window.engine.state == "idle")


def main() -> int:
    """Draw all pictures."""
    home = tempfile.mkdtemp(prefix="lantern-shots-")
    os.environ.update(
        {"QT_QPA_PLATFORM": "offscreen", "XDG_STATE_HOME": home, "XDG_CONFIG_HOME": home, "HOME": home}
    )
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
    window.showing.show_line(np.array([0.0, -0.004]), np.array([0.35, -0.004]))
    take("variants-compared")
    window.stage.set_quantity("speed")
    window.set_night(True)
    window.stage.layer_buttons["grid"].setChecked(True)
    window.document.choose("C")
    window.traces.show_page("Residuals")
    settle(window)
    window.stage.view.zoom(
        0.16,
        *window.stage.view.picture.to_pixel(
            np.array([0.33, -0.012]), (window.stage.view.width(), window.stage.view.height())
        ),
    )
    take("night")
    window.set_night(False)
    window.stage.layer_buttons["grid"].setChecked(False)
    window.document.choose("")
    edits = {
        "parameters.supply.value": "90 mL/s",
        "field.openings.feed.profile": "uniform",
        "field.grid.across": "4",
        "shape.parts.tank3.corner_radius": "90 mm",
    }
    window.document.edit(edits)
    wait(lambda: bool(window.document.review and window.document.review.faults))
    window.document.edit({"shape.parts.tank3.corner_radius": "1 mm"})
    wait(
        lambda: bool(
            window.document.review and window.document.review.facts and not window.document.review.faults
        )
    )
    window.sheet.go_to("field.openings.feed")
    wait(lambda: window.sheet.rows["field.openings.feed"].level == "caution")
    window.sheet.area.verticalScrollBar().setValue(window.sheet.rows["field.openings.feed"].y() - 120)
    take("margin-notes")
    _depth(window, take)
    window.document._saved = window.document.case
    window.close()
    shutil.rmtree(home, ignore_errors=True)
    del app
    return 0


if __name__ == "__main__":
    sys.exit(main())
