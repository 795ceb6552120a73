"""How long the window is held by what happens often."""

from __future__ import annotations

import os
import shutil
import tempfile
import time
from pathlib import Path
from statistics import median
from typing import Any

DEMO = Path(__file__).parents[1] / "src" / "mop_lantern" / "demos" / "rearing-loop.lantern"
REVIEWS = 7


def review_told() -> dict[str, Any]:
    """Tell the window of the review after a valve is turned, variant chosen: the median of a few."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from mop_lantern.desk.app import application, settle
    from mop_lantern.desk.window import Desk

    app = application()
    with tempfile.TemporaryDirectory() as folder:
        for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME"):
            os.environ[name] = folder
        case = Path(folder) / DEMO.name
        shutil.copy(DEMO, case)
        window = Desk()
        window.resize(1280, 800)
        window.show()
        window.open(case)
        document = window.document
        assert document.case is not None
        document.choose(next(iter(document.case.variants)))
        settle(window)
        taken: list[float] = []

        def told(review: Any, number: int) -> None:
            began = time.perf_counter()
            document._take(review, number)
            taken.append(time.perf_counter() - began)

        document._ready.disconnect(document._take)
        document._ready.connect(told)
        valve = next(
            f"network.lines.{key}.parts.{name}.opening"
            for key, run in document.case.network.lines.items()
            for name, part in run.parts.items()
            if hasattr(part, "opening")
        )
        taken.clear()
        for number in range(REVIEWS):
            document.edit({valve: f"{50 + 5 * number} %"})  # flows, pressures and notes change
            settle(window)
            app.processEvents()
        document._saved = document.case
        window.close()
    return {
        "what": "a review told to the window, rearing loop, variant chosen",
        "value": 1e3 * median(taken),
        "unit": "ms",
        "limit": 30.0,
    }
