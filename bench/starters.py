"""Refresh the pictures on the first page: every starter's own result."""

from __future__ import annotations

import os
import sys
import tempfile
from typing import Any

from bench.shots import solve, wait

SIZE = 336, 210  # pixels, twice what is shown
HOT = ("warm", "nursery-floor", "plate-start", "outdoor-junction")  # shown by temperature
CARRIED = {
    "choice-flume": "c.salt",
    "pulsed-line": "c.feed",
    "visitors-gallery": "c.co2",
    "ozone-room": "c.ozone",
    "incubation-hall": "age",
}
ACROSS = {
    "valve-body": 1,
    "inlet-box": 1,
    "warm-junction": 1,
    "butterfly": 1,
    "drain-valve": 1,
    "intake-elbow": 2,
    "visitors-gallery": 1,
    "ozone-room": 1,
    "incubation-hall": 1,
    "outdoor-junction": 2,
}


def main(names: list[str]) -> int:
    """Solve the starters named, or all, and keep their pictures."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    with tempfile.TemporaryDirectory() as home:
        for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME"):
            os.environ[name] = home
        from mop_lantern.desk.app import application
        from mop_lantern.desk.starters import DEMOS, PICTURES
        from mop_lantern.desk.window import Desk

        app = application()  # held: without a holder it would be taken away under the widgets
        PICTURES.mkdir(parents=True, exist_ok=True)
        window = Desk()
        window.resize(1280, 800)
        window.show()
        for path in sorted(DEMOS.glob("*.lantern")):
            if not names or path.stem in names:
                window.document._saved = window.document.case
                window.open(path)
                wait(lambda: window.document.review is not None)
                _picture(window, path.stem).save(str(PICTURES / f"{path.stem}.png"))
                print(path.stem, flush=True)
        window.document._saved = window.document.case
        window.close()
        app.processEvents()
    return 0


def _picture(window: Any, name: str) -> Any:
    """Solve the base of the open starter and give the middle of its stage, small."""
    from PyQt6.QtCore import Qt
    from PyQt6.QtGui import QImage

    solve(window, "")
    network = window.networking.on
    if not network:
        quantity = CARRIED.get(name, "T" if name.startswith(HOT) else "speed")
        window.stage.set_quantity(quantity)
        if name in ACROSS:
            window.stage.space_tools.lay(ACROSS[name])
        if hasattr(window.stage.times, "slider") and window.stage.times.isVisible():
            window.stage.times.slider.setValue(window.stage.times.slider.maximum() // 2)
    shown = window.network_stage.view if network else window.stage.view
    for _ in range(30):
        wait(lambda: True)
    whole = shown.grab().toImage()
    fitted = whole.scaled(
        *SIZE, Qt.AspectRatioMode.KeepAspectRatioByExpanding, Qt.TransformationMode.SmoothTransformation
    )
    left, top = (fitted.width() - SIZE[0]) // 2, (fitted.height() - SIZE[1]) // 2
    return fitted.copy(left, top, *SIZE).convertToFormat(
        QImage.Format.Format_Indexed8, Qt.ImageConversionFlag.AvoidDither
    )


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
